"""Garbage is collected on the window's thread alone.

Python collects wherever it happens to allocate. On the planning thread it would take apart discarded widgets: that needs a lock of
the window library which the window's thread may hold while it waits for Python, and both would wait for ever.
"""

from __future__ import annotations

import gc
import time

from PySide6.QtCore import QObject, QTimer

from .turns import Turns

EVERY = 250
"""Milliseconds between two looks."""

OFTEN = (700, 10, 10)
"""Python's usual thresholds: a window makes much that goes in circles, and a look is short when little has come together."""


AT_LAST = 100
"""The same for the oldest generation where somebody is always at the window: some five minutes."""

CALM, IDLE = 4, 0.002
"""So many looks in a row between which the thread had no more than this to do (seconds; a cursor that blinks takes less): nobody is at the
window."""


class Collector(QObject):
    """Takes over collecting: a timer on the thread it was made on looks whether Python would have collected by now.

    The oldest generation is all that is alive, and whoever is at the window would wait for it: it is gone through when nobody is.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        # What was loaded by now stays: looking through it again would keep the window waiting.
        gc.freeze()
        self._calm, self._spent = 0, time.thread_time()
        self._timer = QTimer(self)
        self._timer.setInterval(EVERY)
        self._timer.timeout.connect(self.look)
        self._timer.start()

    def look(self) -> None:
        """Collect the oldest generation whose count has passed its threshold, and whose time it is; while pictures wait for their turn,
        none."""
        if not Turns.of_all().through:
            return
        self._calm = self._calm + 1 if time.thread_time() - self._spent < IDLE else 0
        counts = gc.get_count()
        most = OFTEN if self._calm >= CALM else (*OFTEN[:2], AT_LAST)
        for generation in (2, 1, 0):
            if counts[generation] > most[generation]:
                gc.collect(generation)
                break
        self._spent = time.thread_time()


def collect_here(parent: QObject) -> None:
    """Collect on this thread from now on; once for every application."""
    if parent.findChild(Collector) is None:
        Collector(parent)
