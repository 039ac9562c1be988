"""One picture in each turn of the window's loop."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid


class Turns(QObject):
    """Widgets that wait to be painted anew: one in each turn of the loop, in the order they asked.
    Two large pictures in one turn would keep whoever types on waiting for both."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._waiting: dict[QWidget, Callable[[], object]] = {}
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.timeout.connect(self._one)

    @staticmethod
    def of_all() -> Turns:
        """Those of the application, which all its pictures share."""
        app = QApplication.instance()
        assert app is not None
        return app.findChild(Turns, options=Qt.FindChildOption.FindDirectChildrenOnly) or Turns(app)

    @property
    def through(self) -> bool:
        """True when none waits."""
        return not self._waiting

    def wait(self, widget: QWidget, paint: Callable[[], object]) -> None:
        """Call this when it is the widget's turn."""
        self._waiting.setdefault(widget, paint)
        if not self._next.isActive():
            self._next.start()

    def leave(self, widget: QWidget) -> None:
        """It was painted meanwhile."""
        self._waiting.pop(widget, None)

    def _one(self) -> None:
        while self._waiting:
            widget = next(iter(self._waiting))
            paint = self._waiting.pop(widget)
            if isValid(widget) and widget.isVisible():
                paint()
                break
        if self._waiting:
            self._next.start()
