"""The straight sides of a notch that are cut, and the reliefs at it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from .blank import Blank
from .cut_away import Notch, Relief
from .ring import Point

SAME = 0.01
"""Two settings closer than this (mm) are one; no scribe can tell them apart."""


@lru_cache(maxsize=16)
def straight_sides(blank: Blank) -> tuple[tuple[tuple[Point, Point], ...], ...]:
    """For every notch of a blank, the straight sides of its waste that are cut, reliefs left out. Kept for the last few."""
    return tuple(_straight(blank, notch) for notch in blank.notches)


def _straight(blank: Blank, notch: Notch) -> tuple[tuple[Point, Point], ...]:
    points = notch.waste.points
    ends = np.concatenate((points[1:], points[:1]))
    size = np.array(blank.size)
    on_edge = (
        ((np.abs(points) < SAME) & (np.abs(ends) < SAME)) | ((np.abs(points - size) < SAME) & (np.abs(ends - size) < SAME))
    ).any(axis=1)
    along = ends - points
    cut = (notch.waste.bulges == 0.0) & ~on_edge & (np.hypot(along[:, 0], along[:, 1]) > blank.thickness / 2)
    if blank.reliefs:
        centres, sizes = np.array([r.centre for r in blank.reliefs]), np.array([r.size for r in blank.reliefs])
        away = ((points + ends) / 2)[:, None] - centres
        cut &= ~(np.hypot(away[..., 0], away[..., 1]) < sizes * 0.75).any(axis=1)
    corners, following = points.tolist(), ends.tolist()
    return tuple((tuple(corners[i]), tuple(following[i])) for i in np.flatnonzero(cut).tolist())


@lru_cache(maxsize=16)
def reliefs_at(blank: Blank) -> tuple[tuple[Relief, ...], ...]:
    """For every notch of a blank, the reliefs its waste takes in. Kept for the last few."""
    if not blank.reliefs:
        return ((),) * len(blank.notches)
    centres, sizes = np.array([r.centre for r in blank.reliefs]), np.array([r.size for r in blank.reliefs])
    found = []
    for notch in blank.notches:
        away = notch.waste.points[:, None] - centres
        near = np.hypot(away[..., 0], away[..., 1]).min(axis=0) < sizes
        found.append(tuple(blank.reliefs[k] for k in np.flatnonzero(near).tolist()))
    return tuple(found)
