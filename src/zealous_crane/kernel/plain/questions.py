"""Everything the kernel asks, as one back end."""

from .advance import advances
from .passage import leg, legs, passages, passed, reaches
from .plane import apart, distance, hull, meets, ring, touches
from .prism import extent, meeting, reach, within

__all__ = [
    "advances",
    "apart",
    "distance",
    "extent",
    "hull",
    "leg",
    "legs",
    "meeting",
    "meets",
    "passages",
    "passed",
    "reach",
    "reaches",
    "ring",
    "touches",
    "within",
]
