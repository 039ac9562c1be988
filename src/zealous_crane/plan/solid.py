"""Convex solids of the part in the brake's frame, and their exact shadows along the fold line.

A tool keeps its section along x. It meets a solid somewhere between x = a and x = b just when its section meets
the shadow, on the (y, z) plane, of the solid clipped to a ≤ x ≤ b. Turning about an axis along x leaves x alone, so the
shadow of a clipped solid turns rigidly. That is why a plane engine is exact for these machines.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .contact import hull

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Solid:
    """One convex piece of the part.

    Attributes:
        name: the panel it belongs to.
        panel: index of that panel, or −1 for a bent strip.
        corners: (2k, 3) float, mm: a convex polygon and its copy across the thickness or along the fold.
    """

    name: str
    panel: int
    corners: Array

    @cached_property
    def x_range(self) -> tuple[float, float]:
        x = self.corners[:, 0]
        return float(x.min()), float(x.max())

    @cached_property
    def shadow(self) -> Array:
        """(n, 2) convex outline on (y, z) of the whole solid."""
        return hull(self.corners[:, 1:])

    @cached_property
    def uniform(self) -> bool:
        """True when every clip of the solid has the same shadow: a prism along x."""
        x = self.corners[:, 0]
        low, high = self.x_range
        at_low, at_high = np.abs(x - low) < 1e-7, np.abs(x - high) < 1e-7
        if not np.all(at_low | at_high) or high - low < 1e-7:
            return False
        one, other = hull(self.corners[at_low, 1:]), hull(self.corners[at_high, 1:])
        return one.shape == other.shape and bool(np.allclose(one, other, atol=1e-7))

    def clipped(self, a: float, b: float) -> Array:
        """(n, 2) shadow of the part between x = a and x = b; empty when there is none."""
        low, high = self.x_range
        if a <= low and b >= high:
            return self.shadow
        if b < low or a > high:
            return np.zeros((0, 2))
        if self.uniform:
            return self.shadow
        k = len(self.corners) // 2
        ring = np.arange(k)
        pairs = np.concatenate([
            np.column_stack([ring, (ring + 1) % k]),
            np.column_stack([ring + k, (ring + 1) % k + k]),
            np.column_stack([ring, ring + k]),
        ])  # fmt: skip
        x = self.corners[:, 0]
        points = [self.corners[(x >= a) & (x <= b)]]
        p, q = self.corners[pairs[:, 0]], self.corners[pairs[:, 1]]
        for cut in (a, b):
            crosses = (p[:, 0] - cut) * (q[:, 0] - cut) < 0
            if crosses.any():
                t = (cut - p[crosses, 0]) / (q[crosses, 0] - p[crosses, 0])
                points.append(p[crosses] + t[:, None] * (q[crosses] - p[crosses]))
        return hull(np.concatenate(points)[:, 1:])


def plate(polygon: Array, thickness: float) -> Array:
    """Corners (2k, 3) of a flat panel (k, 2) with its outside face at z = 0."""
    k = len(polygon)
    corners = np.empty((2 * k, 3))
    corners[:k, :2] = corners[k:, :2] = polygon
    corners[:k, 2], corners[k:, 2] = 0.0, thickness
    return corners
