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
