"""Everything a person sees: window, stages, canvases, printed sheets. The only room that knows Qt."""

from __future__ import annotations

import gc
from pathlib import Path

# What is brought in from here on stays: to look through it for garbage again and again is a seventh of the time until the window stands.
# The application collects from then on, see collect.py.
gc.disable()

# Once the window library is there it reads the source of every module that is brought in after it, in search of its own name. The
# core, which never holds it, comes first: an eighth of the time until the window stands.
from .. import work  # noqa: E402, F401

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
    window.filing.offer_recovery()
    if job is not None and window.filing.may_leave():
        window.filing.open_file(job)
    return app.exec()
