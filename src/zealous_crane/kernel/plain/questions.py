"""Everything the kernel asks, as one back end."""

from . import advance, passage, plane, prism

hull, meets, distance, ring = plane.hull, plane.meets, plane.distance, plane.ring
apart, touches = plane.apart, plane.touches
advances = advance.advances
extent, within, reach, meeting = prism.extent, prism.within, prism.reach, prism.meeting
leg, legs, reaches = passage.leg, passage.legs, passage.reaches
passed, passages = passage.passed, passage.passages
