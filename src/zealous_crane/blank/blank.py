"""The blank: everything known about the flat before a brake is chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend, School
from ..measure import Sum, Units
from ..measure.words import counted, the, tr
from ..metal import Sheet
from ..part import Drilled, Joined
from ..small_tools import SmallTools
from .convex import convex_pieces
from .element import MadeBy
from .path import Path
from .ring import half_plane
from .rule import shown

Array = NDArray[np.float64]

IN_LINE = 0.02
"""mm; fold lines nearer than this are one line, however they were worked out."""

NEARLY = 3.0
"""Thicknesses; folds nearer than this to one line, side by side, are made in one stroke."""


@dataclass(frozen=True)
class Panel:
    """One flat region between bends.

    Attributes:
        name: as the shop calls it.
        polygon: (n, 2) float, mm, counter-clockwise and simple; from tangent line to tangent line. Relief cuts and holes
            are not taken out of it, so it is never smaller than the metal.
        lies_on: name of the panel it is made to lie against when all is bent, as a tab does; else empty.
    """

    name: str
    polygon: Array
    lies_on: str = ""

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
        start, end: (2,) float, mm: ends of the bend line where metal crosses it, the middle of the allowance.
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

    @property
    def length(self) -> float:
        """Length of metal across the line, mm."""
        return float(np.hypot(*(self.end - self.start)))

    @property
    def marked_on(self) -> str:
        """The face its line is scribed on: the one that shows when it is folded upwards on the brake."""
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
    waste: Path
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
        edge: least distance its centre should keep from the edge of the metal, mm; 0 where nothing hangs on it.
    """

    name: str
    path: Path
    centre: Array
    kind: str
    size: tuple[float, float]
    panel: int = -1
    after_bending: bool = False
    edge: float = 0.0


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
        """In which order they are drilled and joined: the middle first, then outwards, one side and the other. Common practice,
        no source."""
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
        return tr("{what} of {size} in {panel}").format(what=what, size=shown(self.size, units), panel=the(self.panel))


@dataclass(frozen=True)
class Finding:
    """Something a careful hand would say about the flat.

    Attributes:
        says: the sentence.
        where: (2,) mm on the flat, None when it is about all of it.
        kind: one word: ``hole``, ``flange``, ``metal``, ``relief``, ``hem``, ``school``, ``lip`` …
    """

    says: str
    where: Array | None = None
    kind: str = ""


