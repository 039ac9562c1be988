"""How far a size of a finished part may be off."""

from __future__ import annotations

from bisect import bisect_left

from ..job import Job
from ..measure import INCH
from .model import Measure, What

MEDIUM = ((6.0, 0.1), (30.0, 0.2), (120.0, 0.3), (400.0, 0.5), (1000.0, 0.8), (2000.0, 1.2), (4000.0, 2.0))
"""(up to, ±) mm: linear sizes of class m of ISO 2768-1, from memory; above, that of the last."""

LEAST_FOLDED = 0.25
"""mm; less than this is not asked of a size across a bend, whatever the general tolerance says. Common practice, no source."""

SIXTY_FOURTH = INCH / 64
"""mm; what a tray is held to in an inch shop. Common practice, no source."""


def allowed(job: Job, measure: Measure, wanted: float) -> float:
    """How far a size may be off either way, mm or degrees: what a drawing asks of it, what the job says, else the general tolerance."""
    if measure.key in job.sizes_asked:
        return job.sizes_asked[measure.key]
    if measure.what is What.ANGLE:
        return job.tolerance
    if job.sizes_within is not None:
        return job.sizes_within
    if job.units.is_inch:
        # A rule in sixty-fourths is what it is measured with: the general class, and never less than that.
        return max(SIXTY_FOURTH, _medium(wanted))
    return max(LEAST_FOLDED, _medium(wanted))


def _medium(size: float) -> float:
    at = bisect_left([up_to for up_to, _ in MEDIUM], abs(size))
    return MEDIUM[min(at, len(MEDIUM) - 1)][1]
