"""The flat of a job on its brake: the only way from a job to what is cut.

A brake has a say in the flat through the inside radius its tools give a bend
(:class:`~zealous_crane.metal.bend.ToolRadius`). Who wants a blank, in the window, on paper, on the
command line or in a file, asks :func:`flat_for`; a test holds that nobody outside this room calls
the development itself.
"""

from __future__ import annotations

from collections.abc import Callable

from ..brake.brake import Brake
from ..job.job import Job
from ..metal.bend import ToolRadius
from .blank import Blank
from .development import check_developable, develop


def tool_radius(job: Job, brake: Brake | None) -> ToolRadius | None:
    """Inside radius that a brake's tools give the bends of a job.

    The tools are those the job asks for, else those the plan begins with; single bends with tools
    of their own take theirs.

    Args:
        job: its metal, its tool requests, and whether it is bottomed.
        brake: the machine; None where it is not known.

    Returns:
        None where no tool suits the sheet, or no brake is known: the school's own radius is then
            taken.
    """
    if brake is None:
        return None
    wishes, sheet = job.tools.of(brake.key), job.sheet
    usual = brake.radius(sheet, wishes.every, bottomed=job.bottomed)
    if usual is None or not wishes.at:
        return usual
    at = {
        fold: brake.radius(sheet, wishes.asked(fold), bottomed=job.bottomed) for fold in wishes.at
    }
    own = tuple((fold, result.radius) for fold, result in at.items() if result is not None)
    return ToolRadius(usual.radius, usual.press, usual.says, own)


def on_brake(job: Job, brake: Brake | None) -> Job:
    """The job with the radius and the school that its brake's tools suggest written in, where it
    names none of its own."""
    return job.on_tools(tool_radius(job, brake))


OnBrake = Callable[[Job], Job]
"""A job with the radius and school its brake's tools suggest written in; see :func:`on_brake`."""


def as_it_is(job: Job) -> Job:
    """A job where no brake is known."""
    return job


def on_brakes(find: Callable[[str], Brake | None]) -> OnBrake:
    """:func:`on_brake` with the brakes of a shop, found by their keys."""
    return lambda job: on_brake(job, find(job.brake))


def flat_for(job: Job, brake: Brake | None) -> Blank:
    """The flat of a job on a brake.

    Args:
        job: what is wanted.
        brake: the machine it is made on; None where the shop does not have it: the school's usual
            radius is taken.

    Raises:
        DevelopmentError: the part cannot be laid flat.
    """
    return develop(job, tool_radius(job, brake))


def check_flat(job: Job, brake: Brake | None) -> None:
    """Raise what :func:`flat_for` would, in half its time.

    Raises:
        DevelopmentError: as :func:`flat_for`.
    """
    check_developable(job, tool_radius(job, brake))
