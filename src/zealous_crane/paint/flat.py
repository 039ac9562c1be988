"""The flat blank: metal under layout blue, scribed lines, waste shaded as a careful hand shades
it."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from PySide6.QtCore import QLineF, QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from ..flat.blank import Blank
from ..flat.corner_instructions import CornerRecipe
from ..flat.features import JoinedRow, MarkLine
from ..flat.marking import RunningDimension, ScribeSetting, mark_out
from ..flat.path import ClosedPath
from ..flat.ruler import NEAREST, Striking, shown
from ..part.hole import Drilled
from ..units.length import Units, show_length
from .frame import Scale, first_free, paint_arrow, paint_tag, tag_room
from .theme import Theme, pixels, shaped


@dataclass(frozen=True)
class FlatOptions:
    """What is shown on the flat.

    Attributes:
        dimensions: running dimensions along both edges.
        numbers: place in the bend order by fold index; empty shows the fold's angle alone.
        text: height of figures, painter units.
        striking: where the running dimensions begin.
        lit: the scribe setting whose lines stand out; None for none.
        tags: every fold carries the drawing of its angle.
    """

    dimensions: bool = True
    numbers: Mapping[int, int] | None = None
    text: float = 14.0
    striking: Striking = NEAREST
    lit: ScribeSetting | None = None
    tags: bool = True


def painter_path(path: ClosedPath, scale: Scale) -> QPainterPath:
    """A closed path with true arcs."""
    made = QPainterPath()
    corners = [scale.at(x, y) for x, y in path.points.tolist()]
    made.moveTo(*corners[0])
    for i, bulge in enumerate(path.bulges.tolist()):
        arc = path.arc(i) if bulge else None
        if arc is None:
            made.lineTo(*corners[(i + 1) % len(corners)])
        else:
            centre, radius, start, sweep = arc
            (x, y), r = scale.at(*centre.tolist()), radius * scale.factor
            # Painter angles run counter-clockwise on a page whose y points down, as ours do with y
            # up.
            made.arcTo(x - r, y - r, 2 * r, 2 * r, math.degrees(start), math.degrees(sweep))
    made.closeSubpath()
    return made


def paint_flat(
    p: QPainter, rect: QRectF, blank: Blank, units: Units, look: Theme, options: FlatOptions
) -> Scale:
    """Draw the blank into ``rect``; returns the scale used.

    Args:
        p: the painter.
        rect: where it is drawn.
        blank: the flat.
        units: what lengths are shown in.
        look: the colours.
        options: what is shown of it.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    text, rows = options.text, 1
    inner = rect.adjusted(text * 0.6, text * 0.8, -text * 0.6, -text * 0.6)
    if options.dimensions:
        marking = mark_out(blank, units, options.striking)
        p.setFont(pixels(text))
        along, across = (
            _figured(p, dimensions, units) for dimensions in (marking.along, marking.across)
        )
        inner, rows = _room_for(rect, blank, along, across, text)
    scale = Scale.fitting((0, 0), blank.size, inner)
    sheet = QRectF(scale.point(0, blank.size[1]), scale.point(blank.size[0], 0))
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(look.color("layout", 255))
    p.drawRect(sheet)
    p.setBrush(Qt.BrushStyle.NoBrush)
    _cut(p, blank, scale, look, text)
    _drawn(p, blank, scale, look, text)
    if options.lit is not None:
        _lit(p, blank, scale, options.lit, look)
    taken = _names(p, blank, scale, look, text, look.layout == "#ffffff")
    if options.tags:
        _tags(p, blank, scale, sheet, look, options, taken)
    if options.dimensions:
        p.setFont(pixels(text))
        _run_along(p, along, scale, sheet, look, text, rows)
        _run_across(p, across, scale, sheet, look, text)
    p.restore()
    return scale


