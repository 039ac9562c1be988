"""The application object: fonts, icon, a platform that works without a display, and garbage
collected on its thread alone.

Python collects wherever it happens to allocate. On another thread it could take a discarded widget
apart, for which it needs a lock of the window library that the window's thread may hold while it
waits for Python: both would wait for ever.
"""

from __future__ import annotations

import gc
import os
import sys
import time
from importlib import resources
from typing import Any

from PySide6.QtCore import (
    QLibraryInfo,
    QMessageLogContext,
    QObject,
    QTimer,
    QtMsgType,
    QTranslator,
    qInstallMessageHandler,
)
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication

from ..i18n import ENGLISH, language
from .queue import Turns
from .theme import font

EVERY = 250
"""Milliseconds between two looks."""

OFTEN = (700, 10, 10)
"""Python's usual thresholds: a window makes much that goes in circles, and a look is short when
little has come together."""


AT_LAST = 100
"""The same for the oldest generation where somebody is always at the window: some five minutes."""

CALM, IDLE = 4, 0.002
"""So many looks in a row between which the thread had no more than this to do (seconds; a cursor
that blinks takes less): nobody is at the window."""


class Collector(QObject):
    """Takes over collecting: a timer on the thread it was made on looks whether Python would have
    collected by now. It is not for speed: on another thread a collection would free what belongs to
    the window's.

    The oldest generation is all that is alive, and whoever is at the window would wait for it: it
    is gone through when nobody is.
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
        """Collect the oldest generation whose count has passed its threshold, and whose time it is;
        while pictures wait for their turn, none."""
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


TURN = 0.0003
"""Seconds a thread keeps Python when another one wants it: with the usual 5 ms the longest of 2 000
turns of the window held 147 to 155 ms, with this 69 to 83."""


OFF_SCREEN = "offscreen"
"""The platform without a display, as the window library calls it."""

CANNOT = "This plugin does not support "
"""How that platform says of every window that there is nothing to bring to the front."""


def application() -> QApplication:
    """The running application, made when there is none; off screen when there is no display."""
    running = QApplication.instance()
    if isinstance(running, QApplication):
        collect_here(running)
        return running
    if not (
        os.environ.get("DISPLAY")
        or os.environ.get("WAYLAND_DISPLAY")
        or os.environ.get("QT_QPA_PLATFORM")
    ):
        os.environ["QT_QPA_PLATFORM"] = OFF_SCREEN
    app = QApplication(sys.argv[:1])
    if app.platformName() == OFF_SCREEN:
        hush()
    app.setApplicationName("Zealous Crane")
    app.setDesktopFileName("zealous-crane")
    app.setStyle("Fusion")
    app.setFont(font(10))
    app.setWindowIcon(crane_icon())
    speak_to(app)
    collect_here(app)
    # Every call into the window library lets go of Python and takes it again; a thread that reckons
    # beside the window keeps it for this long each time. With the usual five milliseconds a page of
    # two hundred calls would take a second.
    sys.setswitchinterval(TURN)
    return app


def hush() -> None:
    """Leave out what a platform without a display says of itself, some hundred times; everything
    else is told as before."""
    before: Any = None

    def tell(kind: QtMsgType, where: QMessageLogContext, text: str) -> None:
        if text.startswith(CANNOT):
            return
        if before is None:
            print(text, file=sys.stderr)
        else:
            before(kind, where, text)

    before = qInstallMessageHandler(tell)


def speak_to(app: QApplication) -> QTranslator | None:
    """Have the window library's own words ("Cancel", "Copy") in the language of the program; None
    where it does not know it, or needs no help."""
    for before in app.findChildren(QTranslator):
        app.removeTranslator(before)
        before.deleteLater()
    its_own = QTranslator(app)
    folder = QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)
    if language() == ENGLISH or not its_own.load(f"qtbase_{language()}", folder):
        its_own.deleteLater()
        return None
    app.installTranslator(its_own)
    return its_own


def crane_icon() -> QIcon:
    """The folded crane."""
    data = (resources.files(__package__) / "icons" / "zealous-crane.svg").read_bytes()
    pixmap = QPixmap()
    pixmap.loadFromData(data, "SVG")  # type: ignore[call-overload]  # it takes text, whatever its stubs say
    return QIcon(pixmap)
