"""How far outlines are apart."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from .contact import Outlines
from .segment import from_segments

Array = NDArray[np.float64]


def apart(places: Array, resting: Outlines) -> float:
    """Least distance (mm) to others of an outline in several places, (k, n, 2), none of which overlaps them."""
    after = np.concatenate((places[:, 1:], places[:, :1]), axis=1)
    ahead = from_segments(places.reshape(-1, 1, 2), resting.corners, resting.ends)
    back = from_segments(resting.corners[:, None], places.reshape(-1, 2), after.reshape(-1, 2))
    return min(float(ahead.min()), float(back.min()))


def boxes_apart(places: Array, box: tuple[list[float], list[float]]) -> float:
    """Distance (mm) from the box round outlines in several places, (k, n, 2), to another box; never more than the outlines are apart."""
    (low, high), first, last = box, places.min(axis=(0, 1)).tolist(), places.max(axis=(0, 1)).tolist()
    gaps = (max(0.0, low[axis] - last[axis], first[axis] - high[axis]) for axis in (0, 1))
    return math.hypot(*gaps)
