"""Marking out: running dimensions from one edge, the settings a scribe is set to in order, points,
holes, and the steps of work."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from ..cache import cached
from ..i18n import choice_words, counted, msg, tr
from ..part.edge import EDGE_WORDS, edge_words
from ..units.length import Units, show_length
from .blank import Blank
from .corner_instructions import CornerRecipe, EdgeRecipe, corner_recipes, edge_recipes
from .element import MadeBy
from .features import Notch
from .joining import join_steps
from .notch import SAME, straight_sides
from .openings import late_steps, opening_steps, opening_words, slot_steps
from .ruler import NEAREST, Striking, shown

MARKED = ("formed", "bead")
"""Lines that are scribed though nothing is cut or folded on them: where a lock is formed, where a
bead is rolled."""

SLIT = 4.0
"""Thicknesses; a cut narrower than this is a slit, a side shorter than this a nick."""


@dataclass(frozen=True)
class RunningDimension:
    """One line across the blank, measured from the zero edge.

    Attributes:
        what: what is there.
        at: mm from the left edge (across the length) or the front edge (across the width).
        kind: ``edge``, ``fold``, ``cut``, ``formed`` or ``bead``.
        read: mm from the other edge, where the datum lies there; None where it is read as it lies.
    """

    what: str
    at: float
    kind: str
    read: float | None = None

    @property
    def figure(self) -> float:
        """What is read there: mm from the edge the sums run from."""
        return self.at if self.read is None else self.read


@dataclass(frozen=True)
class ScribeSetting:
    """One setting of the scribe and every line struck with it.

    Attributes:
        setting: mm.
        kind: ``fold``, ``cut``, ``formed`` or ``bead``.
        edges: the true edges it is struck from.
        face: the face it is struck on: ``inside``, or ``outside`` for folds that go the other way.
        beyond: farther than a scribe is set.
    """

    setting: float
    kind: str
    edges: tuple[str, ...]
    face: str = "inside"
    beyond: bool = False

    def shown(self, units: Units) -> str:
        """The setting to the nearest tick of the rule, marked ``≈`` when that is not exact."""
        return shown(self.setting, units)

    @property
    def purpose(self) -> str:
        """What is struck, in shop words."""
        words = {
            "fold": tr("fold lines"),
            "cut": tr("notches"),
            "formed": tr("lines of locks and drive edges"),
            "bead": tr("lines of beads"),
        }[self.kind]
        if self.beyond:
            words = tr("{words}, with rule and straight-edge").format(words=words)
        return (
            words
            if self.face == "inside"
            else tr("{words}, on the outside face").format(words=words)
        )

    @property
    def struck_from(self) -> str:
        """The edges, in shop words."""
        return (
            tr("all four edges")
            if len(self.edges) == 4
            else tr("{edges} edge").format(edges=", ".join(edge_words(edge) for edge in self.edges))
        )


@dataclass(frozen=True)
class MarkedPoint:
    """A point that no line alone gives: the centre of a hole, the corner of a slanted cut.

    Attributes:
        what: what is there.
        along, across: mm from the left and from the front edge.
        size: diameter or sizes in words of a hole as (length, width) mm, None for a point.
        kind: ``hole``, ``corner``, ``fold end``.
        form: of a hole, what kind it is, see :class:`Hole`.
        turn: of a hole, degrees its length is turned from the blank's.
    """

    what: str
    along: float
    across: float
    size: tuple[float, float] | None
    kind: str
    form: str = "round"
    turn: float = 0.0

    def place(self, blank: Blank, units: Units, striking: Striking = NEAREST) -> str:
        """Both distances, each from the edge it is struck from.

        Args:
            blank: the flat.
            units: what lengths are shown in.
            striking: what lines are struck from.
        """
        parts = []
        for value, span, names in (
            (self.along, blank.size[0], ("left", "right")),
            (self.across, blank.size[1], ("front", "back")),
        ):
            distance, edge = striking.edge(value, span, names)
            parts.append(
                tr("{shown} from {which}").format(
                    shown=shown(distance, units), which=EDGE_WORDS[edge]
                )
            )
        return ", ".join(parts)

    def with_size(self, units: Units) -> str:
        """What is there with its size: ``screw hole, ⌀ 1/8"``."""
        if self.size is None:
            return self.what
        return f"{self.what}, {opening_words(self.form, self.size, self.turn, units)}"


