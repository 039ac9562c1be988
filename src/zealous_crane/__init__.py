"""Zealous Crane: plans bent sheet-metal work for finger, press and hand brakes.

Data flows one way: a job is developed into a blank, and the blank is planned on a brake into a
plan. Other programs use the functions of :mod:`zealous_crane.api`, which are given here by name and
imported when they are first asked for:

>>> import zealous_crane as zc
>>> zc.develop(zc.new_job({"kind": "plate", "length": 100, "width": 60}, units="mm")).size
(100.0, 60.0)
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .api import (
        FieldError,
        Inspected,
        brakes,
        cut,
        develop,
        inspect,
        new_job,
        plan,
        read,
        write,
    )
    from .errors import CraneError
    from .flat.blank import Blank
    from .job.job import Job
    from .planning.plan import Plan
    from .work.work import Work

__version__ = "0.5.0"

__all__ = [
    "Blank",
    "CraneError",
    "FieldError",
    "Inspected",
    "Job",
    "Plan",
    "Work",
    "brakes",
    "cut",
    "develop",
    "inspect",
    "inspection_of",
    "new_job",
    "plan",
    "read",
    "write",
]

_ELSEWHERE = {
    "Blank": "flat.blank",
    "CraneError": "errors",
    "Job": "job.job",
    "Plan": "planning.plan",
    "Work": "work.work",
}


def __getattr__(name: str) -> Any:
    """Import a name of the door when it is first asked for: whoever needs one package need not wait
    for all."""
    if name not in __all__:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    return getattr(import_module(f"{__name__}.{_ELSEWHERE.get(name, 'api')}"), name)
