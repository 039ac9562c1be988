"""On which lines the instrument and the back gauge hang."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QLocale, Qt
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from ...i18n import choose_language, chosen_language, languages, tr
from ...shop.settings import ADDRESS, book_place
from ..state.device_desk import DeviceDesk
from ..state.session import Session
from ..widgets.widget import Choice, FormDialog, prose, worded
from .shop.dialog import ways_page


class DeviceDialog(FormDialog):
    """Two names of serial lines.

    Args:
        desk: what is connected.
        parent: the window.
    """

    def __init__(self, desk: DeviceDesk, parent: QWidget) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setWindowTitle(tr("Instrument and back gauge"))
        self.resize(460, 260)
        about = worded(
            tr(
                "A caliper or protractor that sends its readings, and a stop that is driven to a "
                "number. Leave a line empty where none is."
                " Keep hands clear of a stop that moves by itself; its own manual comes first."
            )
        )
        self.instrument, self.gauge = QLineEdit(), QLineEdit()
        for line, port, name in (
            (self.instrument, desk.instrument, tr("Line of the instrument")),
            (self.gauge, desk.gauge, tr("Line of the back gauge")),
        ):
            line.setAccessibleName(name)
            line.setPlaceholderText("/dev/ttyUSB0")
            line.setText(port.name if port is not None else "")
        form = QFormLayout()
        form.addRow(tr("&Instrument"), self.instrument)
        form.addRow(tr("&Back gauge"), self.gauge)
        self.complaint = prose("complaint")
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel
        )
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addWidget(about)
        box.addLayout(form)
        box.addWidget(self.complaint)
        box.addStretch(1)
        box.addWidget(self.buttons)

    def accept(self) -> None:
        """Connect; stay where a line cannot be opened."""
        text = self.desk.connect_to(self.instrument.text(), self.gauge.text())
        self.complaint.setText("\n".join(text))
        if not text:
            super().accept()


SIZES = (100, 115, 130, 150)
"""Sizes of the text, per cent."""


class PreferencesDialog(QDialog):
    """Preferences: colours, text size, how the shop measures, where its files are.

    Args:
        session: whose shop it is.
        dark: the look that was chosen; None follows the desktop.
        text: the size as it is, per cent.
        parent: the window.
        set_dark, set_text: take a choice at once.
    """

    def __init__(
        self,
        session: Session,
        parent: QWidget,
        *,
        dark: bool | None,
        text: int,
        set_dark: Callable[[bool | None], None],
        set_text: Callable[[int], None],
    ) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(tr("Preferences"))
        self.resize(620, 560)
        self.look, self.text = Choice(), Choice()
        self.look.setAccessibleName(tr("Look"))
        self.look.addItem(tr("as the desktop"), None)
        self.look.addItem(tr("light"), False)
        self.look.addItem(tr("dark"), True)
        self.look.setCurrentIndex({None: 0, False: 1, True: 2}[dark])
        self.look.activated.connect(lambda _: set_dark(self.look.currentData()))
        self.text.setAccessibleName(tr("Size of the text"))
        for percent in SIZES:
            self.text.addItem(f"{percent} %", percent)
        self.text.setCurrentIndex(max(0, self.text.findData(text)))
        self.text.activated.connect(lambda _: set_text(int(self.text.currentData())))
        self.language = Choice()
        self.language.setAccessibleName(tr("Language"))
        self.language.addItem(tr("as the desktop"), "")
        for code in languages():
            self.language.addItem(QLocale(code).nativeLanguageName() or code, code)
        self.language.setCurrentIndex(max(0, self.language.findData(chosen_language())))
        self.language.activated.connect(lambda _: self._speak())
        self.language_says = prose("faint")
        self.ways = ways_page(session)
        where = prose("faint")
        home = None if session.shop is None else session.shop.parent
        where.setText(_place(home))
        where.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        form = QFormLayout()
        form.addRow(tr("Look"), self.look)
        form.addRow(tr("Size of the text"), self.text)
        form.addRow(tr("Language"), self.language)
        form.addRow("", self.language_says)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        close = buttons.button(QDialogButtonBox.StandardButton.Close)
        close.setAutoDefault(False)
        close.setDefault(False)
        box = QVBoxLayout(self)
        box.addLayout(form)
        box.addWidget(self.ways, 1)
        box.addWidget(where)
        box.addWidget(buttons)

    def _speak(self) -> None:
        try:
            choose_language(str(self.language.currentData()))
        except OSError as error:
            self.language_says.setText(
                tr("This could not be saved: {error}.").format(error=error.strerror or error)
            )
            return
        self.language_says.setText(tr("Applied when this is closed."))


def _place(home: Path | None) -> str:
    if home is None:
        return tr("No shop is open.")
    return tr(
        "The shop is kept in {home}, its book in {book}. Several benches share a book by its "
        "address in {address} there."
    ).format(home=home, book=book_place(home), address=ADDRESS)