@dataclass(frozen=True, eq=False)
class Blank:
    """The developed part. The lower left corner of the sheared rectangle is (0, 0), inside face up.

    Attributes:
        sheet: metal and thickness.
        school: by which its bends were counted.
        small_tools: what hangs on the wall of the bench.
        size: length (x) and width (y) of the sheared rectangle, mm, after trimming.
        outline: what is left after notching.
        panels: base first.
        folds: every bend line, in the order of the design tree.
        notches: what is cut away around the outside.
        sums: every computed length that can be opened.
        look: looks it over for what a person should know; it is looked over when somebody asks.
        noted: what a person should know of its rows.
        reliefs: cuts at the inner points of the notches.
        holes: everything cut out inside the outline.
        creases: lines creased by hand that close a ring.
        marks: lines that are not cut.
        trim: metal sheared extra on all sides and trimmed off after beading or cross-breaking, mm.
        rows: rivets, spots, screws and tacks, in rows; their holes and marks are among the others.
    """

    sheet: Sheet
    small_tools: SmallTools
    school: School
    size: tuple[float, float]
    outline: Path
    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...]
    notches: tuple[Notch, ...]
    sums: tuple[Sum, ...]
    look: Callable[[], tuple[Finding, ...]] | None = None
    noted: tuple[Finding, ...] = ()
    reliefs: tuple[Relief, ...] = ()
    holes: tuple[Hole, ...] = ()
    creases: tuple[Crease, ...] = ()
    marks: tuple[MarkLine, ...] = ()
    trim: float = 0.0
    rows: tuple[JoinedRow, ...] = ()

    @property
    def thickness(self) -> float:
        return self.sheet.thickness

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """What a person should know."""
        return (*(() if self.look is None else self.look()), *self.noted)

    @property
    def doubts(self) -> tuple[str, ...]:
        """The findings' sentences."""
        return tuple(finding.says for finding in self.findings)

    @cached_property
    def area(self) -> float:
        """Area of the finished flat, mm²."""
        return self.outline.area - sum(abs(hole.path.area) for hole in self.holes)

    @cached_property
    def waste(self) -> float:
        """Area cut away around the outside, mm²."""
        return sum(notch.waste.area for notch in self.notches)

    @cached_property
    def on_one_line(self) -> tuple[tuple[int, ...], ...]:
        """For every fold, the indices of all folds on its line that turn the same way by the same angle and bend, itself included."""

        def alike(one: Fold, other: Fold) -> bool:
            same = other.bend == one.bend and other.angle == one.angle and other.made_by is one.made_by
            return (
                same
                and float(other.outward @ one.outward) > 1 - 1e-9
                and abs(float((other.start - one.start) @ one.outward)) < IN_LINE
            )

        return tuple(tuple(i for i, other in enumerate(self.folds) if alike(one, other)) for one in self.folds)

    @cached_property
    def pliable(self) -> frozenset[int]:
        """Indices of panels that give way while their neighbours are folded, and are creased by hand in between: ears."""
        if not self.creases:
            return frozenset()
        return frozenset(f.child for f in self.folds if f.made_by is MadeBy.HAND)

    @cached_property
    def tucks(self) -> bool:
        """True when a tab lies against a wall that has a hem to tuck it under."""
        under = {panel.lies_on for panel in self.panels} - {""}
        return any(f.made_by is MadeBy.HEM and self.panels[f.parent].name in under for f in self.folds)

    @cached_property
    def rigid(self) -> tuple[tuple[Array, ...], ...]:
        """For every panel, the convex pieces (k, 2) of it that keep their shape while the part is folded.

        All of it, but for folded corners: the ears give way, and so do the ends of the walls beside them, twice (r + T) far.
        """
        if not self.pliable:
            return tuple(panel.pieces for panel in self.panels)
        found: list[tuple[Array, ...]] = []
        walls = {f.child: f for f in self.folds if f.made_by is MadeBy.BRAKE}
        for i, panel in enumerate(self.panels):
            if i in self.pliable:
                found.append(())
            elif i in walls:
                fold = walls[i]
                along = (fold.end - fold.start) / fold.length
                give = 2 * (fold.bend.radius + fold.bend.thickness)
                ring = half_plane(panel.polygon, fold.start + give * along, along)
                found.append(convex_pieces(half_plane(ring, fold.end - give * along, -along)))
            else:
                found.append(panel.pieces)
        return tuple(found)

    @cached_property
    def near_line(self) -> tuple[tuple[int, ...], ...]:
        """For every fold, the indices of those so near its line that one stroke makes them all, itself included.

        Folds bent alike, at most ``NEARLY`` thicknesses off the line and side by side along it: a tab beside the wall it will
        lie on. What lifts one lifts the other. Common practice, no source.
        """

        if not self.folds:
            return ()
        starts, ends = np.array([f.start for f in self.folds]), np.array([f.end for f in self.folds])
        outward = np.array([f.outward for f in self.folds])
        length = np.array([f.length for f in self.folds])
        kinds = [(f.angle, f.made_by) for f in self.folds]
        found: list[tuple[int, ...]] = []
        for i, kind in enumerate(kinds):
            away, along = starts - starts[i], (ends[i] - starts[i]) / length[i]
            first, last = away @ along, (ends - starts[i]) @ along
            beside = (np.maximum(first, last) < self.thickness) | (np.minimum(first, last) > length[i] - self.thickness)
            level = (outward @ outward[i] >= 1 - 1e-9) & (np.abs(away @ outward[i]) <= NEARLY * self.thickness)
            near = {k for k in np.flatnonzero(beside & level).tolist() if kinds[k] == kind}
            found.append(tuple(sorted(near | {i} | set(self.on_one_line[i]))))
        return tuple(found)

    def reached(self, start: Iterable[int], over: Iterable[int]) -> frozenset[int]:
        """Indices of the panels that are reached from some panels over some folds, those panels with them."""
        group, left = set(start), [self.folds[i] for i in over]
        grew = True
        while grew:
            meets = [fold for fold in left if fold.parent in group or fold.child in group]
            grew = bool(meets)
            left = [fold for fold in left if fold.parent not in group and fold.child not in group]
            for fold in meets:
                group |= {fold.parent, fold.child}
        return frozenset(group)

    def folds_between(self, start: int, end: int) -> frozenset[int]:
        """Indices of the folds crossed on the way from one panel to another."""
        above = {fold.child: i for i, fold in enumerate(self.folds)}

        def up(panel: int) -> set[int]:
            found: set[int] = set()
            while panel in above:
                found.add(above[panel])
                panel = self.folds[above[panel]].parent
            return found

        return frozenset(up(start) ^ up(end))

    @property
    def mass(self) -> float:
        """Mass of the finished part, kg."""
        return self.area * self.thickness * self.sheet.metal.density * 1e-9

    @property
    def sheared(self) -> tuple[float, float]:
        """Size it is sheared to, trim included, mm."""
        return self.size[0] + 2 * self.trim, self.size[1] + 2 * self.trim

    def panel(self, name: str) -> Panel:
        """The panel of that name."""
        return next(panel for panel in self.panels if panel.name == name)
