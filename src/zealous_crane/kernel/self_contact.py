"""A piece of the part grown by the clearance to keep, or drawn in where metal gives."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from .._typing import Array
from ..cache import cached
from ..flat.crossing import cross
from .contact import TOUCH, Touch, following, preceding
from .native import exact
from .obstacle import Contact, met
from .solid import Solid
from .swept_prism import lifted


@cached(16384)
def grown(solid: Solid, by: float) -> Solid | None:
    """A solid grown by ``by`` mm across the fold (drawn in when negative) and drawn in by a hair
    along it.

    Growing across the fold only leaves pieces that stand side by side along it apart. Where sides
    meet at an angle the grown piece keeps the corner, so it holds every point within reach. None
    when drawing in leaves nothing.
    """
    k = len(solid.corners) // 2
    ring, rise = solid.corners[:k], solid.corners[k] - solid.corners[0]
    normals, _ = solid.planes
    out, up = normals[:k], normals[k]
    moves = by * np.hypot(normals[:, 1], normals[:, 2]) - TOUCH * np.abs(normals[:, 0])
    own, cap = moves[:k], float(moves[k])
    # A corner goes where both its sides have gone.
    before, theirs = preceding(out), preceding(own)
    cosine = np.einsum("ij,ij->i", out, before)
    straight = 1 - cosine**2 < 1e-9
    square = np.where(straight, 1.0, 1 - cosine**2)
    one = np.where(straight, theirs / 2, (theirs - cosine * own) / square)
    other = np.where(straight, own / 2, (own - cosine * theirs) / square)
    moved = ring + one[:, None] * before + other[:, None] * out
    depth = float(np.linalg.norm(rise))
    if depth + 2 * cap <= 0:
        return None
    if (np.einsum("ij,ij->i", following(moved) - moved, following(ring) - ring) <= 0).any():
        core = _core(ring, out[0], up, -float(own.min()))
        if core is None:
            return None
        moved = core
    return Solid(
        solid.name, solid.panel, np.concatenate([moved - cap * up, moved + (depth + cap) * up])
    )


def _core(ring: Array, out: Array, up: Array, by: float) -> Array | None:
    """What is left of a ring (k, 3) drawn in so far that sides of it vanish; None when nothing
    is."""
    across = np.cross(up, out)
    flat = np.column_stack([(ring - ring[0]) @ out, (ring - ring[0]) @ across])
    left = shapely.Polygon(flat).buffer(-by, join_style="mitre")
    if left.is_empty or left.geom_type != "Polygon":
        return None
    cached = np.array(shapely.geometry.polygon.orient(left).exterior.coords)[:-1]
    core: Array = ring[0] + cached[:, :1] * out + cached[:, 1:] * across
    return core


ON = 1e-9
"""mm; a point this near a face is on it."""


@dataclass(frozen=True)
class Meeting:
    """How two pieces of one part are compared.

    Attributes:
        keep: clearance to be kept, mm.
        start: where the turn begins, radians.
        limit: where it ends, radians.
    """

    keep: float
    start: float
    limit: float

    def of(
        self, one: Solid, other: Solid, pole: tuple[float, float], touching: float = 0.0
    ) -> Contact | None:
        """First contact of a turning with a resting piece of the part. Kept: the same two pieces
        meet in many states.

        Args:
            one: turns, given at angle 0.
            other: rests.
            pole: (y, z) mm, what it turns about.
            touching: pieces made to lie on each other are compared with ``other`` drawn in by this
                much, mm.
        """
        return _first(self, one, other, pole, touching)


@cached(16384)
def _first(
    meeting: Meeting, one: Solid, other: Solid, pole: tuple[float, float], touching: float
) -> Contact | None:
    moving, resting = (
        grown(one, 0.0),
        grown(other, (-touching if touching else meeting.keep) - TOUCH),
    )
    if moving is None or resting is None:
        return None
    if exact is not None:
        one_, other_ = (moving.corners, *moving.planes), (resting.corners, *resting.planes)
        touch = exact.meeting(one_, other_, pole, meeting.start, meeting.limit)
        return None if touch is None else met(Touch(*touch), one.body, other.body)
    about = np.array([0.0, *pole])
    begun = lifted(moving.corners - about, meeting.start) + about
    if overlap(begun, moving, meeting.start, resting):
        place = (float(resting.corners[0, 1]), float(resting.corners[0, 2]))
        return met(Touch(meeting.start, place, 0, True), one.body, other.body)
    found = _corner_on_face(moving, resting, about, meeting, backwards=False)
    for look in (
        _corner_on_face(resting, moving, about, meeting, backwards=True),
        _edge_on_edge(moving, resting, about, meeting),
    ):
        if look is not None and (found is None or look.angle < found.angle):
            found = look
    return None if found is None else met(found, one.body, other.body)


def _crossings(
    a: Array, b: Array, c: Array, meeting: Meeting
) -> tuple[tuple[NDArray[np.intp], NDArray[np.intp]], Array]:
    """Every angle of the turn at which a · cos φ + b · sin φ = c, all (n, m): the pairs' indices
    and the angles."""
    size = np.hypot(a, b)
    possible = np.nonzero(size > np.abs(c))
    away = np.arccos(c[possible] / size[possible])
    middle = np.arctan2(b[possible], a[possible])
    angle = np.concatenate([middle - away, middle + away])
    # Counted from the start, so that what is met there at once is not a whole turn later.
    angle = (angle - meeting.start + ON) % (2 * math.pi) - ON + meeting.start
    cached = np.nonzero(angle < meeting.limit)[0]
    i, j = np.concatenate([possible[0]] * 2)[cached], np.concatenate([possible[1]] * 2)[cached]
    return (i, j), np.maximum(angle[cached], meeting.start)


def _corner_on_face(
    corners: Solid, faces: Solid, about: Array, meeting: Meeting, *, backwards: bool
) -> Touch | None:
    """First contact of a corner with a face; ``backwards`` when it is the faces that turn."""
    points = corners.corners - about
    normals, offsets = faces.planes
    offsets = offsets - normals @ about
    x, y, z = points.T
    nx, ny, nz = normals.T
    sense = -1.0 if backwards else 1.0
    a = np.outer(y, ny) + np.outer(z, nz)
    b = sense * (np.outer(z, ny) - np.outer(y, nz))
    (i, _), angle = _crossings(a, b, offsets - np.outer(x, nx), meeting)
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
    return Touch(float(angle[k]), (float(place[1]), float(place[2])), int(i[k]), backwards)


def _edge_on_edge(moving: Solid, resting: Solid, about: Array, meeting: Meeting) -> Touch | None:
    """First crossing of a turning with a resting edge."""
    (p, d), (r, e) = moving.edges, resting.edges
    p, r = p - about, r - about
    moment, arm = cross(p, d), cross(e, r)
    # (turned p − r) · (turned d × e) = lifted(p × d) · e − turned d · (e × r)
    c = np.outer(d[:, 0], arm[:, 0]) - np.outer(moment[:, 0], e[:, 0])
    a = moment[:, 1:] @ e[:, 1:].T - d[:, 1:] @ arm[:, 1:].T
    b = (np.outer(moment[:, 2], e[:, 1]) - np.outer(moment[:, 1], e[:, 2])) - (
        np.outer(d[:, 2], arm[:, 1]) - np.outer(d[:, 1], arm[:, 2])
    )
    (i, j), angle = _crossings(a, b, c, meeting)
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
    place = resting.edges[0][j[k]] + on_other[k] * edge[k]
    return Touch(float(angle[k]), (float(place[1]), float(place[2])), int(j[k]), False)


def overlap(corners: Array, moving: Solid, angle: float, resting: Solid) -> bool:
    """True when two pieces share room: no face of either, and no two edges, have a plane between
    them.

    Args:
        corners: (n, 3) mm, the moving one's, where it is.
        moving, resting: the pieces.
        angle: radians the moving one has turned.
    """
    low, high = corners.min(axis=0), corners.max(axis=0)
    if (low > resting.corners.max(axis=0)).any() or (high < resting.corners.min(axis=0)).any():
        return False
    normals, along = lifted(moving.planes[0], angle), lifted(_directions(moving), angle)
    theirs = _directions(resting)
    n, m = len(along), len(theirs)
    crossed = cross(np.repeat(along, m, axis=0), np.tile(theirs, (n, 1)))
    size = np.linalg.norm(crossed, axis=1)
    axes = np.concatenate(
        [resting.planes[0], normals, crossed[size > 1e-9] / size[size > 1e-9, None]]
    )
    one, other = corners @ axes.T, resting.corners @ axes.T
    return not ((one.min(axis=0) > other.max(axis=0)) | (other.min(axis=0) > one.max(axis=0))).any()


def _directions(solid: Solid) -> Array:
    """(k + 1, 3) directions of a piece's edges, each once."""
    k = len(solid.corners) // 2
    along = solid.edges[1]
    return np.concatenate([along[:k], along[2 * k : 2 * k + 1]])
