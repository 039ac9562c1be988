"""Pictures that are kept, and buttons painted by hand that keep theirs: whatever is laid out anew beside them paints them again."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRect
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QAbstractButton, QWidget

from .theme import Look
from .turns import Turns
from .widget import safely

MOST = 16
"""Pictures one keeps: chosen or not, with the keys or not, under the mouse or not, at the last size or two."""


def painted(widget: QWidget, ground: QColor, paint: Callable[[QPainter], object]) -> QPixmap:
    """A picture as large as a widget, on what lies behind it: letters are drawn finer on a ground that is known."""
    ratio = widget.devicePixelRatioF()
    made = QPixmap(widget.size() * ratio)
    made.setDevicePixelRatio(ratio)
    made.fill(ground)
    p = QPainter(made)
    safely(lambda: paint(p))
    p.end()
    return made


class KeptButton(QAbstractButton):
    """A button with a picture for each way it stands.

    Args:
        look: colours.
        ground: the colour of the look that lies behind it.
        in_turn: its first picture is painted in a turn of the window's loop of its own; until then it is not there.
    """

    def __init__(self, look: Look, ground: str, *, in_turn: bool = False) -> None:
        super().__init__()
        self.look = look
        self._ground, self._in_turn = ground, in_turn
        self._kept: dict[tuple[object, ...], QPixmap] = {}

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
        stands = (self.look, self.isChecked(), self.hasFocus(), self.underMouse(), size.width(), size.height(), ratio)
        if stands not in self._kept:
            if len(self._kept) == MOST:
                self._kept.clear()
            self._kept[stands] = painted(self, self.look.color(self._ground), self.paint)
        return self._kept[stands]

    def grab(self, rectangle: QRect | None = None) -> QPixmap:
        """Its picture at once, whether its turn has come or not."""
        self._in_turn = False
        return super().grab() if rectangle is None else super().grab(rectangle)
