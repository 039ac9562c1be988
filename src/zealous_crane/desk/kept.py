"""Buttons painted by hand whose pictures are kept: whatever is laid out anew beside them paints them again."""

from __future__ import annotations

from PySide6.QtCore import QRect
from PySide6.QtGui import QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QAbstractButton

from .theme import Look
from .turns import Turns
from .widget import safely

MOST = 16
"""Pictures one keeps: chosen or not, with the keys or not, under the mouse or not, at the last size or two."""


class KeptButton(QAbstractButton):
    """A button with a picture for each way it stands.

    Args:
        look: colours.
        ground: the colour of the look that lies behind it: letters are drawn finer on a ground that is known.
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
        ratio = self.devicePixelRatioF()
        stands = (self.look, self.isChecked(), self.hasFocus(), self.underMouse(), self.width(), self.height(), ratio)
        made = self._kept.get(stands)
        if made is None:
            if len(self._kept) == MOST:
                self._kept.clear()
            made = self._kept[stands] = QPixmap(self.size() * ratio)
            made.setDevicePixelRatio(ratio)
            made.fill(self.look.color(self._ground))
            p = QPainter(made)
            safely(lambda: self.paint(p))
            p.end()
        return made

    def grab(self, rectangle: QRect | None = None) -> QPixmap:
        """Its picture at once, whether its turn has come or not."""
        self._in_turn = False
        return super().grab() if rectangle is None else super().grab(rectangle)
