"""The signs: what works, what wants care, what stops, and the tag of a fold. Shape before colour."""

from __future__ import annotations

import math
from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from ...plan.result.state import State
from ..theme import Look, pixels


def paint_state(p: QPainter, centre: QPointF, size: float, state: State, look: Look) -> None:
    """Filled round, triangle, or square with a bar."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(Qt.PenStyle.NoPen)
    h = size / 2
    if state is State.WORKS:
        p.setBrush(look.color("works"))
        p.drawEllipse(centre, h, h)
    elif state is State.CARE:
        p.setBrush(look.color("care"))
        p.drawPolygon(
            QPolygonF([centre + QPointF(0, -h), centre + QPointF(h * 1.1, h * 0.9), centre + QPointF(-h * 1.1, h * 0.9)])
        )
        p.setPen(QPen(look.color("field"), size * 0.13, c=Qt.PenCapStyle.RoundCap))
        p.drawLine(centre + QPointF(0, -h * 0.25), centre + QPointF(0, h * 0.25))
        p.drawPoint(centre + QPointF(0, h * 0.6))
    else:
        p.setBrush(look.color("stop"))
        p.drawRect(QRectF(centre.x() - h, centre.y() - h, size, size))
        p.setPen(QPen(look.color("field"), size * 0.2))
        p.drawLine(centre + QPointF(-h * 0.6, 0), centre + QPointF(h * 0.6, 0))
    p.restore()


LEG = 0.55
"""Length of a leg of the angle on a tag, as a share of the tag's height."""


def tag_room(size: float, number: str) -> QSizeF:
    """What a tag takes up; see :func:`paint_tag`."""
    return _room(size, _wide(_figures(size), number))


def _figures(size: float) -> QFont:
    return pixels(size * 0.62, bold=True)


def _wide(figures: QFont, number: str) -> float:
    return QFontMetricsF(figures).horizontalAdvance(number) if number else 0.0


def _room(size: float, wide: float) -> QSizeF:
    return QSizeF(size * 0.5 + wide + size * LEG * 2.1, size)


def paint_tag(p: QPainter, centre: QPointF, size: float, number: str, angle: float, look: Look) -> QRectF:
    """A fold's tag: its place in the order and the very angle it makes, up or down.

    Args:
        size: height of the tag in painter units.
        number: place in the order, or what stands for it.
        angle: signed degrees from flat.

    Returns:
        the tag's rectangle.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    figures = _figures(size)
    wide = _wide(figures, number)
    leg = size * LEG
    rect = QRectF(QPointF(0, 0), _room(size, wide))
    rect.moveCenter(centre)
    rim, legs = _pens(look, size)
    p.setPen(rim)
    p.setBrush(look.color("field"))
    p.drawRoundedRect(rect, size * 0.22, size * 0.22)
    if number:
        p.setFont(figures)
        p.drawText(QRectF(rect.left() + size * 0.22, rect.top(), wide + 1, size), Qt.AlignmentFlag.AlignVCenter, number)
    # One leg lies flat, the other stands at the fold's own angle.
    up = 1 if angle > 0 else -1
    x, y = rect.right() - size * 0.28 - leg, rect.center().y() + up * size * 0.22
    a = math.radians(180 - abs(angle))
    p.setPen(legs)
    p.drawPolyline([QPointF(x + leg, y), QPointF(x, y), QPointF(x + leg * math.cos(a), y + -up * leg * math.sin(a))])
    p.restore()
    return rect


@lru_cache(64)
def _pens(look: Look, size: float) -> tuple[QPen, QPen]:
    """What a tag's rim and the legs of its angle are drawn with."""
    ink = look.color("ink")
    return QPen(ink, max(1.0, size * 0.05)), QPen(ink, size * 0.1, c=Qt.PenCapStyle.RoundCap, j=Qt.PenJoinStyle.RoundJoin)


def paint_arrow(p: QPainter, tip: QPointF, direction: QPointF, size: float) -> None:
    """A filled arrow head; ``direction`` points where it points."""
    length = math.hypot(direction.x(), direction.y()) or 1.0
    u = QPointF(direction.x() / length, direction.y() / length)
    n = QPointF(-u.y(), u.x())
    p.save()
    p.setBrush(p.pen().color())
    p.drawPolygon(QPolygonF([tip, tip - u * size + n * size * 0.35, tip - u * size - n * size * 0.35]))
    p.restore()
