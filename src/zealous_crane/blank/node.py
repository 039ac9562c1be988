"""What the design tree grows into: panels cut to their corners, each in its own frame, and the corners between folds.

All lengths are kept between inside corners; see :mod:`.tree`.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend
from ..measure.dataclass import dataclass
from ..measure.once import once
from ..part import Corner
from .element import Element

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Frame:
    """A panel's frame on the flat.

    Attributes:
        origin: (2,) mm.
        u: (2,) unit vector along its fold; v is u turned left.
    """

    origin: Array
    u: Array

    @once
    def v(self) -> Array:
        """(2,) unit vector outwards."""
        return np.array([-self.u[1], self.u[0]])

    def to_flat(self, points: Array) -> Array:
        """(n, 2) points of the panel on the flat."""
        placed: Array = self.origin + points[:, :1] * self.u + points[:, 1:] * self.v
        return placed

    @once
    def _plain(self) -> tuple[float, float, float, float]:
        x, y = self.origin.tolist()
        across, up = self.u.tolist()
        return x, y, across, up

    def point(self, u: float, v: float) -> Array:
        """One point on the flat."""
        # Plain floats are faster than arrays of two.
        x, y, across, up = self._plain
        return np.array((x + u * across - v * up, y + u * up + v * across))


@dataclass(frozen=True)
class Line:
    """One end of a panel: u = at + slope·v, counted inwards from the end of its edge.

    Attributes:
        at: mm at the inside corner.
        slope: mm per mm.
        meets: the end was cut to meet a neighbour that stands.
    """

    at: float
    slope: float
    meets: bool = False

    def inset(self, v: float) -> float:
        """How far the end lies inside its edge's end at height v, mm."""
        return self.at + self.slope * v


@dataclass(frozen=True)
class Node:
    """A panel of the part, cut to its corners.

    Attributes:
        index, parent: place in the list, and that of the carrying panel (−1 for the base).
        edge: index of the parent's edge it stands on.
        element: what it is; None for the base.
        name: as the shop calls it.
        corners: (n, 2) mm in its own frame, between inside corners, counter-clockwise; corner 0 to 1 is its fold.
        frame: where it lies on the flat.
        span: (u, u) mm: ends of the metal at its tangent line.
        left, right: how its ends are cut; None for base and facets.
        edge_length: length of the edge it stands on, mm.
    """

    index: int
    parent: int
    edge: int
    element: Element | None
    name: str
    corners: Array
    frame: Frame
    span: tuple[float, float]
    left: Line | None = None
    right: Line | None = None
    edge_length: float = 0.0

    @property
    def bend(self) -> Bend | None:
        return None if self.element is None else self.element.bend

    @property
    def fold_span(self) -> tuple[float, float]:
        """From and to, mm along the edge it stands on: where it is bent."""
        return max(0.0, self.span[0]), min(self.edge_length, self.span[1])

    @property
    def setback(self) -> float:
        """Inside corner to tangent line, mm."""
        return 0.0 if self.bend is None else self.bend.inside_setback

    def edge_frame(self, i: int) -> tuple[Array, Array, float]:
        """Origin and direction (u) of whatever stands on edge i, in this panel's frame, and the edge's length."""
        p, q = self.corners[i], self.corners[(i + 1) % len(self.corners)]
        (x, y), (u, v) = p.tolist(), q.tolist()
        length = math.hypot(u - x, v - y)
        return q, (p - q) / length, length


@dataclass(frozen=True)
class Notching:
    """A corner between two folds of one panel, for its relief and its notch.

    Attributes:
        name: as the shop calls it.
        panel: index of the panel.
        vertex: index of its corner.
        folds: node indices of the two folds' outer panels (the panel's own index for its own fold).
        corner: the rule in force.
        gap: mm.
    """

    name: str
    panel: int
    vertex: int
    folds: tuple[int, int]
    corner: Corner
    gap: float


@dataclass(frozen=True)
class LoopCrease:
    """A crease that closes a ring of panels, and so carries none: the ear of a folded corner on the other wall."""

    name: str
    panel: int
    angle: float
    ends: tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Tree:
    """Everything grown: panels, corners between folds, closing creases; and how much the most rounded notch line was moved to a
    tick of the rule, mm."""

    nodes: tuple[Node, ...]
    notchings: tuple[Notching, ...]
    creases: tuple[LoopCrease, ...]
    gap: float
    rounded: float = 0.0
