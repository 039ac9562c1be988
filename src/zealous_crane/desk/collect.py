"""Garbage is collected on the window's thread alone.

Python collects wherever it happens to allocate. On the planning thread it would take apart discarded widgets: that needs a lock of
the window library which the window's thread may hold while it waits for Python, and both would wait for ever.
"""

from __future__ import annotations

import gc

from PySide6.QtCore import QObject, QTimer

EVERY = 250
"""Milliseconds between two looks."""

OFTEN = (700, 10, 10)
"""Python's usual thresholds: a window makes much that goes in circles, and a look is short when little has come together."""


class Collector(QObject):
    """Takes over collecting: a timer on the thread it was made on looks whether Python would have collected by now."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        # What was loaded by now stays: looking through it again would keep the window waiting.
        gc.freeze()
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY)
        self._timer.timeout.connect(self.look)
        self._timer.start()

    @staticmethod
    def look() -> None:
        """Collect the oldest generation whose count has passed its threshold."""
        counts = gc.get_count()
        for generation in (2, 1, 0):
            if counts[generation] > OFTEN[generation]:
                gc.collect(generation)
                return


def collect_here(parent: QObject) -> None:
    """Collect on this thread from now on; once for every application."""
    if parent.findChild(Collector) is None:
        Collector(parent)
