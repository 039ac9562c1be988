"""Text that wraps."""

from __future__ import annotations

from bisect import bisect

from PySide6.QtCore import QEvent, Qt
from PySide6.QtWidgets import QLabel


class Wrapped(QLabel):
    """A label that wraps its text and knows how high it is at widths it was asked for: a layout asks a page of thirty labels some two
    hundred times, and each time the text would be broken into lines anew.

    Args:
        text: what it says.
    """

    def __init__(self, text: str = "") -> None:
        super().__init__()
        # A name that looks like markup is a name; whoever shows markup says so.
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setWordWrap(True)
        super().setText(text)
        self._forget()

    def _forget(self) -> None:
        """What was known of its heights no longer holds."""
        self._widths: list[int] = []
        self._heights: list[int] = []

    def setText(self, text: str) -> None:
        self._forget()
        super().setText(text)

    def clear(self) -> None:
        self._forget()
        super().clear()

    def changeEvent(self, event: QEvent) -> None:
        self._forget()
        super().changeEvent(event)

    def heightForWidth(self, width: int) -> int:
        at = bisect(self._widths, width)
        if at and (self._widths[at - 1] == width or (at < len(self._widths) and self._heights[at - 1] == self._heights[at])):
            # More room never takes more lines: between two widths of one height it is that high.
            return self._heights[at - 1]
        height = super().heightForWidth(width)
        self._widths.insert(at, width)
        self._heights.insert(at, height)
        return height
