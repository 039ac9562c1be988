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


HAIR = 1e-6
"""mm along the fold by which two things must overlap to be beside each other no longer."""


@dataclass(frozen=True, eq=False)
class Solid:
    """One convex piece of the part.

    Attributes:
        name: the panel it belongs to.
        panel: index of that panel; −1 − i for the bent strip of fold i.
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
        if high - low < 1e-7 or not np.all(at_low | at_high) or at_low.sum() != at_high.sum():
            return False
        one, other = self.corners[at_low, 1:], self.corners[at_high, 1:]
        apart = np.abs(one[:, None, :] - other[None, :, :]).max(axis=2)
        return bool((apart.min(axis=0) < 1e-7).all() and (apart.min(axis=1) < 1e-7).all())

    def reaches(self, a: float, b: float) -> bool:
        """True when some of it lies between x = a and x = b; what only touches there does not."""
        low, high = self.x_range
        return b > low + HAIR and a < high - HAIR

    def clipped(self, a: float, b: float) -> Array:
        """(n, 2) convex shadow of the part between x = a and x = b; empty when there is none."""
        low, high = self.x_range
        if (self.uniform and self.reaches(a, b)) or (a <= low and b >= high):
            return self.shadow
        return hull(self.within(a, b))

    def within(self, a: float, b: float) -> Array:
        """(n, 2) points on (y, z) whose hull is the shadow of the part between x = a and x = b; empty when there is none."""
        low, high = self.x_range
        if not self.reaches(a, b):
            return np.zeros((0, 2))
        if self.uniform or (a <= low and b >= high):
            return self.corners[:, 1:]
        x = self.corners[:, 0]
        points = [self.corners[(x >= a) & (x <= b), 1:]]
        start, along = self._slanted
        for cut in (a, b):
            if low < cut < high:
                share = (cut - start[:, 0]) / along[:, 0]
                crosses = (share > 0) & (share < 1)
                points.append(start[crosses, 1:] + share[crosses, None] * along[crosses, 1:])
        return np.concatenate(points)

    @cached_property
    def edges(self) -> tuple[Array, Array]:
        """Where its 3k edges begin and how they go, (3k, 3) float each, mm."""
        k = len(self.corners) // 2
        ring = np.arange(k)
        start = self.corners[np.concatenate([ring, ring + k, ring])]
        return start, self.corners[np.concatenate([(ring + 1) % k, (ring + 1) % k + k, ring + k])] - start

    @cached_property
    def _slanted(self) -> tuple[Array, Array]:
        """The edges that change x on their way."""
        start, along = self.edges
        runs = np.abs(along[:, 0]) > 1e-12
        return start[runs], along[runs]

    @cached_property
    def planes(self) -> tuple[Array, Array]:
        """Outward normals (k + 2, 3) of its faces, and offsets (k + 2,) mm: inside is where normal · point ≤ offset."""
        k = len(self.corners) // 2
        ring, high = self.corners[:k], self.corners[k:]
        up = (high[0] - ring[0]) / np.linalg.norm(high[0] - ring[0])
        side = np.concatenate((ring[1:], ring[:1])) - ring
        out = np.cross(side, up) / np.linalg.norm(side, axis=1)[:, None]
        if (ring.mean(axis=0) - ring[0]) @ out[0] > 0:
            out = -out
        normals = np.concatenate([out, [up, -up]])
        offsets = np.concatenate([np.einsum("ij,ij->i", out, ring), [up @ high[0], -up @ ring[0]]])
        return normals, offsets


def plate(polygon: Array, thickness: float) -> Array:
    """Corners (2k, 3) of a flat panel (k, 2) with its outside face at z = 0."""
    k = len(polygon)
    corners = np.empty((2 * k, 3))
    corners[:k, :2] = corners[k:, :2] = polygon
    corners[:k, 2], corners[k:, 2] = 0.0, thickness
    return corners
