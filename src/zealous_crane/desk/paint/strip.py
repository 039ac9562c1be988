"""A test strip: as it is cut and marked, and from its end once it is bent, with what is measured."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from ...measure import Units, show_length
from ...measure.words import tr
from ...shop.book import StripRecord
from ..theme import Look, pixels
from .frame import Scale
from .sign import paint_arrow

HEAD = 6.0
"""Painter units of an arrow's head."""

APART = 24.0
"""Painter units between an edge and the arrow along it."""


def paint_strip(p: QPainter, rect: QRectF, strip: StripRecord, units: Units, look: Look) -> None:
    """The flat with its line above, the bent strip below: first leg lying, second leg up."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    upper = QRectF(rect.left(), rect.top(), rect.width(), rect.height() * 0.4).adjusted(12, APART + 8, -12, -8)
    flat = Scale.fitting((0, 0), (strip.flat, strip.width), upper)
    p.setPen(QPen(look.color("scribe"), 1.4))
    p.setBrush(look.color("layout"))
    p.drawRect(QRectF(flat.point(0, strip.width), flat.point(strip.flat, 0)))
    p.drawLine(flat.point(strip.line, 0), flat.point(strip.line, strip.width))
    _arrow(
        p, flat.point(0, strip.width), flat.point(strip.line, strip.width), show_length(strip.line, units, pretty=True), look
    )

    bend = math.radians(strip.angle)
    short = strip.thickness * math.tan(min(bend, 3.0) / 2)
    inside = strip.legs != "outside"
    more, marked = short if inside else 0.0, strip.line if strip.legs == "to the mark" else 0.0
    along, up = np.array([math.cos(bend), math.sin(bend)]), np.array([-math.sin(bend), math.cos(bend)])
    first, second = max(marked + strip.leg_one, 0.0) + more, strip.leg_two + more
    end = along * second
    outline = np.array(
        [(-first, 0.0), (0.0, 0.0), end, end + up * strip.thickness, (-short, strip.thickness), (-first, strip.thickness)]
    )
    lower = QRectF(rect.left(), rect.top() + rect.height() * 0.4, rect.width(), rect.height() * 0.6)
    bent = Scale.fitting(
        (float(outline[:, 0].min()), float(outline[:, 1].min())), (float(outline[:, 0].max()), float(outline[:, 1].max())),
        lower.adjusted(12, 12, -80, -APART - 12),
    )  # fmt: skip
    p.setPen(QPen(look.color("metal_edge"), 1.2))
    p.setBrush(look.color("metal"))
    p.drawPolygon(bent.polygon(outline))
    corner = bent.point(0, 0)
    measured = bent.point(-short, 0) if inside else corner
    said = show_length(strip.leg_one, units, pretty=True)
    said = tr("{past} past the mark").format(past=said) if strip.legs == "to the mark" else said
    _arrow(p, measured, bent.point(-first, 0), said, look)
    begin = bent.point(*(along * more)) if inside else corner
    _arrow(p, bent.point(*end), begin, show_length(strip.leg_two, units, pretty=True), look)


def _arrow(p: QPainter, start: QPointF, end: QPointF, text: str, look: Look) -> None:
    """A size beside the edge from start to end, on its left as one walks along."""
    along = end - start
    length = math.hypot(along.x(), along.y())
    if length < 1e-6:
        return
    u = along * (1 / length)
    side = QPointF(u.y(), -u.x())
    a, b = start + side * (APART * 0.5), end + side * (APART * 0.5)
    p.setPen(QPen(look.color("ink"), 1.2))
    p.setBrush(look.color("ink"))
    p.drawLine(a, b)
    paint_arrow(p, a, u * -1, HEAD)
    paint_arrow(p, b, u, HEAD)
    p.setFont(pixels(13, strong=True))
    box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + 8, p.fontMetrics().height())
    box.moveCenter((a + b) * 0.5 + side * (box.height() * 0.5 + abs(side.x()) * (box.width() - box.height()) * 0.5 + 2))
    p.setPen(look.color("ink"))
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
