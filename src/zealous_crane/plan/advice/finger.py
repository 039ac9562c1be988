"""One more finger in the rack."""

from __future__ import annotations

import math

from ...brake import LeafBrake, Section
from ...measure import show_length
from ..result.plan import Cure
from .trial import Cures, Trial


def one_more_finger(trial: Trial) -> Cures:
    """One more finger, of the width that is missing."""
    plan, brake = trial.plan, trial.plan.brake
    need = plan.stuck.verdict.demand if plan.stuck is not None else None
    if need is None or not isinstance(brake, LeafBrake):
        return
    for least, most, _ in need.widths:
        ticks = math.floor(most / trial.tick + 1e-9)
        width = ticks * trial.tick
        if width < least or width <= 0:
            continue
        more = brake.model_copy(update={"fingers": (*brake.fingers, Section(width=width))})
        if trial.cures(trial.job, more):
            text = f"With one more finger, {show_length(width, trial.job.units)} wide, in the rack: {trial.gain}."
            yield Cure(text, trial.job, more)
            return