def struck_lines(
    blank: Blank, setting: ScribeSetting
) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Both ends (mm) of every line a scribe setting strikes, as far as the blank goes.

    Args:
        blank: the flat.
        setting: of the scribe.
    """
    length, width, at = float(blank.size[0]), float(blank.size[1]), setting.setting
    lines = {
        "left": ((at, 0.0), (at, width)),
        "right": ((length - at, 0.0), (length - at, width)),
        "front": ((0.0, at), (length, at)),
        "back": ((0.0, width - at), (length, width - at)),
    }
    return [lines[edge] for edge in setting.edges]


def _lit(p: QPainter, blank: Blank, scale: Scale, setting: ScribeSetting, look: Theme) -> None:
    """The lines of one scribe setting, over everything drawn of the metal."""
    p.setPen(QPen(look.color("waste"), 4))
    for start, end in struck_lines(blank, setting):
        p.drawLine(scale.point(*start), scale.point(*end))


class Figured(NamedTuple):
    """A running dimension with its figure, and how wide that is in painter units."""

    dimension: RunningDimension
    figure: str
    wide: float


def _figured(p: QPainter, dimensions: Sequence[RunningDimension], units: Units) -> list[Figured]:
    """Dimensions with their figures in the font that is set."""
    letters = p.fontMetrics()
    # Millimetres are understood on a drawing; the inch mark keeps 8 from being read as millimetres.
    figures = [show_length(d.figure, units, mark=units.is_inch, pretty=True) for d in dimensions]
    return [
        Figured(d, figure, letters.horizontalAdvance(figure))
        for d, figure in zip(dimensions, figures, strict=True)
    ]


def _widest(dimensions: Sequence[Figured]) -> float:
    return max(one.wide for one in dimensions)


def _room_for(
    rect: QRectF, blank: Blank, along: Sequence[Figured], across: Sequence[Figured], text: float
) -> tuple[QRectF, int]:
    """What is left for the sheet beside its dimensions, and in how many rows those below it are
    written."""
    # Room for the widest figure at the left, and half of it past the right corner.
    wide = _widest(across)
    needed = (len(along) - 1) * _room_along(along, text)
    inner, rows = rect, 1
    for rows in range(1, MOST_ROWS + 1):
        below = text * (3.6 + STAGGER * (rows - 1))
        inner = rect.adjusted(wide + text * 2.4, text * 0.8, -wide * 0.6 - text * 0.4, -below)
        # Figures that do not fit side by side below the sheet, and a little left of it, are
        # staggered.
        if needed / rows <= Scale.fitting((0, 0), blank.size, inner).factor * blank.size[0] + wide:
            break
    return inner, rows


def _cut(p: QPainter, blank: Blank, scale: Scale, look: Theme, text: float) -> None:
    """What is cut: notches and holes hatched, and the outline that is left."""
    for notch in blank.notches:
        shade(p, painter_path(notch.waste, scale), look, text)
    p.setPen(QPen(look.color("scribe"), max(1.2, text * 0.12)))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(painter_path(blank.outline, scale))
    for opening in blank.openings:
        path = painter_path(opening, scale)
        shade(p, path, look, text)
        p.setPen(QPen(look.color("scribe"), max(1.0, text * 0.1)))
        p.drawPath(path)
    # What is cut only when the part is bent is no waste yet: dashed, and not hatched.
    p.setPen(QPen(look.color("scribe"), max(1.0, text * 0.1), Qt.PenStyle.DashLine))
    for opening in blank.openings_later:
        p.drawPath(painter_path(opening, scale))
    for hole in blank.holes:
        if hole.kind not in ("relief", "fold slot"):
            _cross(p, scale.point(*hole.centre), text * 0.35)


def _drawn(p: QPainter, blank: Blank, scale: Scale, look: Theme, text: float) -> None:
    """What is only marked: marks, rows on the panel behind, creases, fold lines, centres of
    reliefs."""
    for mark in blank.marks:
        _mark(p, mark, scale, look, text)
    for row in blank.rows:
        if row.drilled is Drilled.THROUGH:
            _behind(p, row, scale, look, text)
    p.setPen(QPen(look.color("scribe"), max(1.0, text * 0.08), Qt.PenStyle.DashDotLine))
    for crease in blank.creases:
        p.drawLine(scale.point(*crease.start), scale.point(*crease.end))
    pen = QPen(look.color("scribe"), max(1.0, text * 0.08))
    # A fold marked on the other face is drawn with short dashes.
    for inside, dashes in ((True, [9, 4]), (False, [3, 3])):
        lines = [
            QLineF(*scale.at(*fold.start.tolist()), *scale.at(*fold.end.tolist()))
            for fold in blank.folds
            if (fold.marked_on == "inside") is inside
        ]
        pen.setDashPattern(dashes)
        p.setPen(pen)
        p.drawLines(lines)
    p.setPen(QPen(look.color("scribe"), max(1.0, text * 0.07)))
    for relief in blank.reliefs:
        _cross(p, scale.point(*relief.centre), text * 0.4)


def _tags(  # noqa: PLR0913
    p: QPainter,
    blank: Blank,
    scale: Scale,
    sheet: QRectF,
    look: Theme,
    options: FlatOptions,
    taken: list[QRectF],
) -> None:
    """The bends' tags, longest folds first, where each covers neither a name nor another tag; a
    fold too short for one goes without.

    They lie on the sheet: what is written beside it stays free.
    """
    size = options.text * 1.7
    gap = size * 0.08
    rooms: dict[str, tuple[float, float]] = {}
    left_end, top_end, right_end, bottom_end = (
        sheet.left(),
        sheet.top(),
        sheet.right(),
        sheet.bottom(),
    )
    edges = [(room.left(), room.top(), room.right(), room.bottom()) for room in taken]
    # Plain figures: a part of thirty folds looks at some hundreds of places.
    for i in sorted(range(len(blank.folds)), key=lambda i: -blank.folds[i].length):
        fold = blank.folds[i]
        number = str(options.numbers[i]) if options.numbers and i in options.numbers else ""
        if number not in rooms:
            room = tag_room(size, number)
            rooms[number] = room.width(), room.height()
        wide, high = rooms[number]
        (x, y), (u, v) = scale.at(*fold.start.tolist()), scale.at(*fold.end.tolist())
        for share in (0.18, 0.82, 0.5, 0.34, 0.66, 0.08, 0.92):
            at, down = x * (1 - share) + u * share, y * (1 - share) + v * share
            left = max(left_end, min(at - wide / 2, right_end - wide))
            top = max(top_end, min(down - high / 2, bottom_end - high))
            right, bottom = left + wide + gap, top + high + gap
            for a, b, c, d in edges:
                if a < right and c > left - gap and b < bottom and d > top - gap:
                    break
            else:
                drawn = paint_tag(
                    p, QPointF(left + wide / 2, top + high / 2), size, number, fold.angle, look
                )
                taken.append(drawn)
                edges.append((drawn.left(), drawn.top(), drawn.right(), drawn.bottom()))
                break


def shade(p: QPainter, waste: QPainterPath, look: Theme, text: float) -> None:
    """Hatch what will be cut away; drawn line by line, so that it is the same on every screen and
    on paper.

    Args:
        p: the painter.
        waste: outline of what is cut away.
        look: the colours.
        text: height of letters, points.
    """
    box = waste.boundingRect()
    p.save()
    p.setPen(QPen(look.color("waste"), max(1.0, text * 0.09)))
    p.drawPath(waste)
    p.setClipPath(waste, Qt.ClipOperation.IntersectClip)
    step = text * 0.55
    lines = math.ceil((box.width() + box.height()) / step)
    left, top, tall, bottom = box.left(), box.top(), box.height(), box.bottom()
    p.drawLines(
        [QLineF(left + i * step, top, left + i * step - tall, bottom) for i in range(1, lines)]
    )
    p.restore()


def _behind(p: QPainter, row: JoinedRow, scale: Scale, look: Theme, text: float) -> None:
    """Where a row comes to lie on the panel behind it: open rings, for nothing is made there while
    it is flat."""
    p.setPen(QPen(look.color("scribe", 190), max(1.0, text * 0.07), Qt.PenStyle.DotLine))
    for at in row.behind:
        p.drawEllipse(scale.point(*at), text * 0.22, text * 0.22)


def _cross(p: QPainter, at: QPointF, size: float) -> None:
    x, y = at.x(), at.y()
    p.drawLines([QLineF(x - size, y, x + size, y), QLineF(x, y - size, x, y + size)])


def _mark(p: QPainter, mark: MarkLine, scale: Scale, look: Theme, text: float) -> None:
    start, end = scale.point(*mark.start), scale.point(*mark.end)
    if mark.kind == "spot":
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(look.color("scribe"))
        p.drawEllipse(start, text * 0.16, text * 0.16)
        p.setBrush(Qt.BrushStyle.NoBrush)
        return
    style = Qt.PenStyle.DotLine if mark.kind in ("cross-break", "bead") else Qt.PenStyle.DashDotLine
    p.setPen(QPen(look.color("scribe", 200), max(1.0, text * 0.08), style))
    p.drawLine(start, end)


def _names(
    p: QPainter, blank: Blank, scale: Scale, look: Theme, text: float, paper: bool
) -> list[QRectF]:
    """Write each panel's name where it fits; returns the places taken."""
    taken: list[QRectF] = []
    p.setFont(pixels(text, strong=True))
    p.setPen(look.color("scribe", 255 if paper else 210))
    for panel in blank.panels:
        left, low, right, top = panel.outline.bounds
        long, deep = right - left, top - low
        name = panel.name if len(blank.panels) > 1 else ""
        words, wide, high = shaped(name, text, strong=True)
        lengthwise = long * scale.factor < wide * 1.2 and deep > long
        along, across = (deep, long) if lengthwise else (long, deep)
        slanting = abs(panel.outline.area) < 0.4 * long * deep
        if slanting or along * scale.factor < wide * 1.02 or across * scale.factor < text * 0.95:
            continue
        where = scale.point((left + right) / 2, (low + top) / 2)
        box = QSizeF(text * 1.2, wide) if lengthwise else QSizeF(wide, text * 1.2)
        taken.append(
            QRectF(
                where.x() - box.width() / 2, where.y() - box.height() / 2, box.width(), box.height()
            )
        )
        if lengthwise:
            p.save()
            p.translate(where)
            p.rotate(-90)
            p.drawStaticText(QPointF(-wide / 2, -high / 2), words)
            p.restore()
        else:
            p.drawStaticText(QPointF(where.x() - wide / 2, where.y() - high / 2), words)
    return taken