class BenchWork(StrEnum):
    """What is done at the bench."""

    BLANK = "blank"
    STIFFEN = "stiffen"
    DATUM = "datum"
    SCRIBE = "scribe"
    OPENINGS = "openings"
    SHADE = "shade"
    RELIEFS = "reliefs"
    NOTCHES = "notches"
    SLOTS = "slots"
    AFTER_BENDING = "after bending"
    JOIN = "join"


class BenchStep(NamedTuple):
    """A step of the work at the bench: what it is, and its sentence."""

    what: BenchWork
    text: str


@dataclass(frozen=True)
class Marking:
    """Everything a person needs to mark the blank without adding up.

    Attributes:
        along: running dimensions across the length, from the left edge.
        across: running dimensions across the width, from the front edge.
        scribe: settings, smallest first, each line from its nearest true edge; inside face first.
        points: holes and corners of slanted cuts, from the left and the front edge.
        work: what is done at the bench, in order.
        corners, edges: cuts that are said as a recipe, alike ones together; none of their points is
            among ``points``.
    """

    along: tuple[RunningDimension, ...]
    across: tuple[RunningDimension, ...]
    scribe: tuple[ScribeSetting, ...]
    points: tuple[MarkedPoint, ...]
    work: tuple[BenchStep, ...]
    corners: tuple[CornerRecipe, ...] = ()
    edges: tuple[EdgeRecipe, ...] = ()

    @property
    def steps(self) -> tuple[str, ...]:
        """The order of work at the bench, in sentences."""
        return tuple(step.text for step in self.work)

    @property
    def recipes(self) -> tuple[CornerRecipe | EdgeRecipe, ...]:
        """Every cut that is said as a recipe: corners, then notches within edges."""
        return (*self.corners, *self.edges)


