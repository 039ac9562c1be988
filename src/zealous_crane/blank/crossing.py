"""Whether the finished part runs through itself: panels that would lie in the same place once everything is bent."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..measure.words import tr
from .blank import Blank, Finding
from .element import MadeBy
from .folding import panel_poses

Array = NDArray[np.float64]

SHARE = 0.25
"""Part of a thickness two panels may run into each other before it is said: hems and tabs are meant to lie tight."""


def cross(a: Array, b: Array) -> Array:
    """(n, 3) cross products, row by row."""
    found = np.empty(a.shape)
    found[:, 0] = a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1]
    found[:, 1] = a[:, 2] * b[:, 0] - a[:, 0] * b[:, 2]
    found[:, 2] = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return found


def _prism(ring: Array, thickness: float, turn: Array, shift: Array) -> Array:
    low = np.column_stack([ring, np.zeros(len(ring))])
    high = np.column_stack([ring, np.full(len(ring), thickness)])
    both: Array = np.concatenate([low, high]) @ turn.T + shift
    return both


def _sides(corners: Array) -> tuple[Array, Array]:
    """Directions of all edges (k+1, 3) and normals of all faces (k+1, 3) of a prism."""
    k = len(corners) // 2
    ring = corners[:k]
    edges, up = np.concatenate((ring[1:], ring[:1])) - ring, corners[k : k + 1] - corners[:1]
    return np.concatenate([edges, up]), np.concatenate([cross(edges, np.broadcast_to(up, edges.shape)), up])


def overlap_depth(one: Array, other: Array) -> float:
    """How deep two convex prisms ((2k, 3) corners) run into each other along the best separating direction, mm; ≤ 0 when apart.

    Separating axes: face normals of both and the cross products of their edges.
    """
    return _depth(one, other, _sides(one), _sides(other))


def _depth(one: Array, other: Array, sides: tuple[Array, Array], others: tuple[Array, Array]) -> float:
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
    """(n, 3) unit directions along which two convex prisms must be looked at: those that overlap on all of them meet."""
    return _axes(_sides(one), _sides(other))


def _axes(sides: tuple[Array, Array], others: tuple[Array, Array]) -> Array:
    (e1, n1), (e2, n2) = sides, others
    axes = np.concatenate([n1, n2, cross(np.repeat(e1, len(e2), axis=0), np.tile(e2, (len(e1), 1)))])
    size = np.sqrt(np.einsum("ij,ij->i", axes, axes))
    real = size > 1e-9 * max(1.0, float(size.max()))
    unit: Array = axes[real] / size[real, None]
    return unit


def crossings(blank: Blank) -> list[Finding]:
    """Pairs of panels that run through each other in the finished part; ears of folded corners are pressed to fit and not asked."""
    t = blank.thickness
    poses = panel_poses(blank, [fold.angle for fold in blank.folds])
    by_hand = {f.child for f in blank.folds if f.made_by is MadeBy.HAND and f.bend.radius == 0.0}
    solids = [
        (i, _prism(piece, t, poses[i].turn, poses[i].shift))
        for i, panel in enumerate(blank.panels)
        if i not in by_hand
        for piece in panel.pieces
    ]
    if len(solids) < 2:
        return []
    sides: dict[int, tuple[Array, Array]] = {}
    lows = np.array([s.min(axis=0) for _, s in solids])
    highs = np.array([s.max(axis=0) for _, s in solids])
    allow = SHARE * t
    depth = np.minimum(highs[:, None, :] - lows[None, :, :], highs[None, :, :] - lows[:, None, :]).min(axis=2)
    found: list[Finding] = []
    # Two panels on either side of a plain fold only touch.
    named: set[tuple[int, int]] = {
        pair for f in blank.folds if not f.bend.folded_back for pair in ((f.parent, f.child), (f.child, f.parent))
    }
    for a, b in zip(*np.nonzero(np.triu(depth > allow, 1)), strict=True):
        i, j = solids[a][0], solids[b][0]
        if i == j or (i, j) in named:
            continue
        for k in (a, b):
            if k not in sides:
                sides[k] = _sides(solids[k][1])
        one, other = solids[a][1], solids[b][1]
        # Most pairs are parted by a face of either; only the rest are asked about every pair of edges.
        if _along(one, other, _faces(sides[a])) <= allow or _along(one, other, _faces(sides[b])) <= allow:
            continue
        if _depth(one, other, sides[a], sides[b]) > allow:
            named.add((i, j))
            found.append(
                Finding(
                    tr(
                        "Once everything is bent, the {name} and the {name_2} run through each other. Make one of them "
                        "smaller, or cut their ends back."
                    ).format(name=blank.panels[i].name, name_2=blank.panels[j].name),
                    blank.panels[j].polygon.mean(axis=0),
                    "crossing",
                )
            )
    return found[:6]
