"""Convex rooms that go on along the fold without change, and how far along it a piece of the part reaches into one."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..memory import kept
from .contact import following, hull
from .native import exact
from .outline import ToolOutline
from .solid import Solid

Array = NDArray[np.float64]

ON = 1e-7
"""mm; a point this near a side is on it."""


@dataclass(frozen=True, eq=False)
class Stood:
    """A prism where it stands.

    Attributes:
        corners: (2k, 3) float, mm.
        start, along: (3k, 3) float, mm, its edges.
        normals: (k + 2, 3) float, of its faces, outwards.
        offsets: (k + 2,) float, mm: inside is where normal · point ≤ offset.
        low, high: (y, z) mm, its box.
    """

    corners: Array
    start: Array
    along: Array
    normals: Array
    offsets: Array
    low: tuple[float, float]
    high: tuple[float, float]

    @classmethod
    def of(cls, solid: Solid, pole: tuple[float, float], angle: float) -> Stood:
        """A solid turned clockwise about a pole, (y, z) mm, by an angle, radians."""
        (start, along), (normals, offsets), corners = solid.edges, solid.planes, solid.corners
        if angle:
            about = np.array([0.0, *pole])
            offsets = offsets - normals @ about
            corners, start = lifted(corners - about, angle) + about, lifted(start - about, angle) + about
            along, normals = lifted(along, angle), lifted(normals, angle)
            offsets = offsets + normals @ about
        low, high = corners[:, 1:].min(axis=0).tolist(), corners[:, 1:].max(axis=0).tolist()
        return cls(corners, start, along, normals, offsets, (low[0], low[1]), (high[0], high[1]))


def lifted(points: Array, angle: float | Array) -> Array:
    """(n, 3) points after a turn about the x axis that lifts what lies at negative y; one angle, or one each, radians."""
    c, s = np.cos(angle), np.sin(angle)
    x, y, z = points[:, 0], points[:, 1], points[:, 2]
    return np.column_stack([x, y * c + z * s, z * c - y * s])


@dataclass(frozen=True, eq=False)
class Room:
    """A convex polygon in the (y, z) plane, the same at every x.

    Attributes:
        corners: (m, 2) float, mm, counter-clockwise.
        normals: (m, 2) float, of its sides, outwards.
        offsets: (m,) float, mm: a point is inside when normal · point ≤ offset for every side.
        low, high: (y, z) mm, its box.
    """

    corners: Array
    normals: Array
    offsets: Array
    low: tuple[float, float]
    high: tuple[float, float]

    @classmethod
    def of(cls, corners: Array) -> Room:
        """The room within a convex outline (m, 2), counter-clockwise."""
        side = following(corners) - corners
        normals = np.column_stack([side[:, 1], -side[:, 0]]) / np.hypot(side[:, 0], side[:, 1])[:, None]
        low, high = corners.min(axis=0).tolist(), corners.max(axis=0).tolist()
        return cls(corners, normals, np.einsum("ij,ij->i", normals, corners), (low[0], low[1]), (high[0], high[1]))

    def near(self, solid: Stood, by: tuple[float, float]) -> bool:
        """True when the room, shifted, and a solid have boxes that overlap."""
        return all(self.low[i] + by[i] <= solid.high[i] + ON and self.high[i] + by[i] >= solid.low[i] - ON for i in (0, 1))

    def reach(self, solid: Stood, by: tuple[float, float]) -> tuple[float, float] | None:
        """Least interval of x (mm) that holds all of a solid that is inside the room, shifted; None when nothing is.

        It ends at a corner of the solid that is inside, where an edge of the solid passes a side, or where the line along x
        through a corner of the room enters or leaves the solid.
        """
        if not self.near(solid, by):
            return None
        if exact is not None:
            prism = solid.corners, solid.normals, solid.offsets
            return exact.reach(prism, (self.corners, self.normals, self.offsets), by)
        limits = self.offsets + self.normals @ np.array(by)
        across = solid.along[:, 1:] @ self.normals.T
        left = limits - solid.start[:, 1:] @ self.normals.T
        flat = np.abs(across) <= 1e-12
        share = np.where(flat, -1.0, left / np.where(flat, 1.0, across))
        i, j = np.nonzero((share > 0) & (share < 1))
        points = np.concatenate([solid.corners, solid.start[i] + share[i, j, None] * solid.along[i]])
        inside = (points[:, 1:] @ self.normals.T <= limits + ON).all(axis=1)
        found = points[inside, 0]
        slope, room = solid.normals[:, :1], solid.offsets[:, None] - solid.normals[:, 1:] @ (self.corners + by).T
        level = np.abs(slope) < 1e-9
        at = room / np.where(level, 1.0, slope)
        high = np.where(~level & (slope > 0), at, math.inf).min(axis=0)
        low = np.where(~level & (slope < 0), at, -math.inf).max(axis=0)
        through = (low <= high) & (~level | (room >= -ON)).all(axis=0)
        found = np.concatenate([found, low[through], high[through]])
        return (float(found.min()), float(found.max())) if len(found) else None


@kept(1024)
def swept(tool: ToolOutline, by: tuple[float, float]) -> tuple[Room, ...]:
    """Rooms that a tool takes up, or passes through when it is moved along a straight line, (y, z) mm."""
    move = np.array(by)
    return tuple(Room.of(hull(np.concatenate([cell, cell + move])) if move.any() else cell) for cell in tool.cells)
