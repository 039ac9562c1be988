"""Two pieces and a seam: a part that does not go in one, cut across its base and lapped."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from ...i18n import msg, the
from ...job.job import DrawnPart, OrderWishes
from ...part.corner import CornerAt
from ...part.design import Base, Design, Flange
from ...part.edge import FoldSlots, SeamForm
from ...units.figures import Length
from ..plan import Remedy
from .trial import Cures, Trial

CUTS = (("length", "left", "right"), ("width", "front", "back"))
"""Across which size of the base, and the edges on either side of the cut."""

LEAST = 2.0
"""Laps that half a base must be long to be worth cutting. Common practice, no source."""


def halves(design: Design) -> Iterator[tuple[str, Design, Design]]:
    """Ways to cut a part in two: what is cut across, and both pieces, the first longer by the lap.

    Only a rectangular base without holes is cut, and only where something stands on both sides of
    the cut. The walls that run across it are cut with it, so that one piece slips into the other by
    the lap (:attr:`SeamForm.usual`).
    """
    base = design.base
    if not isinstance(base, Base) or design.cutouts or design.marks:
        return
    lap = SeamForm.LAP.usual
    standing = {flange.edge for flange in design.flanges}
    for size, near, far in CUTS:
        half = getattr(base, size) / 2
        if half < LEAST * lap or not {near, far} <= standing:
            continue
        yield size, _without(design, far, size, half + lap), _without(design, near, size, half)


def _without(design: Design, edge: str, size: str, length: float) -> Design:
    """The part without what stands on one edge, its base so long."""
    base = design.base.model_copy(update={size: length})
    flanges = tuple(flange for flange in design.flanges if flange.edge != edge)
    corners: tuple[CornerAt, ...] = tuple(
        corner for corner in design.corners if edge not in corner.at.split("-")
    )
    return Design.model_validate(
        {**dict(design), "base": base, "flanges": flanges, "corners": corners}
    )


def seam(trial: Trial) -> Cures:
    """Two pieces, lapped and joined, where one cannot be made."""
    if trial.plan.feasible or trial.job.part.drawing() is not None:
        return
    name = trial.job.name
    for size, *pieces in halves(trial.job.part.design(trial.job.sheet.thickness)):
        jobs = [
            trial.job.model_copy(
                update={
                    "part": DrawnPart(tree=piece),
                    "name": which.format(name=name[:100]),
                    "order": OrderWishes(),
                }
            )
            for which, piece in zip(
                (msg("{name}, first half"), msg("{name}, second half")), pieces, strict=True
            )
        ]
        if all(trial.cures(job) for job in jobs):
            lap = Length(SeamForm.LAP.usual, trial.job.units)
            text = msg(
                "In two pieces, cut across {size} and lapped {lap}, then riveted, spotted or "
                "seam-welded: both can be made.",
                size=msg("the length") if size == "length" else msg("the width"),
                lap=lap,
            )
            yield Remedy(text, jobs[0], also=jobs[1])
            return


PLATE = 2.0
"""mm from which metal is slotted for the vise; sheet is not. Common practice, no source."""


def slots(trial: Trial) -> Cures:
    """Slots along the fold that does not go, so that it is finished by hand in a vise."""
    plan = trial.plan
    if (
        plan.stuck is None
        or trial.job.part.drawing() is not None
        or trial.job.sheet.thickness < PLATE
    ):
        return
    name = plan.stuck.verdict.stroke.setting.line.name
    tree = trial.job.part.design(trial.job.sheet.thickness)
    # A slot about every two inches, a bridge of a quarter inch between them. Common practice, no
    # source.
    row = FoldSlots(
        count=max(2, round(plan.stuck.verdict.stroke.setting.line.length / 50)), bridge=6.0
    )

    def slotted(flanges: Iterable[Any]) -> tuple[Any, ...]:
        return tuple(
            flange.model_copy(
                update={"slots": row}
                if flange.name == name and flange.slots is None
                else {"flanges": slotted(flange.flanges)}
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
        yield Remedy(
            msg(
                "With slots along {name}, finished by hand in a vise: {gain}.",
                name=the(name),
                gain=trial.gain,
            ),
            job,
        )
