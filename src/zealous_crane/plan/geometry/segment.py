"""How far points are from straight segments."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def from_segments(points: Array, starts: Array, ends: Array) -> Array:
    """Distance (…, mm) of points (…, 2) to segments (…, 2)–(…, 2), broadcast against each other."""
    along, away = ends - starts, points - starts
    square = np.maximum(np.einsum("...j,...j->...", along, along), 1e-30)
    t = np.clip(np.einsum("...j,...j->...", away, along) / square, 0.0, 1.0)
    gap = away - t[..., None] * along
    found: Array = np.sqrt(np.einsum("...j,...j->...", gap, gap))
    return found
