"""A tool's outline as the contact search needs it."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from ...blank.convex import convex_pieces
from ...brake import Profile
from ...measure.dataclass import dataclass
from ...measure.once import once
from ..memory import kept
from .contact import TOUCH, Outlines, drawn_in, following
from .native import exact
from .segment import from_segments

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class ToolOutline:
    """A tool's outline drawn in by a hair, with what the contact search needs of it."""

    name: str
    outline: Array
    parts: tuple[str, ...]
    nose: frozenset[int]

    @classmethod
    def of(cls, profile: Profile, keep: float = 0.0) -> ToolOutline:
        """A tool's outline, grown by the clearance (mm) to keep."""
        return cls(profile.name, drawn_in(profile.outline, TOUCH - keep), profile.parts, frozenset(profile.nose))

    @once
    def outlines(self) -> Outlines:
        return Outlines.of([self.outline])

    @property
    def ends(self) -> Array:
        return self.outlines.ends

    @once
    def polygon(self) -> shapely.Polygon:
        polygon = shapely.Polygon(self.outline)
        shapely.prepare(polygon)
        return polygon

    @once
    def cells(self) -> tuple[Array, ...]:
        """Convex pieces (k, 2), counter-clockwise, that together are the outline."""
        return convex_pieces(self.outline)

    @once
    def without_nose(self) -> shapely.Polygon:
        """The outline with nose and nose zone cut off straight, from foot to face, for the panel that lies on them."""
        return self.bare.polygon

    @once
    def bare(self) -> ToolOutline:
        """The outline with the nose zone cut off straight: what the panels that lie on the nose must still keep clear of."""
        kept = [i for i in range(len(self.parts)) if self.parts[i] != "nose" or self.parts[i - 1] != "nose"]
        parts = tuple("side" if self.parts[i] == "nose" else self.parts[i] for i in kept)
        return ToolOutline(self.name, self.outline[kept], parts, frozenset())

    def meets(self, convex: Array) -> bool:
        """True when a convex outline (n, 2), counter-clockwise, shares anything with it."""
        if exact is not None:
            return exact.meets(convex, self.outline)
        return bool(self.polygon.intersects(shapely.Polygon(convex)))

    @kept(64)
    def farthest(self, y: float, z: float) -> float:
        """Distance (mm) from a point to the farthest corner."""
        return farthest(self.outline, np.array([y, z]))

    @kept(64)
    def distance(self, y: float, z: float) -> float:
        """Distance (mm) from a point to the outline; 0 inside."""
        if exact is not None:
            return exact.distance(self.outline, (y, z))
        return float(self.polygon.distance(shapely.Point(y, z)))

    @once
    def box(self) -> tuple[list[float], list[float]]:
        """Lower left and upper right corner of the outline's box, mm."""
        return self.outline.min(axis=0).tolist(), self.outline.max(axis=0).tolist()

    @once
    def bare_sides(self) -> NDArray[np.bool_]:
        """(n,) True for sides that are not on the nose."""
        return np.array([part != "nose" for part in self.parts])

    @once
    def bare_corners(self) -> NDArray[np.bool_]:
        """(n,) True for corners that are not on the nose."""
        return np.array([i not in self.nose for i in range(len(self.parts))])

    def said(self, part: str) -> str:
        """The tool and its side, as the shop says it."""
        if self.name != "finger":
            return self.name
        return {"clamp": "finger clamp", "nose": "finger nose", "face": "finger", "heel": "back of the finger"}.get(
            part, "finger"
        )


def farthest(outline: Array, point: Array) -> float:
    return float(np.hypot(outline[:, 0] - point[0], outline[:, 1] - point[1]).max())


def nearest(outline: Array, point: Array) -> float:
    """Distance (mm) from a point to the sides of an outline."""
    return float(from_segments(point, outline, following(outline)).min())
