"""How far a size of a finished part may be off."""

from __future__ import annotations

from ..job import Job
from ..metal.sheet_tolerance import sheet_tolerance
from .model import Measure, What


def allowed(job: Job, measure: Measure, wanted: float) -> tuple[float, str]:
    """How far a size may be off either way, mm or degrees: what a drawing asks of it, what the job says, the mill's own tolerance of the
    sheet, else the general tolerance; and the standard, where one says so."""
    if measure.key in job.sizes_asked:
        return job.sizes_asked[measure.key], ""
    if measure.what is What.ANGLE:
        return job.tolerance, ""
    if measure.what is What.SHEET:
        return sheet_tolerance(job.sheet)
    return job.size_tolerance(wanted), ""
