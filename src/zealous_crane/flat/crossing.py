"""Whether the finished part runs through itself: panels that would lie in the same place once
everything is bent."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from ..i18n import msg, the
from .blank import Blank
from .element import MadeBy
from .features import Finding
from .folding import Pose

SHARE = 0.25
"""Part of a thickness two panels may run into each other before it is said: hems and tabs are meant
to lie tight."""


def cross(a: Array, b: Array) -> Array:
    """(n, 3) cross products, row by row; ``b`` may be one row."""
    result = np.empty(a.shape)
    result[:, 0] = a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1]
    result[:, 1] = a[:, 2] * b[:, 0] - a[:, 0] * b[:, 2]
    result[:, 2] = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return result


class _Prisms:
    """Convex pieces of panels as they stand in the finished part.

    Args:
        pieces: panel's index and ring (k, 2) mm of each.
        poses: of all panels.
        thickness: mm.
    """

    def __init__(
        self, pieces: list[tuple[int, Array]], poses: Sequence[Pose], thickness: float
    ) -> None:
        self.panels = [i for i, _ in pieces]
        counts = np.array([len(ring) for _, ring in pieces], dtype=np.intp)
        self._ends = np.cumsum(counts)
        turns, shifts = (
            np.array([poses[i].turn for i in self.panels]),
            np.array([poses[i].shift for i in self.panels]),
        )
        rings, of = (
            np.concatenate([ring for _, ring in pieces]),
            np.repeat(np.arange(len(pieces)), counts),
        )
        # All of them at once: a part has many, of a few corners each.
        self._low = np.einsum("nij,nj->ni", turns[of][:, :, :2], rings) + shifts[of]
        self._high = self._low + thickness * turns[of][:, :, 2]
        starts: NDArray[np.intp] = self._ends - counts
        self.lows = np.minimum.reduceat(np.minimum(self._low, self._high), starts)
        self.highs = np.maximum.reduceat(np.maximum(self._low, self._high), starts)

    def corners(self, k: int) -> Array:
        """(2n, 3) mm, those of the side that is marked on first."""
        part = slice(self._ends[k - 1] if k else 0, self._ends[k])
        both: Array = np.concatenate([self._low[part], self._high[part]])
        return both


def _sides(corners: Array) -> tuple[Array, Array]:
    """Directions of all edges (k+1, 3) and normals of all faces (k+1, 3) of a prism."""
    k = len(corners) // 2
    ring = corners[:k]
    edges, up = np.concatenate((ring[1:], ring[:1])) - ring, corners[k : k + 1] - corners[:1]
    return np.concatenate([edges, up]), np.concatenate([cross(edges, up), up])


def overlap_depth(one: Array, other: Array) -> float:
    """How deep two convex prisms ((2k, 3) corners) run into each other along the best separating
    direction, mm; ≤ 0 when apart.

    Separating axes: face normals of both and the cross products of their edges.
    """
    return _depth(one, other, _sides(one), _sides(other))


def _depth(
    one: Array, other: Array, sides: tuple[Array, Array], others: tuple[Array, Array]
) -> float:
    return _along(one, other, _axes(sides, others))


def _along(one: Array, other: Array, axes: Array) -> float:
    """How deep two prisms run into each other along the best of some unit directions (n, 3), mm."""
    a, b = one @ axes.T, other @ axes.T
    return float(np.minimum(a.max(axis=0) - b.min(axis=0), b.max(axis=0) - a.min(axis=0)).min())


def _faces(sides: tuple[Array, Array]) -> Array:
    """(n, 3) unit normals of a prism's faces."""
    normals = sides[1]
    unit: Array = normals / np.sqrt(np.einsum("ij,ij->i", normals, normals))[:, None]
    return unit


def separating_axes(one: Array, other: Array) -> Array:
    """(n, 3) unit directions along which two convex prisms must be looked at: those that overlap on
    all of them meet."""
    return _axes(_sides(one), _sides(other))


def _axes(sides: tuple[Array, Array], others: tuple[Array, Array]) -> Array:
    (e1, n1), (e2, n2) = sides, others
    axes = np.concatenate(
        [n1, n2, cross(np.repeat(e1, len(e2), axis=0), np.tile(e2, (len(e1), 1)))]
    )
    size = np.sqrt(np.einsum("ij,ij->i", axes, axes))
    real = size > 1e-9 * max(1.0, float(size.max()))
    unit: Array = axes[real] / size[real, None]
    return unit


def crossings(blank: Blank) -> list[Finding]:
    """What is to be said of panels that run through each other in the finished part."""
    return [
        Finding(
            msg(
                "Once everything is bent, {name} and {name_2} run through each other. Make one of "
                "them smaller, or cut their ends back.",
                name=the(blank.panels[i].name),
                name_2=the(blank.panels[j].name),
            ),
            blank.panels[j].polygon.mean(axis=0),
            "crossing",
        )
        for i, j in crossing_panels(blank)[:6]
    ]


def crossing_panels(blank: Blank) -> list[tuple[int, int]]:
    """Pairs of panels, by index, that run through each other in the finished part; ears of folded
    corners are pressed to fit and not asked."""
    t = blank.thickness
    by_hand = {f.child for f in blank.folds if f.made_by is MadeBy.HAND and f.bend.radius == 0.0}
    pieces = [
        (i, piece)
        for i, panel in enumerate(blank.panels)
        if i not in by_hand
        for piece in panel.pieces
    ]
    if len(pieces) < 2:
        return []
    prisms = _Prisms(pieces, blank.stood, t)
    known: dict[int, tuple[Array, tuple[Array, Array], Array]] = {}
    lows, highs = prisms.lows, prisms.highs
    allow = SHARE * t
    depth = np.minimum(
        highs[:, None, :] - lows[None, :, :], highs[None, :, :] - lows[:, None, :]
    ).min(axis=2)
    result: list[tuple[int, int]] = []
    # Two panels on either side of a plain fold only touch.
    named: set[tuple[int, int]] = {
        pair
        for f in blank.folds
        if not f.bend.folded_back
        for pair in ((f.parent, f.child), (f.child, f.parent))
    }
    for a, b in np.argwhere(np.triu(depth > allow, 1)).tolist():
        i, j = prisms.panels[a], prisms.panels[b]
        if i == j or (i, j) in named:
            continue
        for k in (a, b):
            if k not in known:
                sides = _sides(corners := prisms.corners(k))
                known[k] = corners, sides, _faces(sides)
        (one, sides, faces), (other, others, their_faces) = known[a], known[b]
        # Most pairs are parted by a face of either; only the rest are asked about every pair of
        # edges.
        if _along(one, other, faces) <= allow or _along(one, other, their_faces) <= allow:
            continue
        if _depth(one, other, sides, others) > allow:
            named.add((i, j))
            result.append((i, j))
    return result
