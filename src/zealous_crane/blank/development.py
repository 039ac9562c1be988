"""Development: from the design tree to the flat.

All lengths are kept between *inside corners*: the lines where the inside faces of two panels would meet if
the bend were sharp. On the flat a bend line lies ``line_to_inside`` outside the inside corner of the panel it
bounds, and the tangent lines half an allowance to either side of it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend
from ..job import Job
from ..measure import INCH, Sum, Term, Units, show_length
from ..part import Design, Edge, Flange, Measured, ReliefShape
from .blank import Blank, Fold, Notch, Panel
from .notch import Cut, corner_cut
from .path import Path

Array = NDArray[np.float64]


class DevelopmentError(ValueError):
    """The part cannot be laid flat as written; the message says which size and what would do."""


@dataclass(frozen=True)
class _Side:
    """One edge of the base with what stands on it.

    Attributes:
        corner: centre of the base to the inside corner (or plain edge), mm.
        flange: what stands here, or None.
        bend: its bend, or None.
        inside_height: height of the flange above the inside face, mm.
        top: centre of the base to the free edge on the flat, mm.
    """

    edge: Edge
    corner: float
    flange: Flange | None = None
    bend: Bend | None = None
    inside_height: float = 0.0
    top: float = 0.0

    @property
    def line(self) -> float:
        return self.corner + (self.bend.line_to_inside if self.bend else 0.0)

    @property
    def tangent(self) -> float:
        return self.corner - (self.bend.inside_setback if self.bend else 0.0)


def develop(job: Job) -> Blank:
    """Develop a job into its blank.

    Raises:
        DevelopmentError: a size leaves no flat between two bends, or a relief does not reach its notch.
    """
    sheet = job.sheet
    design = job.part.design()
    sides = _sides(job, design)
    gap = design.corner.gap
    if gap is None:
        gap = _ceil(sheet.thickness, INCH / 64 if job.units.is_inch else 0.1)
    if gap < 0:
        raise DevelopmentError(f"The corner gap of {show_length(gap, job.units)} is less than nothing.")

    # The blank's lower left corner becomes the origin.
    origin = np.array([sides[Edge.LEFT].top, sides[Edge.FRONT].top])
    size = (sides[Edge.LEFT].top + sides[Edge.RIGHT].top, sides[Edge.FRONT].top + sides[Edge.BACK].top)

    cuts = {edge: _cut(job, design, sides, edge, gap) for edge in Edge}
    outline = _outline(sides, cuts, origin)
    panels, folds = _tree(job, sides, cuts, gap, origin)
    notches = tuple(
        _notch(sides, edge, cut, design.corner.relief.shape, origin) for edge, cut in cuts.items() if cut is not None
    )
    return Blank(
        sheet=sheet,
        size=size,
        outline=outline,
        panels=panels,
        folds=folds,
        notches=notches,
        sums=_sums(job, design, sides, gap, cuts),
        doubts=_doubts(job, design, sides),
    )


def _ceil(value: float, tick: float) -> float:
    return math.ceil(value / tick - 1e-9) * tick


def _bend(job: Job, flange: Flange) -> Bend:
    radius = flange.radius if flange.radius is not None else job.inside_radius
    return job.chosen_school.bend(abs(flange.angle), radius, job.sheet.thickness)


def _flat_height(flange: Flange, bend: Bend, job: Job) -> float:
    """Inside height of a flange: from the carrying panel's inside corner to its free edge, mm."""
    outside = bend.outside_setback - bend.inside_setback if flange.measured is Measured.OUTSIDE else 0.0
    height = flange.height - outside
    needed = bend.inside_setback
    if height - needed <= 0:
        raise DevelopmentError(
            f"{flange.name or flange.edge}: {show_length(flange.height, job.units)} {flange.measured} leaves no flat "
            f"beyond the bend. It needs more than {show_length(needed + outside, job.units)}."
        )
    return height


