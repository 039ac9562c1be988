"""Cut: the blanks of the whole work on sheets and off-cuts, every cut in the order a hand makes it."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QPainter, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from ...cut import CutError
from ...cut.cut_from import CutFrom, OffCut
from ...cut.layout import SheetCut, lay_out
from ...cut.work import Lot, lots
from ...job import Job
from ...measure import Units, parse_length, show_length
from ...measure.words import tr
from ..canvas import Canvas
from ..field import ParsedField
from ..form import ModelForm
from ..paint.sheet_cut import paint_sheet_cut
from ..session import Session
from ..theme import Look, font
from ..widget import heading, prose

PAUSE = 350
"""Milliseconds after a change until the cutting is worked out anew."""

CAUTIONS = (
    tr("Fingers clear of hold-down and blade; foot clear of the treadle; never reach past the guard."),
    tr("Gloves for edges and slivers, none near the moving blade. The shear's own manual and rating come first."),
)


@dataclass(frozen=True)
class Told:
    """What was worked out of one metal and thickness, or why it cannot be cut."""

    lot: Lot
    says: str
    sheets: tuple[SheetCut, ...] = ()
    cannot: bool = False


def worked_out(jobs: tuple[Job, ...], cut_from: CutFrom, units: Units) -> tuple[Told, ...]:
    """Every metal's cutting."""
    # What solves it is loaded when it is first asked.
    from ...cut.solve import plan_cutting

    found = []
    for lot in lots(jobs):
        try:
            cutting = plan_cutting(lot.blanks, cut_from.stock, cut_from.shear, units)
            found.append(Told(lot, cutting.sentence(), lay_out(cutting)))
        except CutError as error:
            found.append(Told(lot, str(error), cannot=True))
    return tuple(found)


def read_offcuts(text: str, units: Units) -> tuple[OffCut, ...]:
    """``32 x 11, 20 x 15 x 2`` as off-cuts: length, width, and how many.

    Raises:
        ValueError: an off-cut that is not two lengths; the message names it.
    """
    found = []
    for one in filter(None, (part.strip() for part in text.replace("×", "x").split(","))):
        sizes = [s.strip() for s in one.lower().split("x")]
        if len(sizes) not in (2, 3) or (len(sizes) == 3 and not sizes[2].isdigit()):
            raise ValueError(tr("{one!r}: write length x width, and x how many").format(one=one))
        length, width = (parse_length(s, units) for s in sizes[:2])
        found.append(OffCut(length=length, width=width, count=int(sizes[2]) if len(sizes) == 3 else 1))
    return tuple(found)


def show_offcuts(offcuts: tuple[OffCut, ...], units: Units) -> str:
    """The off-cuts as :func:`read_offcuts` reads them."""
    return ", ".join(
        f"{show_length(o.length, units, mark=False)} x {show_length(o.width, units, mark=False)}"
        + (f" x {o.count}" if o.count > 1 else "")
        for o in offcuts
    )


