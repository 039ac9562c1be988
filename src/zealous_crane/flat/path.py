"""A closed path of straight lines and circular arcs."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .._typing import Array

QUARTER_TURN = math.pi / 2

FLAT = 1e-9
"""A bulge smaller than this is a straight line: its radius would be longer than anything that is
drawn."""


@dataclass(frozen=True)
class ClosedPath:
    """A closed path.

    Attributes:
        points: (n, 2) float, mm, corners in order.
        bulges: (n,) float; tan(sweep/4) of the arc from corner i to i+1, 0 for a straight line,
            positive when the arc turns counter-clockwise. The form drawing files use for arcs.
    """

    points: Array
    bulges: Array

    @classmethod
    def polygon(cls, points: Array | list[tuple[float, float]]) -> ClosedPath:
        """A path of straight lines only."""
        array = np.asarray(points, dtype=float)
        return cls(array, np.zeros(len(array)))

    @cached_property
    def area(self) -> float:
        """Signed area, mm², arcs exact; positive counter-clockwise."""
        # Most paths are circles and rectangles: plain floats are faster than arrays of two.
        points = self.points.tolist()
        total = 0.0
        for (x, y), (u, v), bulge in zip(
            points, [*points[1:], points[0]], self.bulges.tolist(), strict=True
        ):
            total += 0.5 * (x * v - u * y)
            sweep = 4 * math.atan(bulge)
            half = abs(math.sin(sweep / 2))
            if half > FLAT:
                total += (
                    0.5 * (math.hypot(u - x, v - y) / 2 / half) ** 2 * (sweep - math.sin(sweep))
                )
        return total

    @property
    def circle(self) -> tuple[Array, float] | None:
        """Centre (2,) and radius where the path is one circle, drawn as two half circles; else
        None."""
        if len(self.points) != 2 or not np.allclose(np.abs(self.bulges), 1.0):
            return None
        return self.points.mean(axis=0), float(np.hypot(*(self.points[1] - self.points[0]))) / 2

    def arc(self, i: int) -> tuple[Array, float, float, float] | None:
        """Centre (2,), radius, start angle and signed sweep (radians) of side ``i``; None when
        straight or without length."""
        bulge = float(self.bulges[i])
        if abs(bulge) < FLAT:
            return None
        (x, y), (u, v) = self.points[i].tolist(), self.points[(i + 1) % len(self.points)].tolist()
        sweep = 4 * math.atan(bulge)
        chord = math.hypot(u - x, v - y)
        if chord == 0:
            return None
        # Distance from chord to centre along the chord's left normal, in chords.
        off = 1 / 2 / math.tan(sweep / 2)
        centre = (x + u) / 2 - (v - y) * off, (y + v) / 2 + (u - x) * off
        radius = math.hypot(x - centre[0], y - centre[1])
        return np.array(centre), radius, math.atan2(y - centre[1], x - centre[0]), sweep

    def flattened(self, step: float = math.radians(7.5)) -> Array:
        """Corners (n, 2) with each arc replaced by chords of at most ``step`` radians; worked out
        once."""
        if not self.bulges.any():
            return self.points
        if step not in self._flat:
            path, shift = self._moved_from
            self._flat[step] = (
                self._flattened(step) if path is None else path.flattened(step) + shift
            )
        return self._flat[step]

    @cached_property
    def _flat(self) -> dict[float, Array]:
        return {}

    @cached_property
    def _moved_from(self) -> tuple[ClosedPath | None, Array]:
        """The path this one is a copy of, and how far it lies from it: a row of holes is one
        circle, and its chords are worked out once."""
        return None, np.zeros(2)

    def _flattened(self, step: float) -> Array:
        corners: list[list[float]] = []
        for i, point in enumerate(self.points.tolist()):
            corners.append(point)
            arc = self.arc(i)
            if arc is None:
                continue
            (x, y), radius, start, sweep = arc
            n = max(2, math.ceil(abs(sweep) / step))
            angles = (start + sweep * k / n for k in range(1, n))
            corners.extend([x + radius * math.cos(a), y + radius * math.sin(a)] for a in angles)
        return np.array(corners)

    def containing(self, step: float = math.radians(30)) -> Array:
        """Corners (n, 2) of a polygon that holds all a counter-clockwise path encloses: tangents
        round arcs that bulge outwards, chords across those that bulge in, of at most ``step``
        radians."""
        corners: list[Array] = []
        for i, point in enumerate(self.points):
            corners.append(point)
            arc = self.arc(i)
            if arc is None:
                continue
            centre, radius, start, sweep = arc
            n = max(1, math.ceil(abs(sweep) / step))
            part = sweep / n
            inwards = sweep < 0
            angles = start + part * (np.arange(1, n) if inwards else np.arange(n) + 0.5)
            away = radius if inwards else radius / math.cos(part / 2)
            corners.extend(centre + away * np.column_stack([np.cos(angles), np.sin(angles)]))
        return np.array(corners)

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """Least x and y, greatest x and y, mm, arcs exact."""
        left, low = self.points.min(axis=0).tolist()
        right, high = self.points.max(axis=0).tolist()
        for i in np.flatnonzero(self.bulges).tolist():
            arc = self.arc(i)
            if arc is None:
                continue
            (x, y), radius, start, sweep = arc
            # Quarter turns that lie on the arc.
            first, last = min(start, start + sweep), max(start, start + sweep)
            for quarter in range(
                math.ceil(first / QUARTER_TURN), math.floor(last / QUARTER_TURN) + 1
            ):
                u, v = (
                    x + radius * (1, 0, -1, 0)[quarter % 4],
                    y + radius * (0, 1, 0, -1)[quarter % 4],
                )
                left, low, right, high = min(left, u), min(low, v), max(right, u), max(high, v)
        return left, low, right, high

    def moved(self, shift: Array) -> ClosedPath:
        """The same path moved by (2,) mm."""
        path, before = self._moved_from
        moved = ClosedPath(self.points + shift, self.bulges)
        moved.__dict__["_moved_from"] = (self, shift) if path is None else (path, before + shift)
        return moved

    def turned(self, along: Array) -> ClosedPath:
        """The same path turned about the origin so that x runs along a unit vector (2,)."""
        (x, y) = along.tolist()
        return ClosedPath(self.points @ np.array([[x, y], [-y, x]]), self.bulges)