def _sides(job: Job, design: Design) -> dict[Edge, _Side]:
    by_edge = {flange.edge: flange for flange in design.flanges}
    bends = {edge: _bend(job, flange) for edge, flange in by_edge.items()}
    sides: dict[Edge, _Side] = {}
    for edge in Edge:
        span = design.base.width if edge.along_length else design.base.length
        if design.base.measured is Measured.OUTSIDE:
            # Each standing wall takes its outside corner's offset from the outside size.
            for other in (e for e in by_edge if e.along_length == edge.along_length):
                span -= bends[other].outside_setback - bends[other].inside_setback
        across = [bends[e].inside_setback for e in bends if e.along_length == edge.along_length]
        if span - sum(across) <= 0:
            word = "width" if edge.along_length else "length"
            written = design.base.width if edge.along_length else design.base.length
            raise DevelopmentError(
                f"The {word} of {show_length(written, job.units)} leaves no flat between its bends. "
                f"It needs more than {show_length(written - span + sum(across), job.units)}."
            )
        corner = span / 2
        flange = by_edge.get(edge)
        if flange is None:
            sides[edge] = _Side(edge, corner, top=corner)
            continue
        bend = bends[edge]
        height = _flat_height(flange, bend, job)
        top = corner + bend.gain + height + _lips_height(job, flange)
        sides[edge] = _Side(edge, corner, flange, bend, height, top)
    return sides


def _lips_height(job: Job, flange: Flange) -> float:
    """Flat length of everything on the free edge of a flange, mm."""
    total = 0.0
    for lip in flange.flanges:
        bend = _bend(job, lip)
        total += bend.gain + _flat_height(lip, bend, job) + _lips_height(job, lip)
    return total


def _neighbours(edge: Edge) -> tuple[Edge, Edge]:
    order = list(Edge)
    return order[(edge.turn - 1) % 4], order[(edge.turn + 1) % 4]


def _cut(job: Job, design: Design, sides: dict[Edge, _Side], edge: Edge, gap: float) -> Cut | None:
    """The notch between this edge and the next one counter-clockwise, in their shared corner frame."""
    here, there = sides[edge], sides[_neighbours(edge)[1]]
    if here.bend is None or there.bend is None:
        return None
    try:
        return corner_cut(
            corner=(there.corner, here.corner),
            line=(there.line, here.line),
            top=(there.top, here.top),
            bends=(there.bend, here.bend),
            gap=gap,
            relief=design.corner.relief,
            tick=INCH / 64 if job.units.is_inch else 0.5,
            units=job.units,
        )
    except ValueError as error:
        raise DevelopmentError(str(error)) from None


def _to_flat(edge: Edge, origin: Array, along: float, out: float) -> Array:
    """A point given along an edge (counter-clockwise) and outwards from the centre, on the flat."""
    n = [(0.0, -1.0), (1.0, 0.0), (0.0, 1.0), (-1.0, 0.0)][edge.turn]
    t = (-n[1], n[0])
    placed: Array = origin + np.array([along * t[0] + out * n[0], along * t[1] + out * n[1]])
    return placed


def _outline(sides: dict[Edge, _Side], cuts: dict[Edge, Cut | None], origin: Array) -> Path:
    points: list[Array] = []
    bulges: list[float] = []
    for edge in Edge:
        cut = cuts[edge]
        if cut is None:
            corner = (sides[_neighbours(edge)[1]].top, sides[edge].top)
            points.append(_to_flat(edge, origin, *corner))
            bulges.append(0.0)
            continue
        for along, out, bulge in cut.path:
            points.append(_to_flat(edge, origin, along, out))
            bulges.append(bulge)
    return Path(np.array(points), np.array(bulges))


