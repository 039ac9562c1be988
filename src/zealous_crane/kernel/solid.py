"""What meets what, as data; how it is said comes last."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import ClassVar, NamedTuple

import numpy as np

from .._typing import Array
from ..cache import cached
from ..i18n import Phrase, msg, the
from .back_end import geometry
from .geometry import Corner
from .plane import edges_of, following


class BodyKind(StrEnum):
    """What it is of the part."""

    PANEL = "panel"
    STRIP = "bent strip"
    FOLD = "fold"
    """The fold that is being made."""

    PART = "part"
    BOARD = "board"
    """The board, leaf, V and punch come to an end of their own."""

    LEAF = "leaf"
    PUNCH = "punch"
    V = "V"


class Body(NamedTuple):
    """A piece of the part that meets something.

    Attributes:
        kind: what it is.
        name: of the panel, or of the fold whose strip it is; empty for what has no name of its own.
        across: True where it is metal on the wrong side of the bend line that meets.
    """

    kind: BodyKind
    name: str = ""
    across: bool = False

    @property
    def label(self) -> Phrase:
        """``the left wall``, ``the right hem fold``, ``the part``."""
        if self.kind is BodyKind.PANEL:
            name: Phrase = self.name
        elif self.kind is BodyKind.STRIP:
            name = msg("{name} fold", name=self.name)
        else:
            return OWN[self.kind]
        return the(
            msg("{name}, reaching across the bend line,", name=name) if self.across else name
        )


OWN = {
    BodyKind.FOLD: msg("the fold"),
    BodyKind.PART: msg("the part"),
    BodyKind.BOARD: msg("the board"),
    BodyKind.LEAF: msg("the leaf"),
    BodyKind.PUNCH: msg("the punch"),
    BodyKind.V: msg("the V"),
}

FOLD, PART = Body(BodyKind.FOLD), Body(BodyKind.PART)


class ToolPart(StrEnum):
    """A part of a machine that may be met."""

    BAR = "bar"
    BEAM = "beam"
    BED = "bed"
    BENCH = "bench"
    BOARD = "board"
    BOTTOM_OF_V = "bottom-of-v"
    DIE = "die"
    END_OF_BED = "end-of-bed"
    FINGER = "finger"
    FINGER_CLAMP = "finger-clamp"
    FINGER_NOSE = "finger-nose"
    FINGER_HEEL = "finger-heel"
    END_OF_REACH = "end-of-reach"
    """A hand and its board go no farther."""
    STOP = "stop"
    """The leaf's own."""
    LEAF = "leaf"
    PUNCH = "punch"
    RAM = "ram"
    TABLE = "table"


class ToolSide(StrEnum):
    """What of a tool ends a stroke."""

    SIDES = "sides"
    TIP = "tip"


class OfTool(NamedTuple):
    """A part of a tool that has a name of its own.

    Attributes:
        kind: what of it.
        name: of the tool.
    """

    kind: ToolSide
    name: str

    @property
    def label(self) -> Phrase:
        """``the wide V's sides``."""
        words = {ToolSide.SIDES: msg("{name}'s sides"), ToolSide.TIP: msg("{name}'s tip")}
        return the(words[self.kind].filled(name=self.name))


Met = ToolPart | Body | OfTool
"""What is met: a part of the machine by its kind, the part itself, or a part of a tool."""


HAIR = 1e-6
"""mm along the fold by which two things must overlap to be beside each other no longer."""


@dataclass(eq=False)
class Solid:
    """One convex piece of the part, which never changes; it is not frozen, which would make each
    one at twice the cost.

    Attributes:
        name: the panel it belongs to, or the fold it is the bent strip of.
        panel: index of that panel; −1 − i for the bent strip of fold i.
        corners: (2k, 3) float, mm: a convex polygon and its copy across the thickness or along the
            fold.
    """

    across: ClassVar[bool] = False
    """True for what lies on the wrong side of the bend line."""

    name: str
    panel: int
    corners: Array

    @cached_property
    def body(self) -> Body:
        """What it is when it meets something."""
        return Body(BodyKind.STRIP if self.panel < 0 else BodyKind.PANEL, self.name, self.across)

    @cached_property
    def _extent(self) -> tuple[Corner, Corner, bool]:
        """The box, and whether it is a prism along x."""
        return geometry.extent(self.corners)

    @cached_property
    def box(self) -> tuple[Corner, Corner]:
        """Least and greatest x, y and z of its corners, mm."""
        return self._extent[:2]

    @cached_property
    def x_range(self) -> tuple[float, float]:
        return self.box[0][0], self.box[1][0]

    @cached_property
    def shadow(self) -> Array:
        """(n, 2) convex outline on (y, z) of the whole solid."""
        return geometry.hull(self.corners[:, 1:])

    @property
    def uniform(self) -> bool:
        """True when every clip of the solid has the same shadow: a prism along x."""
        return self._extent[2]

    def reaches(self, a: float, b: float) -> bool:
        """True when some of it lies between x = a and x = b; what only touches there does not."""
        low, high = self.x_range
        return b > low + HAIR and a < high - HAIR

    def clipped(self, a: float, b: float) -> Array:
        """(n, 2) convex shadow of the part between x = a and x = b; empty when there is none."""
        low, high = self.x_range
        if (self.uniform and self.reaches(a, b)) or (a <= low and b >= high):
            return self.shadow
        return geometry.hull(self.within(a, b))

    def within(self, a: float, b: float) -> Array:
        """(n, 2) points on (y, z) whose hull is the shadow of the part between x = a and x = b;
        empty when there is none."""
        low, high = self.x_range
        if not self.reaches(a, b):
            return np.zeros((0, 2))
        if self.uniform or (a <= low and b >= high):
            return self.corners[:, 1:]
        return geometry.within(self.corners, a, b, low, high)

    @cached_property
    def edges(self) -> tuple[Array, Array]:
        """Where its 3k edges begin and how they go, (3k, 3) float each, mm."""
        return edges_of(self.corners)

    @cached_property
    def planes(self) -> tuple[Array, Array]:
        """Outward normals (k + 2, 3) of its faces, and offsets (k + 2,) mm: inside is where normal
        · point ≤ offset."""
        k = len(self.corners) // 2
        ring, high = self.corners[:k], self.corners[k:]
        up = high[0] - ring[0]
        up = up / math.sqrt(up @ up)
        side = following(ring) - ring
        # side × up
        across = np.array([[0.0, -up[2], up[1]], [up[2], 0.0, -up[0]], [-up[1], up[0], 0.0]])
        out = (side @ across) / np.sqrt(np.einsum("ij,ij->i", side, side))[:, None]
        if (ring.sum(axis=0) / k - ring[0]) @ out[0] > 0:
            out = -out
        normals, offsets = np.empty((k + 2, 3)), np.empty(k + 2)
        normals[:k], normals[k], normals[k + 1] = out, up, -up
        offsets[:k], offsets[k], offsets[k + 1] = (
            np.einsum("ij,ij->i", out, ring),
            up @ high[0],
            -up @ ring[0],
        )
        return normals, offsets


