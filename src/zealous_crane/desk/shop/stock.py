"""What the book says is in stock."""

from __future__ import annotations

from PySide6.QtWidgets import QTableWidgetItem, QVBoxLayout, QWidget

from ...measure import show_length
from ...measure.words import tr
from ..session import Session
from ..widget import Table, prose


class StockPage(QWidget):
    """Off-cuts left of what was cut.

    Args:
        session: whose book it is.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.pieces = Table(4, tr("Off-cuts in stock"))
        self.pieces.setHorizontalHeaderLabels([tr("Metal"), tr("Piece"), tr("How many"), tr("Called")])
        self.pieces.horizontalHeader().setStretchLastSection(True)
        self.empty = prose()
        self.empty.setText(tr("No off-cut is in the book yet. Cut → “Off-cuts into the stock” writes what a sheet leaves."))
        box = QVBoxLayout(self)
        box.addWidget(self.empty)
        box.addWidget(self.pieces, 1)
        session.book.stocked.connect(self._stocked)
        session.book.ask_stock()

    def _stocked(self, pieces: object) -> None:
        if not isinstance(pieces, tuple):
            return
        units, metals = self.session.job.units, self.session.settings.every_metal
        self.empty.setVisible(not pieces)
        self.pieces.setRowCount(len(pieces))
        for i, piece in enumerate(pieces):
            metal = metals[piece.metal].name if piece.metal in metals else piece.metal
            texts = (
                f"{metal}, {show_length(piece.thickness, units.fine)}",
                f"{show_length(piece.length, units, pretty=True)} × {show_length(piece.width, units, pretty=True)}",
                str(piece.count), piece.name,
            )  # fmt: skip
            for j, text in enumerate(texts):
                self.pieces.setItem(i, j, QTableWidgetItem(text))
        self.pieces.resizeColumnsToContents()
