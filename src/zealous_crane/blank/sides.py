"""The straight sides of a notch that are cut."""

from __future__ import annotations

import numpy as np

from .blank import Blank, Notch

SAME = 0.01
"""Two settings closer than this (mm) are one; no scribe can tell them apart."""


def straight_sides(blank: Blank, notch: Notch) -> list[tuple[np.ndarray, np.ndarray]]:
    """Straight sides of the waste that are cut, reliefs left out."""
    points = notch.waste.points
    ends = np.concatenate((points[1:], points[:1]))
    size = np.array(blank.size)
    on_edge = (
        ((np.abs(points) < SAME) & (np.abs(ends) < SAME)) | ((np.abs(points - size) < SAME) & (np.abs(ends - size) < SAME))
    ).any(axis=1)
    cut = (notch.waste.bulges == 0.0) & ~on_edge & (np.hypot(*(ends - points).T) > blank.thickness / 2)
    if blank.reliefs:
        centres, sizes = np.array([r.centre for r in blank.reliefs]), np.array([r.size for r in blank.reliefs])
        away = ((points + ends) / 2)[:, None] - centres
        cut &= ~(np.hypot(away[..., 0], away[..., 1]) < sizes * 0.75).any(axis=1)
    return [(points[i], ends[i]) for i in np.flatnonzero(cut)]
