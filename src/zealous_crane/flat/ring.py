"""A simple polygon in convex pieces."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from .._typing import Array
from .path import ClosedPath

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
    """Convex pieces (k, 2) that together are the polygon: triangles joined over their shared sides
    while they stay convex."""
    if is_convex(ring):
        return (ring,)
    triangles = shapely.constrained_delaunay_triangles(shapely.Polygon(ring))
    pieces: list[list[tuple[float, float]]] = [
        [(x, y) for x, y in orient(t).exterior.coords][:-1]
        for t in triangles.geoms
        if isinstance(t, shapely.Polygon) and t.area > FLAT
    ]
    owner = {
        (p, q): i
        for i, piece in enumerate(pieces)
        for p, q in zip(piece, piece[1:] + piece[:1], strict=True)
    }
    gone: set[int] = set()
    for p, q in sorted(
        owner, key=lambda side: -((side[0][0] - side[1][0]) ** 2 + (side[0][1] - side[1][1]) ** 2)
    ):
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


Point = tuple[float, float]

QUARTER = 8
"""Chords in a quarter circle while polygons are cut; arcs are exact again afterwards."""

SAGITTA = (1 - math.cos(math.pi / 4 / QUARTER)) * 1.05
"""How far, as a part of the radius, a chord leaves its circle."""

OVERLAP = 1e-6
"""mm² from which two shapes overlap and do not only touch."""

STRAIGHT = 1e-5
"""A corner nearer than this (mm) to the line between its neighbours is none."""


UNIT = shapely.get_coordinates(shapely.Point(0.0, 0.0).buffer(1.0, quad_segs=QUARTER))
"""(n, 2) a circle of radius 1 about the origin on its chords, closed."""


def polygons(rings: Sequence[Array]) -> list[shapely.Polygon]:
    """A polygon of each ring (n, 2), closed or not; made together, which takes a fifth of the
    time."""
    if not rings:
        return []
    of = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    made = shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=of))
    return list(made) if isinstance(made, np.ndarray) else [made]


def area(ring: Array) -> float:
    """Signed area of a ring (n, 2), mm²; positive counter-clockwise."""
    corners: list[tuple[float, float]] = ring.tolist()
    return (
        sum(
            x * v - u * y
            for (x, y), (u, v) in zip(corners, [*corners[1:], *corners[:1]], strict=True)
        )
        / 2
    )


@dataclass(frozen=True)
class RoundCut:
    """A round cut: centre (2,) and radius, mm."""

    centre: Array
    radius: float

    @property
    def polygon(self) -> shapely.Polygon:
        return shapely.Polygon(self.ring)

    @property
    def ring(self) -> Array:
        """The circle on its chords (n, 2), closed."""
        ring: Array = UNIT * self.radius + self.centre
        return ring

    def meets(self, start: Point, end: Point) -> Point:
        """The point of the circle on the line from ``start`` to ``end`` that is nearest to
        ``end``."""
        (x, y), (u, v) = start, end
        length = math.hypot(u - x, v - y)
        if length < 1e-12:
            return end
        along, across = (u - x) / length, (v - y) / length
        cx, cy = self.centre.tolist()
        middle = along * (cx - x) + across * (cy - y)
        half = self.radius**2 - (cx - x) ** 2 - (cy - y) ** 2 + middle**2
        if half < 0:
            return end
        root = math.sqrt(half)
        # Along the line the end lies at its length.
        at = (
            middle - root
            if abs(middle - root - length) <= abs(middle + root - length)
            else middle + root
        )
        return x + along * at, y + across * at


def less(one: BaseGeometry, other: BaseGeometry) -> BaseGeometry:
    """What is left of one shape without another; on a fine grid where rounding would stop the plain
    way."""
    try:
        return one.difference(other)
    except shapely.GEOSException:
        return shapely.make_valid(one).difference(shapely.make_valid(other), grid_size=1e-7)


class Circles:
    """The round cuts of a part, with their sizes as arrays: every outline and every notch is held
    against all of them.

    Attributes:
        each: the cuts.
        centres: (n, 2) mm.
        radii: (n,) mm.
    """

    def __init__(self, circles: Iterable[RoundCut]) -> None:
        self.each = tuple(circles)
        self.centres = np.array([circle.centre for circle in self.each]).reshape(-1, 2)
        self.radii = np.array([circle.radius for circle in self.each])
        beyond = (self.radii * (1 + SAGITTA) + 1e-7)[:, None]
        self._low, self._high = self.centres - beyond, self.centres + beyond

    def on(self, corners: Array) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
        """Which of some points (n, 2) lie on which circle, or within the sagitta of a chord: point
        and circle of every pair, in order."""
        (x, y), low, high = corners.T[:, :, None], self._low.T, self._high.T
        boxed = (x >= low[0]) & (x <= high[0]) & (y >= low[1]) & (y <= high[1])
        at, circle = np.divmod(np.flatnonzero(boxed), len(self.each))
        away = corners[at] - self.centres[circle]
        lies = (
            np.abs(np.hypot(away[:, 0], away[:, 1]) - self.radii[circle])
            < self.radii[circle] * SAGITTA + 1e-7
        )
        return at[lies], circle[lies]


def half_plane(ring: Array, origin: Array, inward: Array) -> Array:
    """What of a convex polygon (n, 2) lies on the ``inward`` side of a line through ``origin``;
    empty when nothing does.

    Args:
        ring: (n, 2) mm.
        origin: (2,) mm, a point of its edge.
        inward: (2,), towards what is kept.
    """
    # Rings of a few corners: plain floats are faster than arrays of two.
    (ox, oy), (ix, iy) = origin.tolist(), inward.tolist()
    corners: list[Point] = ring.tolist()
    kept: list[Point] = []
    bx, by = corners[-1] if corners else (0.0, 0.0)
    before = (bx - ox) * ix + (by - oy) * iy
    for x, y in corners:
        depth = (x - ox) * ix + (y - oy) * iy
        if (before < -1e-12) != (depth < -1e-12):
            part = before / (before - depth)
            kept.append((bx + (x - bx) * part, by + (y - by) * part))
        if depth >= -1e-12:
            kept.append((x, y))
        bx, by, before = x, y, depth
    return np.array(kept).reshape(-1, 2)


def without_repeats(ring: Array) -> Array:
    """A ring without corners that repeat or lie on a straight line."""
    return _straightened(ring.tolist(), [0.0] * len(ring)).points


def to_paths(rings: Sequence[Array], circles: Circles) -> list[ClosedPath]:
    """Closed rings (n, 2), whose last corner is their first, as straight lines and arcs of the
    circles they were cut with."""
    opened = [ring[:-1] for ring in rings]
    return [
        _to_path(ring, arc, circles)
        for ring, arc in zip(opened, _sides_on(opened, circles), strict=True)
    ]


def _to_path(ring: Array, arc: list[int], circles: Circles) -> ClosedPath:
    """A ring of whose sides it is known on which circles they lie."""
    n = len(ring)
    if arc[0] >= 0 and arc.count(arc[0]) == n:
        circle = circles.each[arc[0]]
        turn = 1.0 if area(ring) > 0 else -1.0
        return ClosedPath(
            circle.centre + np.array([[circle.radius, 0.0], [-circle.radius, 0.0]]),
            np.array([turn, turn]),
        )
    # Begin with an arc that follows a straight side, so that no corner is passed before it is made
    # exact.
    start = next((i for i in range(n) if arc[i] >= 0 and arc[i - 1] < 0), 0)
    whole: list[Point] = ring.tolist()
    corners, arc = (
        [whole[start - 1], *whole[start:], *whole[: start + 1]],
        [arc[start - 1], *arc[start:], *arc[: start + 1]],
    )
    points: list[Point] = []
    bulges: list[float] = []
    # Counted from 1: the corner before the first and the one after the last are there too.
    i = 1
    while i <= n:
        k, begun = arc[i], i
        i += 1
        if k < 0:
            points.append(corners[begun])
            bulges.append(0.0)
            continue
        while i <= n and arc[i] == k:
            i += 1
        circle, first, last = circles.each[k], corners[begun], corners[i]
        if arc[begun - 1] < 0:
            first = circle.meets(corners[begun - 1], first)
        if arc[i] < 0:
            last = corners[i] = circle.meets(corners[i + 1], last)
        sweep = _swept(circle, [first, *corners[begun + 1 : i], last])
        points.append(first)
        # An arc whose ends fall together only grazed the metal.
        grazed = (
            math.hypot(last[0] - first[0], last[1] - first[1]) < STRAIGHT and abs(sweep) < math.pi
        )
        bulges.append(0.0 if grazed else math.tan(sweep / 4))
    return _straightened(points, bulges)


def _sides_on(rings: Sequence[Array], circles: Circles) -> list[list[int]]:
    """For every side of every ring (n, 2), the number of the circle it is a chord of; −1 where it
    is straight.

    All together: rings have a few corners, and arrays are only fast where they are long.
    """
    arcs = [[-1] * len(ring) for ring in rings]
    if not (rings and circles.each):
        return arcs
    corners = np.concatenate(rings)
    long = np.array([len(ring) for ring in rings])
    first = np.cumsum(long) - long
    within = np.arange(len(corners)) - np.repeat(first, long)
    following = np.arange(1, len(corners) + 1)
    following[first + long - 1] = first
    at, circle = circles.on(corners)
    # A side belongs to an arc when both its ends lie on one circle and it is as short as a chord.
    here, then = at * len(circles.each) + circle, following[at] * len(circles.each) + circle
    both = np.append(here, -1)[np.searchsorted(here, then)] == then
    at, circle = at[both], circle[both]
    side = corners[following[at]] - corners[at]
    short = (
        np.hypot(side[:, 0], side[:, 1])
        <= 2 * circles.radii[circle] * math.sin(math.pi / 4 / QUARTER) * 1.01
    )
    of = np.repeat(np.arange(len(rings)), long)
    # Backwards: where a side could belong to two, it is the first one's.
    at, circle = at[short][::-1], circle[short][::-1]
    for k, i, number in zip(of[at].tolist(), within[at].tolist(), circle.tolist(), strict=True):
        arcs[k][i] = number
    return arcs


def _swept(circle: RoundCut, points: list[Point]) -> float:
    """Signed angle from the first of some points about a circle to the last, radians; neighbours
    are the ends of a chord."""
    cx, cy = circle.centre.tolist()
    # One point in a quarter turn tells how often it goes round.
    angles = [math.atan2(y - cy, x - cx) for x, y in (*points[:-1:QUARTER], points[-1])]
    return sum((b - a + math.pi) % (2 * math.pi) - math.pi for a, b in itertools.pairwise(angles))


def _straightened(kept: list[Point], turned: list[float]) -> ClosedPath:
    """Without corners that repeat or lie on a straight line between two straight sides; the lists
    are used up."""
    i = unchanged = 0
    while len(kept) > 3 and unchanged < len(kept):
        i %= len(kept)
        (bx, by), (hx, hy), (ax, ay) = kept[i - 1], kept[i], kept[(i + 1) % len(kept)]
        gone = turned[i] == 0.0 and math.hypot(ax - hx, ay - hy) < STRAIGHT
        # Two corners in one place: the one that comes is kept with what follows it.
        if not gone and turned[i] == 0.0 and turned[i - 1] == 0.0:
            length = math.hypot(ax - bx, ay - by)
            off = abs((ax - bx) * (hy - by) - (ay - by) * (hx - bx))
            if length < STRAIGHT or off < STRAIGHT * length:
                del kept[i], turned[i]
                # Only the corners on both its sides have another neighbour now.
                unchanged = max(0, min(unchanged - 1, len(kept) - 2)) if i else 0
                i = max(0, i - 1)
                continue
        if gone:
            del kept[i], turned[i]
            unchanged = 0
            continue
        i += 1
        unchanged += 1
    return ClosedPath(np.array(kept), np.array(turned))


def joined_paths(paths: Sequence[ClosedPath]) -> tuple[ClosedPath, ...]:
    """Closed paths with those that overlap made one, arcs exact; each other as it is."""
    if len(paths) < 2:
        return tuple(paths)
    shapes = np.array(polygons([path.flattened() for path in paths]), dtype=object)
    near = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    group = list(range(len(paths)))
    for i, j in near.T.tolist():
        if group[i] != group[j] and shapely.intersection(shapes[i], shapes[j]).area > OVERLAP:
            old, new = max(group[i], group[j]), min(group[i], group[j])
            group = [new if g == old else g for g in group]
    closed_paths: list[ClosedPath] = []
    for first in dict.fromkeys(group):
        members = [k for k, g in enumerate(group) if g == first]
        if len(members) == 1:
            closed_paths.append(paths[members[0]])
            continue
        arcs = [
            arc
            for k in members
            for i in range(len(paths[k].points))
            if (arc := paths[k].arc(i)) is not None
        ]
        joined = shapely.union_all(shapes[members])
        assert isinstance(joined, shapely.Polygon)
        ring = np.array(orient(joined).exterior.coords)
        closed_paths += to_paths(
            [ring], Circles([RoundCut(centre, radius) for centre, radius, _, _ in arcs])
        )
    return tuple(closed_paths)