@dataclass(eq=False)
class Beyond(Solid):
    """What of a solid lies across a line along the fold: metal on the wrong side of the bend line.

    A half plane that holds x leaves the solid convex, and the shadow of what is left is what is
    left of the shadow.

    Attributes:
        line: mm, where the line runs, y.
        side: 1 for what lies behind the line, −1 for what lies before it.
    """

    across: ClassVar[bool] = True

    line: float = 0.0
    side: float = 1.0

    @cached_property
    def x_range(self) -> tuple[float, float]:
        away = (self.corners[:, 1] - self.line) * self.side
        result = [self.corners[away >= 0, 0]]
        start, along = self.edges
        run = along[:, 1] * self.side
        crosses = np.abs(run) > 1e-12
        share = (self.line - start[crosses, 1]) * self.side / run[crosses]
        on = (share > 0) & (share < 1)
        result.append(start[crosses, 0][on] + share[on] * along[crosses, 0][on])
        x = np.concatenate(result)
        return (float(x.min()), float(x.max())) if len(x) else (0.0, 0.0)

    @cached_property
    def shadow(self) -> Array:
        return self._cut(geometry.hull(self.corners[:, 1:]))

    def clipped(self, a: float, b: float) -> Array:
        return geometry.hull(points) if len(points := self.within(a, b)) >= 3 else np.zeros((0, 2))

    def within(self, a: float, b: float) -> Array:
        low, high = self.x_range
        if not self.reaches(a, b):
            return np.zeros((0, 2))
        if self.uniform or (a <= low and b >= high):
            return self.shadow
        points = self._whole.within(max(a, low), min(b, high))
        return self._cut(geometry.hull(points)) if len(points) >= 3 else np.zeros((0, 2))

    @cached_property
    def _whole(self) -> Solid:
        return Solid(self.name, self.panel, self.corners)

    def _cut(self, outline: Array) -> Array:
        """What of a convex outline (n, 2) lies beyond the line."""
        if len(outline) < 3:
            return np.zeros((0, 2))
        away = (outline[:, 0] - self.line) * self.side
        cached: list[Array] = []
        for i in range(len(outline)):
            j = (i + 1) % len(outline)
            if away[i] >= 0:
                cached.append(outline[i])
            if (away[i] < 0) != (away[j] < 0):
                share = away[i] / (away[i] - away[j])
                cached.append(outline[i] + share * (outline[j] - outline[i]))
        return geometry.hull(np.array(cached)) if len(cached) >= 3 else np.zeros((0, 2))


ACROSS = 0.05
"""mm; metal that reaches less than this across the bend line lies within the width of the line
itself."""

LEAST_ACROSS = 0.05
"""mm along the fold below which metal across the line is none."""


# Gains nothing by itself: one object for one question, by which others are kept.
@cached(16384)
def beyond(solid: Solid, line: float, side: float) -> Beyond | None:
    """What of a solid lies across a bend line at y = ``line`` (mm), by more than :data:`ACROSS`;
    None when nothing does.

    Args:
        solid: a piece that lies in the plane of the fold.
        line: where its own bend line runs, y.
        side: 1 where its own side is before the line and what lies behind is across it; −1 the
            other way.
    """
    y = solid.corners[:, 1]
    if ((y - line) * side).max() <= ACROSS:
        return None
    result = Beyond(solid.name, solid.panel, solid.corners, line + side * ACROSS, side)
    low, high = result.x_range
    return result if high - low > LEAST_ACROSS and len(result.shadow) >= 3 else None


def distinct(polygon: Array) -> Array:
    """A polygon (k, 2) without corners that coincide with the one before: they bound no side."""
    corners: list[list[float]] = polygon.tolist()
    away = [
        math.dist(one, other) > 1e-6
        for one, other in zip(corners, [corners[-1], *corners[:-1]], strict=True)
    ]
    return polygon[away] if not all(away) and sum(away) >= 3 else polygon


def plate(polygon: Array, thickness: float) -> Array:
    """Corners (2k, 3) of a flat panel (k, 2) with its outside face at z = 0."""
    polygon = distinct(polygon)
    k = len(polygon)
    corners = np.empty((2 * k, 3))
    corners[:k, :2] = corners[k:, :2] = polygon
    corners[:k, 2], corners[k:, 2] = 0.0, thickness
    return corners
