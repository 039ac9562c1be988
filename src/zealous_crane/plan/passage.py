"""Getting in, being clamped, getting out: straight movements of the part past a tool."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from .obstacle import Obstacle
from .outline import ToolOutline
from .slab import Slab, where
from .solid import Solid

Array = NDArray[np.float64]

AWAY = 50_000.0
"""How far (mm) to the front a part must slide to be out: past any part."""

EASE = 0.5
"""Least distance (mm) a part is drawn off the nose before the clamp rises."""


def _swept(points: Array, path: Sequence[tuple[str, tuple[float, float]]], tool: ToolOutline, folded: bool) -> str | None:
    """Name of the first leg of a path on which the hull of points (n, 2) would strike a tool; None when all is clear."""
    low, high = tool.box
    (y0, z0), (y1, z1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    y, z = path[0][1]
    for phase, (dy, dz) in path[1:]:
        # Most legs pass well below, in front of or behind the tool; only the rest is worth an exact look.
        if (
            max(z, z + dz) + z1 > low[1]
            and min(z, z + dz) + z0 < high[1]
            and max(y, y + dy) + y1 > low[0]
            and min(y, y + dy) + y0 < high[0]
        ):
            swept = np.concatenate([points + np.array([y, z]), points + np.array([y + dy, z + dz])])
            polygon = tool.without_nose if folded else tool.polygon
            if polygon.intersects(shapely.convex_hull(shapely.linestrings(swept))):
                return phase
        y, z = y + dy, z + dz
    return None


def struck_passing(
    points: Array, stood: Array, ease: float | None, opening: float, tool: ToolOutline, folded: bool
) -> str | None:
    """Name of the movement, in or out, on which the hull of points strikes a tool; None when all are clear.

    Args:
        points: (n, 2) before the swing.
        stood: (n, 2) after it.
        ease: how far the part is drawn forward first, mm; None leaves the way out unasked.
        opening: how far the tool rises, mm.
        tool: the tool, clamp closed.
        folded: the points belong to the folded panel, which lies on the nose.
    """
    up, away = (0.0, -opening), (-AWAY, 0.0)
    found = _swept(points, (("", (0.0, 0.0)), ("clamping", up), ("sliding in", away)), tool, folded)
    if found is None and ease is not None:
        out = (("", (0.0, 0.0)), ("opening", (-ease, 0.0)), ("opening", up), ("taking out", away))
        found = _swept(stood, out, tool, folded)
    return found


def struck_sideways(
    points: Array, stood: Array, ease: float | None, opening: float, tool: ToolOutline, folded: bool
) -> str | None:
    """Like :func:`struck_passing` for a part slid in and out along the fold, past the open tool, from an end of the bed."""
    up = (0.0, -opening)
    found = _swept(points, (("", up), ("sliding in", (0.0, 0.0)), ("clamping", (0.0, opening))), tool, folded)
    if found is None and ease is not None:
        out = (("", (0.0, 0.0)), ("opening", (-ease, 0.0)), ("opening", up), ("taking out", (0.0, 0.0)))
        found = _swept(stood, out, tool, folded)
    return found


PASSED = ("sliding in", "taking out")
"""Movements along the fold, past every section on the way."""


def kept_from(inside: tuple[float, float], obstacle: Obstacle, way: str) -> Slab:
    """Where an obstacle keeps sections from standing: over the solid, or anywhere when the part is slid past them."""
    if way == "side" and obstacle.phase in PASSED:
        inside = (-AWAY, AWAY)
    return Slab(*inside, obstacle, None)


@lru_cache(maxsize=8192)
def barred_by_resting(solid: Solid, tool: ToolOutline, ease: float | None, opening: float, way: str = "front") -> Slab | None:
    """Where a resting solid keeps a tool's section from standing, and on which movement; None when nowhere."""
    struck = struck_passing if way == "front" else struck_sideways

    def bars(a: float, b: float) -> str | None:
        points = solid.within(a, b)
        return struck(points, points, ease, opening, tool, False) if len(points) >= 3 else None

    inside = where(solid, lambda a, b: bars(a, b) is not None)
    phase = bars(*inside) if inside is not None else None
    return None if inside is None or phase is None else kept_from(inside, Obstacle(solid.name, tool.name, phase), way)
