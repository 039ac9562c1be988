"""Convex pieces in space: where they lie, and where one that turns first meets one that rests."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..._typing import Array
from ...flat.crossing import cross
from ..geometry import Corner, Found, Place, Triple
from ..plane import edges_of, lifted

ON = 1e-9
"""mm; a point this near a face is on it."""

ON_SIDE = 1e-7
"""mm; a point this near a side of a room is on it."""


def extent(corners: Array) -> tuple[Corner, Corner, bool]:
    """See :meth:`Geometry.extent`."""
    low, high = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
    return (
        (low[0], low[1], low[2]),
        (high[0], high[1], high[2]),
        _same_along(corners, low[0], high[0]),
    )


def _same_along(corners: Array, low: float, high: float) -> bool:
    x = corners[:, 0]
    at_low, at_high = np.abs(x - low) < 1e-7, np.abs(x - high) < 1e-7
    if high - low < 1e-7 or not np.all(at_low | at_high) or at_low.sum() != at_high.sum():
        return False
    one, other = corners[at_low, 1:], corners[at_high, 1:]
    apart = np.abs(one[:, None, :] - other[None, :, :]).max(axis=2)
    return bool((apart.min(axis=0) < 1e-7).all() and (apart.min(axis=1) < 1e-7).all())


def within(corners: Array, a: float, b: float, low: float, high: float) -> Array:
    """See :meth:`Geometry.within`."""
    x = corners[:, 0]
    points = [corners[(x >= a) & (x <= b), 1:]]
    start, along = edges_of(corners)
    runs = np.abs(along[:, 0]) > 1e-12
    start, along = start[runs], along[runs]
    for cut in (a, b):
        if low < cut < high:
            share = (cut - start[:, 0]) / along[:, 0]
            crosses = (share > 0) & (share < 1)
            points.append(start[crosses, 1:] + share[crosses, None] * along[crosses, 1:])
    return np.concatenate(points)


def reach(solid: Triple, room: Triple, by: Place) -> Place | None:
    """See :meth:`Geometry.reach`.

    It ends at a corner of the solid that is inside, where an edge of the solid passes a side, or
    where the line along x through a corner of the room enters or leaves the solid.
    """
    (corners, normals, offsets), (ring, sides, distances) = solid, room
    start, along = edges_of(corners)
    limits = distances + sides @ np.array(by)
    across = along[:, 1:] @ sides.T
    left = limits - start[:, 1:] @ sides.T
    flat = np.abs(across) <= 1e-12
    share = np.where(flat, -1.0, left / np.where(flat, 1.0, across))
    i, j = np.nonzero((share > 0) & (share < 1))
    points = np.concatenate([corners, start[i] + share[i, j, None] * along[i]])
    inside = (points[:, 1:] @ sides.T <= limits + ON_SIDE).all(axis=1)
    result = points[inside, 0]
    slope, left_to = normals[:, :1], offsets[:, None] - normals[:, 1:] @ (ring + by).T
    level = np.abs(slope) < 1e-9
    at = left_to / np.where(level, 1.0, slope)
    high = np.where(~level & (slope > 0), at, math.inf).min(axis=0)
    low = np.where(~level & (slope < 0), at, -math.inf).max(axis=0)
    through = (low <= high) & (~level | (left_to >= -ON_SIDE)).all(axis=0)
    result = np.concatenate([result, low[through], high[through]])
    return (float(result.min()), float(result.max())) if len(result) else None


def meeting(one: Triple, other: Triple, about: Place, start: float, limit: float) -> Found | None:
    """See :meth:`Geometry.meeting`."""
    moving, resting, pole = one, other, np.array([0.0, *about])
    begun = lifted(moving[0] - pole, start) + pole
    if _overlap(begun, moving, start, resting):
        return start, (float(resting[0][0, 1]), float(resting[0][0, 2])), 0, True
    result = _corner_on_face(moving, resting, pole, start, limit, backwards=False)
    for look in (
        _corner_on_face(resting, moving, pole, start, limit, backwards=True),
        _edge_on_edge(moving, resting, pole, start, limit),
    ):
        if look is not None and (result is None or look[0] < result[0]):
            result = look
    return result


def _crossings(
    a: Array, b: Array, c: Array, start: float, limit: float
) -> tuple[tuple[NDArray[np.intp], NDArray[np.intp]], Array]:
    """Every angle of the turn at which a · cos φ + b · sin φ = c, all (n, m): the pairs' indices
    and the angles."""
    size = np.hypot(a, b)
    possible = np.nonzero(size > np.abs(c))
    away = np.arccos(c[possible] / size[possible])
    middle = np.arctan2(b[possible], a[possible])
    angle = np.concatenate([middle - away, middle + away])
    # Counted from the start, so that what is met there at once is not a whole turn later.
    angle = (angle - start + ON) % (2 * math.pi) - ON + start
    early = np.nonzero(angle < limit)[0]
    i, j = np.concatenate([possible[0]] * 2)[early], np.concatenate([possible[1]] * 2)[early]
    return (i, j), np.maximum(angle[early], start)


def _corner_on_face(
    corners: Triple, faces: Triple, about: Array, start: float, limit: float, *, backwards: bool
) -> Found | None:
    """First contact of a corner with a face; ``backwards`` when it is the faces that turn."""
    points = corners[0] - about
    _, normals, offsets = faces
    offsets = offsets - normals @ about
    x, y, z = points.T
    nx, ny, nz = normals.T
    sense = -1.0 if backwards else 1.0
    a = np.outer(y, ny) + np.outer(z, nz)
    b = sense * (np.outer(z, ny) - np.outer(y, nz))
    (i, _), angle = _crossings(a, b, offsets - np.outer(x, nx), start, limit)
    if len(i) == 0:
        return None
    order = np.argsort(angle)
    i, angle = i[order], angle[order]
    there = lifted(points[i], sense * angle)
    inside = np.nonzero((there @ normals.T <= offsets + ON).all(axis=1))[0]
    if len(inside) == 0:
        return None
    k = inside[0]
    place = (points[i[k]] if backwards else there[k]) + about
    return float(angle[k]), (float(place[1]), float(place[2])), int(i[k]), backwards


def _edge_on_edge(
    moving: Triple, resting: Triple, about: Array, start: float, limit: float
) -> Found | None:
    """First crossing of a turning with a resting edge."""
    (p, d), (r, e) = edges_of(moving[0]), edges_of(resting[0])
    p, r = p - about, r - about
    moment, arm = cross(p, d), cross(e, r)
    # (turned p − r) · (turned d × e) = lifted(p × d) · e − turned d · (e × r)
    c = np.outer(d[:, 0], arm[:, 0]) - np.outer(moment[:, 0], e[:, 0])
    a = moment[:, 1:] @ e[:, 1:].T - d[:, 1:] @ arm[:, 1:].T
    b = (np.outer(moment[:, 2], e[:, 1]) - np.outer(moment[:, 1], e[:, 2])) - (
        np.outer(d[:, 2], arm[:, 1]) - np.outer(d[:, 1], arm[:, 2])
    )
    (i, j), angle = _crossings(a, b, c, start, limit)
    if len(i) == 0:
        return None
    along, edge = lifted(d[i], angle), e[j]
    apart = r[j] - lifted(p[i], angle)
    normal = cross(along, edge)
    square = np.einsum("ij,ij->i", normal, normal)
    # Edges that lie along each other touch with a corner as well.
    crosses = square > 1e-18 * np.einsum("ij,ij->i", along, along) * np.einsum(
        "ij,ij->i", edge, edge
    )
    safe = np.where(crosses, square, 1.0)
    on_one = np.einsum("ij,ij->i", cross(apart, edge), normal) / safe
    on_other = np.einsum("ij,ij->i", cross(apart, along), normal) / safe
    met_ = (
        crosses
        & (on_one >= -1e-12)
        & (on_one <= 1 + 1e-12)
        & (on_other >= -1e-12)
        & (on_other <= 1 + 1e-12)
    )
    if not met_.any():
        return None
    k = int(np.argmin(np.where(met_, angle, math.inf)))
    place = edges_of(resting[0])[0][j[k]] + on_other[k] * edge[k]
    return float(angle[k]), (float(place[1]), float(place[2])), int(j[k]), False


def _overlap(corners: Array, moving: Triple, angle: float, resting: Triple) -> bool:
    """True when two pieces share room: no face of either, and no two edges, have a plane between
    them.

    Args:
        corners: (n, 3) mm, the moving one's, where it is.
        moving, resting: the pieces.
        angle: radians the moving one has turned.
    """
    low, high = corners.min(axis=0), corners.max(axis=0)
    if (low > resting[0].max(axis=0)).any() or (high < resting[0].min(axis=0)).any():
        return False
    normals, along = lifted(moving[1], angle), lifted(_directions(moving), angle)
    theirs = _directions(resting)
    n, m = len(along), len(theirs)
    crossed = cross(np.repeat(along, m, axis=0), np.tile(theirs, (n, 1)))
    size = np.linalg.norm(crossed, axis=1)
    axes = np.concatenate([resting[1], normals, crossed[size > 1e-9] / size[size > 1e-9, None]])
    one, other = corners @ axes.T, resting[0] @ axes.T
    return not ((one.min(axis=0) > other.max(axis=0)) | (other.min(axis=0) > one.max(axis=0))).any()


def _directions(solid: Triple) -> Array:
    """(k + 1, 3) directions of a piece's edges, each once."""
    k = len(solid[0]) // 2
    along = edges_of(solid[0])[1]
    return np.concatenate([along[:k], along[2 * k : 2 * k + 1]])
