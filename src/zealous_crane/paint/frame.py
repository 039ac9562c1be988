"""A view's scale: millimetres of the part to units of the painter."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter, QPen, QPolygonF

from ..cache import cached
from ..planning.outcome import Outcome
from .theme import Theme, pixels


@dataclass(frozen=True)
class Scale:
    """Uniform scale from millimetres to units of the painter, y (or z) upwards.

    Attributes:
        factor: painter units per mm.
        left, bottom: painter position of the origin.
    """

    factor: float
    left: float
    bottom: float

    @classmethod
    def fitting(cls, low: tuple[float, float], high: tuple[float, float], rect: QRectF) -> Scale:
        """The largest scale that shows ``low`` to ``high`` (mm) in the middle of a rectangle.

        Args:
            low: (2,) mm, the lower left.
            high: (2,) mm, the upper right.
            rect: where it is drawn.
        """
        wide, tall = max(high[0] - low[0], 1e-6), max(high[1] - low[1], 1e-6)
        factor = max(1e-6, min(rect.width() / wide, rect.height() / tall))
        left = rect.center().x() - factor * (low[0] + high[0]) / 2
        bottom = rect.center().y() + factor * (low[1] + high[1]) / 2
        return cls(factor, left, bottom)

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Painter position of a place of the part."""
        return self.left + self.factor * x, self.bottom - self.factor * y

    def point(self, x: float, y: float) -> QPointF:
        return QPointF(self.left + self.factor * float(x), self.bottom - self.factor * float(y))

    def polygon(self, points: np.ndarray) -> QPolygonF:
        return QPolygonF([self.point(x, y) for x, y in points.tolist()])

    def back(self, at: QPointF) -> tuple[float, float]:
        """Millimetres at a position of the painter."""
        return (at.x() - self.left) / self.factor, (self.bottom - at.y()) / self.factor


def first_free(places: Iterable[QRectF], room: QRectF, taken: Sequence[QRectF]) -> QRectF | None:
    """The first of a label's places that lies in a room and covers none of those taken; None where
    none does.

    Args:
        places: rectangles, the best first.
        room: the rectangle it must stay in.
        taken: rectangles that are taken.
    """
    return next(
        (
            at
            for at in places
            if room.contains(at) and not any(at.intersects(other) for other in taken)
        ),
        None,
    )


def paint_state(p: QPainter, centre: QPointF, size: float, state: Outcome, look: Theme) -> None:
    """Filled round, triangle, or square with a bar.

    Args:
        p: the painter.
        centre: (2,), the middle.
        size: of the sign, units of the painter.
        state: what is signed.
        look: the colours.
    """
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(Qt.PenStyle.NoPen)
    h = size / 2
    if state is Outcome.WORKS:
        p.setBrush(look.color("works"))
        p.drawEllipse(centre, h, h)
    elif state is Outcome.CARE:
        p.setBrush(look.color("care"))
        p.drawPolygon(
            QPolygonF(
                [
                    centre + QPointF(0, -h),
                    centre + QPointF(h * 1.1, h * 0.9),
                    centre + QPointF(-h * 1.1, h * 0.9),
                ]
            )
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


def paint_tag(
    p: QPainter, centre: QPointF, size: float, number: str, angle: float, look: Theme
) -> QRectF:
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
        p.drawText(
            QRectF(rect.left() + size * 0.22, rect.top(), wide + 1, size),
            Qt.AlignmentFlag.AlignVCenter,
            number,
        )
    # One leg lies flat, the other stands at the fold's own angle.
    up = 1 if angle > 0 else -1
    x, y = rect.right() - size * 0.28 - leg, rect.center().y() + up * size * 0.22
    a = math.radians(180 - abs(angle))
    p.setPen(legs)
    p.drawPolyline(
        [
            QPointF(x + leg, y),
            QPointF(x, y),
            QPointF(x + leg * math.cos(a), y + -up * leg * math.sin(a)),
        ]
    )
    p.restore()
    return rect


@cached(64, lasts=True)
def _pens(look: Theme, size: float) -> tuple[QPen, QPen]:
    """What a tag's rim and the legs of its angle are drawn with."""
    ink = look.color("ink")
    return QPen(ink, max(1.0, size * 0.05)), QPen(
        ink, size * 0.1, c=Qt.PenCapStyle.RoundCap, j=Qt.PenJoinStyle.RoundJoin
    )


def paint_arrow(p: QPainter, tip: QPointF, direction: QPointF, size: float) -> None:
    """A filled arrow head; ``direction`` points where it points.

    Args:
        p: the painter.
        tip: its point.
        direction: (2,), where it points.
        size: of the head, units of the painter.
    """
    length = math.hypot(direction.x(), direction.y()) or 1.0
    u = QPointF(direction.x() / length, direction.y() / length)
    n = QPointF(-u.y(), u.x())
    p.save()
    p.setBrush(p.pen().color())
    p.drawPolygon(
        QPolygonF([tip, tip - u * size + n * size * 0.35, tip - u * size - n * size * 0.35])
    )
    p.restore()
