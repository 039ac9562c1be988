"""How far a size of a finished part may be off."""

from __future__ import annotations

from ..job import Job
from .model import Measure, What


def allowed(job: Job, measure: Measure, wanted: float) -> float:
    """How far a size may be off either way, mm or degrees: what a drawing asks of it, what the job says, else the general tolerance."""
    if measure.key in job.sizes_asked:
        return job.sizes_asked[measure.key]
    if measure.what is What.ANGLE:
        return job.tolerance
    return job.size_tolerance(wanted)
