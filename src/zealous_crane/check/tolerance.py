"""How far a size of a finished part may be off."""

from __future__ import annotations

from bisect import bisect_left

from ..job import Job
from ..measure import INCH
from .model import Measure, What

UP_TO = (6.0, 30.0, 120.0, 400.0, 1000.0, 2000.0, 4000.0)
"""mm; steps of the sizes in ISO 2768-1."""

GENERAL = {
    "f": (0.05, 0.1, 0.15, 0.2, 0.3, 0.5, 0.5),
    "m": (0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}
"""mm either way for linear sizes up to each step, by class; above, that of the last. ISO 2768-1, from memory; class f names none above
2 m, and up to 3 mm class c asks 0.2."""

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
        return max(SIXTY_FOURTH, _general(job, wanted))
    return max(LEAST_FOLDED, _general(job, wanted))


def _general(job: Job, size: float) -> float:
    at = bisect_left(UP_TO, abs(size))
    return GENERAL[job.sizes_class][min(at, len(UP_TO) - 1)]
