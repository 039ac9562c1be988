"""What a flat depends on, as one value: jobs that are equal in it have one flat."""

from __future__ import annotations

from ..job import Job

TOLD_APART = {
    "name",
    "quantity",
    "note",
    "brake",
    "order",
    "angles",
    "strike_from",
    "film",
    "grain",
    "bottomed",
    "gauging",
    "gauge_at",
    "tools",
    "tolerance",
    "sizes_within",
    "sizes_asked",
    "sizes_class",
    "springback",
    "springback_from",
    "school_from",
}
"""Fields of a job that its flat does not depend on; its brake comes in by the radius that it makes."""


def flat_key(job: Job) -> str:
    """Everything the flat of a job depends on but its brake; equal for jobs of one flat."""
    return job.model_dump_json(exclude=TOLD_APART)
