"""Work that a window left behind when it went down, offered again."""

from __future__ import annotations

from enum import StrEnum

from PySide6.QtCore import QDateTime, QLocale, Qt
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ..measure.words import tr
from .safety import Found
from .theme import font
from .wrapped import Wrapped


class Recover(StrEnum):
    """What becomes of it."""

    RESTORE = "restore"
    ASIDE = "aside"
    DISCARD = "discard"
    LATER = "later"


class RecoveryDialog(QDialog):
    """Says from when the work is and which parts it has; asks what to do. Closed without an answer it is offered again next time.

    Args:
        found: the work.
        parent: the window.
    """

    def __init__(self, found: Found, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.choice = Recover.LATER
        self.setWindowTitle(tr("Work found again"))
        head = QLabel(tr("The program stopped with this work on the bench:"))
        head.setFont(font(12, strong=True))
        parts = "\n".join(f"·  {part.name} — {part.sheet.name}" for part in found.work.parts)
        origin = (
            tr("It belongs to {origin}.").format(origin=found.origin)
            if found.origin is not None
            else tr("It was never saved to a file.")
        )
        when = QLocale().toString(QDateTime.fromSecsSinceEpoch(int(found.saved.timestamp())), "dddd d MMMM yyyy, HH:mm:ss")
        self.says = Wrapped(
            tr("{parts}\n\nWritten {when}. {origin}\nRestored, it counts as not saved yet.").format(
                parts=parts, when=when, origin=origin
            )
        )
        self.says.setTextFormat(Qt.TextFormat.PlainText)
        self.says.setFixedWidth(560)
        self.says.setMinimumHeight(self.says.heightForWidth(560))
        row = QHBoxLayout()
        self.buttons: dict[Recover, QPushButton] = {}
        for choice, text in (
            (Recover.RESTORE, tr("Restore it")), (Recover.ASIDE, tr("Keep it aside")), (Recover.DISCARD, tr("Discard it")),
            (Recover.LATER, tr("Ask me later")),
        ):  # fmt: skip
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, choice=choice: self._choose(choice))
            self.buttons[choice] = button
            row.addWidget(button)
        self.buttons[Recover.RESTORE].setDefault(True)
        box = QVBoxLayout(self)
        box.setSpacing(14)
        box.addWidget(head)
        box.addWidget(self.says)
        box.addLayout(row)

    def _choose(self, choice: Recover) -> None:
        self.choice = choice
        self.accept()
