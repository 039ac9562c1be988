"""The blank: everything known about the flat before a brake is chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .._typing import Array
from ..job.tools import SmallTools
from ..metal.allowance import AllowanceMethod
from ..metal.sheet import Sheet
from ..units.sums import Sum
from .element import MadeBy
from .features import Crease, Finding, Fold, Hole, JoinedRow, MarkLine, Notch, Panel, Relief
from .folding import Pose, panel_poses
from .path import ClosedPath
from .ring import convex_pieces, half_plane, joined_paths

IN_LINE = 0.02
"""mm; fold lines nearer than this are one line, however they were worked out."""

NEARLY = 3.0
"""Thicknesses; folds nearer than this to one line, side by side, are made in one stroke."""


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
    school: AllowanceMethod
    size: tuple[float, float]
    outline: ClosedPath
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
        return tuple(str(finding.says) for finding in self.findings)

    @cached_property
    def stood(self) -> tuple[Pose, ...]:
        """Where every panel stands when all is bent, the base in place."""
        return tuple(panel_poses(self, [fold.angle for fold in self.folds]))

    @cached_property
    def openings(self) -> tuple[ClosedPath, ...]:
        """What is cut out within the outline while the sheet is flat: every hole, those that
        overlap as one."""
        return joined_paths([hole.path for hole in self.holes if not hole.after_bending])

    @cached_property
    def openings_later(self) -> tuple[ClosedPath, ...]:
        """What is cut out when the part is bent, those that overlap as one."""
        return joined_paths([hole.path for hole in self.holes if hole.after_bending])

    @cached_property
    def area(self) -> float:
        """Area of the finished flat, mm²."""
        return self.outline.area - sum(
            abs(path.area) for path in (*self.openings, *self.openings_later)
        )

    @cached_property
    def waste(self) -> float:
        """Area cut away around the outside, mm²."""
        return sum(notch.waste.area for notch in self.notches)

    @cached_property
    def on_one_line(self) -> tuple[tuple[int, ...], ...]:
        """For every fold, the indices of all folds on its line that turn the same way by the same
        angle and bend, itself included."""

        def alike(one: Fold, other: Fold) -> bool:
            same = (
                other.bend == one.bend and other.angle == one.angle and other.made_by is one.made_by
            )
            return (
                same
                and float(other.outward @ one.outward) > 1 - 1e-9
                and abs(float((other.start - one.start) @ one.outward)) < IN_LINE
            )

        return tuple(
            tuple(i for i, other in enumerate(self.folds) if alike(one, other))
            for one in self.folds
        )

    @cached_property
    def pliable(self) -> frozenset[int]:
        """Indices of panels that give way while their neighbours are folded, and are creased by
        hand in between: ears."""
        if not self.creases:
            return frozenset()
        return frozenset(f.child for f in self.folds if f.made_by is MadeBy.HAND)

    @cached_property
    def lying(self) -> frozenset[tuple[int, int]]:
        """Which panel is made to lie against which: a tab against its wall."""
        tabs = [(a, tab.lies_on) for a, tab in enumerate(self.panels) if tab.lies_on]
        return frozenset(
            (a, b) for a, name in tabs for b, wall in enumerate(self.panels) if wall.name == name
        )

    @cached_property
    def tucked(self) -> frozenset[tuple[int, int]]:
        """Which tab is tucked under which hem: that of the wall it lies against, where the hem
        turns to the tab's own side of it."""
        return frozenset(
            (tab, f.child)
            for tab, wall in self.lying
            for f in self.folds
            if f.parent == wall
            and f.made_by is MadeBy.HEM
            and self._beside(tab, wall) == (f.angle > 0)
        )

    def _beside(self, panel: int, wall: int) -> bool:
        """True where a panel stands on the inside of a wall, when all is bent."""
        middle = np.array([*self.panels[panel].polygon.mean(axis=0), self.thickness / 2])
        place = self.stood[wall].inverse.apply(self.stood[panel].apply(middle[None]))[0]
        return bool(place[2] > self.thickness / 2)

    @property
    def tucks(self) -> bool:
        """True when a tab lies against a wall that has a hem to tuck it under."""
        return bool(self.tucked)

    @cached_property
    def rigid(self) -> tuple[tuple[Array, ...], ...]:
        """For every panel, the convex pieces (k, 2) of it that keep their shape while the part is
        folded.

        All of it, but for folded corners: the ears give way, and so do the ends of the walls beside
        them, twice (r + T) far.
        """
        if not self.pliable:
            return tuple(panel.pieces for panel in self.panels)
        result: list[tuple[Array, ...]] = []
        walls = {f.child: f for f in self.folds if f.made_by is MadeBy.BRAKE}
        for i, panel in enumerate(self.panels):
            if i in self.pliable:
                result.append(())
            elif i in walls:
                fold = walls[i]
                along = (fold.end - fold.start) / fold.length
                ring = half_plane(panel.polygon, fold.start + fold.give * along, along)
                result.append(convex_pieces(half_plane(ring, fold.end - fold.give * along, -along)))
            else:
                result.append(panel.pieces)
        return tuple(result)

    @cached_property
    def near_line(self) -> tuple[tuple[int, ...], ...]:
        """For every fold, the indices of those so near its line that one stroke makes them all,
        itself included.

        Folds bent alike, at most ``NEARLY`` thicknesses off the line and side by side along it: a
        tab beside the wall it will lie on. What lifts one lifts the other. Common practice, no
        source.
        """

        if not self.folds:
            return ()
        starts, ends = (
            np.array([f.start for f in self.folds]),
            np.array([f.end for f in self.folds]),
        )
        outward = np.array([f.outward for f in self.folds])
        length = np.array([f.length for f in self.folds])
        kinds = [(f.angle, f.made_by) for f in self.folds]
        result: list[tuple[int, ...]] = []
        for i, kind in enumerate(kinds):
            away, along = starts - starts[i], (ends[i] - starts[i]) / length[i]
            first, last = away @ along, (ends - starts[i]) @ along
            beside = (np.maximum(first, last) < self.thickness) | (
                np.minimum(first, last) > length[i] - self.thickness
            )
            level = (outward @ outward[i] >= 1 - 1e-9) & (
                np.abs(away @ outward[i]) <= NEARLY * self.thickness
            )
            near = {k for k in np.flatnonzero(beside & level).tolist() if kinds[k] == kind}
            result.append(tuple(sorted(near | {i} | set(self.on_one_line[i]))))
        return tuple(result)

    def reached(self, start: Iterable[int], over: Iterable[int]) -> frozenset[int]:
        """Indices of the panels that are reached from some panels over some folds, those panels
        with them."""
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
            result: set[int] = set()
            while panel in above:
                result.add(above[panel])
                panel = self.folds[above[panel]].parent
            return result

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
