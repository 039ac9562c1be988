"""A simple polygon in convex pieces."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

Array = NDArray[np.float64]

FLAT = 1e-9
"""mm²; a corner that turns back by less than this is straight."""


def _turns(ring: Array) -> Array:
    """Twice the signed area at every corner."""
    back, on = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    turn: Array = back[:, 0] * on[:, 1] - back[:, 1] * on[:, 0]
    return turn


def is_convex(ring: Array) -> bool:
    """True when a counter-clockwise polygon (n, 2) bulges outwards at every corner."""
    return bool((_turns(ring) > -FLAT).all())


def convex_pieces(ring: Array) -> tuple[Array, ...]:
    """Convex pieces (k, 2) that together are the polygon: triangles joined while they stay convex."""
    if is_convex(ring):
        return (ring,)
    polygon = shapely.Polygon(ring)
    triangles = shapely.constrained_delaunay_triangles(polygon)
    pieces = [np.array(shapely.geometry.polygon.orient(t).exterior.coords)[:-1] for t in triangles.geoms if t.area > FLAT]
    joined = True
    while joined:
        joined = False
        for i in range(len(pieces)):
            for j in range(i + 1, len(pieces)):
                both = _joined(pieces[i], pieces[j])
                if both is not None:
                    pieces[i] = both
                    del pieces[j]
                    joined = True
                    break
            if joined:
                break
    return tuple(pieces)


def _joined(one: Array, other: Array) -> Array | None:
    """Two convex pieces as one, where they share an edge and stay convex together."""
    n, m = len(one), len(other)
    for i in range(n):
        for j in range(m):
            if np.array_equal(one[i], other[(j + 1) % m]) and np.array_equal(one[(i + 1) % n], other[j]):
                ring = np.concatenate([
                    np.roll(one, -(i + 1), axis=0), np.roll(other, -(j + 1), axis=0)[1:-1],
                ])  # fmt: skip
                return ring if is_convex(ring) else None
    return None