def _notch(sides: dict[Edge, _Side], edge: Edge, cut: Cut, shape: ReliefShape, origin: Array) -> Notch:
    following = _neighbours(edge)[1]
    points = [_to_flat(edge, origin, along, out) for along, out, _ in cut.path]
    bulges = [bulge for _, _, bulge in cut.path]
    far = _to_flat(edge, origin, sides[following].top, sides[edge].top)
    # The waste lies on the other side of the cut, so its path runs backwards.
    back = Path(np.array([far, *reversed(points)]), np.array([0.0, *(-b for b in reversed(bulges[:-1])), 0.0]))
    return Notch(
        name=f"{edge} {following} corner",
        waste=back,
        point=_to_flat(edge, origin, *cut.point),
        centre=_to_flat(edge, origin, *cut.centre),
        relief=shape.value,
        size=cut.size,
    )


def _tree(
    job: Job, sides: dict[Edge, _Side], cuts: dict[Edge, Cut | None], gap: float, origin: Array
) -> tuple[tuple[Panel, ...], tuple[Fold, ...]]:
    reach = {edge: sides[edge].tangent for edge in Edge}
    left, right, front, back = (reach[e] for e in (Edge.LEFT, Edge.RIGHT, Edge.FRONT, Edge.BACK))
    base = origin + np.array([(-left, -front), (right, -front), (right, back), (-left, back)])
    panels = [Panel("base", base)]
    folds: list[Fold] = []
    for edge in Edge:
        side = sides[edge]
        if side.flange is None or side.bend is None:
            continue
        before, after = _neighbours(edge)
        ends = (
            -sides[before].corner + (gap if sides[before].bend else 0.0),
            sides[after].corner - (gap if sides[after].bend else 0.0),
        )
        # The line ends where the relief begins: the cut at its start belongs to the edge before.
        at_start, at_end = cuts[before], cuts[edge]
        line_ends = (
            ends[0] if at_start is None else max(ends[0], -at_start.line_end[0]),
            ends[1] if at_end is None else min(ends[1], at_end.line_end[1]),
        )
        if line_ends[1] - line_ends[0] <= 0:
            raise DevelopmentError(f"The corner notches leave no fold on the {edge} edge. Make the gap or relief smaller.")
        _branch(job, panels, folds, side.flange, edge, origin, (ends, line_ends), 0, side.line, side.bend, 1)
    return tuple(panels), tuple(folds)


def _branch(
    job: Job,
    panels: list[Panel],
    folds: list[Fold],
    flange: Flange,
    edge: Edge,
    origin: Array,
    spans: tuple[tuple[float, float], tuple[float, float]],
    parent: int,
    line: float,
    bend: Bend,
    level: int,
) -> None:
    """Add one flange and what it carries; ``line`` is the bend line's distance from the base's centre."""
    ends, line_ends = spans
    near = line + bend.allowance / 2
    height = _flat_height(flange, bend, job) - bend.inside_setback
    lip = flange.flanges[0] if flange.flanges else None
    lip_bend = _bend(job, lip) if lip else None
    far = near + height - (lip_bend.inside_setback if lip_bend else 0.0)
    if far <= near:
        raise DevelopmentError(f"{flange.name or flange.edge}: no flat is left between its two bends. Make it higher.")
    polygon = np.array(
        [_to_flat(edge, origin, a, o) for a, o in ((ends[0], near), (ends[0], far), (ends[1], far), (ends[1], near))]
    )
    name = flange.name or (f"{edge} wall" if level == 1 else f"{edge} lip")
    panels.append(Panel(name, polygon))
    outward = _to_flat(edge, np.zeros(2), 0.0, 1.0)
    folds.append(
        Fold(
            name=name,
            parent=parent,
            child=len(panels) - 1,
            start=_to_flat(edge, origin, line_ends[0], line),
            end=_to_flat(edge, origin, line_ends[1], line),
            outward=outward,
            angle=flange.angle,
            bend=bend,
        )
    )
    if lip and lip_bend:
        lip_line = far + lip_bend.allowance / 2
        _branch(job, panels, folds, lip, edge, origin, (ends, ends), len(panels) - 1, lip_line, lip_bend, level + 1)


