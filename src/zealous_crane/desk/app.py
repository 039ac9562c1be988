"""The application object: fonts, icon, and a platform that works without a display."""

from __future__ import annotations

import os
import sys
from importlib import resources
from typing import Any

from PySide6.QtCore import QLibraryInfo, QMessageLogContext, QtMsgType, QTranslator, qInstallMessageHandler
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import QApplication

from ..measure.words import ENGLISH, language
from .collect import collect_here
from .theme import font

TURN = 0.0003
"""Seconds a thread keeps Python when another one wants it."""


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
    if not (os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")):
        os.environ["QT_QPA_PLATFORM"] = OFF_SCREEN
    app = QApplication(sys.argv[:1])
    if app.platformName() == OFF_SCREEN:
        hush()
    app.setApplicationName("Zealous Crane")
    app.setDesktopFileName("zealous-crane")
    app.setStyle("Fusion")
    app.setFont(font(10))
    app.setWindowIcon(crane_icon())
    if language() != ENGLISH:
        speak(app, language())
    collect_here(app)
    # Every call into the window library lets go of Python and takes it again; a thread that reckons beside the window keeps it for this
    # long each time. With the usual five milliseconds a page of two hundred calls would take a second.
    sys.setswitchinterval(TURN)
    return app


def hush() -> None:
    """Leave out what a platform without a display says of itself, some hundred times; everything else is told as before."""
    before: Any = None

    def tell(kind: QtMsgType, where: QMessageLogContext, text: str) -> None:
        if text.startswith(CANNOT):
            return
        if before is None:
            print(text, file=sys.stderr)
        else:
            before(kind, where, text)

    before = qInstallMessageHandler(tell)


def speak(app: QApplication, code: str) -> QTranslator | None:
    """Have the window library's own words ("Cancel", "Copy") in a language too; None where it does not know it."""
    its_own = QTranslator(app)
    if not its_own.load(f"qtbase_{code}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)):
        return None
    app.installTranslator(its_own)
    return its_own


def crane_icon() -> QIcon:
    """The folded crane."""
    data = (resources.files(__package__) / "icons" / "zealous-crane.svg").read_bytes()
    pixmap = QPixmap()
    pixmap.loadFromData(data, "SVG")  # type: ignore[call-overload]  # it takes text, whatever its stubs say
    return QIcon(pixmap)
