"""The least flange a brake can carry, and the room a reversed one needs."""

from __future__ import annotations

from ..allowance import Bend
from .leaf_brake import LeafBrake


def least_flange(brake: LeafBrake, bend: Bend, *, reversed_: bool = False) -> tuple[float, str]:
    """Least outside leg of a flange on a leaf brake, mm, and why.

    Forward: what the leaf can carry round, taken as three thicknesses beyond the bend. Reversed, where the flange already bent
    hangs down beside the leaf: the leaf's bar and the setback. Common practice, no source.

    Args:
        brake: the machine.
        bend: the fold.
        reversed_: the panel between this fold and the last one, which was bent the other way.
    """
    if reversed_:
        setback = brake.setback(bend.thickness, bend.radius)
        return brake.leaf_bar + setback, "the leaf's bar and the setback"
    return bend.outside_setback + 3 * bend.thickness, "three thicknesses beyond the bend, which the leaf must hold"
