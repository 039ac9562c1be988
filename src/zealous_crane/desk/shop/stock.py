"""What the book says is in stock, and sheets that come in."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QTableWidgetItem, QVBoxLayout, QWidget

from ...measure import show_length
from ...measure.words import tr
from ...shop.book.record import StockRecord
from ..session import Session
from ..widget import Count, Table, prose


class StockPage(QWidget):
    """Sheets and off-cuts there are: what came in less what was cut.

    Args:
        session: whose book it is.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pieces = Table(5, tr("Sheets and off-cuts in stock"))
        self.pieces.setHorizontalHeaderLabels([tr("What"), tr("Metal"), tr("Piece"), tr("How many"), tr("Called")])
        self.pieces.horizontalHeader().setStretchLastSection(True)
        self.empty = prose()
        self.empty.setText(
            tr(
                "Nothing is in the book yet. Write in the sheets you have; Cut → “Off-cuts into the stock” counts them down and writes "
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
        """What is written in: the sheet this work is cut from, in the metal of its part on the bench."""
        job, cut_from = self.session.job, self.session.work.cut_from or self.session.settings.cut_from
        length, width = (show_length(side, job.units, pretty=True) for side in (cut_from.sheet_length, cut_from.sheet_width))
        self.sheet.setText(tr("× {metal}, {length} × {width}").format(metal=job.sheet.name, length=length, width=width))

    def _write_in(self) -> None:
        job, cut_from = self.session.job, self.session.work.cut_from or self.session.settings.cut_from
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
                f"{show_length(piece.length, units, pretty=True)} × {show_length(piece.width, units, pretty=True)}",
                str(piece.count), piece.name,
            )  # fmt: skip
            for j, text in enumerate(texts):
                self.pieces.setItem(i, j, QTableWidgetItem(text))
        self.pieces.resizeColumnsToContents()