MOST_ROWS = 4
"""Rows that figures along the front are staggered over."""

STAGGER = 1.3
"""Heights of the figures from one such row to the next."""


def _room_along(dimensions: Sequence[Figured], text: float) -> float:
    """Width that each figure along the front takes with what parts it from the next."""
    return _widest(dimensions) + text * 0.5


def _thinned(
    dimensions: Sequence[Figured], factor: float, room: float
) -> list[tuple[Figured, float]]:
    """Dimensions with the place of their figures, pushed apart so that none overlap."""
    placed: list[tuple[Figured, float]] = []
    at = -math.inf
    for one in dimensions:
        want = one.dimension.at * factor
        at = max(want, at + room)
        placed.append((one, at))
    last = dimensions[-1].dimension.at * factor
    if placed[-1][1] > last:
        # Too far at the end: push back from there.
        limit = last
        back: list[tuple[Figured, float]] = []
        for one, place in reversed(placed):
            limit = min(limit, place)
            back.append((one, limit))
            limit -= room
        placed = back[::-1]
    return placed


def _run_along(  # noqa: PLR0913
    p: QPainter,
    dimensions: Sequence[Figured],
    scale: Scale,
    sheet: QRectF,
    look: Theme,
    text: float,
    rows: int,
) -> None:
    """Running dimensions under the blank, from its left edge or from its right, where the datum
    lies there."""
    wide = _widest(dimensions)
    line, y = sheet.bottom() + text * 0.4, sheet.bottom() + text * 1.2
    ink = QPen(look.color("ink"), 1)
    p.setPen(ink)
    p.drawLine(QPointF(sheet.left(), y), QPointF(sheet.right(), y))
    placed = _thinned(dimensions, scale.factor, _room_along(dimensions, text) / rows)
    lows = [y + text * (0.7 + STAGGER * (k % rows)) for k in range(len(placed))]
    for ((dimension, _, _), place), lower in zip(placed, lows, strict=True):
        x = sheet.left() + dimension.at * scale.factor
        p.drawLines([QLineF(x, line, x, y), QLineF(x, y, sheet.left() + place, lower)])
        _end(p, dimension, x, y, (1 if dimension.read is None else -1, 0), look, text)
    # A line that leads to a figure of a lower row passes behind those above it.
    for ((dimension, figure, _), place), lower in zip(placed, lows, strict=True):
        box = QRectF(sheet.left() + place - wide, lower, 2 * wide, text * 1.4)
        p.fillRect(p.boundingRect(box, Qt.AlignmentFlag.AlignCenter, figure), look.color("bench"))
        p.setPen(look.color("ink" if dimension.kind != "cut" else "care"))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, figure)


