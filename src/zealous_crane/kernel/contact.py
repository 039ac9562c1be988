"""First contact of outlines that turn, and how near they come."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from .._typing import Array
from .back_end import geometry
from .geometry import Counted
from .plane import Mask, Outlines


def hull(points: Array) -> Array:
    """Convex hull (k, 2), counter-clockwise, of (n, 2) points."""
    return geometry.hull(points)


def least_distance(  # noqa: PLR0913
    corners: Array,
    pole: Array,
    outline: Array,
    limit: float,
    *,
    backwards: bool = False,
    counted: Mask | None = None,
    sides: Mask | None = None,
) -> float:
    """Least distance (mm) of any corner to any side of an outline while the corners turn from 0 to
    ``limit``.

    Exact when nothing is hit on the way.

    Args:
        corners: (n, 2) float, mm, corners at angle 0.
        pole: (2,) float, mm, what they turn about.
        outline: (m, 2) float, mm, what rests.
        limit: radians.
        backwards: turn the other way.
        counted: (n,) bool, corners that count; None counts all.
        sides: (m,) bool, sides that count, by the corner each begins at.
    """
    if len(corners) == 0 or len(outline) == 0:
        return math.inf
    place = (float(pole[0]), float(pole[1]))
    return geometry.apart(corners, place, outline, limit, backwards, _counted(counted, sides))


def _counted(one: Mask | None, other: Mask | None) -> Counted:
    return (
        None if one is None else one.tobytes(),
        None if other is None else other.tobytes(),
    )


@dataclass(frozen=True)
class Touch:
    """The first contact of a moving outline with a resting one.

    Attributes:
        angle: radians turned.
        place: (y, z) mm, where they touch.
        index: of the side (or, when ``corner``, of the corner) of the resting outline that is
            touched.
        corner: True when a corner of the resting outline touches a side of the moving one.
    """

    angle: float
    place: tuple[float, float]
    index: int
    corner: bool


def first_touches(  # noqa: PLR0913
    outlines: Sequence[Array],
    resting: Outlines,
    limit: float,
    *,
    about: Array,
    back_about: Array | None = None,
    backwards: bool = False,
    sides: Mask | None = None,
    corners: Mask | None = None,
) -> list[Touch | None]:
    """First contact of each moving outline with a resting one.

    Args:
        outlines: (n_i, 2) mm each, they turn; their n corners one after another are counted in
            ``about``.
        resting: one outline of m corners that rests.
        limit: largest angle looked at, radians.
        about: (2,) or (n, 2) mm, what the moving corners turn about.
        back_about: (2,) or (m, 2) mm, what the resting corners turn about as the moving outlines
            see it; None is ``about``.
        backwards: turn the other way.
        sides: (m,) bool, resting sides that count; None counts all.
        corners: (m,) bool, resting corners that count.
    """
    back_pole = about if back_about is None else back_about
    back_sense = not backwards if back_about is None else backwards
    met = geometry.touches(
        list(outlines),
        resting.corners,
        limit,
        (about.reshape(-1, 2), back_pole.reshape(-1, 2)),
        (backwards, back_sense),
        _counted(sides, corners),
    )
    return [None if each is None else Touch(*each) for each in met]
