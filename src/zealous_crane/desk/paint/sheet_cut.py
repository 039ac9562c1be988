"""A sheet as it is cut: blanks in layout blue with their numbers and sizes, off-cuts worth keeping dashed, waste in amber."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from ...cut.layout import Placed, SheetCut
from ...measure import Units, show_length
from ..theme import Look, pixels
from .frame import Scale

INSET = 4
"""Painter units between a blank's edge and its name."""


def paint_sheet_cut(p: QPainter, rect: QRectF, sheet: SheetCut, units: Units, look: Look, title: str, text: float = 12) -> None:
    """One sheet under its title, its datum corner below on the left; letters of so many painter units."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    stock = sheet.stock
    scale = Scale.fitting((0, 0), (stock.length, stock.width), rect.adjusted(10, text * 2, -10, -10))

    def box(x: float, y: float, length: float, width: float) -> QRectF:
        return QRectF(scale.point(x, y + width), scale.point(x + length, y))

    whole = box(0, 0, stock.length, stock.width)
    p.setPen(QPen(look.color("metal_edge"), 1.4))
    p.setBrush(look.color("metal"))
    p.drawRect(whole)
    p.setBrush(QBrush(look.color("waste", 170), Qt.BrushStyle.BDiagPattern))
    p.drawRect(whole)
    p.setFont(pixels(text * 1.1, strong=True))
    p.setPen(look.color("ink"))
    head = QRectF(whole.left(), rect.top() + 2, rect.right() - whole.left(), text * 1.7)
    p.drawText(head, Qt.AlignmentFlag.AlignVCenter, title)
    key = head.adjusted(p.fontMetrics().horizontalAdvance(title) + 16, 0, 0, 0)
    for left in sheet.offcuts:
        p.setPen(QPen(look.color("ink"), 1.2, Qt.PenStyle.DashLine))
        p.setBrush(look.color("field"))
        p.drawRect(box(left.x, left.y, left.length, left.width))
        _named(p, box(left.x, left.y, left.length, left.width), left.name, left, units, look.color("ink"), text)
    lettered: dict[int, str] = {}
    for place in sheet.placed:
        p.setPen(QPen(look.color("scribe"), 1.4))
        p.setBrush(look.color("layout"))
        at = box(place.x, place.y, place.length, place.width)
        p.drawRect(at)
        p.setFont(pixels(text))
        if p.fontMetrics().horizontalAdvance(place.name) > at.width() - 2 * INSET:
            lettered[place.blank] = place.name
            _named(p, at, letter(place.blank), place, units, look.color("scribe"), text)
        else:
            _named(p, at, place.name, place, units, look.color("scribe"), text)
    p.setFont(pixels(text))
    p.setPen(look.color("ink"))
    names = "   ".join(f"{letter(k)}  {name}" for k, name in sorted(lettered.items()))
    p.drawText(
        key, Qt.AlignmentFlag.AlignVCenter, p.fontMetrics().elidedText(names, Qt.TextElideMode.ElideRight, int(key.width()))
    )


def letter(number: int) -> str:
    """What a blank is called where its name has no room: A, B, … Z, AA."""
    return (letter(number // 26 - 1) if number >= 26 else "") + chr(ord("A") + number % 26)


def _named(p: QPainter, box: QRectF, name: str, place: Placed, units: Units, colour: QColor, text: float) -> None:
    """The name and the sizes, as far as there is room for them."""
    size = f"{show_length(place.length, units, pretty=True)} × {show_length(place.width, units, pretty=True)}"
    p.setPen(colour)
    p.setFont(pixels(text))
    inner = box.adjusted(INSET, 2, -INSET, -2)
    metrics = p.fontMetrics()
    lines = [metrics.elidedText(name, Qt.TextElideMode.ElideRight, int(inner.width()))]
    if metrics.horizontalAdvance(size) <= inner.width() and inner.height() >= 2 * metrics.height():
        lines.append(size)
    if inner.height() >= metrics.height() * 0.8:
        p.drawText(inner, Qt.AlignmentFlag.AlignCenter, "\n".join(lines))
