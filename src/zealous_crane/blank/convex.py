"""A simple polygon in convex pieces."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

Array = NDArray[np.float64]

FLAT = 1e-9
"""mm²; a corner that turns back by less than this is straight."""


def is_convex(ring: Array) -> bool:
    """True when a counter-clockwise polygon (n, 2) bulges outwards at every corner."""
    # Rings of a few corners: plain floats are faster than arrays of two.
    corners: list[tuple[float, float]] = ring.tolist()
    (ax, ay), (bx, by) = corners[-2:]
    for cx, cy in corners:
        if (bx - ax) * (cy - by) - (by - ay) * (cx - bx) <= -FLAT:
            return False
        ax, ay, bx, by = bx, by, cx, cy
    return True


def convex_pieces(ring: Array) -> tuple[Array, ...]:
    """Convex pieces (k, 2) that together are the polygon: triangles joined over their shared sides while they stay convex."""
    if is_convex(ring):
        return (ring,)
    triangles = shapely.constrained_delaunay_triangles(shapely.Polygon(ring))
    pieces: list[list[tuple[float, float]]] = [
        list(shapely.geometry.polygon.orient(t).exterior.coords)[:-1] for t in triangles.geoms if t.area > FLAT
    ]
    owner = {(p, q): i for i, piece in enumerate(pieces) for p, q in zip(piece, piece[1:] + piece[:1], strict=True)}
    gone: set[int] = set()
    for p, q in sorted(owner, key=lambda side: -((side[0][0] - side[1][0]) ** 2 + (side[0][1] - side[1][1]) ** 2)):
        one, other = owner.get((p, q)), owner.get((q, p))
        if one is None or other is None or one == other:
            continue
        a, b = pieces[one], pieces[other]
        i, j = a.index(q), b.index(p)
        both = a[i:] + a[:i] + (b[j:] + b[:j])[1:-1]
        if is_convex(np.array(both)):
            pieces[one] = both
            gone.add(other)
            for side in zip(both, both[1:] + both[:1], strict=True):
                owner[side] = one
            del owner[(p, q)], owner[(q, p)]
    return tuple(np.array(piece) for i, piece in enumerate(pieces) if i not in gone)
