"""Plans that many tests look at: made once for all of them, whichever process a test runs in."""

from __future__ import annotations

import hashlib
import os
import pickle
from pathlib import Path

from zealous_crane.brake import Brake
from zealous_crane.job import Job
from zealous_crane.plan.make import make_plan
from zealous_crane.plan.result.plan import Plan

FOLDER: Path | None = None
"""Where they are kept for this run of the tests; set by conftest."""


def plan_of(job: Job, brake: Brake) -> Plan:
    """The plan of a job, as :func:`make_plan` makes it when it is asked for nothing else."""
    assert FOLDER is not None, "conftest names the folder"
    asked = f"{job.model_dump_json()}\n{brake.model_dump_json()}"
    kept = FOLDER / f"{hashlib.sha256(asked.encode()).hexdigest()}.plan"
    if not kept.exists():
        made = pickle.dumps(make_plan(job, brake))
        # Written beside it first: another process may be looking.
        beside = kept.with_suffix(f".{os.getpid()}")
        beside.write_bytes(made)
        beside.replace(kept)
    plan: Plan = pickle.loads(kept.read_bytes())
    return plan
