"""How far outlines are apart."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .contact import Outlines

Array = NDArray[np.float64]


def apart(places: Array, resting: Outlines) -> float:
    """Least distance (mm) to others of an outline in several places, (k, n, 2), none of which overlaps them."""
    after = np.concatenate((places[:, 1:], places[:, :1]), axis=1)
    ahead = _to_segments(places.reshape(-1, 2), resting.corners, resting.ends)
    back = _to_segments(resting.corners, places.reshape(-1, 2), after.reshape(-1, 2))
    return min(float(ahead.min()), float(back.min()))


def _to_segments(points: Array, starts: Array, ends: Array) -> Array:
    """(n, m) distance of points (n, 2) to segments (m, 2)–(m, 2), mm."""
    along = ends - starts
    away = points[:, None, :] - starts[None, :, :]
    square = np.maximum(np.einsum("mj,mj->m", along, along), 1e-30)
    t = np.clip(np.einsum("nmj,mj->nm", away, along) / square, 0.0, 1.0)
    gap = away - t[..., None] * along[None, :, :]
    distance: Array = np.sqrt(np.einsum("nmj,nmj->nm", gap, gap))
    return distance
