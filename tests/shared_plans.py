"""Plans that many tests look at: made once for all of them, whichever process a test runs in."""

from __future__ import annotations

import hashlib
import os
import pickle
import threading
from collections.abc import Hashable
from pathlib import Path

from zealous_crane.brake.brake import Brake
from zealous_crane.job.job import Job
from zealous_crane.planning.plan import Plan
from zealous_crane.planning.planner import make_plan

FOLDER: Path | None = None
"""Where they are kept for this run of the tests; set by conftest."""


def plan_of(job: Job, brake: Brake) -> Plan:
    """The plan of a job, as :func:`make_plan` makes it when it is asked for nothing else."""
    kept = place_of("plan", job.model_dump_json(), brake.model_dump_json())
    if not kept.exists():
        keep(kept, make_plan(job, brake))
    plan: Plan = pickle.loads(kept.read_bytes())
    return plan


def place_of(*asked: Hashable) -> Path:
    """Where what was asked for is kept, once it is."""
    assert FOLDER is not None, "conftest names the folder"
    return FOLDER / hashlib.sha256(repr(asked).encode()).hexdigest()


def keep(place: Path, what: object) -> None:
    """Keep it for all processes of this run."""
    # Written beside it first: another process may be looking.
    beside = place.with_suffix(f".{os.getpid()}-{threading.get_ident()}")
    beside.write_bytes(pickle.dumps(what))
    beside.replace(place)
