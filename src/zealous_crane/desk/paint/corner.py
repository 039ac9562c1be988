"""One kind of corner enlarged: what is cut away, the lines with their settings, the punch."""

from __future__ import annotations

import itertools
import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from ...blank import CornerRecipe
from ...blank.rule import shown
from ...measure import Units, show_length
from ..theme import Look, pixels
from .flat import shade
from .frame import Scale, first_free


def paint_corner(p: QPainter, rect: QRectF, recipe: CornerRecipe, units: Units, look: Look, *, text: float = 13.0) -> None:
    """Draw a corner of the sheet with its own corner at the lower left, the waste hatched, every line with its setting."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setFont(pixels(text))
    reach = max(max(point) for point in recipe.path) * 1.25
    settings = [] if recipe.pointed else [shown(value, units) for value in (*recipe.from_ends, *recipe.from_sides)]
    wide = max((p.fontMetrics().horizontalAdvance(word) for word in settings), default=0.0)
    scale = Scale.fitting((0, 0), (reach, reach), rect.adjusted(wide + text, text * 0.6, -text * 0.6, -text * 2.2))
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
        said = f"⌀ {show_length(hole.size, units, pretty=True)}"
        long = p.fontMetrics().horizontalAdvance(said)
        x = min(at.x() + half + text * 0.3, sheet.right() - long - 4)
        label = QRectF(x - 2, at.y() - half - text * 1.7, long + 4, text * 1.4)
        p.fillRect(label, look.color("layout"))
        p.drawText(label, Qt.AlignmentFlag.AlignCenter, said)
    if recipe.pointed:
        _numbers(p, recipe, scale, sheet, look, text)
    else:
        _figures(p, recipe, units, scale, sheet, look, text, wide)
    p.restore()


def _numbers(p: QPainter, recipe: CornerRecipe, scale: Scale, sheet: QRectF, look: Look, text: float) -> None:
    """The points by the numbers their places are listed under, each on the side of the metal."""
    size = text * 1.15
    middle = scale.point(*(sum(c) / len(recipe.path) * 0.6 for c in zip(*recipe.path, strict=True)))
    taken: list[QRectF] = []
    for number, point in enumerate(recipe.path, start=1):
        at = scale.point(*point)
        away = math.atan2(at.y() - middle.y(), at.x() - middle.x())
        # Straight away from the waste first, then to either side, then farther off.
        places = []
        for step, turn in itertools.product((1.0, 1.7, 2.5, 3.4, 4.4), (0, 0.5, -0.5, 1.0, -1.0, 1.6, -1.6, 2.4, -2.4)):
            places.append(QRectF(0, 0, size * 1.35, size))
            places[-1].moveCenter(at + QPointF(math.cos(away + turn), math.sin(away + turn)) * size * step)
        box = first_free(places, sheet, taken) or places[-1]
        taken.append(box)
        p.setPen(QPen(look.color("scribe"), 0.8))
        p.drawLine(at, box.center())
        p.fillRect(box, look.color("layout"))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))


def _figures(
    p: QPainter, recipe: CornerRecipe, units: Units, scale: Scale, sheet: QRectF, look: Look, text: float, wide: float
) -> None:
    """The settings at the ends of their lines, pushed apart where they would run into each other."""
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
        p.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, shown(v, units))
