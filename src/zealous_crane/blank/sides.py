"""The straight sides of a notch that are cut."""

from __future__ import annotations

import numpy as np

from .blank import Blank, Notch

SAME = 0.01
"""Two settings closer than this (mm) are one; no scribe can tell them apart."""


def straight_sides(blank: Blank, notch: Notch) -> list[tuple[np.ndarray, np.ndarray]]:
    """Straight sides of the waste that are cut, reliefs left out."""
    found = []
    points = notch.waste.points
    for i, (p, q) in enumerate(zip(points, np.roll(points, -1, axis=0), strict=True)):
        if notch.waste.bulges[i] != 0.0:
            continue
        on_edge = any(
            (abs(p[a]) < SAME and abs(q[a]) < SAME) or (abs(p[a] - blank.size[a]) < SAME and abs(q[a] - blank.size[a]) < SAME)
            for a in (0, 1)
        )
        relieved = any(np.hypot(*((p + q) / 2 - r.centre)) < r.size * 0.75 for r in blank.reliefs)
        if not on_edge and not relieved and np.hypot(*(q - p)) > blank.thickness / 2:
            found.append((p, q))
    return found