@cached(16, lasts=True)
def mark_out(blank: Blank, units: Units = Units.MM, striking: Striking = NEAREST) -> Marking:  # noqa: C901, PLR0912
    """Running dimensions, scribe settings and points of a blank; the steps of work speak the units.

    Lines that run with the edges get settings; slanted folds and cuts get the points they run
    between. Kept for the last few: every picture of a flat asks.

    Args:
        blank: the flat.
        units: what lengths are shown in.
        striking: what lines are struck from.
    """
    lines: list[list[tuple[RunningDimension, str]]] = [[], []]
    points: list[MarkedPoint] = []
    for fold in blank.folds:
        axis = 0 if abs(fold.outward[0]) > 0.5 else 1
        if abs(fold.outward[axis]) > 1 - 1e-9:
            lines[axis].append(
                (
                    RunningDimension(
                        tr("{name} fold").format(name=fold.name), float(fold.start[axis]), "fold"
                    ),
                    fold.marked_on,
                )
            )
        else:
            ends = sorted((fold.start.tolist(), fold.end.tolist()))
            points += [
                MarkedPoint(tr("{name} fold").format(name=fold.name), x, y, None, "fold end")
                for x, y in ends
            ]
    for mark in blank.marks:
        if mark.kind not in MARKED:
            continue
        way = abs(mark.end - mark.start)
        if min(way) < SAME:
            axis = int(way[0] > way[1])
            lines[axis].append(
                (RunningDimension(mark.name, float(mark.start[axis]), mark.kind), "inside")
            )
        else:
            ends = sorted((mark.start.tolist(), mark.end.tolist()))
            points += [MarkedPoint(mark.name, x, y, None, "corner") for x, y in ends]
    recipes = corner_recipes(blank)
    corners = tuple(recipe for recipe in recipes if recipe.fits or recipe.pointed)
    edges = edge_recipes(blank)
    told = {number for corner in corners for number in corner.notches}
    told |= {number for edge in edges for number in edge.notches}
    for number, notch in enumerate(blank.notches):
        for axis, at in _cut_lines(blank, notch, number):
            lines[axis].append((RunningDimension(tr("notch line"), at, "cut"), "inside"))
        if number not in told:
            points += _slanted(blank, notch, number)
    for hole in sorted(blank.holes, key=lambda hole: (hole.size, hole.kind)):
        if hole.kind != "relief" and not hole.after_bending:
            x, y = hole.centre.tolist()
            points.append(MarkedPoint(hole.name, x, y, hole.size, "hole", hole.kind, hole.turn))
    spans: list[tuple[RunningDimension, ...]] = []
    struck: dict[tuple[float, str, str], set[str]] = {}
    for axis, (span, names) in enumerate(
        (((blank.size[0]), ("left", "right")), ((blank.size[1]), ("front", "back")))
    ):
        ends_ = [RunningDimension("edge", 0.0, "edge"), RunningDimension("edge", span, "edge")]
        unique: list[tuple[RunningDimension, str]] = []
        for line, face in sorted(lines[axis], key=lambda d: (d[0].at, d[0].kind)):
            if not any(
                abs(line.at - u.at) < SAME and line.kind == u.kind and face == f for u, f in unique
            ):
                unique.append((line, face))
        seen: list[RunningDimension] = []
        for line, _ in unique:
            if not any(abs(line.at - s.at) < SAME and line.kind == s.kind for s in seen):
                seen.append(line)
        from_far = striking.datum is not None and names[1] in striking.datum
        spans.append(
            tuple(
                replace(d, read=span - d.at if from_far else None)
                for d in (ends_[0], *seen, ends_[1])
            )
        )
        for line, face in unique:
            distance, edge = striking.edge(line.at, span, names)
            key = next(
                (
                    k
                    for k in struck
                    if abs(k[0] - distance) < SAME and k[1] == line.kind and k[2] == face
                ),
                (distance, line.kind, face),
            )
            struck.setdefault(key, set()).add(edge)
    order = ("left", "right", "front", "back")
    scribe = tuple(
        ScribeSetting(
            setting,
            kind,
            tuple(e for e in order if e in edges),
            face,
            setting > striking.reach + SAME,
        )
        for (setting, kind, face), edges in sorted(
            struck.items(), key=lambda item: (item[0][2] != "inside", item[0][0], item[0][1])
        )
    )
    return Marking(
        spans[0],
        spans[1],
        scribe,
        tuple(points),
        _steps(blank, units, striking, recipes),
        corners,
        edges,
    )


def _cut_lines(blank: Blank, notch: Notch, number: int) -> list[tuple[int, float]]:
    """Cuts that run with the edges of the rectangle: (axis, place)."""
    result: list[tuple[int, float]] = []
    # A slit no wider than a few thicknesses is cut along its fold line and needs no lines of its
    # own.
    slit = np.ptp(notch.waste.points, axis=0) < SLIT * blank.thickness
    for p, q in straight_sides(blank)[number]:
        for axis in (0, 1):
            if (
                abs(p[axis] - q[axis]) < 1e-6
                and not slit[axis]
                and math.dist(p, q) > SLIT * blank.thickness
            ):
                result.append((axis, (p[axis] + q[axis]) / 2))
    return result


def _slanted(blank: Blank, notch: Notch, number: int) -> list[MarkedPoint]:
    """Ends of cuts that run askew."""
    marked_points: list[MarkedPoint] = []
    for p, q in straight_sides(blank)[number]:
        if min(abs(p[0] - q[0]), abs(p[1] - q[1])) > 1e-6:
            for x, y in (p, q):
                if not any(
                    abs(f.along - x) < SAME and abs(f.across - y) < SAME for f in marked_points
                ):
                    marked_points.append(
                        MarkedPoint(tr("{name}, cut").format(name=notch.name), x, y, None, "corner")
                    )
    return marked_points


