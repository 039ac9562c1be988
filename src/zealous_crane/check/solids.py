"""A folded part as convex pieces, and how far one may go before it meets another."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..blank import Blank, Pose, strip_prisms
from ..blank.crossing import separating_axes
from ..plan.geometry.solid import Solid, plate

Array = NDArray[np.float64]

ON = 1e-9
"""Of a unit vector: two directions nearer than this are one."""


def folded_solids(blank: Blank) -> tuple[Solid, ...]:
    """The finished part: its panels and its bent strips, in the frame of its flat with the base in place."""
    poses, t = blank.stood, blank.thickness
    found = [
        Solid(panel.name, i, poses[i].apply(plate(piece, t))) for i, panel in enumerate(blank.panels) for piece in panel.pieces
    ]
    for i, fold in enumerate(blank.folds):
        at = poses[fold.parent]
        found += [Solid(fold.name, -1 - i, at.apply(prism)) for prism in strip_prisms(fold, fold.angle, t)]
    return tuple(found)


def moved(solids: tuple[Solid, ...], pose: Pose) -> tuple[Solid, ...]:
    """The same pieces in another place."""
    return tuple(Solid(s.name, s.panel, pose.apply(s.corners)) for s in solids)


def travel(one: Solid, other: Solid, way: Array, give: float) -> tuple[float, float] | None:
    """From and to: how far (mm) one convex piece is shifted along a direction while it meets another by more than ``give``.

    None when it passes by. Closed form: along every separating direction they overlap in one interval of the shift.
    """
    axes = separating_axes(one.corners, other.corners)
    a, b = one.corners @ axes.T, other.corners @ axes.T
    # Shifted by s, they overlap on an axis by more than give while low < s · speed < high.
    low, high = b.min(axis=0) - a.max(axis=0) + give, b.max(axis=0) - a.min(axis=0) - give
    speed = axes @ way
    still = np.abs(speed) < ON
    if (low[still] >= 0).any() or (high[still] <= 0).any() or (low >= high).any():
        return None
    moving = ~still
    if not moving.any():
        return -math.inf, math.inf
    one_end, other_end = low[moving] / speed[moving], high[moving] / speed[moving]
    begins = float(np.minimum(one_end, other_end).max())
    ends = float(np.maximum(one_end, other_end).min())
    return (begins, ends) if begins < ends else None
