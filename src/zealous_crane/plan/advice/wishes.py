"""What was asked for, taken back: the order, or bottoming."""

from __future__ import annotations

from ...measure.words import tr
from ..result.plan import Cure
from .trial import Cures, Trial


def free_order(trial: Trial) -> Cures:
    """The order asked for, taken back."""
    if trial.job.order.any:
        job = trial.job.model_copy(update={"order": type(trial.job.order)()})
        if trial.cures(job):
            yield Cure(tr("In the program's own order: {gain}.").format(gain=trial.gain), job)


def in_air(trial: Trial) -> Cures:
    """Bent in air where the press, or the die, is not one to bottom in."""
    if trial.job.bottomed:
        job = trial.job.model_copy(update={"bottomed": False})
        if trial.cures(job):
            yield Cure(tr("Bent in air, not bottomed: {gain}.").format(gain=trial.gain), job)