FILM_WORDS = {
    "inside": msg(
        "Film or finish lies on the inside face: keep it off bed and leaf, and scribe where it "
        "does not show."
    ),
    "outside": msg(
        "Film or finish lies on the outside face: keep it off bed and leaf, and scribe where it "
        "does not show."
    ),
}
"""What to mind of a film, by the face it is on."""

_STIFFEN = {
    ("cross-break",): msg("Cross-break while the sheet is flat"),
    ("bead",): msg("Roll the beads while the sheet is flat"),
    ("cross-break", "bead"): msg("Cross-break and roll the beads while the sheet is flat"),
}
"""What stiffens a panel comes before anything is cut to size."""


def _steps(
    blank: Blank, units: Units, striking: Striking, recipes: Sequence[CornerRecipe]
) -> tuple[BenchStep, ...]:
    """The order of work: what bends metal out of plane first, holes that stop a cut before the
    cut."""
    first = tr("Shear to size; both diagonals must measure the same.")
    kinds = {mark.kind for mark in blank.marks}
    stiff = tuple(kind for kind in ("cross-break", "bead") if kind in kinds)
    if blank.trim:
        first = tr("Shear {trim} larger all round; both diagonals must measure the same.").format(
            trim=show_length(blank.trim, units)
        )
    steps = [BenchStep(BenchWork.BLANK, first)]
    if stiff:
        then = tr("; then trim to size.") if blank.trim else "."
        steps.append(BenchStep(BenchWork.STIFFEN, f"{_STIFFEN[stiff]}{then}"))
    faces = {fold.marked_on for fold in blank.folds if fold.made_by is not MadeBy.HAND}
    if striking.datum is not None:
        datum = (
            tr(
                "Mark the {corner} corner on both faces: lines are struck from its two edges "
                "as far as the scribe reaches, "
                "those beyond from the opposite edges."
            )
            if striking.strike_from == "both ways"
            else tr(
                "Mark the {corner} corner on both faces: every line is struck from its two edges."
            )
        ).format(corner=choice_words(striking.datum))
        steps.append(BenchStep(BenchWork.DATUM, datum))
    over = tr("; turn the sheet over for the lines on the outside face.")
    scribe = tr("Scribe every setting from the edges named, inside face up")
    steps.append(BenchStep(BenchWork.SCRIBE, scribe + (over if "outside" in faces else ".")))
    steps += [BenchStep(BenchWork.OPENINGS, text) for text in opening_steps(blank, units)]
    if blank.notches:
        count = len(blank.notches)
        at_corners = sum(len(corner.notches) for corner in recipes)
        within = count - at_corners
        what = tr(" and ").join(
            [counted("{count} corner", "{count} corners", at_corners)] * (at_corners > 0)
            + [counted("{count} notch", "{count} notches", within)] * (within > 0)
        )
        shade = tr("Shade the {what} that will be cut away, and check them before the first cut.")
        steps.append(BenchStep(BenchWork.SHADE, shade.format(what=what)))
        if blank.reliefs:
            reliefs = tr(
                "Drill or punch the reliefs where the fold lines cross: every snip run ends in one."
            )
            steps.append(BenchStep(BenchWork.RELIEFS, reliefs))
        corners = [recipe.square for recipe in recipes]
        side = (
            max((s for s in corners if s is not None), default=None)
            if None not in corners and not within
            else None
        )
        notches = tr("Cut the notches {how}, up to the line, never past it. Deburr.").format(
            how=blank.small_tools.cuts_notches_with(blank.sheet, side)
        )
        steps.append(BenchStep(BenchWork.NOTCHES, notches))
    later = (
        (BenchWork.SLOTS, slot_steps(blank, units)),
        (BenchWork.AFTER_BENDING, late_steps(blank, units)),
        (BenchWork.JOIN, join_steps(blank, units)),
    )
    return (*steps, *(BenchStep(what, text) for what, texts in later for text in texts))
