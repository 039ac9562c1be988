"""The design tree: a base panel, flanges on its edges, flanges on theirs."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated

from pydantic import Field, model_validator

from ..measure import Angle, Length, PositiveLength
from .corner import Corner
from .model import Written


class Measured(StrEnum):
    """Which faces a size is read between."""

    INSIDE = "inside"
    OUTSIDE = "outside"


class Edge(StrEnum):
    """An edge of the base, as it lies on the bench: length left to right, width away from you.

    On a flange's own panel ``far`` is the free edge opposite its fold.
    """

    FRONT = "front"
    RIGHT = "right"
    BACK = "back"
    LEFT = "left"

    @property
    def turn(self) -> int:
        """Quarter turns counter-clockwise from the front edge."""
        return list(Edge).index(self)

    @property
    def along_length(self) -> bool:
        """True for the front and back edges, which run with the length of the base."""
        return self in (Edge.FRONT, Edge.BACK)


class Flange(Written):
    """A flange on one edge of the panel that carries it.

    Attributes:
        edge: the edge it stands on.
        height: mm, read as ``measured`` says.
        measured: inside (from the carrying panel's inside face) or outside. Up to the free edge, or to the inside
            corner of the next fold where the flange carries another.
        angle: degrees turned from flat; negative folds to the other face.
        radius: inside radius, mm; None takes the job's.
        name: what the shop calls it; None makes one from the edge.
        flanges: flanges on its own free edge (``back`` of its panel).
    """

    edge: Edge
    height: PositiveLength
    measured: Measured = Measured.INSIDE
    angle: Annotated[Angle, Field(ge=-150, le=150)] = 90.0
    radius: Length | None = None
    name: str | None = None
    flanges: tuple[Flange, ...] = ()

    @model_validator(mode="after")
    def _checked(self) -> Flange:
        if abs(self.angle) < 1:
            raise ValueError("a flange must turn by at least 1°")
        if self.radius is not None and self.radius < 0:
            raise ValueError("the inside radius must not be negative")
        for child in self.flanges:
            if child.edge is not Edge.BACK:
                raise ValueError("a flange on a flange stands on its free edge, written back")
        if self.flanges and self.measured is not Measured.INSIDE:
            raise ValueError("a flange that carries another is measured inside: up to the inside corner of the next fold")
        if len(self.flanges) > 1:
            raise ValueError("the free edge of a flange carries one flange")
        return self


class Base(Written):
    """The panel everything else stands on.

    Attributes:
        length: left to right, mm.
        width: away from you, mm.
        measured: between inside or outside faces of the walls (the same where no wall stands).
    """

    length: PositiveLength
    width: PositiveLength
    measured: Measured = Measured.INSIDE


class Design(Written):
    """A whole part: base, flanges, and the rule for corners where two flanges meet."""

    base: Base
    flanges: tuple[Flange, ...] = ()
    corner: Corner = Corner()

    @model_validator(mode="after")
    def _one_each(self) -> Design:
        edges = [flange.edge for flange in self.flanges]
        if len(set(edges)) != len(edges):
            raise ValueError("each edge of the base carries one flange")
        return self