def _run_across(
    p: QPainter,
    dimensions: Sequence[Figured],
    scale: Scale,
    sheet: QRectF,
    look: Theme,
    text: float,
) -> None:
    """Running dimensions left of the blank, from its front edge or from its back, where the datum
    lies there."""
    wide = _widest(dimensions)
    line, x = sheet.left() - text * 0.4, sheet.left() - text * 1.2
    ink = QPen(look.color("ink"), 1)
    p.setPen(ink)
    p.drawLine(QPointF(x, sheet.bottom()), QPointF(x, sheet.top()))
    for (dimension, figure, _), place in _thinned(dimensions, scale.factor, text * 1.25):
        y, shown = sheet.bottom() - dimension.at * scale.factor, sheet.bottom() - place
        p.setPen(ink)
        p.drawLines([QLineF(line, y, x, y), QLineF(x, y, x - text * 0.7, shown)])
        _end(p, dimension, x, y, (0, -1 if dimension.read is None else 1), look, text)
        p.setPen(look.color("ink" if dimension.kind != "cut" else "care"))
        box = QRectF(x - text * 0.9 - wide, shown - text, wide, 2 * text)
        align = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        p.drawText(box, align, figure)


def _end(  # noqa: PLR0913
    p: QPainter,
    dimension: RunningDimension,
    x: float,
    y: float,
    towards: tuple[int, int],
    look: Theme,
    text: float,
) -> None:
    """Where a running dimension ends: an arrow that points on, at its datum a dot."""
    if dimension.figure > 0:
        paint_arrow(p, QPointF(x, y), QPointF(*towards), text * 0.5)
    else:
        p.setBrush(look.color("ink"))
        p.drawEllipse(QPointF(x, y), text * 0.2, text * 0.2)


