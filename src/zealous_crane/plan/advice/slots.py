"""Slots along a fold, which is then finished by hand: for plate."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ...job import DrawnPart
from ...measure.words import the, tr
from ...part import Flange, FoldSlots
from ..result.plan import Cure
from .trial import Cures, Trial

PLATE = 2.0
"""mm from which metal is slotted for the vise; sheet is not. Common practice, no source."""


def slots(trial: Trial) -> Cures:
    """Slots along the fold that does not go, so that it is finished by hand in a vise."""
    plan = trial.plan
    if plan.stuck is None or trial.job.part.drawing() is not None or trial.job.sheet.thickness < PLATE:
        return
    name = plan.stuck.verdict.stroke.setting.line.name
    tree = trial.job.part.design(trial.job.sheet.thickness)
    # A slot about every two inches, a bridge of a quarter inch between them. Common practice, no source.
    row = FoldSlots(count=max(2, round(plan.stuck.verdict.stroke.setting.line.length / 50)), bridge=6.0)

    def slotted(flanges: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(
            flange.model_copy(
                update={"slots": row} if flange.name == name and flange.slots is None else {"flanges": slotted(flange.flanges)}
            )
            if isinstance(flange, Flange)
            else flange
            for flange in flanges
        )

    changed = tree.model_copy(update={"flanges": slotted(tree.flanges)})
    if changed == tree:
        return
    job = trial.job.model_copy(update={"part": DrawnPart(tree=changed)})
    if trial.cures(job):
        yield Cure(
            tr("With slots along {name}, finished by hand in a vise: {gain}.").format(name=the(name), gain=trial.gain), job
        )
