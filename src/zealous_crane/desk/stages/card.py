"""A card for each stroke, in a row that can be put in another order."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QMimeData, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QDrag, QDragEnterEvent, QDropEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from ...measure import show_angle
from ...measure.words import tr
from ...plan.result.plan import PlannedStroke
from ..kept import KeptButton
from ..paint.end import paint_end
from ..paint.sign import paint_state, paint_tag
from ..theme import Look, fitting, pixels
from ..widget import as_text


def paint_card(p: QPainter, rect: QRectF, stroke: PlannedStroke, look: Look, *, chosen: bool = False) -> None:
    """A bend card: tag, name, a little end view at the stop, where to stop."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setPen(QPen(look.color("accent" if chosen else "line"), 2.5 if chosen else 1))
    p.setBrush(look.color("field"))
    p.drawRoundedRect(rect.adjusted(2, 2, -2, -2), 6, 6)
    text = rect.height() / 10.5
    setting = stroke.verdict.stroke.setting
    inner = rect.adjusted(text * 0.8, text * 0.7, -text * 0.8, -text * 0.6)
    tag = paint_tag(p, QPointF(inner.left() + text * 1.5, inner.top() + text * 0.9), text * 1.7, str(stroke.number),
                    setting.line.angle, look)  # fmt: skip
    p.setFont(pixels(text * 1.08, strong=True))
    p.setPen(look.color("ink"))
    room = inner.right() - tag.right() - text * 2.2
    name = p.fontMetrics().elidedText(stroke.name, Qt.TextElideMode.ElideRight, int(room))
    p.drawText(QRectF(tag.right() + text * 0.6, inner.top(), room, text * 1.8), Qt.AlignmentFlag.AlignVCenter, name)
    paint_state(p, QPointF(inner.right() - text * 0.6, inner.top() + text * 0.9), text * 1.15, stroke.state, look)
    paint_end(p, QRectF(inner.left(), inner.top() + text * 2.1, inner.width(), inner.height() - text * 4.0), stroke,
              stroke.verdict.reach, look, plain=True)  # fmt: skip
    p.setPen(look.color("ink"))
    said = tr("stop at {reach}").format(reach=show_angle(stroke.machine_stop))
    if stroke.verdict.by_hand > 0:
        said += tr(", {by_hand} by hand").format(by_hand=show_angle(stroke.verdict.by_hand))
    p.setFont(fitting(said, inner.width(), text * 1.05))
    p.drawText(
        QRectF(inner.left(), inner.bottom() - text * 1.5, inner.width(), text * 1.6), Qt.AlignmentFlag.AlignVCenter, said
    )
    p.restore()


class BendCard(KeptButton):
    """One card of the strip; it can be dragged to another place.

    Args:
        stroke: what it shows.
        look: colours.
        beyond: what would be touched past its stop is said too.
    """

    def __init__(self, stroke: PlannedStroke, look: Look, *, beyond: bool = True) -> None:
        super().__init__(look, "bench", in_turn=True)
        self.stroke = stroke
        self.setCheckable(True)
        self.setFixedSize(QSize(232, 158))
        said = stroke.sentence(beyond=beyond)
        self.setAccessibleName(said)
        self.setToolTip(as_text(said))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton and not self.rect().adjusted(-4, -4, 4, 4).contains(
            event.position().toPoint()
        ):
            drag = QDrag(self)
            drag.setMimeData(QMimeData())
            drag.setPixmap(self.grab().scaledToWidth(140, Qt.TransformationMode.SmoothTransformation))
            self.setDown(False)
            drag.exec(Qt.DropAction.MoveAction)
        else:
            super().mouseMoveEvent(event)

    def paint(self, p: QPainter) -> None:
        paint_card(p, QRectF(self.rect()), self.stroke, self.look, chosen=self.isChecked())
        if self.hasFocus():
            p.setPen(QPen(self.look.color("accent"), 1, Qt.PenStyle.DotLine))
            p.drawRoundedRect(QRectF(self.rect()).adjusted(5, 5, -5, -5), 5, 5)


class CardStrip(QWidget):
    """The row of cards; a card dropped elsewhere is asked for there.

    Args:
        move: told from where to where a card was dragged.
    """

    def __init__(self, move: Callable[[int, int], None]) -> None:
        super().__init__()
        self._move = move
        self.setAcceptDrops(True)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if isinstance(event.source(), BendCard):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        card = event.source()
        if isinstance(card, BendCard):
            cards = [w for w in self.findChildren(BendCard) if w is not card]
            to = sum(w.geometry().center().x() < event.position().x() for w in cards)
            event.acceptProposedAction()
            self._move(card.stroke.number - 1, to)
