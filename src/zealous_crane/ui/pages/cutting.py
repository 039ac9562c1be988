"""The piece in hand: whether the part on the bench comes from it, how many, and what would make it
come."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, QTimer
from PySide6.QtGui import QHideEvent, QPainter, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from ...cutting.layout import SheetCut
from ...cutting.piece import CutFrom, OffCut, Shear
from ...cutting.piece_in_hand import InHand, in_hand, read_piece, verdict, would_go
from ...cutting.summary import (
    MetalSummary,
    kept_lines,
    lines_on,
    sheet_title,
)
from ...errors import INPUT_ERRORS, InputError
from ...i18n import counted, tr
from ...io.atomic import FileError
from ...io.cut_files import write_cutting
from ...job.job import Job
from ...paint.sheets import SheetPicture, paint_sheet_cut
from ...paint.theme import Theme, font, side_width
from ...paper.sheets import CAUTIONS, write_cut_sheet
from ...shop.book.record import StockRecord
from ...shop.stock import Stocked, offcuts_of
from ...units.length import Units, parse_length, show_length
from ..state.background_call import Beside
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.cut_cards import CutCards
from ..widgets.field import ParsedField
from ..widgets.form import ModelForm
from ..widgets.save_as import ask_where
from ..widgets.widget import Column, Wrapped, emptied, heading, prose, safely


class PieceInHand(QWidget):
    """A piece typed, and what comes from it; every way that would make the part come is one button.

    Args:
        session: holds the part on the bench.
        shear: asked for what cuts.
    """

    def __init__(self, session: Session, shear: Callable[[], Shear]) -> None:
        super().__init__()
        self.session, self._shear = session, shear
        self.field = ParsedField(
            tr("The piece in hand"),
            self._typed,
            lambda text: text.strip() and read_piece(text, self.session.job.units),
            tr("29 x 29"),
        )
        self.says = prose()
        self.ways = QVBoxLayout()
        self._text = ""
        self._beside = Beside(self, session.crew)
        self._answered: Job | None = None
        session.changed.connect(self._changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.field)
        column.addWidget(self.says)
        column.addLayout(self.ways)

    def _changed(self) -> None:
        """Another part, or another size of it: the piece is still in hand, and is answered for
        anew."""
        if self._text.strip() and self.isVisible() and self._answered != self.session.job:
            self._typed(self._text)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._changed()

    def _typed(self, text: str) -> str | None:
        emptied(self.ways)
        self._answered = self.session.job
        self._beside.stop()
        self._text = text
        job, shear = self.session.job, self._shear()
        self.says.clear()
        if not text.strip():
            return None
        try:
            length, width = read_piece(text, job.units)
        except INPUT_ERRORS as error:
            return str(error)
        # What is answered for stays typed when the field is left.
        self.field.show_text(text.strip())
        self.says.setText(tr("Trying its sizes …"))

        self._beside.ask(
            partial(self._after, job), (in_hand, (job, self.session.brake, length, width, shear))
        )
        return None

    def _after(self, job: Job, told: object) -> None:
        emptied(self.ways)
        if not isinstance(told, InHand):
            self.says.setText(str(told))
            return
        self.says.setText(verdict(told, job, pretty=True))
        for words, changed in would_go(told, job, pretty=True):
            take = QPushButton(words)
            take.setToolTip(tr("Change the part so that it just fits the piece."))
            take.clicked.connect(partial(self._take, changed))
            self.ways.addWidget(take)

    def _take(self, job: Job) -> None:
        refusal = self.session.change(job)
        if refusal:
            self.says.setText(refusal)


ANSWERS = 2
"""How often an answer comes: at once, and when no better one is found."""

PAUSE = 350
"""Milliseconds after a change until the cutting is worked out anew."""


def read_offcuts(text: str, units: Units) -> tuple[OffCut, ...]:
    """``32 x 11, 20 x 15 x 2`` as off-cuts: length, width, and how many.

    Raises:
        InputError: an off-cut that is not two lengths; the message names it.
    """
    result = []
    for one in filter(None, (part.strip() for part in text.replace("×", "x").split(","))):
        sizes = [s.strip() for s in one.lower().split("x")]
        if len(sizes) not in (2, 3) or (len(sizes) == 3 and not sizes[2].isdigit()):
            raise InputError(tr("{one!r}: write length x width, and x how many").format(one=one))
        length, width = (parse_length(s, units) for s in sizes[:2])
        result.append(
            OffCut(length=length, width=width, count=int(sizes[2]) if len(sizes) == 3 else 1)
        )
    return tuple(result)


def show_offcuts(offcuts: tuple[OffCut, ...], units: Units) -> str:
    """The off-cuts as :func:`read_offcuts` reads them."""
    return ", ".join(
        f"{show_length(o.length, units, mark=False)} x {show_length(o.width, units, mark=False)}"
        + (f" x {o.count}" if o.count > 1 else "")
        for o in offcuts
    )


class CuttingStage(QWidget):
    """Sheets on the left, what is cut from and the cuts in order on the right."""

    def __init__(self, session: Session, look: Theme) -> None:  # noqa: PLR0915
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self.told: tuple[MetalSummary, ...] = ()
        self._in_stock: tuple[MetalSummary, ...] = ()
        self._stock: tuple[Stocked, ...] = ()
        self._wants_offcuts = False
        self.sheets: list[tuple[Canvas, SheetCut]] = []
        self.cutting = session.cutting
        self.cutting.told.connect(self._after)
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self.cutting.ask)
        self.form = ModelForm(self.cut_from, self._take, lambda: self.session.job.units)
        self.offcuts = ParsedField(
            tr("Off-cuts on hand"),
            self._offcuts_typed,
            lambda text: read_offcuts(text, self.session.job.units),
            tr("32 x 11, 20 x 15 x 2"),
        )
        self.from_stock = QPushButton(tr("Off-cuts from the &book's stock"))
        self.from_stock.setToolTip(
            tr("Every off-cut the book still holds, of the metals of this work.")
        )
        self.from_stock.clicked.connect(self._ask_offcuts)
        session.book.stocked.connect(self._stocked)
        self.to_stock = QPushButton(tr("&Cut: off-cuts into the stock"))
        self.to_stock.setToolTip(
            tr("Writes what was cut up out of the book's stock and what is kept into it.")
        )
        self.to_stock.clicked.connect(self._to_stock)
        self.hand_over = QPushButton(tr("Cut &sheet, list or drawing …"))
        self.hand_over.clicked.connect(self._hand_over)
        self.hand = PieceInHand(session, lambda: self.cut_from.shear)
        self.says = prose(size=12)
        self.cutting.failed.connect(self.says.setText)
        self.cuts = CutCards(look)
        self.cuts.lit.connect(self._light)
        self.kept = prose()
        care = Wrapped("\n".join(f"▲  {text}" for text in CAUTIONS))
        care.setFont(font(9.5))
        side = Column()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 10, 0)
        column.addWidget(self.says)
        column.addWidget(heading(tr("Cuts, in order")))
        column.addWidget(self.cuts)
        column.addWidget(self.kept)
        column.addWidget(care)
        column.addWidget(self.hand_over)
        column.addWidget(self.to_stock)
        column.addWidget(heading(tr("Cut from")))
        column.addWidget(self.form)
        column.addWidget(QLabel(tr("Off-cuts on hand, length x width x how many")))
        column.addWidget(self.offcuts)
        column.addWidget(self.from_stock)
        column.addWidget(heading(tr("The piece in hand")))
        column.addWidget(self.hand)
        column.addStretch(1)
        right = QScrollArea()
        right.setWidgetResizable(True)
        right.setWidget(side)
        right.setFixedWidth(side_width(400))
        self.holder = QWidget()
        self.pictures = QVBoxLayout(self.holder)
        self.left = QScrollArea()
        self.left.setWidgetResizable(True)
        self.left.setWidget(self.holder)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.addWidget(self.left, 1)
        row.addWidget(right)
        session.changed.connect(self._changed)

    @property
    def busy(self) -> bool:
        """True while the answer on show is not that of the work."""
        return self.cutting.busy

    @property
    def cut_from(self) -> CutFrom:
        """What the work is cut from."""
        return self.cutting.cut_from

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        safely(self._changed)
        self.session.book.ask_stock()

    def hideEvent(self, event: QHideEvent) -> None:
        self._pause.stop()
        super().hideEvent(event)

    def _changed(self) -> None:
        """Work it out anew when the page is looked at and something that counts has changed."""
        if not self.isVisible():
            return
        self.form.show_model(self.cut_from)
        self.offcuts.show_text(show_offcuts(self.cut_from.offcuts, self.session.job.units))
        if self.cutting.answer is not self.told and not self.cutting.busy:
            self._after()
        elif self.cutting.busy and not self.cutting.asked:
            self.says.setText(tr("Working out the cuts …"))
            self._pause.start()

    def _after(self) -> None:
        """Another answer is there; while nobody looks it is left for later."""
        if not self.isVisible():
            return
        self.told = self.cutting.answer
        self._say()
        units, lines = self.session.job.units, []
        while (item := self.pictures.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.sheets = []
        self.cuts.show_lots(self.told, units)
        for lot, one in enumerate(self.told):
            for number, sheet in enumerate(one.sheets):
                canvas = Canvas(
                    tr("Sheet with its blanks"),
                    partial(self._paint, lot, number),
                    QSize(300, 200),
                )
                canvas.setFixedHeight(self._height(sheet))
                self.sheets.append((canvas, sheet))
                self.pictures.addWidget(canvas)
                kept = kept_lines(sheet, units)
                lines += [f"{sheet_title(one, number, units)}: {', '.join(kept)}"] if kept else []
        self.pictures.addStretch(1)
        self.kept.setText("\n".join(lines))

    def _say(self) -> None:
        """What comes of it, what is still looked for, and what is not cut yet."""
        if not self.told:
            return
        lines = [f"{one.lot.name}: {one.says}" for one in self.told]
        lines += [tr("Looking for better …")] if self.busy else []
        asks = self.session.parts.unsaid()
        waiting = ", ".join(
            self.session.work.parts[k].name for k in self.session.work.waiting() if k not in asks
        )
        lines += (
            [
                tr("Not cut yet, until the other part is measured: {waiting}.").format(
                    waiting=waiting
                )
            ]
            if waiting
            else []
        )
        lines += [
            tr("Not cut yet. {question}").format(question=question) for question in asks.values()
        ]
        self.says.setText("\n".join([*lines, *self._short()]))

    # --- stock and papers ------------------------------------------------------------------------

    def _ask_offcuts(self) -> None:
        self._wants_offcuts = True
        self.session.book.ask_stock()

    def _short(self) -> list[str]:
        """Which sheets the book has too few of for this cutting, in sentences; only those it
        counts."""
        result = []
        for one in self.told:
            sheets = [
                s
                for s in self._stock
                if s.what == "sheet" and s.is_of(one.lot.metal, one.lot.thickness)
            ]
            left = sum(s.count for s in sheets)
            if sheets and one.bought > left:
                of = counted("{count} sheet", "{count} sheets", left)
                result.append(
                    tr("The book holds {left} of {metal}; this takes {needs}.").format(
                        left=of, metal=one.lot.name, needs=one.bought
                    )
                )
        return result

    def _stocked(self, pieces: object) -> None:
        """What the book still holds; of this work's metals the off-cuts become what it is cut from,
        where that was asked for."""
        if not isinstance(pieces, tuple):
            return
        self._stock = pieces
        if not self.isVisible():
            return
        if not self._wants_offcuts:
            self._say()
            return
        self._wants_offcuts = False
        kept = offcuts_of(
            p
            for p in pieces
            if any(p.is_of(j.metal, j.sheet.thickness) for j in self.session.work.parts)
        )
        text = self.session.parts.set_cut_from(self.cut_from.model_copy(update={"offcuts": kept}))
        self.says.setText(
            text
            or counted(
                "{count} off-cut from the book.", "{count} off-cuts from the book.", len(kept)
            )
        )

    def _to_stock(self) -> None:
        """Write what was cut up and what is kept into the book, once for each cutting."""
        if self.told and self._in_stock == self.told:
            self.says.setText(
                tr(
                    "This cutting is already in the book. Strike it out there if it was not "
                    "cut after all."
                )
            )
            return
        records = []
        for one in self.told:
            for sheet in one.sheets:
                stock = sheet.stock
                records.append(
                    StockRecord(
                        what="off-cut" if stock.offcut else "sheet",
                        name=str(stock.name),
                        length=stock.length,
                        width=stock.width,
                        count=-sheet.alike,
                        note=self.session.work.name,
                        metal=one.lot.metal,
                        thickness=one.lot.thickness,
                    )
                )
                for left in sheet.offcuts:
                    name = tr("{work}, {day}").format(
                        work=self.session.work.name, day=date.today().isoformat()
                    )
                    records.append(
                        StockRecord(
                            what="off-cut",
                            name=name[:200],
                            length=left.length,
                            width=left.width,
                            count=sheet.alike,
                            metal=one.lot.metal,
                            thickness=one.lot.thickness,
                        )
                    )
        for record in records:
            self.session.book.note(record)
        self._in_stock = self.told
        kept = sum(r.count for r in records if r.count > 0)
        self.says.setText(
            counted(
                "{count} off-cut recorded in the book.",
                "{count} off-cuts recorded in the book.",
                kept,
            )
            if records
            else tr("Nothing is cut yet.")
        )

    def _hand_over(self) -> None:
        kinds = "PDF (*.pdf);;CSV (*.csv);;DXF (*.dxf);;SVG (*.svg)"
        name = f"{self.session.work.name}, cutting.pdf"
        path = ask_where(
            self, tr("Cut sheet, list or drawing"), name, kinds, "pdf", "csv", "dxf", "svg"
        )
        if path:
            try:
                self.write(path)
            except FileError as error:
                self.says.setText(str(error))

    def write(self, path: Path) -> None:
        """Write the cutting as the ending of the file says.

        Raises:
            FileError: it could not be written.
        """
        job = self.session.job
        if not write_cutting(
            self.told, path, inches=job.units.is_inch, version=self.session.settings.ways.drawings
        ):
            write_cut_sheet(
                self.told, job.model_copy(update={"name": self.session.work.name}), path
            )

    def _height(self, sheet: SheetCut) -> int:
        """Painter units a sheet's picture is high: as wide as the page, and all of it seen at
        once."""
        seen = self.left.viewport()
        tall = int((seen.width() - 40) * sheet.stock.width / sheet.stock.length) + 40
        return max(150, min(tall, seen.height() - 30))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        for canvas, sheet in self.sheets:
            canvas.setFixedHeight(self._height(sheet))

    def _light(self) -> None:
        """Another setting stands out on the sheets."""
        for canvas, _ in self.sheets:
            canvas.update()

    def _paint(self, lot: int, number: int, p: QPainter, rect: QRectF) -> None:
        one, units = self.told[lot], self.session.job.units
        picture = SheetPicture(
            one.sheets[number],
            sheet_title(one, number, units),
            units,
            lines_on(one, number),
            self.cuts.lit_on(lot),
        )
        paint_sheet_cut(p, rect, picture, self.look)

    def _take(self, model: object) -> str | None:
        assert isinstance(model, CutFrom)
        return self.session.parts.set_cut_from(model)

    def _offcuts_typed(self, text: str) -> str | None:
        try:
            read = read_offcuts(text, self.session.job.units)
            # One that stands there already keeps its name and metal.
            old = {(round(o.length, 1), round(o.width, 1)): o for o in self.cut_from.offcuts}
            kept = tuple(
                old.get((round(o.length, 1), round(o.width, 1)), o).model_copy(
                    update={"count": o.count}
                )
                for o in read
            )
            return self.session.parts.set_cut_from(
                self.cut_from.model_copy(update={"offcuts": kept})
            )
        except INPUT_ERRORS as error:
            return str(error)
