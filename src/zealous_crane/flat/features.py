"""One flat region between bends."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from .._typing import Array
from ..i18n import Phrase, counted, the, tr
from ..metal.bend import Bend
from ..part.hole import Drilled, Joined
from ..units.length import Units
from .element import MadeBy
from .path import ClosedPath
from .ring import convex_pieces
from .ruler import shown


@dataclass(frozen=True)
class Panel:
    """One flat region between bends.

    Attributes:
        name: as the shop calls it.
        polygon: (n, 2) float, mm, counter-clockwise and simple; from tangent line to tangent line.
            Relief cuts and holes are not taken out of it, so it is never smaller than the metal.
        lies_on: name of the panel it is made to lie against when all is bent, as a tab does; else
            empty.
    """

    name: str
    polygon: Array
    lies_on: str = ""

    @cached_property
    def outline(self) -> ClosedPath:
        """The polygon as a path of straight lines."""
        return ClosedPath.polygon(self.polygon)

    @cached_property
    def pieces(self) -> tuple[Array, ...]:
        """The polygon in convex pieces (k, 2), counter-clockwise."""
        return convex_pieces(self.polygon)


@dataclass(frozen=True)
class Fold:
    """One bend line and the two panels it joins.

    Attributes:
        name: as the shop calls it.
        parent, child: panel indices; the child is the one farther from the base.
        start, end: (2,) float, mm: ends of the bend line where metal crosses it, the middle of the
            allowance.
        outward: (2,) unit vector from parent to child.
        angle: degrees from flat, positive towards the inside face (up).
        bend: radius, thickness and allowance.
        made_by: what makes it.
    """

    name: str
    parent: int
    child: int
    start: Array
    end: Array
    outward: Array
    angle: float
    bend: Bend
    made_by: MadeBy = MadeBy.BRAKE

    @cached_property
    def length(self) -> float:
        """Length of metal across the line, mm."""
        return float(np.hypot(*(self.end - self.start)))

    @property
    def give(self) -> float:
        """How far in from either end what it carries gives way beside the ear of a folded corner,
        mm: twice (r + T). Common practice, no source."""
        return 2 * (self.bend.radius + self.bend.thickness)

    @property
    def marked_on(self) -> str:
        """The face its line is scribed on: the one that shows when it is folded upwards on the
        brake."""
        return "inside" if self.angle > 0 else "outside"


@dataclass(frozen=True)
class Crease:
    """A line creased by hand that closes a ring of panels: the second line of an ear.

    Attributes:
        name: as the shop calls it.
        start, end: (2,) mm.
        angle: signed degrees it ends up at.
    """

    name: str
    start: Array
    end: Array
    angle: float


@dataclass(frozen=True)
class Relief:
    """The cut at the inner point of a notch.

    Attributes:
        name: the corner it is at.
        shape: ``round``, ``square`` or ``slot``.
        size: diameter, side or width, mm.
        centre: (2,) mm, where the bend lines cross.
        least: what the rule asks, mm.
        at_corner: two folds cross here; False where one ends within its edge.
    """

    name: str
    shape: str
    size: float
    centre: Array
    least: float
    at_corner: bool = True


@dataclass(frozen=True)
class Notch:
    """Waste cut away from the sheared rectangle.

    Attributes:
        name: where it is.
        waste: outline of what is cut away, reliefs included.
        points: (n, 2) mm, its corners that lie inside the rectangle: what is marked before cutting.
    """

    name: str
    waste: ClosedPath
    points: Array


@dataclass(frozen=True)
class Hole:
    """A hole inside the outline.

    Attributes:
        name: as the shop calls it.
        path: its edge.
        centre: (2,) mm.
        kind: ``round``, ``slot``, ``rectangle``, ``relief``, ``fold slot`` or ``other``.
        size: length (diameter) and width, mm.
        panel: index of the panel it lies in, −1 where it lies on a fold.
        after_bending: cut when the part is bent.
        turn: degrees its longer size is turned from the blank's length, 0 to 180.
        edge: least distance its centre should keep from the edge of the metal, mm; 0 where nothing
            hangs on it.
    """

    name: str
    path: ClosedPath
    centre: Array
    kind: str
    size: tuple[float, float]
    panel: int = -1
    after_bending: bool = False
    edge: float = 0.0
    turn: float = 0.0


@dataclass(frozen=True)
class MarkLine:
    """A line that is not cut: cross-break, bead, edge of formed metal, spot weld.

    Attributes:
        name: what it is.
        start, end: (2,) mm; the same point for a spot.
        kind: ``cross-break``, ``bead``, ``formed`` or ``spot``.
    """

    name: str
    start: Array
    end: Array
    kind: str


@dataclass(frozen=True)
class Finding:
    """Something a careful hand would say about the flat.

    Attributes:
        says: the sentence.
        where: (2,) mm on the flat, None when it is about all of it.
        kind: one word: ``hole``, ``flange``, ``metal``, ``relief``, ``hem``, ``school``, ``lip`` …
    """

    says: Phrase
    where: Array | None = None
    kind: str = ""


@dataclass(frozen=True, eq=False)
class JoinedRow:
    """A row of rivets, spots, screws or tacks.

    Attributes:
        panel: name of the panel it is in.
        by: what it is made of.
        size: diameter, or length of a tack, mm.
        hole: drilled in this panel, mm; 0 where nothing is drilled.
        places: (n, 2) mm on the flat, along the row.
        pitch: between neighbours, mm; 0 of a single one.
        edge: least distance of a place from the edge of the metal, mm.
        grip: metal it holds together, mm.
        through: name of the panel behind; empty where that is another part's.
        behind: (n, 2) mm on the flat: where the places come to lie on that panel.
        hole_behind: drilled there, mm.
        drilled: when that is done.
        joint: number of the joint of the work it follows from; None where it is the part's own.
    """

    panel: str
    by: Joined
    size: float
    hole: float
    places: Array
    pitch: float
    edge: float
    grip: float
    through: str = ""
    behind: Array = field(default_factory=lambda: np.zeros((0, 2)))
    hole_behind: float = 0.0
    drilled: Drilled = Drilled.THROUGH
    joint: int | None = None

    @property
    def order(self) -> tuple[int, ...]:
        """In which order they are drilled and joined: the middle first, then outwards, one side and
        the other. Common practice, no source."""
        middle = (len(self.places) - 1) / 2
        return tuple(sorted(range(len(self.places)), key=lambda i: (abs(i - middle), i)))

    def says(self, units: Units) -> str:
        """``6 rivets of 1/8" in the left flange``."""
        n = len(self.places)
        what = {
            Joined.RIVET: counted("{count} rivet", "{count} rivets", n),
            Joined.SPOT: counted("{count} spot", "{count} spots", n),
            Joined.SCREW: counted("{count} screw", "{count} screws", n),
            Joined.TACK: counted("{count} tack", "{count} tacks", n),
        }[self.by]
        return tr("{what} of {size} in {panel}").format(
            what=what, size=shown(self.size, units), panel=the(self.panel)
        )
