"""Where things lie about the pole: a quick proof that two of them can never meet."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..memory import kept
from .contact import following
from .native import exact
from .outline import ToolOutline, nearest
from .solid import Solid

Array = NDArray[np.float64]

Ring = tuple[float, float, float, float]
"""Where an outline lies about the pole: least and greatest distance, mm, and first and last direction, radians; directions grow
with the swing from a little below the front, and go all the way round where the pole is near."""

BELOW_FRONT = 1.2
"""Radians below the front at which directions begin to be counted."""


@kept(16384)
def ring_of(solid: Solid, y: float, z: float) -> Ring:
    """The ring of a piece's shadow about (y, z) mm."""
    if exact is not None:
        return _round_about(*exact.ring(solid.shadow, (y, z), BELOW_FRONT))
    pole = np.array([y, z])
    return _ring(solid.shadow, pole, 0.0 if _holds(solid.shadow, pole) else nearest(solid.shadow, pole))


@kept(1024)
def tool_ring(tool: ToolOutline, y: float, z: float) -> Ring:
    """The ring of a tool about (y, z) mm."""
    if exact is not None:
        return _round_about(*exact.ring(tool.outline, (y, z), BELOW_FRONT))
    return _ring(tool.outline, np.array([y, z]), tool.distance(y, z))


def _ring(outline: Array, pole: Array, least: float) -> Ring:
    arm = outline - pole
    far = float(np.hypot(arm[:, 0], arm[:, 1]).max())
    turn = (np.arctan2(arm[:, 1], -arm[:, 0]) + BELOW_FRONT) % (2 * math.pi)
    return _round_about(least, far, float(turn.min()), float(turn.max()))


def _round_about(least: float, far: float, low: float, high: float) -> Ring:
    """The ring of distances and directions of corners: those seen within half a turn hold everything between them, unless the pole
    lies inside."""
    return (least, far, 0.0, 2 * math.pi) if least < 1e-6 or high - low > math.pi else (least, far, low, high)


def _holds(outline: Array, point: Array) -> bool:
    """True when a convex outline holds a point."""
    side = following(outline) - outline
    away = point - outline
    return bool((side[:, 0] * away[:, 1] - side[:, 1] * away[:, 0] >= 0).all())


@kept(65536)
def may_meet(one: Ring, other: Ring, slack: float, limit: float) -> bool:
    """False when what turns by up to ``limit`` radians cannot meet what rests: their rings or their directions never overlap.

    Args:
        one: turns, given at angle 0.
        other: rests.
        slack: mm that must be left between them.
        limit: radians.
    """
    if one[1] < other[0] - slack or other[1] < one[0] - slack:
        return False
    least = max(min(one[0], other[0]), 1e-9)
    spare = math.asin(min(1.0, slack / least)) if least > slack else math.pi
    return any(
        one[2] - spare <= other[3] + turn and one[3] + limit + spare >= other[2] + turn
        for turn in (-2 * math.pi, 0.0, 2 * math.pi)
    )
