"""A tool's outline from a drawing: the section of a punch or die as one closed line in a DXF
file."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from ..flat.path import ClosedPath as Edge
from ..i18n import tr
from .dxf_entities import DrawingError
from .dxf_read import read_drawing

LEVEL = 0.05
"""mm; corners this near the lowest or highest one are level with it."""


def read_outline(path: Path, *, die: bool) -> tuple[tuple[float, float], ...]:
    """The outline of a tool: x of the drawing across the brake, y up.

    A punch is moved so that its tip, the lowest point, stands at (0, 0); a die so that its top is
    at height 0 with the middle of its V over y = 0. Arcs become chords of 7.5° that do not leave
    the arc by more than a hair.

    Raises:
        DrawingError: not a drawing, no closed outline, or a die without a V.
    """
    flat = read_drawing(path).flat
    points = np.array([(x, y) for x, y, _ in flat.outline])
    ring = Edge(points, np.array([b for _, _, b in flat.outline])).flattened()
    if die:
        top = ring[:, 1].max()
        level = np.sort(ring[ring[:, 1] > top - LEVEL][:, 0])
        gaps = np.diff(level)
        if len(gaps) == 0 or gaps.max() < LEVEL:
            raise DrawingError(
                tr("{name}: the top of the die shows no V between two shoulders.").format(
                    name=path.name
                )
            )
        # The V is the widest stretch between two level corners that dips below them.
        dips = [i for i in range(len(gaps)) if _dips(ring, level[i], level[i + 1], top)]
        if not dips:
            raise DrawingError(
                tr("{name}: the top of the die shows no V between two shoulders.").format(
                    name=path.name
                )
            )
        i = max(dips, key=lambda k: float(gaps[k]))
        middle = (level[i] + level[i + 1]) / 2
        moved = ring - np.array([middle, top])
    else:
        low = ring[:, 1].min()
        tip = ring[ring[:, 1] < low + LEVEL][:, 0]
        moved = ring - np.array([(tip.min() + tip.max()) / 2, low])
    return tuple((round(float(y), 4), round(float(z), 4)) for y, z in moved)


def _dips(ring: np.ndarray, low: float, high: float, top: float) -> bool:
    """True when the outline has a corner below its top between two places."""
    between = ring[(ring[:, 0] > low + LEVEL) & (ring[:, 0] < high - LEVEL)]
    return bool(len(between)) and bool((between[:, 1] < top - LEVEL).any())
