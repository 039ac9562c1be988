"""Flat four-sided panels in space, and in their own plane."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def normal(quad: Array) -> Array:
    """Unit normal (3,) of a flat quadrilateral (4, 3)."""
    across = np.cross(quad[1] - quad[0], quad[3] - quad[0])
    unit: Array = across / np.linalg.norm(across)
    return unit


def plane(quad: Array) -> list[tuple[float, float]]:
    """A flat quadrilateral (4, 3) in its own plane, first edge along x."""
    u = (quad[1] - quad[0]) / np.linalg.norm(quad[1] - quad[0])
    rest = quad[3] - quad[0]
    v = rest - (rest @ u) * u
    v = v / np.linalg.norm(v)
    return [(float((p - quad[0]) @ u), float((p - quad[0]) @ v)) for p in quad]


def in_frame(quad: Array, origin: Array, u: Array) -> Array:
    """A side (4, 3) in the frame of its fold: from the large end to the small one, then its far corners."""
    # quad: shared large, far large, far small, shared small.
    rest = quad[1] - origin
    v = rest - (rest @ u) * u
    v = v / np.linalg.norm(v)
    ring = np.array([((p - origin) @ u, (p - origin) @ v) for p in quad[[0, 3, 2, 1]]])
    ring[:2, 1] = 0.0
    ring[0, 0] = 0.0
    return ring