def _sums(job: Job, design: Design, sides: dict[Edge, _Side], gap: float, cuts: dict[Edge, Cut | None]) -> tuple[Sum, ...]:
    school = job.chosen_school
    sums = [
        _span_sum("Blank length", "length", design.base.length, design, (sides[Edge.LEFT], sides[Edge.RIGHT]), school.source),
        _span_sum("Blank width", "width", design.base.width, design, (sides[Edge.FRONT], sides[Edge.BACK]), school.source),
    ]
    for edge in Edge:
        side = sides[edge]
        if side.bend is None or side.flange is None or side.flange.flanges:
            continue
        sums.append(
            Sum(
                f"{edge.capitalize()} fold line from the {edge} edge",
                (Term("wall, inside height", side.inside_height), Term("half the gain of the bend", side.bend.gain / 2)),
                "The line lies in the middle of the allowance.",
            )
        )
        sums.append(
            Sum(
                f"{edge.capitalize()} notch line from the {edge} edge",
                (
                    Term("wall, inside height", side.inside_height),
                    Term("gain of the bend", side.bend.gain),
                    Term("corner gap", gap if any(cuts[e] for e in (edge, _neighbours(edge)[0])) else 0.0),
                ),
                "Each wall ends short of its neighbour's inside face by the gap.",
            )
        )
    cut = next((c for c in cuts.values() if c is not None and c.size), None)
    if cut is not None:
        sums.append(Sum("Corner relief", (Term("diameter or side", cut.size),), cut.rule))
    return tuple(sums)


def _span_sum(what: str, word: str, written: float, design: Design, pair: tuple[_Side, _Side], source: str) -> Sum:
    terms = [Term(f"{design.base.measured} {word}", written)]
    walls = [side for side in pair if side.bend is not None and side.flange is not None]
    if design.base.measured is Measured.OUTSIDE:
        for side in walls:
            assert side.bend is not None
            terms.append(Term("outside corner to inside corner", side.bend.outside_setback - side.bend.inside_setback, -1))
    for side in walls:
        terms.append(Term("wall, inside height", side.inside_height))
    for side in walls:
        assert side.bend is not None
        terms.append(Term("gain of the bend (BA − 2·r·tan θ/2)", side.bend.gain))
    lips = sum(side.top - side.corner - side.inside_height - (side.bend.gain if side.bend else 0.0) for side in walls)
    terms.append(Term("lips", lips))
    merged: list[Term] = []
    for term in terms:
        same = next((t for t in merged if t.what == term.what and abs(t.value - term.value) < 1e-9), None)
        if same is not None:
            merged[merged.index(same)] = Term(same.what, same.value, same.count + term.count)
        else:
            merged.append(term)
    return Sum(what, tuple(t for t in merged if abs(t.value) > 1e-9), source)


def _doubts(job: Job, design: Design, sides: dict[Edge, _Side]) -> tuple[str, ...]:
    sheet = job.sheet
    said: list[str] = []
    doubt = job.chosen_school.doubt(sheet.thickness, job.inside_radius)
    if doubt:
        said.append(doubt)
    least = sheet.metal.least_radius * sheet.thickness
    if job.inside_radius < least - 1e-9:
        said.append(
            f"{sheet.metal.name} may crack folded at {show_length(job.inside_radius, Units.MM)} inside radius; "
            f"about {show_length(least, Units.MM)} is safe across the grain."
        )
    walls = [side for side in sides.values() if side.bend is not None]
    if design.corner.relief.shape is ReliefShape.NONE and len(walls) > 1 and job.inside_radius > 0:
        said.append(
            "With no relief, two folds share metal at each inner corner and will bunch or tear. "
            "Choose a round or a square relief."
        )
    return tuple(said)
