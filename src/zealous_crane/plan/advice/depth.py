"""Lower walls: the greatest height that works."""

from __future__ import annotations

import math
from collections.abc import Callable

from ...brake import Brake
from ...job import Job
from ...measure import show_length
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ..make import make_plan
from ..result.plan import Cure
from .trial import Cures, Trial

HEIGHTS = ("depth", "height")
"""What the height of the walls is called in the ready kinds."""


def greatest_depth(job: Job, brake: Brake, cancelled: Callable[[], bool] = lambda: False) -> float | None:
    """Greatest wall height (mm) of a ready kind, below its own, that can be made; None when there is none or it can be made as it is.

    To the ticks of a rule (1/16" or 0.5 mm); the value returned was itself planned.
    """
    plan = make_plan(job, brake, cancelled=cancelled)
    return None if plan.feasible else lower_walls(Trial(plan, cancelled))


def lower_walls(trial: Trial) -> float | None:
    """Greatest wall height (mm) below the job's own that cures it, bisected to ticks; None when there is none."""
    name = _height(trial.job)
    if name is None:
        return None

    def at(ticks: int) -> bool:
        try:
            return trial.resizes(trial.with_part(**{name: ticks * trial.tick}))
        except INPUT_ERRORS:
            return False

    high = math.ceil(getattr(trial.job.part, name) / trial.tick - 1e-9)
    # Walls grow harder with height, but not below the least flange: begin from the tallest that works of a coarse row.
    low = next((ticks for ticks in (high // share for share in (2, 4, 8)) if ticks > 0 and at(ticks)), 0)
    if low == 0:
        return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if at(middle) else (low, middle)
    return low * trial.tick


def lower(trial: Trial) -> Cures:
    """Lower walls."""
    depth, name = lower_walls(trial), _height(trial.job)
    if depth is not None and name is not None:
        text = tr("Walls up to {depth} high: {gain} on this brake.").format(
            depth=show_length(depth, trial.job.units), gain=trial.gain
        )
        yield Cure(text, trial.with_part(**{name: depth}))


def _height(job: Job) -> str | None:
    return next((n for n in HEIGHTS if n in type(job.part).model_fields), None)
