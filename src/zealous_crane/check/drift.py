"""How sizes run from part to part."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..job import Job
from ..measure import show_length, signed_angle
from ..measure.dataclass import dataclass
from ..measure.words import tr
from .explain import read_to
from .line import Line
from .model import What

LEAST_PARTS = 3
"""Parts before anything is said to drift."""


@dataclass(frozen=True)
class Drift:
    """A size that runs away from part to part.

    Attributes:
        line: the size.
        slope: mm or degrees from one part to the next.
        good_until: number of the last part that is still within tolerance, if it goes on so.
    """

    line: Line
    slope: float
    good_until: int

    def says(self, job: Job) -> str:
        """What runs where, and how long it is still good."""
        by = (
            signed_angle(self.slope, 2)
            if self.line.measure.what is What.ANGLE
            else ("+" if self.slope > 0 else "−") + show_length(abs(self.slope), job.units.fine, pretty=True)
        )
        return tr(
            "{measure} drifts by {by} a part: look at the stop and the clamp; good to part {last} if it goes on so."
        ).format(measure=self.line.measure.says, by=by, last=self.good_until)


def drifts(lines: Sequence[Line], parts: Sequence[dict[str, float]]) -> tuple[Drift, ...]:
    """Sizes that run away from part to part, those first that are out soonest.

    A straight line through the figures in the order of the parts; it counts where its run over the parts is more than twice what a
    figure is read to.

    Args:
        lines: the sizes.
        parts: what was measured on each part, by key, in the order they were made.
    """
    found = []
    for line in lines:
        points = [(n, got[line.measure.key]) for n, got in enumerate(parts, start=1) if line.measure.key in got]
        if len(points) < LEAST_PARTS:
            continue
        n, value = np.array(points).T
        slope, start = (float(x) for x in np.polyfit(n, value, 1))
        if abs(slope) * float(np.ptp(n)) < 2 * read_to(line.measure):
            continue
        edge = line.wanted + (line.allowed if slope > 0 else -line.allowed)
        found.append(Drift(line, slope, max(int((edge - start) / slope), 0)))
    return tuple(sorted(found, key=lambda d: d.good_until))
