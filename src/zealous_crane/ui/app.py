"""The window opened, and the log of what goes wrong in the program itself."""

from __future__ import annotations

import contextlib
import sys
import threading
import traceback
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from types import TracebackType
from typing import TYPE_CHECKING

import platformdirs

from ..i18n import tr

if TYPE_CHECKING:
    from .window.window import Window

LARGEST = 1_000_000
"""Bytes after which the log begins anew; the one before is kept beside it."""


def log_path() -> Path:
    """Where the log is: in the state folder."""
    return Path(platformdirs.user_state_dir("zealous-crane", appauthor=False)) / "log.txt"


def record_fault(error: BaseException) -> Path | None:
    """Write an error with the way to it; where, or None when it could not be written."""
    return record_text("".join(traceback.format_exception(error)))


def record_text(text: str) -> Path | None:
    """Write what went wrong; where, or None when it could not be written."""
    path = log_path()
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.exists() and path.stat().st_size > LARGEST:
            path.replace(path.with_suffix(".before.txt"))
        with path.open("a", encoding="utf-8") as file:
            file.write(f"--- {datetime.now().isoformat(timespec='seconds')}\n{text}\n")
        return path
    return None


def watch_faults(say: Callable[[str], None]) -> None:
    """From now on, what nobody caught is written to the log and said in a sentence; the window goes
    on.

    Args:
        say: shows a sentence.
    """

    def caught(
        kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        path = record_fault(error)
        where = tr(" The details are in {path}.").format(path=path) if path is not None else ""
        say(tr("The program hit an error. Your work is kept.{where}").format(where=where))

    sys.excepthook = caught
    threading.excepthook = lambda found: caught(
        found.exc_type, found.exc_value or RuntimeError("unknown"), found.exc_traceback
    )


class OpenWindow:
    """The window that is open: where another takes its place, that one.

    Args:
        window: the first.
    """

    def __init__(self, window: Window) -> None:
        self._take(window)

    def _take(self, window: Window) -> None:
        self._window = window
        window.renewed.connect(self._take)

    def say(self, sentence: str) -> None:
        """Show a sentence at its foot."""
        self._window.say(sentence)


def run(job: Path | None = None) -> int:
    """Open the window and stay until it is closed; the exit code."""
    from PySide6.QtCore import QTimer

    from ..paint.application import application
    from ..paint.theme import scale_text
    from .state.session import Session
    from .state.user_settings import Remembered
    from .window.window import Window, looked_for

    remembered = Remembered()
    scale_text(remembered.text)
    app = application()
    session = Session.for_shop()
    window = Window(session, looked_for(remembered.dark), remembered)
    if remembered.geometry is not None:
        window.restoreGeometry(remembered.geometry)
    open_window = OpenWindow(window)
    watch_faults(open_window.say)
    window.show()
    restored = window.filing.offer_recovery()
    if job is not None and window.filing.may_leave():
        window.filing.open_file(job)
    elif not restored:
        window.stand_where_left()
        QTimer.singleShot(0, window, window.ask_first)
    return app.exec()
