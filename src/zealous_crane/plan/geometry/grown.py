"""A piece of the part grown by the clearance to keep, or drawn in where metal gives."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from ..memory import kept
from .contact import TOUCH, following, preceding
from .solid import Solid

Array = NDArray[np.float64]


@kept(16384)
def grown(solid: Solid, by: float) -> Solid | None:
    """A solid grown by ``by`` mm across the fold (drawn in when negative) and drawn in by a hair along it.

    Growing across the fold only leaves pieces that stand side by side along it apart. Where sides meet at an angle the grown
    piece keeps the corner, so it holds every point within reach. None when drawing in leaves nothing.
    """
    k = len(solid.corners) // 2
    ring, rise = solid.corners[:k], solid.corners[k] - solid.corners[0]
    normals, _ = solid.planes
    out, up = normals[:k], normals[k]
    moves = by * np.hypot(normals[:, 1], normals[:, 2]) - TOUCH * np.abs(normals[:, 0])
    own, cap = moves[:k], float(moves[k])
    # A corner goes where both its sides have gone.
    before, theirs = preceding(out), preceding(own)
    cosine = np.einsum("ij,ij->i", out, before)
    straight = 1 - cosine**2 < 1e-9
    square = np.where(straight, 1.0, 1 - cosine**2)
    one = np.where(straight, theirs / 2, (theirs - cosine * own) / square)
    other = np.where(straight, own / 2, (own - cosine * theirs) / square)
    moved = ring + one[:, None] * before + other[:, None] * out
    depth = float(np.linalg.norm(rise))
    if depth + 2 * cap <= 0:
        return None
    if (np.einsum("ij,ij->i", following(moved) - moved, following(ring) - ring) <= 0).any():
        core = _core(ring, out[0], up, -float(own.min()))
        if core is None:
            return None
        moved = core
    return Solid(solid.name, solid.panel, np.concatenate([moved - cap * up, moved + (depth + cap) * up]))


def _core(ring: Array, out: Array, up: Array, by: float) -> Array | None:
    """What is left of a ring (k, 3) drawn in so far that sides of it vanish; None when nothing is."""
    across = np.cross(up, out)
    flat = np.column_stack([(ring - ring[0]) @ out, (ring - ring[0]) @ across])
    left = shapely.Polygon(flat).buffer(-by, join_style="mitre")
    if left.is_empty or left.geom_type != "Polygon":
        return None
    kept = np.array(shapely.geometry.polygon.orient(left).exterior.coords)[:-1]
    core: Array = ring[0] + kept[:, :1] * out + kept[:, 1:] * across
    return core
