"""Canvases: widgets that hand their rectangle to a painting function."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ..measure.words import tr

Paint = Callable[[QPainter, QRectF], object]


class Canvas(QWidget):
    """A picture that is painted anew whenever what it shows changes.

    Args:
        name: what a screen reader calls it.
        paint: paints it.
        least: smallest useful size.
    """

    def __init__(self, name: str, paint: Paint, least: QSize) -> None:
        super().__init__()
        self._paint = paint
        self.setAccessibleName(name)
        self.setMinimumSize(least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        self._paint(p, QRectF(self.rect()))
        p.end()


class TurnCanvas(Canvas):
    """A picture of the folded part that turns as it is dragged, or with the arrow keys."""

    def __init__(self, name: str, paint: Paint, least: QSize) -> None:
        super().__init__(name, paint, least)
        self.turn, self.tilt = 28.0, 35.0
        self._from: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setToolTip(tr("Drag to turn the part."))

    def turn_by(self, turn: float, tilt: float) -> None:
        """Turn and tilt by degrees."""
        self.turn = (self.turn + turn) % 360
        self.tilt = max(-89.0, min(89.0, self.tilt + tilt))
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._from = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._from is not None:
            moved = event.position() - self._from
            self._from = event.position()
            self.turn_by(-moved.x() * 0.5, moved.y() * 0.5)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._from = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Left: (10, 0), Qt.Key.Key_Right: (-10, 0), Qt.Key.Key_Up: (0, 10), Qt.Key.Key_Down: (0, -10),
        }  # fmt: skip
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.turn_by(*step)


class AngleCanvas(Canvas):
    """The end view with a handle: the pointer, the wheel or the arrow keys swing the leaf until the part touches.

    Signals:
        swung: the angle asked for, degrees.
    """

    swung = Signal(float)

    def __init__(self, name: str, paint: Paint, least: QSize, angle_at: Callable[[QPointF], float]) -> None:
        super().__init__(name, paint, least)
        self._angle_at = angle_at
        self.angle = 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(tr("Drag the handle: the part moves until it touches."))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.swung.emit(self._angle_at(event.position()))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if event.buttons() & Qt.MouseButton.LeftButton:
            self.swung.emit(self._angle_at(event.position()))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.swung.emit(self.angle + event.angleDelta().y() / 120)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {Qt.Key.Key_Up: 1.0, Qt.Key.Key_Down: -1.0, Qt.Key.Key_PageUp: 10.0, Qt.Key.Key_PageDown: -10.0}
        step = steps.get(Qt.Key(event.key()))
        if step is not None:
            self.swung.emit(self.angle + step)
        elif event.key() == Qt.Key.Key_Home:
            self.swung.emit(0.0)
        elif event.key() == Qt.Key.Key_End:
            self.swung.emit(180.0)
        else:
            super().keyPressEvent(event)
