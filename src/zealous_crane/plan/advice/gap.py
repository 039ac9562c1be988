"""A wider gap at the corners."""

from __future__ import annotations

from ...blank.tree import default_gap
from ...job import DrawnPart
from ...measure import INCH, show_length
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ...part import Design
from ..result.plan import Cure
from .trial import Cures, Trial


def wider_gap(trial: Trial) -> Cures:
    """A wider corner gap, a larger notch, lets what swings lean past the ends of standing walls."""
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
    for ticks in (1, 2, 3, 4, 6, 8, 12, 16):
        wider = corner.model_dump() | {"gap": gap + ticks * tick}
        try:
            if isinstance(part, DrawnPart):
                tree = Design.model_validate(part.tree.model_dump() | {"corner": wider})
                changed = job.model_copy(update={"part": DrawnPart(tree=tree)})
            else:
                changed = trial.with_part(corner=wider)
        except INPUT_ERRORS:
            return
        if trial.resizes(changed):
            shown = show_length(gap + ticks * tick, job.units)
            yield Cure(
                tr("A corner gap of {shown} lets the leaf lean past the standing walls: {gain}.").format(
                    shown=shown, gain=trial.gain
                ),
                changed,
            )
            return
