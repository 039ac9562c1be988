"""One more piece in the rack."""

from __future__ import annotations

import math

from ...measure import show_length
from ...measure.words import tr
from ..result.plan import Cure
from .trial import Cures, Trial


def one_more_piece(trial: Trial) -> Cures:
    """One more finger or bar, of the width that is missing."""
    plan, brake = trial.plan, trial.plan.brake
    need = plan.stuck.verdict.demand if plan.stuck is not None else None
    if need is None:
        return
    noun = plan.stuck.verdict.tooling.sections.kind.one if plan.stuck is not None else ""
    for least, most, _ in need.widths:
        ticks = math.floor(most / trial.tick + 1e-9)
        width = ticks * trial.tick
        if width < least or width <= 0:
            continue
        more = brake.with_one_more(width)
        if more is None:
            return
        if trial.cures(trial.job, more):
            text = tr("With one more {noun}, {width} wide, in the rack: {gain}.").format(
                noun=noun, width=show_length(width, trial.job.units), gain=trial.gain
            )
            yield Cure(text, trial.job, more)
            return
