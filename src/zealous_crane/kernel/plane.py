"""Points and outlines in the plane across the fold: turned, drawn in, and how far apart."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .._typing import Array

Mask = NDArray[np.bool_]

TOUCH = 1e-3
"""Tools are drawn in by this much (mm) before contact is sought, so that lying against a face is
not meeting it."""


def from_segments(points: Array, starts: Array, ends: Array) -> Array:
    """Distance (…, mm) of points (…, 2) to segments (…, 2)–(…, 2), broadcast against each other.

    Args:
        points: (n, 2) mm.
        starts: (m, 2) mm.
        ends: (m, 2) mm.
    """
    along, away = ends - starts, points - starts
    square = np.maximum(np.einsum("...j,...j->...", along, along), 1e-30)
    t = np.clip(np.einsum("...j,...j->...", away, along) / square, 0.0, 1.0)
    gap = away - t[..., None] * along
    result: Array = np.sqrt(np.einsum("...j,...j->...", gap, gap))
    return result


def turned(points: Array, centre: Array, angle: float) -> Array:
    """(n, 2) points after a turn by ``angle`` radians about ``centre``.

    Args:
        points: (n, 2) mm.
        centre: (2,), the middle.
        angle: radians.
    """
    c, s = math.cos(angle), math.sin(angle)
    moved: Array = centre + (points - centre) @ np.array([[c, -s], [s, c]])
    return moved


def following(ring: Array) -> Array:
    """(n, 2) the point after each of a closed ring's."""
    return np.concatenate((ring[1:], ring[:1]))


def preceding(ring: Array) -> Array:
    """The entry before each of a closed ring's, along its first axis."""
    return np.concatenate((ring[-1:], ring[:-1]))


SPIKE = 1e-3
"""1 + cos of the turn at a corner below which it is a spike, and its tip stays about where it
is."""


def drawn_in(outline: Array, by: float = TOUCH) -> Array:
    """A counter-clockwise outline (n, 2) with every side moved inwards by ``by`` mm; corners keep
    their order.

    A corner given twice goes with the side before it, and the tip of a spike is drawn in no farther
    than a side is.
    """
    side = following(outline) - outline
    length = np.hypot(side[:, 0], side[:, 1])
    some = np.flatnonzero(length > 1e-12)
    if not len(some):
        return outline
    last = some[np.searchsorted(some, np.arange(len(outline)), side="right") - 1]
    unit = side[last] / length[last][:, None]
    inward = np.column_stack([-unit[:, 1], unit[:, 0]])
    before = preceding(inward)
    cosine = np.einsum("ij,ij->i", inward, before)
    moved: Array = outline + by * np.where(
        1 + cosine > SPIKE, 1 / np.maximum(1 + cosine, SPIKE), 1.0
    )[:, None] * (inward + before)
    return moved


@dataclass(frozen=True, eq=False)
class Outlines:
    """Several closed outlines, their corners in one array so that all are looked at in one go.

    Attributes:
        corners, ends: (n, 2) float, mm: where each side starts and ends.
        first: (k,) int, index of the first corner of each outline.
    """

    corners: Array
    ends: Array
    first: NDArray[np.intp]

    @classmethod
    def of(cls, outlines: Sequence[Array]) -> Outlines:
        """Gather outlines (n_i, 2); there must be at least one and none may be empty."""
        sizes = [len(outline) for outline in outlines]
        corners = np.concatenate(outlines)
        first = np.concatenate([[0], np.cumsum(sizes)[:-1]])
        following = np.arange(1, len(corners) + 1)
        following[first + np.array(sizes) - 1] = first
        return cls(corners, corners[following], first)

    def __len__(self) -> int:
        return len(self.first)

    def spread(self, values: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """(n,) a value of each outline repeated for each of its corners."""
        return np.repeat(values, np.diff(np.append(self.first, len(self.corners))))


def lifted(points: Array, angle: float | Array) -> Array:
    """(n, 3) points after a turn about the x axis that lifts what lies at negative y; one angle, or
    one each, radians."""
    c, s = np.cos(angle), np.sin(angle)
    x, y, z = points[:, 0], points[:, 1], points[:, 2]
    return np.column_stack([x, y * c + z * s, z * c - y * s])


def edges_of(corners: Array) -> tuple[Array, Array]:
    """Where the 3k edges of a prism of 2k corners begin and how they go, (3k, 3) float each, mm."""
    k = len(corners) // 2
    ring = np.arange(k)
    start = corners[np.concatenate([ring, ring + k, ring])]
    end = corners[np.concatenate([(ring + 1) % k, (ring + 1) % k + k, ring + k])]
    return start, end - start
