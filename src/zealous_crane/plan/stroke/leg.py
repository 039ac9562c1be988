"""The legs of a bend: how far metal goes on from it, read as a hand measures it."""

from __future__ import annotations

from collections.abc import Sequence

from ...allowance import Bend
from ...blank import Blank, Fold, MadeBy


def outside_leg(bend: Bend, reach: float) -> float:
    """Outside leg (mm, from the corner where the outside faces meet) of metal that reaches ``reach`` mm from the bend line."""
    return reach - bend.allowance / 2 + bend.outside_setback


def reach_of(blank: Blank, fold: Fold, panel: int, angles: Sequence[float] | None = None) -> float:
    """How far (mm, from the bend line) a panel beside a fold goes on, with what lies flat with it.

    Args:
        blank: the part.
        fold: the fold.
        panel: index of the panel beside it.
        angles: degrees the folds stand at; None takes the sheet as it may best be: hems flattened, all else flat.
    """
    flat = [
        i
        for i, other in enumerate(blank.folds)
        if other is not fold and (angles[i] == 0 if angles is not None else other.made_by is MadeBy.BRAKE)
    ]
    group = blank.reached((panel,), flat)
    away = [abs((blank.panels[k].polygon - fold.start) @ fold.outward).max() for k in group]
    return float(max(away))


def flat_reach(blank: Blank, fold: Fold) -> float:
    """How far metal goes on beyond the tangent line, over everything the fold carries, mm."""
    group = {fold.child}
    for other in blank.folds:
        if other.parent in group and other.made_by is not MadeBy.BRAKE:
            group.add(other.child)
    far = max(float(((blank.panels[i].polygon - fold.start) @ fold.outward).max()) for i in group)
    return far - fold.bend.allowance / 2
