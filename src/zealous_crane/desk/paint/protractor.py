"""Where the protractor lies when the angle of a fold is read."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen, QPolygonF

from ...measure import AngleReading, show_angle
from ..theme import Look, pixels

SHOWN = 70.0
"""Degrees bent from flat in the picture: the three readings differ, or lie elsewhere."""


def paint_protractor(p: QPainter, rect: QRectF, reading: AngleReading, look: Look) -> None:
    """A leg bent up by 70°, with the arc that is read and what it reads."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    length = min(rect.height() * 0.82, rect.width() * 0.3)
    corner = QPointF(rect.left() + length * 1.25, rect.bottom() - rect.height() * 0.14)
    # Angles from the level to the right, turning up; the standing leg leans over the lying one's far side.
    up = math.radians(SHOWN)
    free = corner + QPointF(length * math.cos(up), -length * math.sin(up))
    p.setPen(QPen(look.color("metal_edge"), 4, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
    p.drawPolyline(QPolygonF([corner - QPointF(length, 0), corner, free]))
    start, span = {
        AngleReading.BEND: (0.0, SHOWN),
        AngleReading.INSIDE: (SHOWN, 180.0 - SHOWN),
        AngleReading.BACK: (180.0, SHOWN),
    }[reading]
    p.setPen(QPen(look.color("faint"), 1.2, Qt.PenStyle.DashLine))
    if reading is AngleReading.BEND:
        p.drawLine(corner, corner + QPointF(length, 0))
    if reading is AngleReading.BACK:
        p.drawLine(corner, corner - QPointF(length * math.cos(up), -length * math.sin(up)) * 0.6)
    radius = length * 0.5
    p.setPen(QPen(look.color("accent"), 2))
    box = QRectF(corner.x() - radius, corner.y() - radius, 2 * radius, 2 * radius)
    p.drawArc(box, round(start * 16), round(span * 16))
    p.setPen(look.color("ink"))
    p.setFont(pixels(13, strong=True))
    left = corner.x() + length * 1.2
    where = QRectF(left, rect.top(), rect.right() - left, rect.height())
    p.drawText(where, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, show_angle(reading.read(SHOWN)))
