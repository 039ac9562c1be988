"""A wider gap at the corners."""

from __future__ import annotations

from itertools import islice

from ...blank.tree import default_gap
from ...job import DrawnPart, Job
from ...measure import INCH, show_length
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ...part import Design
from ..result.plan import Cure
from .trial import Cures, Trial

TICKS = (1, 2, 3, 4, 6, 8, 12, 16)
"""Steps by which a gap is widened."""

ABOVE = frozenset({"beam", "ram", "finger clamp"})
"""What a wall meets with its height: a gap at its ends is no help there."""

TRIES = 2
"""Gaps that help where the plan is stuck and are planned whole."""


def wider_gap(trial: Trial) -> Cures:
    """A wider corner gap, a larger notch, lets what swings lean past the ends of standing walls."""
    short = [stroke.contact for stroke in trial.plan.strokes if stroke.verdict.by_hand]
    if short and all(contact is not None and contact.obstacle.tool in ABOVE for contact in short):
        return
    job, part = trial.job, trial.job.part
    tick = INCH / 64 if job.units.is_inch else 0.25
    corner = getattr(part, "corner", None)
    if corner is None:
        # A kind that asks for no corner has one in its own tree.
        if part.drawing() is not None:
            return
        part = DrawnPart(tree=part.design(job.sheet.thickness))
        corner = part.tree.corner
        if len(part.tree.flanges) < 2:
            return
    gap = default_gap(job) if corner.gap is None else corner.gap

    def wider(ticks: int) -> Job | None:
        try:
            opened = corner.model_dump() | {"gap": gap + ticks * tick}
            if isinstance(part, DrawnPart):
                tree = Design.model_validate(part.tree.model_dump() | {"corner": opened})
                return job.model_copy(update={"part": DrawnPart(tree=tree)})
            return trial.with_part(corner=opened)
        except INPUT_ERRORS:
            return None

    # Where the widest changes nothing at what is stuck, none between does; what helps there mostly is the cure.
    every = [changed for ticks in TICKS if (changed := wider(ticks)) is not None]
    if not every or not trial.helps(every[-1]):
        return
    helping = ((ticks, changed) for ticks, changed in zip(TICKS, every, strict=False) if trial.helps(changed))
    found = next(((ticks, changed) for ticks, changed in islice(helping, TRIES) if trial.cures(changed, thorough=False)), None)
    if found is None:
        return
    ticks, changed = found
    shown = show_length(gap + ticks * tick, job.units)
    yield Cure(
        tr("A corner gap of {shown} lets the leaf lean past the standing walls: {gain}.").format(shown=shown, gain=trial.gain),
        changed,
    )
