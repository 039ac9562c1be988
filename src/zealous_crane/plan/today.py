"""The brake as it stands today."""

from __future__ import annotations

from ..brake import Brake
from ..job import Job


def as_today(brake: Brake, job: Job) -> Brake:
    """A brake with the pieces that are there today, as a job has it."""
    today = {(t.rack, t.width): t.there for t in job.tools.of(brake.key).today}
    return brake.with_pieces(lambda rack, width: today.get((rack, width))) if today else brake
