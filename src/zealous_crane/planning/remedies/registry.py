"""Cures of the trade, tried through the same engine: only those that work are offered, each with
the job it makes."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

from ...brake.library import MachineLibrary
from ..plan import Plan, Remedy
from .corners import cut_back, other_tabs, relief, wider_gap
from .parting import seam, slots
from .sizes import lower, nearest_sizes
from .tools import free_order, in_air, one_more_piece, other_brakes, tools_of_plan
from .trial import Trial

CURES = (
    free_order,
    in_air,
    nearest_sizes,
    lower,
    wider_gap,
    cut_back,
    relief,
    other_tabs,
    one_more_piece,
    slots,
    seam,
)
"""Every kind of cure that changes the job or its brake, in the order they are offered."""


def advise(
    plan: Plan, rack: MachineLibrary, *, cancelled: Callable[[], bool] = lambda: False
) -> Plan:
    """The plan with the cures that work for it.

    A part that cannot be made gets the nearest changes that can; one that is finished by hand gets
    the nearest that need not be. Nothing is offered that the engine did not find to work.

    Args:
        plan: the plan.
        rack: the machines of the shop.
        cancelled: asked now and then; True stops the work.
    """
    if not plan.wants_cures:
        return plan
    trial = Trial(plan, cancelled)
    remedies: list[Remedy] = [*tools_of_plan(trial)]
    if not plan.complete:
        for cures in CURES:
            remedies += (
                dataclasses.replace(cure, job=trial.promised(cure.job)) for cure in cures(trial)
            )
        remedies += other_brakes(trial, rack)
    return dataclasses.replace(plan, cures=tuple(remedies))
