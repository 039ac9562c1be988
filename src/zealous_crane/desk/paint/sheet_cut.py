"""A sheet as it is cut: blanks in layout blue with their numbers and sizes, off-cuts worth keeping dashed, waste in amber."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from ...cut.layout import Placed, SheetCut
from ...measure import Units, show_length
from ..theme import Look, pixels
from .frame import Scale


def paint_sheet_cut(p: QPainter, rect: QRectF, sheet: SheetCut, units: Units, look: Look) -> None:
    """One sheet, its datum corner below on the left."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    stock = sheet.stock
    scale = Scale.fitting((0, 0), (stock.length, stock.width), rect.adjusted(10, 24, -10, -10))

    def box(x: float, y: float, length: float, width: float) -> QRectF:
        return QRectF(scale.point(x, y + width), scale.point(x + length, y))

    whole = box(0, 0, stock.length, stock.width)
    p.setPen(QPen(look.color("metal_edge"), 1.4))
    p.setBrush(look.color("metal"))
    p.drawRect(whole)
    p.setBrush(QBrush(look.color("waste", 170), Qt.BrushStyle.BDiagPattern))
    p.drawRect(whole)
    p.setFont(pixels(13, strong=True))
    p.setPen(look.color("ink"))
    title = f"{stock.name}, {show_length(stock.length, units, pretty=True)} × {show_length(stock.width, units, pretty=True)}"
    if sheet.alike > 1:
        title = f"{sheet.alike} ×  {title}"
    p.drawText(QRectF(whole.left(), rect.top() + 2, rect.width(), 20), Qt.AlignmentFlag.AlignVCenter, title)
    for left in sheet.offcuts:
        p.setPen(QPen(look.color("ink"), 1.2, Qt.PenStyle.DashLine))
        p.setBrush(look.color("field"))
        p.drawRect(box(left.x, left.y, left.length, left.width))
        _named(p, box(left.x, left.y, left.length, left.width), left, units, look.color("ink"))
    for place in sheet.placed:
        p.setPen(QPen(look.color("scribe"), 1.4))
        p.setBrush(look.color("layout"))
        p.drawRect(box(place.x, place.y, place.length, place.width))
        _named(p, box(place.x, place.y, place.length, place.width), place, units, look.color("scribe"))


def _named(p: QPainter, box: QRectF, place: Placed, units: Units, colour: QColor) -> None:
    """The name and the sizes, as far as there is room for them."""
    size = f"{show_length(place.length, units, pretty=True)} × {show_length(place.width, units, pretty=True)}"
    p.setPen(colour)
    p.setFont(pixels(12))
    inner = box.adjusted(4, 2, -4, -2)
    metrics = p.fontMetrics()
    lines = [metrics.elidedText(place.name, Qt.TextElideMode.ElideRight, int(inner.width())), size]
    if inner.height() < 2 * metrics.height():
        lines = lines[1:] if metrics.horizontalAdvance(size) <= inner.width() else []
    lines = [line for line in lines if line != size or metrics.horizontalAdvance(size) <= inner.width()]
    if inner.height() >= metrics.height() and lines:
        p.drawText(inner, Qt.AlignmentFlag.AlignCenter, "\n".join(lines))
