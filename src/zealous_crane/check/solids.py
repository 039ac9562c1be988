"""A folded part as convex pieces, and how far one may go before it meets another."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..blank import Blank, Pose, panel_poses, strip_section
from ..plan.geometry.solid import Solid, plate

Array = NDArray[np.float64]

ON = 1e-9
"""Of a unit vector: two directions nearer than this are one."""


def folded_solids(blank: Blank) -> tuple[Solid, ...]:
    """The finished part: its panels and its bent strips, in the frame of its flat with the base in place."""
    angles = [fold.angle for fold in blank.folds]
    poses, t = panel_poses(blank, angles), blank.thickness
    found = [
        Solid(panel.name, i, poses[i].apply(plate(piece, t))) for i, panel in enumerate(blank.panels) for piece in panel.pieces
    ]
    for i, (fold, angle) in enumerate(zip(blank.folds, angles, strict=True)):
        for piece in strip_section(fold.bend, abs(angle)):
            m, z = piece[:, 0], piece[:, 1] if fold.angle > 0 else t - piece[:, 1]
            ring = [
                np.column_stack([e[0] + m * fold.outward[0], e[1] + m * fold.outward[1], z]) for e in (fold.start, fold.end)
            ]
            found.append(Solid(fold.name, -1 - i, poses[fold.parent].apply(np.concatenate(ring))))
    return tuple(found)


def moved(solids: tuple[Solid, ...], pose: Pose) -> tuple[Solid, ...]:
    """The same pieces in another place."""
    return tuple(Solid(s.name, s.panel, pose.apply(s.corners)) for s in solids)


def _directions(solid: Solid) -> tuple[Array, Array]:
    """Unit normals of its faces and directions of its edges, each line once."""
    k = len(solid.corners) // 2
    ring = solid.corners[:k]
    sides = np.roll(ring, -1, axis=0) - ring
    along = solid.corners[k] - ring[0]
    normals = np.vstack([np.cross(sides, along), np.cross(sides[0], sides[1])[None]])
    return _once(normals), _once(np.vstack([sides, along[None]]))


def _once(vectors: Array) -> Array:
    size = np.linalg.norm(vectors, axis=1)
    unit = vectors[size > 1e-9] / size[size > 1e-9, None]
    # One sign for each line, so that equal lines are equal rows.
    lead = np.argmax(np.abs(unit) > 1e-6, axis=1)
    unit = unit * np.sign(unit[np.arange(len(unit)), lead])[:, None]
    return np.unique(unit.round(9), axis=0)


def axes_of(one: Solid, other: Solid) -> Array:
    """(n, 3) unit directions along which two convex pieces must be looked at: two that overlap on all of them meet."""
    (n1, e1), (n2, e2) = _directions(one), _directions(other)
    across = np.cross(e1[:, None, :], e2[None, :, :]).reshape(-1, 3)
    return np.vstack([n1, n2, _once(across)]) if len(across) else np.vstack([n1, n2])


def depth(one: Solid, other: Solid) -> float:
    """How deep two convex pieces run into each other, mm: along the direction in which they part soonest; ≤ 0 when apart."""
    axes = axes_of(one, other)
    a, b = one.corners @ axes.T, other.corners @ axes.T
    return float(np.minimum(a.max(axis=0) - b.min(axis=0), b.max(axis=0) - a.min(axis=0)).min())


def travel(one: Solid, other: Solid, way: Array, give: float) -> tuple[float, float] | None:
    """From and to: how far (mm) one convex piece is shifted along a direction while it meets another by more than ``give``.

    None when it passes by. Closed form: along every separating direction they overlap in one interval of the shift.
    """
    axes = axes_of(one, other)
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
