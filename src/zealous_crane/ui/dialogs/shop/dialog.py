"""What the book says is in stock, and sheets that come in."""

from __future__ import annotations

from functools import partial

from pydantic import BaseModel
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QTableWidgetItem,
    QTabWidget,
    QVBoxLayout,
    QWidget,
)

from ....i18n import tr
from ....paint.theme import Theme
from ....shop.book.record import StockRecord
from ....units.length import show_length
from ...state.session import Session
from ...widgets.form import ModelForm
from ...widgets.widget import Count, Table, heading, prose
from .machines import MachinesPage, ShopDoors
from .metals import MetalsPage


class StockPage(QWidget):
    """Sheets and off-cuts there are: what came in less what was cut.

    Args:
        session: whose book it is.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pieces = Table(5, tr("Sheets and off-cuts in stock"))
        self.pieces.setHorizontalHeaderLabels(
            [tr("What"), tr("Metal"), tr("Piece"), tr("How many"), tr("Called")]
        )
        self.pieces.horizontalHeader().setStretchLastSection(True)
        self.empty = prose()
        self.empty.setText(
            tr(
                "Nothing is in the book yet. Write in the sheets you have; Cut → “Off-cuts into "
                "the stock” counts them down and writes "
                "what a sheet leaves."
            )
        )
        self.came = Count()
        self.came.setRange(1, 1000)
        self.came.setAccessibleName(tr("Sheets that came in"))
        self.write_in = QPushButton(tr("&Write in"))
        self.write_in.setAutoDefault(False)
        self.write_in.clicked.connect(self._write_in)
        self.sheet = QLabel()
        box = QVBoxLayout(self)
        box.addWidget(self.empty)
        box.addWidget(self.pieces, 1)
        row = QHBoxLayout()
        row.addWidget(QLabel(tr("Came in:")))
        row.addWidget(self.came)
        row.addWidget(self.sheet, 1)
        row.addWidget(self.write_in)
        box.addLayout(row)
        self._show_sheet()
        session.book.stocked.connect(self._stocked)
        session.book.ask_stock()

    def _show_sheet(self) -> None:
        """What is written in: the sheet this work is cut from, in the metal of its part on the
        bench."""
        job, cut_from = (
            self.session.job,
            self.session.work.cut_from or self.session.settings.cut_from,
        )
        length, width = (
            show_length(side, job.units, pretty=True)
            for side in (cut_from.sheet_length, cut_from.sheet_width)
        )
        self.sheet.setText(
            tr("× {metal}, {length} × {width}").format(
                metal=job.sheet.name, length=length, width=width
            )
        )

    def _write_in(self) -> None:
        job, cut_from = (
            self.session.job,
            self.session.work.cut_from or self.session.settings.cut_from,
        )
        record = StockRecord(
            what="sheet",
            metal=job.metal,
            thickness=job.sheet.thickness,
            length=cut_from.sheet_length,
            width=cut_from.sheet_width,
            count=self.came.value(),
            name=job.sheet.name[:80],
        )
        self.session.book.note(record)
        self.session.book.ask_stock()

    def _stocked(self, pieces: object) -> None:
        if not isinstance(pieces, tuple):
            return
        units, metals = self.session.job.units, self.session.settings.every_metal
        self.empty.setVisible(not pieces)
        self.pieces.setRowCount(len(pieces))
        for i, piece in enumerate(pieces):
            metal = metals[piece.metal].name if piece.metal in metals else piece.metal
            texts = (
                tr("sheet") if piece.what == "sheet" else tr("off-cut"),
                f"{metal}, {show_length(piece.thickness, units.fine)}",
                f"{show_length(piece.length, units, pretty=True)} × "
                f"{show_length(piece.width, units, pretty=True)}",
                str(piece.count),
                piece.name,
            )
            for j, text in enumerate(texts):
                self.pieces.setItem(i, j, QTableWidgetItem(text))
        self.pieces.resizeColumnsToContents()


class FormsPage(QWidget):
    """Forms of some fields of the shop's settings, side by side; what is typed is kept at once, as
    a step of undo.

    Args:
        session: whose shop it is.
        parts: field of the settings, its heading, and fields that are not shown.
        about: a sentence above them.
    """

    def __init__(
        self, session: Session, parts: tuple[tuple[str, str, frozenset[str]], ...], about: str
    ) -> None:
        super().__init__()
        self.session = session
        self.forms: dict[str, ModelForm] = {}
        self.complaint = prose("complaint")
        row = QHBoxLayout()
        row.setSpacing(24)
        for name, words, skip in parts:
            form = ModelForm(
                getattr(session.settings, name),
                partial(self._take, name),
                lambda: session.job.units,
                skip,
            )
            form.refused.connect(self.complaint.setText)
            self.forms[name] = form
            column = QVBoxLayout()
            column.addWidget(heading(words))
            column.addWidget(form)
            column.addStretch(1)
            row.addLayout(column, 1)
        inner = QWidget()
        inner.setLayout(row)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        box = QVBoxLayout(self)
        text = prose("faint")
        text.setText(about)
        box.addWidget(text)
        box.addWidget(scroll, 1)
        box.addWidget(self.complaint)
        session.changed.connect(self.refresh)

    def _take(self, name: str, model: BaseModel) -> str | None:
        refusal = self.session.shop_edits.keep_settings(
            self.session.settings.model_copy(update={name: model}), f"shop {name}"
        )
        if refusal is None:
            self.complaint.clear()
        return refusal

    def refresh(self) -> None:
        """Show the settings as they are."""
        for name, form in self.forms.items():
            form.show_model(getattr(self.session.settings, name))


def ways_page(session: Session) -> FormsPage:
    """Units, angles, tolerances, datum and rounding."""
    return FormsPage(
        session,
        (("ways", tr("Measuring and marking"), frozenset()),),
        tr(
            "New parts begin so. Parts on the bench that stand as the shop said before follow; "
            "what was chosen for one part stays."
        ),
    )


def tools_page(session: Session) -> FormsPage:
    """Small tools, the sheet that is bought, the shear."""
    return FormsPage(
        session,
        (
            ("small_tools", tr("On the wall and in the hand"), frozenset()),
            ("cut_from", tr("Sheet and shear"), frozenset({"offcuts"})),
        ),
        tr(
            "Reliefs, holes and notches take what hangs on the wall; blanks are cut from this "
            "sheet by this shear, where a work says "
            "nothing else."
        ),
    )


class ShopDialog(QDialog):
    """Machines, metals, tools, ways and stock.

    Args:
        session: whose shop it is.
        look: colours.
        parent: the window.
        doors: what the window does.
    """

    def __init__(self, session: Session, look: Theme, parent: QWidget, doors: ShopDoors) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("The shop"))
        self.resize(1000, 640)
        self.machines, self.metals = MachinesPage(session, look, doors), MetalsPage(session)
        self.tools, self.ways, self.stock = (
            tools_page(session),
            ways_page(session),
            StockPage(session),
        )
        self.tabs = QTabWidget()
        for page, words in (
            (self.machines, tr("&Machines")),
            (self.metals, tr("M&etals")),
            (self.tools, tr("&Small tools and shear")),
            (self.ways, tr("Mar&king and measuring")),
            (self.stock, tr("St&ock")),
        ):
            self.tabs.addTab(page, words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        # Return in a field takes what is typed there; it does not close the shop.
        close = buttons.button(QDialogButtonBox.StandardButton.Close)
        close.setAutoDefault(False)
        close.setDefault(False)
        box = QVBoxLayout(self)
        box.addWidget(self.tabs, 1)
        box.addWidget(buttons)
