"""Advice: cures of the trade, tried through the same engine; only those that work are offered."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator

from ..blank import DevelopmentError
from ..brake import LeafBrake, Rack
from ..job import Job
from ..measure import INCH, show_length
from ..part import OpenBox
from .plan import Plan, make_plan

Works = Callable[[Plan], bool]


def advise(plan: Plan, rack: Rack, *, cancelled: Callable[[], bool] = lambda: False) -> Plan:
    """The plan with the cures that work for it.

    A part that cannot be made gets the nearest size that can; one that is finished by hand gets the nearest that need
    not be. Nothing is offered that the engine did not find to work.
    """
    if plan.complete or plan.open:
        return plan
    works: Works = (lambda p: p.complete) if plan.feasible else (lambda p: p.feasible)
    gain = "every bend reaches its angle" if plan.feasible else "it can be made"
    found = [*_depth(plan, works, gain, cancelled), *_gap(plan, works, gain, cancelled)]
    found += _other_brakes(plan, rack, works, gain, cancelled)
    return dataclasses.replace(plan, advice=tuple(found))


def _try(job: Job, brake: LeafBrake, works: Works, cancelled: Callable[[], bool]) -> bool:
    try:
        return works(make_plan(job, brake, cancelled=cancelled))
    except DevelopmentError:
        return False


def greatest_depth(job: Job, brake: LeafBrake, works: Works, cancelled: Callable[[], bool] = lambda: False) -> float | None:
    """Greatest wall height (mm) of an open box, below its own, for which the plan works; None when there is none.

    Bisected to the ticks of a rule (1/16" or 0.5 mm); the value returned was itself planned.
    """
    if not isinstance(job.part, OpenBox):
        return None
    tick = INCH / 16 if job.units.is_inch else 0.5

    def at(ticks: int) -> bool:
        part = job.part.model_copy(update={"depth": ticks * tick})
        return _try(job.model_copy(update={"part": part}), brake, works, cancelled)

    low, high = 0, math.ceil(job.part.depth / tick - 1e-9)
    # Walls grow harder with height, but not below the least flange: begin from the tallest that works of a coarse row.
    for share in (8, 4, 2):
        if at(max(1, high // share)):
            low = max(low, high // share)
    if low == 0:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if at(middle) else (low, middle)
    return low * tick


def _depth(plan: Plan, works: Works, gain: str, cancelled: Callable[[], bool]) -> Iterator[str]:
    depth = greatest_depth(plan.job, plan.brake, works, cancelled)
    if depth is not None:
        yield f"Walls up to {show_length(depth, plan.job.units)} high: {gain} on this brake."


def _gap(plan: Plan, works: Works, gain: str, cancelled: Callable[[], bool]) -> Iterator[str]:
    """A wider corner gap lets the leaf lean past the ends of standing walls."""
    part = plan.job.part
    limits = {s.verdict.limit.obstacle.tool for s in plan.strokes if s.verdict.limit is not None}
    if not isinstance(part, OpenBox) or "leaf" not in limits:
        return
    tick = INCH / 64 if plan.job.units.is_inch else 0.25
    for ticks in range(1, 17):
        corner = part.corner.model_copy(update={"gap": ticks * tick})
        job = plan.job.model_copy(update={"part": part.model_copy(update={"corner": corner})})
        if _try(job, plan.brake, works, cancelled):
            shown = show_length(ticks * tick, plan.job.units)
            yield f"A corner gap of {shown} lets the leaf lean past the standing walls: {gain}."
            return


def _other_brakes(plan: Plan, rack: Rack, works: Works, gain: str, cancelled: Callable[[], bool]) -> Iterator[str]:
    for brake in rack.brakes:
        if brake.key != plan.brake.key and _try(plan.job, brake, works, cancelled):
            yield f"On the {brake.name}: {gain}."
