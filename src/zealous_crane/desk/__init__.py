"""Everything a person sees: window, stages, canvases, printed sheets. The only room that knows Qt."""

from __future__ import annotations

import builtins
import gc
from pathlib import Path

# What is brought in from here on stays: to look through it for garbage again and again is a seventh of the time until the window stands.
# The application collects from then on, see collect.py.
gc.disable()

import PySide6.QtCore  # noqa: E402, F401

# The window library puts itself before every import from then on, in case a module asks for its additions to the language: it reads the
# source of each in search of its own name. None asks here: a tenth of the time until the window stands, and of every import after that.
builtins.__import__ = getattr(builtins, "__orig_import__", builtins.__import__)

__all__ = ["run"]


def run(job: Path | None = None) -> int:
    """Open the window and stay until it is closed; the exit code."""
    from .app import application
    from .log import watch_faults
    from .remembered import Remembered
    from .session import Session
    from .theme import scale_text
    from .window import Window, looked_for

    remembered = Remembered()
    scale_text(remembered.text)
    app = application()
    session = Session.for_shop()
    window = Window(session, looked_for(remembered.dark), remembered)
    if remembered.geometry is not None:
        window.restoreGeometry(remembered.geometry)
    watch_faults(window.say)
    window.show()
    restored = window.filing.offer_recovery()
    if job is not None and window.filing.may_leave():
        window.filing.open_file(job)
    elif not restored:
        window.stand_where_left()
    return app.exec()
