"""A machine's section with one of its sizes lit: what is typed is seen at once, to scale."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from ...brake import Section
from ...measure import Units, show_length
from ...measure.words import tr
from ...plan.stroke.drawn import Drawn
from ..theme import Look, pixels
from .frame import Scale

HEAD = 7.0
"""Length of an arrow's head, in pixels."""


def paint_machine(p: QPainter, rect: QRectF, drawn: Drawn, lit: str | None, units: Units, look: Look) -> None:
    """The section to scale; every size as a thin line, the lit one as an arrow with its length; no sizes where lit is None."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    low, high = drawn.box
    scale = Scale.fitting(low, high, rect.adjusted(16, 26, -16, -26))
    p.setPen(QPen(look.color("tool_edge"), 1.2))
    p.setBrush(look.color("tool"))
    for _, outline in drawn.outlines:
        p.drawPolygon(scale.polygon(outline))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(look.color("faint"), 1, Qt.PenStyle.DotLine))
    for name, (a, b) in drawn.sizes.items():
        if lit is not None and name != lit:
            p.drawLine(scale.point(*a), scale.point(*b))
    if lit is not None and lit in drawn.sizes:
        start, end = drawn.sizes[lit]
        _arrow(p, scale.point(*start), scale.point(*end), look)
        length = math.dist(start, end)
        said = show_length(length, units, pretty=True)
        p.setFont(pixels(15, strong=True))
        middle = (scale.point(*start) + scale.point(*end)) * 0.5
        wide = p.fontMetrics().horizontalAdvance(said) + 10
        box = QRectF(middle.x() + 8, middle.y() - 24, wide, 20)
        # It stays on the picture, and on a ground of its own.
        box.moveLeft(max(rect.left() + 2, min(box.left(), rect.right() - wide - 2)))
        box.moveTop(max(rect.top() + 2, box.top()))
        p.fillRect(box, look.color("field"))
        p.setPen(look.color("accent"))
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, said)


def paint_pieces(p: QPainter, rect: QRectF, pieces: tuple[Section, ...], bed: float, units: Units, look: Look) -> None:
    """The pieces of a rack side by side over the bed, to scale, each width named once."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    total = sum(piece.width * piece.count for piece in pieces)
    left, per_mm = rect.left() + 8, (rect.width() - 16) / max(bed, total, 1.0)
    top, high = rect.top() + 22, rect.height() - 46
    p.setPen(QPen(look.color("ink"), 2))
    p.drawLine(QPointF(left, top + high + 6), QPointF(left + bed * per_mm, top + high + 6))
    x, free = left, rect.left()
    p.setFont(pixels(12))
    for piece in pieces:
        for number in range(piece.count):
            p.setPen(QPen(look.color("tool_edge"), 1))
            p.setBrush(look.color("tool"))
            p.drawRect(QRectF(x, top, piece.width * per_mm, high))
            said = show_length(piece.width, units, pretty=True)
            wide = p.fontMetrics().horizontalAdvance(said) + 6
            if number == 0 and x >= free:
                p.setPen(look.color("ink"))
                p.drawText(QRectF(x, rect.top(), wide, 20), Qt.AlignmentFlag.AlignVCenter, said)
                free = x + wide
            x += piece.width * per_mm
    p.setPen(look.color("faint"))
    said = tr("bed {bed}").format(bed=show_length(bed, units, pretty=True))
    p.drawText(QRectF(left, rect.bottom() - 17, rect.width(), 17), Qt.AlignmentFlag.AlignVCenter, said)


def _arrow(p: QPainter, start: QPointF, end: QPointF, look: Look) -> None:
    p.setPen(QPen(look.color("accent"), 2.4))
    p.drawLine(start, end)
    along = end - start
    length = math.hypot(along.x(), along.y())
    if length < 1e-6:
        p.drawEllipse(start, 4, 4)
        return
    u = along * (1.0 / length)
    across = QPointF(-u.y(), u.x())
    for tip, way in ((start, 1.0), (end, -1.0)):
        for side in (0.45, -0.45):
            p.drawLine(tip, tip + u * way * HEAD + across * side * HEAD)
