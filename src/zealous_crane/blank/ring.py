"""Polygons worked on as many-sided rings, and brought back to straight lines and true arcs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from .path import Path

Array = NDArray[np.float64]

QUARTER = 8
"""Chords in a quarter circle while polygons are cut; arcs are exact again afterwards."""

SAGITTA = (1 - math.cos(math.pi / 4 / QUARTER)) * 1.05
"""How far, as a part of the radius, a chord leaves its circle."""

STRAIGHT = 1e-5
"""A corner nearer than this (mm) to the line between its neighbours is none."""


@dataclass(frozen=True)
class Circle:
    """A round cut: centre (2,) and radius, mm."""

    centre: Array
    radius: float

    @property
    def polygon(self) -> shapely.Polygon:
        made: shapely.Polygon = shapely.Point(self.centre).buffer(self.radius, quad_segs=QUARTER)
        return made

    def meets(self, start: Array, end: Array) -> Array:
        """The point of the circle on the line from ``start`` to ``end`` that is nearest to ``end``."""
        along = end - start
        length = float(np.hypot(*along))
        if length < 1e-12:
            return end
        along = along / length
        to = self.centre - start
        middle = float(along @ to)
        half = self.radius**2 - float(to @ to) + middle**2
        if half < 0:
            return end
        found = [start + along * (middle + s * math.sqrt(half)) for s in (-1, 1)]
        return min(found, key=lambda p: float(np.hypot(*(p - end))))


def less(one: shapely.Geometry, other: shapely.Geometry) -> shapely.Geometry:
    """What is left of one shape without another; on a fine grid where rounding would stop the plain way."""
    try:
        return one.difference(other)
    except shapely.GEOSException:
        return shapely.difference(shapely.make_valid(one), shapely.make_valid(other), grid_size=1e-7)


def half_plane(ring: Array, origin: Array, inward: Array) -> Array:
    """What of a convex polygon (n, 2) lies on the ``inward`` side of a line through ``origin``; empty when nothing does."""
    depth = (ring - origin) @ inward
    kept: list[Array] = []
    for i in range(len(ring)):
        a, b = depth[i - 1], depth[i]
        if (a < -1e-12) != (b < -1e-12):
            kept.append(ring[i - 1] + (ring[i] - ring[i - 1]) * (a / (a - b)))
        if b >= -1e-12:
            kept.append(ring[i])
    return np.array(kept).reshape(-1, 2)


def without_repeats(ring: Array) -> Array:
    """A ring without corners that repeat or lie on a straight line."""
    path = _straightened(ring, np.zeros(len(ring)))
    return path.points


def to_path(ring: Array, circles: Sequence[Circle]) -> Path:
    """A closed ring (n, 2) as straight lines and arcs of the circles it was cut with."""
    if np.array_equal(ring[0], ring[-1]):
        ring = ring[:-1]
    n = len(ring)
    arc = [-1] * n
    if circles:
        following = np.arange(1, n + 1) % n
        # A side belongs to an arc when both its ends lie on one circle and it is as short as a chord.
        centres = np.array([c.centre for c in circles])
        radii = np.array([c.radius for c in circles])
        off = np.abs(np.hypot(ring[:, None, 0] - centres[:, 0], ring[:, None, 1] - centres[:, 1]) - radii)
        on = off < radii * SAGITTA + 1e-7
        side = np.hypot(*(ring[following] - ring).T)
        short = side[:, None] <= 2 * radii * math.sin(math.pi / 4 / QUARTER) * 1.01
        belongs = on & on[following] & short
        arc = np.where(belongs.any(axis=1), belongs.argmax(axis=1), -1).tolist()
    if n and arc[0] >= 0 and arc.count(arc[0]) == n:
        circle = circles[arc[0]]
        turn = 1.0 if shapely.LinearRing(ring).is_ccw else -1.0
        return Path(circle.centre + np.array([[circle.radius, 0.0], [-circle.radius, 0.0]]), np.array([turn, turn]))
    # Begin with an arc that follows a straight side, so that no corner is passed before it is made exact.
    start = next((i for i in range(n) if arc[i] >= 0 and arc[i - 1] < 0), 0)
    points: list[Array] = []
    bulges: list[float] = []
    i = 0
    while i < n:
        here = (start + i) % n
        if arc[here] < 0:
            points.append(ring[here])
            bulges.append(0.0)
            i += 1
            continue
        k, circle, run = arc[here], circles[arc[here]], [here]
        while len(run) <= n and arc[run[-1]] == k:
            run.append((run[-1] + 1) % n)
        i += len(run) - 1
        first, last = ring[run[0]], ring[run[-1]]
        if arc[run[0] - 1] < 0:
            first = circle.meets(ring[run[0] - 1], first)
        if arc[run[-1]] < 0:
            last = circle.meets(ring[(run[-1] + 1) % n], last)
            ring = ring.copy()
            ring[run[-1]] = last
        spokes = np.array([first, *ring[run[1:-1]], last]) - circle.centre
        angles = np.arctan2(spokes[:, 1], spokes[:, 0])
        sweep = float(np.sum((np.diff(angles) + math.pi) % (2 * math.pi) - math.pi))
        points.append(first)
        # An arc whose ends fall together only grazed the metal.
        grazed = math.hypot(*(last - first)) < STRAIGHT and abs(sweep) < math.pi
        bulges.append(0.0 if grazed else math.tan(sweep / 4))
    return _straightened(np.array(points), np.array(bulges))


def _straightened(points: Array, bulges: Array) -> Path:
    """Without corners that repeat or lie on a straight line between two straight sides."""
    kept: list[tuple[float, float]] = points.tolist()
    turned: list[float] = bulges.tolist()
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
                unchanged = 0
                i = max(0, i - 1)
                continue
        if gone:
            del kept[i], turned[i]
            unchanged = 0
            continue
        i += 1
        unchanged += 1
    return Path(np.array(kept), np.array(turned))
