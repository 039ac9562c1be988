"""A flat drawn elsewhere becomes a blank like any other: cut into panels along its fold lines."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry
from shapely.geometry.polygon import orient

from .._typing import Array
from ..i18n import msg, the_first, tr
from ..job.job import Job
from ..metal.bend import Bend
from ..part.drawn_flat import DrawnFlat, DrawnFold
from ..units.length import show_length
from ..units.sums import Sum, SumKind, Term
from .blank import Blank
from .checks import FlatCheck
from .element import Bends, DevelopmentError, MadeBy
from .features import Crease, Fold, Hole, MarkLine, Notch, Panel
from .path import ClosedPath
from .ring import less

EDGE = 2e-3
"""mm; nearer to its edge than this, metal is not counted when a fold line is drawn out."""

JOINT = 0.6
"""Part of the reach by which the strips of folds that meet within the metal overlap there."""

SPLIT = 1e-4
"""mm; a sharp fold takes out a strip this wide, so that its two panels come apart."""


@dataclass(frozen=True)
class _Line:
    fold: DrawnFold
    bend: Bend
    start: Array
    end: Array
    over: tuple[float, float] = (0.0, 0.0)

    @property
    def along(self) -> Array:
        way = self.end - self.start
        unit: Array = way / np.hypot(*way)
        return unit

    def strip(self, half: float) -> shapely.Polygon:
        side = np.array([-self.along[1], self.along[0]]) * half
        start, end = self.start - self.along * self.over[0], self.end + self.along * self.over[1]
        return shapely.Polygon([start - side, end - side, end + side, start + side])


def _path(corners: tuple[tuple[float, float, float], ...]) -> ClosedPath:
    array = np.array(corners, dtype=float)
    path = ClosedPath(array[:, :2], array[:, 2])
    if path.area < 0:
        path = ClosedPath(path.points[::-1], -np.roll(path.bulges[::-1], -1))
    return path


def develop_drawing(job: Job, drawing: DrawnFlat) -> Blank:
    """Cut a drawn flat into panels along its fold lines.

    Raises:
        DevelopmentError: an outline that crosses itself, a hole outside it, a fold line that ends
            within the metal or lies outside it, folds that cross or close a ring.
    """
    outline = _path(drawing.outline)
    rough = shapely.Polygon(outline.flattened(math.radians(2)))
    if not rough.is_valid or rough.area < 1e-6:
        raise DevelopmentError(tr("The outline of the drawing crosses itself or encloses nothing."))
    move = -outline.flattened().min(axis=0)
    outline = outline.moved(move)
    fine: BaseGeometry = shapely.Polygon(outline.flattened(math.radians(2)))
    metal: BaseGeometry = shapely.Polygon(outline.containing())
    within = metal.buffer(1e-6)
    shapely.prepare(within)
    holes = tuple(
        replace(_hole(i, _path(h).moved(move), within), after_bending=i > len(drawing.holes))
        for i, h in enumerate([*drawing.holes, *drawing.holes_later], start=1)
    )
    ends = shapely.MultiPoint([np.add(p, move) for f in drawing.folds for p in (f.start, f.end)])
    relieving = [
        shape
        for hole in holes
        if (shape := shapely.Polygon(hole.path.flattened())).distance(ends) < 0.05
    ]
    if relieving:
        # Folds may end in holes: there they are reliefs.
        reliefs = shapely.union_all(relieving)
        fine, metal = shapely.difference(fine, reliefs), shapely.difference(metal, reliefs)
    bends = Bends(job)
    lines = _joined([_line(job, bends, fold, move, fine, drawing.folds) for fold in drawing.folds])
    panels, folds, strips = _panels(lines, metal)
    creases = tuple(
        Crease(_called(line), line.start, line.end, line.fold.angle)
        for line in lines
        if line.fold.crease
    )
    size = outline.flattened().max(axis=0)
    marks = tuple(
        MarkLine(tr("spot weld"), np.array([a, b]) + move, np.array([c, d]) + move, "spot")
        if (a, b) == (c, d)
        else MarkLine("mark", np.array([a, b]) + move, np.array([c, d]) + move, "drawn")
        for a, b, c, d in drawing.marks
    )
    blank = Blank(
        sheet=job.sheet,
        small_tools=job.small_tools,
        school=job.chosen_school,
        size=(float(size[0]), float(size[1])),
        outline=outline,
        panels=panels,
        folds=folds,
        notches=_waste(outline, metal, size),
        sums=(
            Sum(
                msg("Blank length"),
                (Term(msg("as drawn"), float(size[0])),),
                msg("Taken from the drawing."),
                SumKind.BLANK,
            ),
            Sum(
                msg("Blank width"),
                (Term(msg("as drawn"), float(size[1])),),
                msg("Taken from the drawing."),
                SumKind.BLANK,
            ),
        ),
        holes=holes,
        creases=creases,
        marks=marks,
    )
    return replace(blank, look=FlatCheck(job, blank, strips))


def _hole(i: int, path: ClosedPath, within: BaseGeometry) -> Hole:
    shape = shapely.Polygon(path.flattened())
    if not shape.is_valid or shape.area < 1e-9:
        raise DevelopmentError(tr("Hole {i} of the drawing crosses itself.").format(i=i))
    if not within.contains(shape):
        raise DevelopmentError(
            tr("Hole {i} of the drawing does not lie inside the outline.").format(i=i)
        )
    if path.circle is not None:
        centre, radius = path.circle
        return Hole(f"hole {i}", path, centre, "round", (2 * radius, 2 * radius))
    low, high = shape.bounds[:2], shape.bounds[2:]
    return Hole(
        f"hole {i}",
        path,
        np.array(shape.centroid.coords[0]),
        "other",
        (high[0] - low[0], high[1] - low[1]),
    )


def _line(
    job: Job,
    bends: Bends,
    fold: DrawnFold,
    move: Array,
    metal: BaseGeometry,
    all_folds: tuple[DrawnFold, ...],
) -> _Line:
    """The fold with its bend, drawn on to the edge of the metal where it stops just short of it."""
    hemmed = fold.radius is None and 150 < abs(fold.angle) <= 180
    start, end = np.array(fold.start) + move, np.array(fold.end) + move
    name = (
        fold.name
        or f"fold at {show_length(float(start[0]), job.units)}, "
        f"{show_length(float(start[1]), job.units)}"
    )
    bend = bends.of(fold.angle, 0.0 if hemmed else fold.radius, name)
    if fold.crease or fold.ear:
        # Ears are creased sharp by hand and use no metal.
        bend = Bend(
            abs(fold.angle), 0.0, bend.thickness, 2 * bend.thickness if bend.folded_back else 0.0
        )
    along = (end - start) / np.hypot(*(end - start))
    reach = 1e-6 + 2 * (bend.radius + bend.thickness) + bend.allowance + 1.0
    long = shapely.LineString([start - along * reach, end + along * reach])
    # A line along the very edge of the metal is not inside it.
    met = long.intersection(metal.buffer(-EDGE))
    inside = [g for g in getattr(met, "geoms", [met]) if g.length > 1e-6]
    drawn = shapely.LineString([start, end]).buffer(1e-6)
    mine = [g for g in inside if g.intersection(drawn).length > 1e-4]
    if not mine:
        raise DevelopmentError(tr("{name} lies outside the outline.").format(name=the_first(name)))
    at = np.concatenate([(shapely.get_coordinates(g) - start) @ along for g in mine])
    low, high = float(at.min()), float(at.max())
    length = float(np.hypot(*(end - start)))
    if low <= -reach + 1e-6 or high >= length + reach - 1e-6:
        others = shapely.union_all(
            [
                shapely.LineString([np.add(f.start, move), np.add(f.end, move)])
                for f in all_folds
                if f is not fold
            ]
        )
        for end_at, limit, place in ((low, -reach, fold.start), (high, length + reach, fold.end)):
            if abs(end_at - limit) >= 1e-6:
                continue
            if others.is_empty or others.distance(shapely.Point(place + move)) > reach:
                raise DevelopmentError(
                    tr(
                        "{name} ends within the metal; draw it to the edge, to a relief or to "
                        "another fold."
                    ).format(name=the_first(name))
                )
        # Where folds meet without a relief the strip goes just as far as it is drawn.
        low, high = (
            (0.0 if low <= -reach + 1e-6 else low),
            (length if high >= length + reach - 1e-6 else high),
        )
        return _Line(
            fold, bend, start + along * low, start + along * high, (JOINT * reach, JOINT * reach)
        )
    # The strip that parts the panels reaches halfway over the gap that follows: round reliefs curve
    # away from its corners.
    spans = [(shapely.get_coordinates(g) - start) @ along for g in inside]
    before = max((float(s.max()) for s in spans if s.max() < low - 1e-6), default=low - 2 * reach)
    after = min((float(s.min()) for s in spans if s.min() > high + 1e-6), default=high + 2 * reach)
    over = (min(reach, (low - before) / 2), min(reach, (after - high) / 2))
    return _Line(fold, bend, start + along * low, start + along * high, over)


def _joined(lines: list[_Line]) -> list[_Line]:
    """Pieces of one bend line, cut up by slots or notches, stay pieces; doubled ones become one."""
    kept: list[_Line] = []
    for line in lines:
        double = any(
            (
                np.allclose(line.start, k.start, atol=0.01)
                and np.allclose(line.end, k.end, atol=0.01)
            )
            or (
                np.allclose(line.start, k.end, atol=0.01)
                and np.allclose(line.end, k.start, atol=0.01)
            )
            for k in kept
        )
        if not double:
            kept.append(line)
    return kept


def _panels(
    lines: list[_Line], metal: BaseGeometry
) -> tuple[tuple[Panel, ...], tuple[Fold, ...], tuple[Array, ...]]:
    strips = [line.strip(max(line.bend.allowance / 2, SPLIT)) for line in lines]
    left = less(metal, shapely.union_all(strips)) if strips else metal
    # Crumbs are left where strips meet within the metal; they are no panels.
    plain = [line.bend for line in lines if not line.bend.folded_back]
    small = 1e-3 + max(((2 * (bend.thickness + bend.radius)) ** 2 for bend in plain), default=0.0)
    pieces = [
        orient(g)
        for g in getattr(left, "geoms", [left])
        if g.geom_type == "Polygon" and g.area > small
    ]
    pieces.sort(key=lambda g: -g.area)
    sides: list[tuple[int, int]] = []
    for line in lines:
        out = np.array([-line.along[1], line.along[0]])
        off = max(line.bend.allowance / 2, SPLIT) + 1e-3
        result: list[int] = []
        for way in (1, -1):
            votes: dict[int, float] = {}
            probe = shapely.LineString([line.start + out * off * way, line.end + out * off * way])
            for k, piece in enumerate(pieces):
                shared = probe.intersection(piece).length
                if shared > 1e-6:
                    votes[k] = shared
            if not votes:
                raise DevelopmentError(
                    tr("{line} has metal on one side only.").format(line=the_first(_called(line)))
                )
            result.append(max(votes, key=lambda k: votes[k]))
        if result[0] == result[1]:
            raise DevelopmentError(
                tr(
                    "{line} does not part the metal: it must run from edge to edge, or from "
                    "relief to relief."
                ).format(line=the_first(_called(line)))
            )
        sides.append((result[0], result[1]))
    return _tree(lines, strips, pieces, sides)


def _called(line: _Line) -> str:
    return (
        line.fold.name
        or f"fold of {abs(line.fold.angle):g}° near {line.start[0]:.1f}, {line.start[1]:.1f} mm"
    )


def _tree(  # noqa: C901
    lines: list[_Line],
    strips: list[shapely.Polygon],
    pieces: list[shapely.Polygon],
    sides: list[tuple[int, int]],
) -> tuple[tuple[Panel, ...], tuple[Fold, ...], tuple[Array, ...]]:
    order, names = [0], {0: "base"}
    folds: list[Fold] = []
    used: set[int] = set()
    kept: list[Array] = []
    at = 0
    while at < len(order):
        here = order[at]
        for i, (a, b) in enumerate(sides):
            if i in used or here not in (a, b) or lines[i].fold.crease:
                continue
            other = b if here == a else a
            line = lines[i]
            if other in names:
                if not _continues(line, folds, order, here, other):
                    raise DevelopmentError(
                        tr(
                            "{line} closes a ring of panels; such a part cannot be bent as drawn."
                        ).format(line=the_first(_called(line)))
                    )
                used.add(i)
                continue
            used.add(i)
            order.append(other)
            name = line.fold.name or f"panel {len(order)}"
            while name in names.values():
                name += " 2"
            names[other] = name
            out = np.array([-line.along[1], line.along[0]])
            out = out if here == b else -out
            start, end = line.start, line.end
            # A fold cut up by slots is one fold from its first to its last metal.
            for j, pair in enumerate(sides):
                if j not in used and set(pair) == {a, b} and _in_line(line, lines[j]):
                    used.add(j)
                    at_all = [start, end, lines[j].start, lines[j].end]
                    along = [float((p - line.start) @ line.along) for p in at_all]
                    start, end = at_all[int(np.argmin(along))], at_all[int(np.argmax(along))]
            made = (
                MadeBy.HEM
                if abs(line.fold.angle) > 150 and abs(line.fold.angle) <= 180
                else MadeBy.BRAKE
            )
            made = MadeBy.TOOL if abs(line.fold.angle) > 180 else made
            made = MadeBy.HAND if line.fold.ear else made
            folds.append(
                Fold(name, at, len(order) - 1, start, end, out, line.fold.angle, line.bend, made)
            )
            if line.bend.allowance > 1e-9:
                side = np.array([-line.along[1], line.along[0]]) * line.bend.allowance / 2
                kept.append(np.array([start - side, end - side, end + side, start + side]))
        at += 1
    if len(order) < len(pieces):
        raise DevelopmentError(
            tr(
                "The fold lines leave metal that hangs on no fold; look for a fold line that is "
                "missing or too short."
            )
        )
    panels = tuple(Panel(names[k], np.array(pieces[k].exterior.coords)[:-1]) for k in order)
    return panels, tuple(folds), tuple(kept)


def _in_line(one: _Line, other: _Line) -> bool:
    off = other.start - one.start
    across = abs(float(off[0] * one.along[1] - off[1] * one.along[0]))
    return (
        across < 0.01
        and abs(float(one.along @ other.along)) > 1 - 1e-6
        and one.fold.angle == other.fold.angle
    )


def _continues(line: _Line, folds: list[Fold], order: list[int], here: int, other: int) -> bool:
    """True when the two panels are already joined by a fold on the same line."""
    pair = {order.index(here), order.index(other)}
    return any(
        {f.parent, f.child} == pair
        and abs(float((line.start - f.start) @ f.outward)) < 0.01
        and abs(float((line.end - f.start) @ f.outward)) < 0.01
        for f in folds
    )


def _waste(outline: ClosedPath, metal: BaseGeometry, size: Array) -> tuple[Notch, ...]:
    rest = less(shapely.box(0, 0, float(size[0]), float(size[1])), metal)
    made = []
    drawn = {tuple(corner) for corner in np.round(outline.points, 5)}
    for k, piece in enumerate(
        g for g in getattr(rest, "geoms", [rest]) if g.geom_type == "Polygon" and g.area > 1e-3
    ):
        path = ClosedPath.polygon(np.array(orient(piece).exterior.coords)[:-1])
        p = path.points
        inside = (p > 1e-6).all(axis=1) & (p < size - 1e-6).all(axis=1)
        corners = p[inside]
        # Only corners of the drawn outline are worth marking, not the chords of its arcs.
        real = [c for c in corners if tuple(np.round(c, 5)) in drawn]
        made.append(Notch(f"waste {k + 1}", path, np.array(real).reshape(-1, 2)))
    return tuple(made)