class CuttingStage(QWidget):
    """Sheets on the left, what is cut from and the cuts in order on the right."""

    _worked = Signal(int, object)

    def __init__(self, session: Session, look: Look) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self.told: tuple[Told, ...] = ()
        self.sheets: list[Canvas] = []
        self._asked = 0
        self._of: object = None
        self._told_of: object = None
        self._crew = ThreadPoolExecutor(1, thread_name_prefix="cutting")
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self._ask)
        self._worked.connect(self._after, Qt.ConnectionType.QueuedConnection)
        self.form = ModelForm(self.cut_from, self._take, lambda: self.session.job.units)
        self.offcuts = ParsedField(
            tr("Off-cuts there are"),
            self._offcuts_typed,
            lambda text: read_offcuts(text, self.session.job.units),
            tr("32 x 11, 20 x 15 x 2"),
        )
        self.says = prose(size=12)
        self.cuts = prose()
        care = QLabel("\n".join(f"▲  {text}" for text in CAUTIONS))
        care.setWordWrap(True)
        care.setFont(font(9.5))
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 10, 0)
        column.addWidget(self.says)
        column.addWidget(heading(tr("Cut from")))
        column.addWidget(self.form)
        column.addWidget(QLabel(tr("Off-cuts there are, length x width x how many")))
        column.addWidget(self.offcuts)
        column.addWidget(heading(tr("Cuts, in order")))
        column.addWidget(self.cuts)
        column.addWidget(care)
        column.addStretch(1)
        right = QScrollArea()
        right.setWidgetResizable(True)
        right.setWidget(side)
        right.setFixedWidth(400)
        self.holder = QWidget()
        self.pictures = QVBoxLayout(self.holder)
        left = QScrollArea()
        left.setWidgetResizable(True)
        left.setWidget(self.holder)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 12, 16, 12)
        row.addWidget(left, 1)
        row.addWidget(right)
        session.changed.connect(self._changed)

    @property
    def busy(self) -> bool:
        """True while the answer on show is not that of the work."""
        return self._told_of != self._key()

    @property
    def cut_from(self) -> CutFrom:
        """What the work is cut from."""
        return self.session.work.cut_from or CutFrom()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._changed()

    def hideEvent(self, event: QHideEvent) -> None:
        self._pause.stop()
        super().hideEvent(event)

    def _changed(self) -> None:
        """Work it out anew when the page is looked at and something that counts has changed."""
        if not self.isVisible():
            return
        self.form.show_model(self.cut_from)
        self.offcuts.show_text(show_offcuts(self.cut_from.offcuts, self.session.job.units))
        if self._of != self._key():
            self.says.setText(tr("Working out the cuts …"))
            self._pause.start()

    def _key(self) -> object:
        work = self.session.work
        return tuple(
            (j.part, j.metal, j.thickness, j.quantity, j.school, j.radius, j.units, j.name) for j in work.parts
        ), self.cut_from

    def _ask(self) -> None:
        self._asked += 1
        self._of = self._key()
        jobs, cut_from, units, number = self.session.work.parts, self.cut_from, self.session.job.units, self._asked

        def work() -> None:
            found = worked_out(jobs, cut_from, units)
            try:
                self._worked.emit(number, found)
            except RuntimeError:
                return  # the window is gone

        self._crew.submit(work)

    def _after(self, number: int, told: object) -> None:
        if number != self._asked or not isinstance(told, tuple):
            return
        self.told, self._told_of = told, self._of
        self.says.setText("\n".join(f"{one.lot.name}: {one.says}" for one in self.told))
        units, lines = self.session.job.units, []
        while (item := self.pictures.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self.sheets = []
        for one in self.told:
            lines.append(tr("{sheet}, {weight:.1f} kg of blanks").format(sheet=one.lot.name, weight=one.lot.weight))
            for sheet in one.sheets:
                canvas = Canvas(tr("Sheet with its blanks"), partial(self._paint, sheet), QSize(300, 200))
                canvas.setFixedHeight(max(150, int(560 * sheet.stock.width / sheet.stock.length) + 40))
                self.sheets.append(canvas)
                self.pictures.addWidget(canvas)
                lines += self._lines(sheet, units)
        self.pictures.addStretch(1)
        self.cuts.setText("\n".join(lines))

    @staticmethod
    def _lines(sheet: SheetCut, units: Units) -> list[str]:
        found = [tr("{alike} × {name}").format(alike=sheet.alike, name=sheet.stock.name)]
        words = {"square": tr("square"), "rip": tr("rip"), "across": tr("cut across"), "trim": tr("trim")}
        for number, one in enumerate(sheet.cuts, start=1):
            found.append(
                tr("  {number}. {what} at {gauge}, {times} ×: {gives}").format(
                    number=number,
                    what=words[one.what],
                    gauge=show_length(one.gauge, units, pretty=True),
                    times=one.times,
                    gives=one.gives,
                )
            )
        for left in sheet.offcuts:
            found.append(
                tr("  keep {length} × {width}").format(
                    length=show_length(left.length, units, pretty=True), width=show_length(left.width, units, pretty=True)
                )
            )
        return found

    def _paint(self, sheet: SheetCut, p: QPainter, rect: QRectF) -> None:
        paint_sheet_cut(p, rect, sheet, self.session.job.units, self.look)

    def _take(self, model: object) -> str | None:
        assert isinstance(model, CutFrom)
        return self.session.set_cut_from(model)

    def _offcuts_typed(self, text: str) -> str | None:
        try:
            return self.session.set_cut_from(
                self.cut_from.model_copy(update={"offcuts": read_offcuts(text, self.session.job.units)})
            )
        except ValueError as error:
            return str(error)
