"""Bends of the book as dots in the order they were made, and what is learnt from them as a band."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from ...measure import show_angle
from ...measure.words import tr
from ...shop.book import BendRecord
from ...shop.learnt import Learnt
from ..theme import Look, pixels

LEFT, BOTTOM, TOP, RIGHT = 44.0, 26.0, 10.0, 12.0
"""Margins, in pixels."""


def paint_learnt(p: QPainter, rect: QRectF, bends: Sequence[BendRecord], learnt: Learnt, look: Look) -> None:
    """Springback at 90° of every bend behind an estimate: those of the very place filled, others hollow; the estimate's mean as a line,
    the interval that holds nine bends of ten as a band, the handbook dashed."""
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    frame = rect.adjusted(LEFT, TOP, -RIGHT, -BOTTOM)
    values = [b.springback for b in bends if b.springback is not None]
    low, high = learnt.within
    least, most = min([low, learnt.rule, 0.0, *values]), max([high, learnt.rule, *values])
    room = max(most - least, 1.0) * 0.06
    least, most = least - room, most + room

    def at(value: float) -> float:
        return frame.bottom() - (value - least) / (most - least) * frame.height()

    p.fillRect(frame, look.color("field"))
    p.fillRect(QRectF(frame.left(), at(high), frame.width(), at(low) - at(high)), look.color("accent", 36))
    p.setFont(pixels(12))
    step = next(s for s in (0.5, 1.0, 2.0, 5.0, 10.0, 20.0) if (most - least) / s <= 8)
    value = -(-least // step) * step
    while value <= most:
        p.setPen(QPen(look.color("line"), 1))
        p.drawLine(QPointF(frame.left(), at(value)), QPointF(frame.right(), at(value)))
        p.setPen(look.color("ink"))
        where = QRectF(rect.left(), at(value) - 9, LEFT - 6, 18)
        p.drawText(where, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, show_angle(value))
        value += step
    p.setPen(QPen(look.color("faint"), 1.5, Qt.PenStyle.DashLine))
    p.drawLine(QPointF(frame.left(), at(learnt.rule)), QPointF(frame.right(), at(learnt.rule)))
    p.setPen(QPen(look.color("accent"), 2))
    p.drawLine(QPointF(frame.left(), at(learnt.mean)), QPointF(frame.right(), at(learnt.mean)))
    here = set(learnt.ids[: learnt.here])
    apart = frame.width() / (len(values) + 1)
    shown = sorted((b for b in bends if b.springback is not None), key=lambda b: b.made)
    for i, bend in enumerate(shown, start=1):
        assert bend.springback is not None
        p.setPen(QPen(look.color("ink"), 1.4))
        p.setBrush(look.color("ink") if bend.id in here else look.color("field"))
        p.drawEllipse(QPointF(frame.left() + apart * i, at(bend.springback)), 4.0, 4.0)
    p.setPen(look.color("ink"))
    under = QRectF(frame.left(), frame.bottom() + 4, frame.width(), BOTTOM - 4)
    p.drawText(
        under, Qt.AlignmentFlag.AlignCenter, tr("● bends here   ○ nearby   ─ learnt   - - handbook   (at 90°, oldest left)")
    )
