"""First contact of an outline that turns with one that shifts as it does.

Between two angles the resting outline stays within half of what it shifts there of its middle place. Grown by that much and
held still it can only be met too early, and the first contact of a plain turn has a closed form. An interval in which nothing
is met is done with; one in which something is met is halved until the shift in it no longer matters. Nothing slips through.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray

from .contact import Outlines, Touch, drawn_in, first_touches, turned

Array = NDArray[np.float64]

SETTLED = 1e-3
"""mm; a shift smaller than this within an interval no longer matters. Less than tools are drawn in by, or what lies along a tool
would meet it."""

COARSE = 1.0
"""mm; largest shift in an interval that is looked at as a whole."""

Shift = Callable[[float], Array]
"""(2,) mm that the resting outline has shifted by when the other has turned by an angle, radians; it goes one way."""


def first_advance(
    outline: Array, pole: Array, resting: Array, shift: Shift, begin: float, limit: float, *, sense: float = 1.0
) -> Touch | None:
    """First contact of an outline (n, 2), given at angle 0, with a resting one (m, 2), between ``begin`` and ``limit`` radians.

    Args:
        outline: mm, counter-clockwise.
        pole: (2,) mm, what it turns about.
        resting: mm, counter-clockwise.
        shift: how the resting one shifts.
        sense: 1 clockwise, −1 the other way.

    Returns:
        the contact, its ``index`` a side or corner of the resting outline; None when there is none. An overlap at ``begin``
        is one. It is never late, and early by at most what ``SETTLED`` takes to cross.
    """
    open_ = [(begin, limit)]
    while open_:
        a, b = open_.pop()
        first, last = shift(a), shift(b)
        within = float(np.hypot(*(last - first)))
        if within <= COARSE:
            touch = _held(outline, pole, resting, (first + last) / 2, within / 2, a, b, sense)
            if touch is None:
                continue
            if within <= SETTLED or b - a < 1e-9:
                return touch
        middle = (a + b) / 2
        open_ += [(middle, b), (a, middle)]
    return None


def _held(
    outline: Array, pole: Array, resting: Array, by: Array, grown: float, a: float, b: float, sense: float
) -> Touch | None:
    """First contact between two angles with the resting outline held at one place, grown by what it strays from there."""
    still = (drawn_in(resting, -grown) if grown > 0 else resting) + by
    moving = turned(outline, pole, sense * a)
    if shapely.intersects(shapely.Polygon(moving), shapely.Polygon(still)):
        return Touch(a, (float(moving[0, 0]), float(moving[0, 1])), 0, False)
    touch = first_touches(Outlines.of([moving]), Outlines.of([still]), b - a, about=pole, backwards=sense < 0)[0]
    return None if touch is None else replace(touch, angle=touch.angle + a)


def apart(moving: Array, resting: Outlines, by: Array) -> float:
    """Least distance (mm) of an outline (n, 2) that is outside of others, shifted ``by`` (2,), to them."""
    ahead = _to_segments(moving, resting.corners + by, resting.ends + by)
    back = _to_segments(resting.corners + by, moving, np.roll(moving, -1, axis=0))
    return min(float(ahead.min()), float(back.min()))


def _to_segments(points: Array, starts: Array, ends: Array) -> Array:
    """(n, m) distance of points (n, 2) to segments (m, 2)–(m, 2), mm."""
    along = ends - starts
    away = points[:, None, :] - starts[None, :, :]
    square = np.maximum(np.einsum("mj,mj->m", along, along), 1e-30)
    t = np.clip(np.einsum("nmj,mj->nm", away, along) / square, 0.0, 1.0)
    gap = away - t[..., None] * along[None, :, :]
    distance: Array = np.sqrt(np.einsum("nmj,nmj->nm", gap, gap))
    return distance
