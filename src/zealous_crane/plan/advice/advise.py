"""Cures of the trade, tried through the same engine: only those that work are offered, each with the job it makes."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

from ...brake import Rack
from ..result.plan import Cure, Plan
from .depth import lower
from .elsewhere import other_brakes
from .finger import one_more_piece
from .gap import wider_gap
from .relief import cut_back, relief
from .seam import seam
from .sizes import nearest_sizes
from .slots import slots
from .tabs import other_tabs
from .trial import Trial
from .wishes import free_order, in_air, tools_of_plan

CURES = (free_order, in_air, nearest_sizes, lower, wider_gap, cut_back, relief, other_tabs, one_more_piece, slots, seam)
"""Every kind of cure that changes the job or its brake, in the order they are offered."""


def advise(plan: Plan, rack: Rack, *, cancelled: Callable[[], bool] = lambda: False) -> Plan:
    """The plan with the cures that work for it.

    A part that cannot be made gets the nearest changes that can; one that is finished by hand gets the nearest that need
    not be. Nothing is offered that the engine did not find to work.
    """
    if not plan.wants_cures:
        return plan
    trial = Trial(plan, cancelled)
    found: list[Cure] = [*tools_of_plan(trial)]
    if not plan.complete:
        for cures in CURES:
            found += (dataclasses.replace(cure, job=trial.promised(cure.job)) for cure in cures(trial))
        found += other_brakes(trial, rack)
    return dataclasses.replace(plan, cures=tuple(found))