def paint_corner(
    p: QPainter,
    rect: QRectF,
    recipe: CornerRecipe,
    units: Units,
    look: Theme,
    *,
    text: float = 13.0,
) -> None:
    """Draw a corner of the sheet with its own corner at the lower left, the waste hatched, every
    line with its setting.

    Args:
        p: the painter.
        rect: where it is drawn.
        recipe: the corner's instruction.
        units: what lengths are shown in.
        look: the colours.
        text: height of letters, points.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setFont(pixels(text))
    reach = max(max(point) for point in recipe.path) * 1.25
    settings = (
        []
        if recipe.pointed
        else [shown(value, units) for value in (*recipe.from_ends, *recipe.from_sides)]
    )
    wide = max((p.fontMetrics().horizontalAdvance(word) for word in settings), default=0.0)
    scale = Scale.fitting(
        (0, 0), (reach, reach), rect.adjusted(wide + text, text * 0.6, -text * 0.6, -text * 2.2)
    )
    sheet = QRectF(scale.point(0, reach), scale.point(reach, 0))
    p.fillRect(sheet, look.color("layout"))
    waste = QPolygonF([scale.point(*point) for point in ((0.0, 0.0), *recipe.path)])
    away = QPainterPath()
    away.addPolygon(waste)
    away.closeSubpath()
    shade(p, away, look, text)
    p.setPen(QPen(look.color("scribe"), 1, Qt.PenStyle.DashLine))
    for u in () if recipe.pointed else recipe.from_ends:
        p.drawLine(scale.point(u, 0), scale.point(u, reach))
    for v in () if recipe.pointed else recipe.from_sides:
        p.drawLine(scale.point(0, v), scale.point(reach, v))
    p.setPen(QPen(look.color("scribe"), 2.2))
    p.drawPolyline(QPolygonF([scale.point(*point) for point in recipe.path]))
    p.setBrush(look.color("layout"))
    for hole in recipe.punched:
        at, half = scale.point(hole.u, hole.v), hole.size / 2 * scale.factor
        box = QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half)
        if hole.shape == "square":
            p.drawRect(box)
        else:
            p.drawEllipse(box)
        if recipe.pointed:
            continue  # its size is said beside the points, and numbers stand here
        sentence = f"⌀ {show_length(hole.size, units, pretty=True)}"
        long = p.fontMetrics().horizontalAdvance(sentence)
        x = min(at.x() + half + text * 0.3, sheet.right() - long - 4)
        label = QRectF(x - 2, at.y() - half - text * 1.7, long + 4, text * 1.4)
        p.fillRect(label, look.color("layout"))
        p.drawText(label, Qt.AlignmentFlag.AlignCenter, sentence)
    if recipe.pointed:
        _numbers(p, recipe, scale, sheet, look, text)
    else:
        _figures(p, recipe, units, scale, sheet, look, text, wide)
    p.restore()


def _numbers(
    p: QPainter, recipe: CornerRecipe, scale: Scale, sheet: QRectF, look: Theme, text: float
) -> None:
    """The points by the numbers their places are listed under, each on the side of the metal."""
    size = text * 1.15
    middle = scale.point(*(sum(c) / len(recipe.path) * 0.6 for c in zip(*recipe.path, strict=True)))
    taken: list[QRectF] = []
    for number, point in enumerate(recipe.path, start=1):
        at = scale.point(*point)
        away = math.atan2(at.y() - middle.y(), at.x() - middle.x())
        # Straight away from the waste first, then to either side, then farther off.
        places = []
        for step, turn in itertools.product(
            (1.0, 1.7, 2.5, 3.4, 4.4), (0, 0.5, -0.5, 1.0, -1.0, 1.6, -1.6, 2.4, -2.4)
        ):
            places.append(QRectF(0, 0, size * 1.35, size))
            places[-1].moveCenter(
                at + QPointF(math.cos(away + turn), math.sin(away + turn)) * size * step
            )
        box = first_free(places, sheet, taken) or places[-1]
        taken.append(box)
        p.setPen(QPen(look.color("scribe"), 0.8))
        p.drawLine(at, box.center())
        p.fillRect(box, look.color("layout"))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))


def _figures(  # noqa: PLR0913
    p: QPainter,
    recipe: CornerRecipe,
    units: Units,
    scale: Scale,
    sheet: QRectF,
    look: Theme,
    text: float,
    wide: float,
) -> None:
    """The settings at the ends of their lines, pushed apart where they would run into each
    other."""
    p.setPen(look.color("ink"))
    last = sheet.left() - wide
    for u in recipe.from_ends:
        x = max(scale.point(u, 0).x(), last + wide + text * 0.3)
        last = x
        box = QRectF(x - wide, sheet.bottom() + text * 0.4, 2 * wide, text * 1.5)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, shown(u, units))
    last = sheet.bottom() + text * 1.3
    for v in recipe.from_sides:
        y = min(scale.point(0, v).y(), last - text * 1.3)
        last = y
        box = QRectF(sheet.left() - wide - text * 0.4, y - text, wide, 2 * text)
        p.drawText(
            box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, shown(v, units)
        )
