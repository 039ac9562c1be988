"""Pictures that are kept, and buttons painted by hand that keep theirs: whatever is laid out anew
beside them paints them again."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import ClassVar

from PySide6.QtCore import QEvent, QPointF, QRect, QRectF, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QHideEvent,
    QKeyEvent,
    QMouseEvent,
    QNativeGestureEvent,
    QPainter,
    QPaintEvent,
    QPalette,
    QPen,
    QPixmap,
    QResizeEvent,
    QShowEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QMenu,
    QScrollArea,
    QSizePolicy,
    QWidget,
)

from ...i18n import tr
from ...paint.queue import Turns
from ...paint.theme import Theme
from .save_as import ask_where
from .widget import safely

MOST = 16
"""Pictures one keeps: chosen or not, with the keys or not, under the mouse or not, at the last size
or two."""


def painted(widget: QWidget, ground: QColor, paint: Callable[[QPainter], object]) -> QPixmap:
    """A picture as large as a widget, on what lies behind it: letters are drawn finer on a ground
    that is known.

    Args:
        widget: whose size it has.
        ground: the colour behind it.
        paint: paints it.
    """
    ratio = widget.devicePixelRatioF()
    made = QPixmap(widget.size() * ratio)
    made.setDevicePixelRatio(ratio)
    made.fill(ground)
    p = QPainter(made)
    safely(lambda: paint(p))
    p.end()
    return made


class KeptButton(QAbstractButton):
    """A button with a picture for each way it stands: the card of one bend takes 7 ms to paint, and
    a part with twenty bends shows twenty when it is scrolled.

    Args:
        look: colours.
        ground: the colour of the look that lies behind it.
        in_turn: its first picture is painted in a turn of the window's loop of its own; until then
            it is not there.
    """

    def __init__(self, look: Theme, ground: str, *, in_turn: bool = False) -> None:
        super().__init__()
        self.look = look
        self._ground, self._in_turn = ground, in_turn
        self._kept: dict[tuple[object, ...], QPixmap] = {}

    def paint_card(self, p: QPainter) -> QRectF:
        """The ground of a card, rimmed where it is chosen or the keys are on it; where it is."""
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        lit = self.isChecked() or self.hasFocus()
        p.setPen(QPen(self.look.color("accent" if lit else "line"), 2.5 if self.isChecked() else 1))
        p.setBrush(self.look.color("field"))
        p.drawRoundedRect(rect, 6, 6)
        return rect

    def paint(self, p: QPainter) -> None:
        """Paint it as it stands."""
        raise NotImplementedError

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._in_turn:
            Turns.of_all().wait(self, self._first)
            return
        p = QPainter(self)
        p.drawPixmap(0, 0, self._picture())
        p.end()

    def _first(self) -> None:
        self._in_turn = False
        self._picture()
        self.update()

    def _picture(self) -> QPixmap:
        size, ratio = self.size(), self.devicePixelRatioF()
        stands = (
            self.look,
            self.isChecked(),
            self.hasFocus(),
            self.underMouse(),
            size.width(),
            size.height(),
            ratio,
        )
        if stands not in self._kept:
            if len(self._kept) == MOST:
                self._kept.clear()
            self._kept[stands] = painted(self, self.look.color(self._ground), self.paint)
        return self._kept[stands]

    def grab(self, rectangle: QRect | None = None) -> QPixmap:
        """Its picture at once, whether its turn has come or not."""
        self._in_turn = False
        return super().grab() if rectangle is None else super().grab(rectangle)


Paint = Callable[[QPainter, QRectF], object]

Steps = Callable[[QRectF], Sequence[Callable[[], object]]]
"""What a picture is made of, in steps; those already taken may be left out."""

LARGEST = 16.0
"""How near one comes: beyond it a scribed line is as wide as a finger."""


class Canvas(QWidget):
    """A picture that is painted anew whenever what it shows changes, in its turn, and kept: where
    something else in the window moves or is uncovered the one that is kept is laid there again,
    also where it has another room by then.

    Args:
        name: what a screen reader calls it.
        paint: paints it.
        least: smallest useful size.
        steps: what it stands on and takes long; each step is taken in a turn of the loop of its own
            before the picture is painted, which does without where the work has changed meanwhile.
    """

    zooms: ClassVar[bool] = True
    """The wheel comes nearer, dragging moves what is too large, a double click shows all of it
    again."""

    def __init__(self, name: str, paint: Paint, least: QSize, steps: Steps = lambda _: ()) -> None:
        super().__init__()
        self._paint, self._steps = paint, steps
        self._left: list[Callable[[], object]] | None = None
        self._zoom, self._shift = 1.0, QPointF(0, 0)
        self._grip: QPointF | None = None
        self._new = False
        self._kept: QPixmap | None = None
        self.setAccessibleName(name)
        self.setMinimumSize(least)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def update(self) -> None:  # type: ignore[override]  # a canvas is painted whole
        """Paint it anew, in a turn of the loop of its own: what is typed meanwhile is taken in
        between."""
        Turns.of_all().wait(self, self._paint_anew)

    def _paint_anew(self) -> None:
        """Its turn has come: for the next step, or for the picture."""
        if self._left is None:
            self._left = list(self._steps(QRectF(self.rect())))
        if self._left:
            safely(self._left.pop(0))
            Turns.of_all().wait(self, self._paint_anew)
            return
        self._left, self._new, self._kept = None, False, None
        super().update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        if self._kept is not None:
            Turns.of_all().wait(self, self._paint_anew)

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._kept = self._left = None

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        self._kept = None

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        # The page it comes with is there first.
        self._new = True
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        if self._new:
            return
        if self._kept is None or self._kept.devicePixelRatio() != self.devicePixelRatioF():
            Turns.of_all().leave(self)
            self._kept = painted(
                self, self.palette().color(QPalette.ColorRole.Window), self._paint_near
            )
        p = QPainter(self)
        p.drawPixmap(0, 0, self._kept)
        p.end()

    def _paint_near(self, p: QPainter) -> None:
        """Paint what is shown as near as one has come."""
        p.translate(self._shift)
        p.scale(self._zoom, self._zoom)
        self._paint(p, QRectF(self.rect()))

    # --- nearer and farther ----------------------------------------------------------------------

    @property
    def zoom(self) -> float:
        """How much larger than all of it."""
        return self._zoom

    def zoom_at(self, place: QPointF, by: float) -> None:
        """Come nearer by a factor, what is at a place staying there; never smaller than all of
        it."""
        now = min(max(self._zoom * by, 1.0), LARGEST)
        self._shift = place - (place - self._shift) * (now / self._zoom)
        self._zoom = now
        self._within()

    def fit(self) -> None:
        """Show all of it."""
        self._zoom, self._shift = 1.0, QPointF(0, 0)
        self.update()

    def _within(self) -> None:
        """Nothing but the picture is shown."""
        wide, high = self.width() * (1 - self._zoom), self.height() * (1 - self._zoom)
        self._shift = QPointF(
            min(0.0, max(wide, self._shift.x())), min(0.0, max(high, self._shift.y()))
        )
        self.update()

    def wheelEvent(self, event: QWheelEvent) -> None:
        # In a column that scrolls the wheel scrolls, unless Ctrl says otherwise.
        scrolled = isinstance(self.parentWidget(), QWidget) and self._in_column()
        if not self.zooms or (
            scrolled and not event.modifiers() & Qt.KeyboardModifier.ControlModifier
        ):
            event.ignore()
            return
        self.zoom_at(event.position(), 1.0015 ** event.angleDelta().y())
        event.accept()

    def _in_column(self) -> bool:
        widget = self.parentWidget()
        while widget is not None:
            if isinstance(widget, QScrollArea):
                return True
            widget = widget.parentWidget()
        return False

    def event(self, event: QEvent) -> bool:
        if (
            self.zooms
            and isinstance(event, QNativeGestureEvent)
            and event.gestureType() is Qt.NativeGestureType.ZoomNativeGesture
        ):
            self.zoom_at(event.position(), 1.0 + event.value())
            return True
        return super().event(event)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if self.zooms and event.button() in (
            Qt.MouseButton.LeftButton,
            Qt.MouseButton.MiddleButton,
        ):
            self._grip = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None and self._zoom > 1.0:
            self._shift += event.position() - self._grip
            self._grip = event.position()
            self._within()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        self._grip = None

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        if self.zooms:
            self.fit()

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        if not self.zooms:
            super().contextMenuEvent(event)
            return
        menu = QMenu(self)
        menu.addAction(tr("&Copy the picture"), self.copy)
        menu.addAction(tr("&Save the picture …"), self._ask_save)
        menu.addAction(tr("Show &all of it"), self.fit)
        menu.popup(event.globalPos())

    def grab(self, rectangle: QRect | None = None) -> QPixmap:
        """What is painted, at once, whether its turn has come or not."""
        self._new, self._kept = False, None
        return super().grab() if rectangle is None else super().grab(rectangle)

    def copy(self) -> None:
        """Put the picture on the clipboard."""
        QApplication.clipboard().setPixmap(self.grab())

    def _ask_save(self) -> None:
        path = ask_where(self, tr("Save the picture"), "picture.png", tr("Pictures (*.png)"), "png")
        if path:
            self.grab().save(str(path), "PNG")


class PointCanvas(Canvas):
    """A picture in which something is pointed at.

    Signals:
        clicked: where.
    """

    clicked = Signal(QPointF)
    zooms: ClassVar[bool] = False

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        if event.button() is Qt.MouseButton.LeftButton:
            self.clicked.emit(event.position())


class TurnCanvas(Canvas):
    """A picture of the folded part that turns as it is dragged, or with the arrow keys."""

    def __init__(self, name: str, paint: Paint, least: QSize, steps: Steps = lambda _: ()) -> None:
        super().__init__(name, paint, least, steps)
        self.turn, self.tilt = 28.0, 35.0
        self._from: QPointF | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setToolTip(
            tr("Drag to turn the part; the wheel comes nearer, a double click shows all of it.")
        )

    def turn_by(self, turn: float, tilt: float) -> None:
        """Turn and tilt by degrees."""
        self.turn = (self.turn + turn) % 360
        self.tilt = max(-89.0, min(89.0, self.tilt + tilt))
        self.update()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        # The left button turns; the middle one moves what was brought nearer.
        if event.button() == Qt.MouseButton.MiddleButton:
            super().mousePressEvent(event)
        else:
            self._from = event.position()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        super().mouseMoveEvent(event)
        if self._from is not None:
            moved = event.position() - self._from
            self._from = event.position()
            self.turn_by(-moved.x() * 0.5, moved.y() * 0.5)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        super().mouseReleaseEvent(event)
        self._from = None

    def keyPressEvent(self, event: QKeyEvent) -> None:
        steps = {
            Qt.Key.Key_Left: (10, 0),
            Qt.Key.Key_Right: (-10, 0),
            Qt.Key.Key_Up: (0, 10),
            Qt.Key.Key_Down: (0, -10),
        }
        step = steps.get(Qt.Key(event.key()))
        if step is None:
            super().keyPressEvent(event)
        else:
            self.turn_by(*step)


class AngleCanvas(Canvas):
    """The end view with a handle: the pointer, the wheel or the arrow keys swing the leaf until the
    part touches.

    Signals:
        swung: the angle asked for, degrees.
    """

    swung = Signal(float)
    zooms: ClassVar[bool] = False

    def __init__(
        self, name: str, paint: Paint, least: QSize, angle_at: Callable[[QPointF], float]
    ) -> None:
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
        steps = {
            Qt.Key.Key_Up: 1.0,
            Qt.Key.Key_Down: -1.0,
            Qt.Key.Key_PageUp: 10.0,
            Qt.Key.Key_PageDown: -10.0,
        }
        step = steps.get(Qt.Key(event.key()))
        if step is not None:
            self.swung.emit(self.angle + step)
        elif event.key() == Qt.Key.Key_Home:
            self.swung.emit(0.0)
        elif event.key() == Qt.Key.Key_End:
            self.swung.emit(180.0)
        else:
            super().keyPressEvent(event)
