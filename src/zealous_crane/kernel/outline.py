"""A tool's outline as the contact search needs it."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from ..brake.cross_section import Profile
from ..flat.ring import convex_pieces
from .back_end import geometry
from .plane import TOUCH, Outlines, drawn_in, from_segments
from .solid import ToolPart


@dataclass(frozen=True, eq=False)
class ToolOutline:
    """A tool's outline drawn in by a hair, with what the contact search needs of it."""

    name: ToolPart
    outline: Array
    parts: tuple[str, ...]
    nose: frozenset[int]

    @classmethod
    def of(cls, profile: Profile, keep: float = 0.0) -> ToolOutline:
        """A tool's outline, grown by the clearance (mm) to keep."""
        return cls(
            ToolPart(profile.name),
            drawn_in(profile.outline, TOUCH - keep),
            profile.parts,
            frozenset(profile.nose),
        )

    @cached_property
    def outlines(self) -> Outlines:
        return Outlines.of([self.outline])

    @property
    def ends(self) -> Array:
        return self.outlines.ends

    @cached_property
    def cells(self) -> tuple[Array, ...]:
        """Convex pieces (k, 2), counter-clockwise, that together are the outline."""
        return convex_pieces(self.outline)

    @cached_property
    def bare(self) -> ToolOutline:
        """The outline with the nose zone cut off straight: what the panels that lie on the nose
        must still keep clear of."""
        cached = [
            i
            for i in range(len(self.parts))
            if self.parts[i] != "nose" or self.parts[i - 1] != "nose"
        ]
        parts = tuple("side" if self.parts[i] == "nose" else self.parts[i] for i in cached)
        return ToolOutline(self.name, self.outline[cached], parts, frozenset())

    def meets(self, convex: Array) -> bool:
        """True when a convex outline (n, 2), counter-clockwise, shares anything with it."""
        return geometry.meets(convex, self.outline)

    def farthest(self, y: float, z: float) -> float:
        """Distance (mm) from a point to the farthest corner."""
        return farthest(self.outline, np.array([y, z]))

    def distance(self, y: float, z: float) -> float:
        """Distance (mm) from a point to the outline; 0 inside."""
        return geometry.distance(self.outline, (y, z))

    @cached_property
    def box(self) -> tuple[list[float], list[float]]:
        """Lower left and upper right corner of the outline's box, mm."""
        return self.outline.min(axis=0).tolist(), self.outline.max(axis=0).tolist()

    @cached_property
    def bare_sides(self) -> NDArray[np.bool_]:
        """(n,) True for sides that are not on the nose."""
        return np.array([part != "nose" for part in self.parts])

    @cached_property
    def bare_corners(self) -> NDArray[np.bool_]:
        """(n,) True for corners that are not on the nose."""
        return np.array([i not in self.nose for i in range(len(self.parts))])

    def part_met(self, side: str) -> ToolPart:
        """What is met of the tool at one of its sides."""
        if self.name is not ToolPart.FINGER:
            return self.name
        return {
            "clamp": ToolPart.FINGER_CLAMP,
            "nose": ToolPart.FINGER_NOSE,
            "heel": ToolPart.FINGER_HEEL,
        }.get(side, ToolPart.FINGER)


def farthest(outline: Array, point: Array) -> float:
    return float(np.hypot(outline[:, 0] - point[0], outline[:, 1] - point[1]).max())


def apart(places: Array, resting: Outlines) -> float:
    """Least distance (mm) to others of an outline in several places, (k, n, 2), none of which
    overlaps them."""
    after = np.concatenate((places[:, 1:], places[:, :1]), axis=1)
    ahead = from_segments(places.reshape(-1, 1, 2), resting.corners, resting.ends)
    back = from_segments(resting.corners[:, None], places.reshape(-1, 2), after.reshape(-1, 2))
    return min(float(ahead.min()), float(back.min()))


def boxes_apart(places: Array, box: tuple[list[float], list[float]]) -> float:
    """Distance (mm) from the box round outlines in several places, (k, n, 2), to another box; never
    more than the outlines are apart."""
    (low, high), first, last = (
        box,
        places.min(axis=(0, 1)).tolist(),
        places.max(axis=(0, 1)).tolist(),
    )
    gaps = (max(0.0, low[axis] - last[axis], first[axis] - high[axis]) for axis in (0, 1))
    return math.hypot(*gaps)
