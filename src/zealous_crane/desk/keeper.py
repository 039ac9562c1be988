"""Keeps the work safe while it changes: its safety copy is written off the window's thread, shortly after each change."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PySide6.QtCore import QObject, QTimer, Signal

from ..measure.words import tr
from ..work import Work
from .safety import SafetyCopy

KEEP_AFTER = 400
"""Milliseconds after a change until it is written to the safety copy, also while changes go on."""


Kept = tuple[Work, int, Path | None, str | None]


class Keeper(QObject):
    """Writes a safety copy.

    Args:
        copy: where the work is kept; None keeps none.
        kept: tells what is kept: the work, the part on the bench, its file, what that file held.
        parent: goes with it.

    Signals:
        complained: a sentence the person should read.
    """

    complained = Signal(str)

    def __init__(self, copy: SafetyCopy | None, kept: Callable[[], Kept], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.copy, self._kept = copy, kept
        self._thread = ThreadPoolExecutor(1) if copy is not None else None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(KEEP_AFTER)
        self._timer.timeout.connect(self.now)

    def soon(self) -> None:
        """The work has changed. What waits is not put off: steady typing is kept too."""
        if not self._timer.isActive():
            self._timer.start()

    def now(self) -> None:
        """Write the copy, off the window's thread."""
        if self._thread is not None and self.copy is not None:
            self._thread.submit(self._write, self.copy, *self._kept())

    def at_once(self) -> bool:
        """Write the copy and wait for it; True when it is on disk."""
        if self._thread is None or self.copy is None:
            return False
        return self._thread.submit(self._write, self.copy, *self._kept()).result()

    def close(self) -> None:
        """Wait for what is being written; the work being closed on purpose, forget the copy."""
        self.leave()
        if self.copy is not None:
            self.copy.forget()

    def leave(self) -> None:
        """Wait for what is being written, and write no more."""
        self._timer.stop()
        if self._thread is not None:
            self._thread.shutdown(wait=True, cancel_futures=True)
            self._thread = None

    def _write(self, copy: SafetyCopy, work: Work, at: int, path: Path | None, stamp: str | None) -> bool:
        try:
            copy.write(work, at, path, stamp)
        except OSError as error:
            self.complained.emit(tr("The safety copy could not be kept: {error}").format(error=error))
            return False
        return True
