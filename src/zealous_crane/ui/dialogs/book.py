"""The book, looked into: records of one kind, searched; bends as a picture of what they taught;
handed out, brought in, merged."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import QEventLoop, QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QStandardItem, QStandardItemModel
from PySide6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableView,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...i18n import counted, msg, tr
from ...io.atomic import FileError, write_atomically
from ...metal.material import Material
from ...paint.sheets import LearntPlot, paint_learnt
from ...paint.theme import Theme
from ...shop.book.address import is_file
from ...shop.book.record import (
    KINDS,
    AnyRecord,
    BendRecord,
    BookError,
    SizeRecord,
    StripRecord,
    csv_text,
)
from ...shop.book.store import Book, json_text, read_records
from ...shop.hierarchical_fit import BendContext
from ...shop.springback import Learnt, handbook, learn
from ...units.length import Units, show_length
from ...units.quantities import parse_angle, show_angle
from ..state.session import Session
from ..widgets.canvas import PointCanvas
from ..widgets.form import title
from ..widgets.save_as import ask_where
from ..widgets.widget import Choice, Wrapped

T = TypeVar("T")

SHOWN = 100
"""Records shown at once, the newest; searching finds the rest."""

PAUSE = 150
"""Milliseconds after a key until the words are looked for: a large book is not gone through for
every letter."""

WIDTHS = 20
"""Rows that say how wide the columns are: those on show, and no more."""

HIDDEN = frozenset({"id", "kind", "replaces"})

TITLES = {
    "bend": msg("Bends"),
    "strip": msg("Test strips"),
    "size": msg("Sizes measured"),
    "done": msg("Jobs done"),
    "stock": msg("Stock and off-cuts"),
    "caution": msg("Cautions acknowledged"),
    "practice": msg("Exercises done"),
}


LENGTHS = frozenset(
    ("length", "width", "flat", "line", "leg_one", "leg_two", "radius", "wanted", "got")
)
"""Fields in mm."""

ANGLES = frozenset(("angle", "stop", "got"))
"""Fields in degrees of what is no measured size."""


@dataclass(frozen=True)
class Wording:
    """How a shop reads what a record says.

    Attributes:
        units: of the job on the bench.
        machines: names of the shop's machines by key.
        metals: the shop's metals by key.
    """

    units: Units
    machines: Mapping[str, str]
    metals: Mapping[str, Material]

    def cell(self, record: AnyRecord, name: str) -> str:
        """One field of a record in words; empty where it says nothing."""
        value = getattr(record, name)
        if value in (None, ""):
            return ""
        if isinstance(value, float):
            return self._figure(record, name, value)
        if name == "made":
            return f"{value[:10]}  {value[11:16]}"
        if name == "struck":
            return tr("struck out") if value else ""
        if name == "metal" and value in self.metals:
            return self.metals[value].name
        return self.machines.get(value, value) if name == "machine" else str(value)

    def _figure(self, record: AnyRecord, name: str, value: float) -> str:
        if name == "thickness":
            return self._thickness(getattr(record, "metal", ""), value)
        if isinstance(record, SizeRecord):
            # The record keeps its size's name, not its kind.
            is_angle = record.what.startswith(tr("angle of {name}{end}").partition("{")[0])
        else:
            is_angle = name in ANGLES
        if is_angle:
            return show_angle(value)
        return show_length(value, self.units) if name in LENGTHS else f"{value:g}"

    def _thickness(self, metal: str, thickness: float) -> str:
        """A gauge where an inch shop has one for it, else a length."""
        if self.units.is_inch and metal in self.metals:
            table = self.metals[metal].gauge
            gauge = table.nearest(thickness)
            if abs(table.thickness(gauge) - thickness) < ON_GAUGE * thickness:
                return f"{gauge} ga"
        return show_length(thickness, self.units.fine)


ON_GAUGE = 0.01
"""Share of a thickness within which it is that of a gauge."""


class Records(QStandardItemModel):
    """Records of one kind as rows; their words are handed over once, not asked for cell by cell
    whenever the table is painted.

    Args:
        wording: says how they are read now.
    """

    def __init__(self, wording: Callable[[], Wording]) -> None:
        super().__init__()
        self._wording = wording
        self.records: tuple[AnyRecord, ...] = ()
        self.names: list[str] = []

    def show(self, kind: str, records: tuple[AnyRecord, ...]) -> None:
        """Show other records."""
        self.records = records
        fields = ["made", *(n for n in KINDS[kind].model_fields if n not in HIDDEN and n != "made")]
        wording = self._wording()
        columns = {n: [wording.cell(r, n) for r in records] for n in fields}
        # Columns that say nothing are left out.
        self.names = [n for n in fields if n == "made" or any(columns[n])]
        # Who looks at the table hears of it once, at the end: its columns would be measured anew
        # for every one of them.
        self.blockSignals(True)
        self.clear()
        for name in self.names:
            self.appendColumn([QStandardItem(text) for text in columns[name]])
        self.setHorizontalHeaderLabels(
            [title(name, KINDS[kind].model_fields[name]) for name in self.names]
        )
        self.blockSignals(False)
        self.beginResetModel()
        self.endResetModel()


NEAR = 14.0
"""Painter units off a point within which a click means it."""


def patiently(where: Path | str, work: Callable[[], T]) -> T:
    """Something asked of a book. A server may keep one waiting: the window is painted meanwhile,
    and takes no keys.

    Args:
        where: the book's place.
        work: done in a thread where that is a server.
    """
    if is_file(where):
        return work()
    loop = QEventLoop()
    with ThreadPoolExecutor(1, thread_name_prefix="book-server") as crew:
        done = crew.submit(work)
        look = QTimer()
        look.timeout.connect(lambda: loop.quit() if done.done() else None)
        look.start(20)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        return done.result()


class BookDialog(QDialog):
    """The shop's book.

    Args:
        session: whose book, and whose brakes the handbook speaks of.
        look: colours.
        parent: the window.

    Raises:
        BookError: the book cannot be opened; the message says why.
    """

    _found = Signal(int, object, object, object)

    def __init__(self, session: Session, look: Theme, parent: QWidget) -> None:  # noqa: PLR0915
        if session.book.where is None:
            raise BookError(tr("No book is open."))
        if session.book.waiting:
            session.book.settle()
        where = session.book.where
        self.book = patiently(where, lambda: Book(where))
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.session, self.look = session, look
        self.setWindowTitle(tr("The book"))
        self.resize(1160, 700)
        self.kinds = Choice()
        self.kinds.setAccessibleName(tr("Record type"))
        for kind in KINDS:
            self.kinds.addItem(str(TITLES[kind]), kind)
        self.kinds.activated.connect(lambda _: self.refresh())
        self.search = QLineEdit()
        self.search.setAccessibleName(tr("Search"))
        self.search.setPlaceholderText(tr("search: job, metal, machine, note …"))
        self.search.setClearButtonEnabled(True)
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self.refresh)
        self.search.textChanged.connect(lambda _: self._pause.start())
        self.count = QLabel()
        self.count.setObjectName("faint")
        self.records = Records(self._wording)
        self.table = QTableView()
        self.table.setAccessibleName(tr("Records"))
        self.table.setModel(self.records)
        self.table.setTabKeyNavigation(False)
        self.table.setEditTriggers(QTableView.EditTrigger.NoEditTriggers)
        self.table.setSelectionBehavior(QTableView.SelectionBehavior.SelectRows)
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.horizontalHeader().setResizeContentsPrecision(WIDTHS)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._chosen())
        self.message = Wrapped()
        self.plot = PointCanvas(tr("What the bends say"), self._paint, QSize(300, 190))
        self.plot.setToolTip(tr("Click a point to see its record."))
        self.plot.clicked.connect(self._point)
        self.correct = QPushButton(tr("Correct the angle …"))
        self.correct.clicked.connect(self._correct)
        self.told = Wrapped()
        self.told.setObjectName("complaint")
        top = QHBoxLayout()
        top.addWidget(self.kinds)
        top.addWidget(self.search, 1)
        top.addWidget(self.count)
        buttons = QHBoxLayout()
        self.strike = QPushButton(tr("Strike out"))
        self.strike.setAutoDefault(False)
        self.strike.clicked.connect(self._strike)
        self.with_struck = QCheckBox(tr("Show what is struck out"))
        self.with_struck.toggled.connect(lambda _: self.refresh())
        buttons.addWidget(self.correct)
        buttons.addWidget(self.strike)
        buttons.addWidget(self.with_struck)
        buttons.addStretch(1)
        for text, run in (
            (tr("Export …"), self._hand_out),
            (tr("Import …"), self._bring_in),
            (tr("Merge with another book …"), self._merge),
            (tr("Close"), self.accept),
        ):
            button = QPushButton(text)
            button.clicked.connect(run)
            button.setAutoDefault(False)
            buttons.addWidget(button)
        box = QVBoxLayout(self)
        box.addLayout(top)
        box.addWidget(self.table, 3)
        box.addWidget(self.message)
        box.addWidget(self.plot, 2)
        box.addWidget(self.told)
        box.addLayout(buttons)
        self._crew = ThreadPoolExecutor(1, thread_name_prefix="learning")
        self._found.connect(self._tell, Qt.ConnectionType.QueuedConnection)
        self._asked = 0
        session.book.changed.connect(self._chosen)
        session.book.read_again()
        self._learnt: tuple[Learnt, list[BendRecord]] | None = None
        self.refresh()
        self.search.setFocus()

    def done(self, result: int) -> None:
        self.session.book.changed.disconnect(self._chosen)
        self._crew.shutdown(wait=False, cancel_futures=True)
        self.book.close()
        super().done(result)

    @property
    def kind(self) -> str:
        """The kind on show."""
        return str(self.kinds.currentData())

    def refresh(self) -> None:
        """Show what is asked for."""
        try:
            kind, text, struck = self.kind, self.search.text(), self.with_struck.isChecked()
            result, count = self._ask(
                lambda: self.book.page(kind, text=text, most=SHOWN, struck=struck)
            )
        except BookError as error:
            self.told.setText(str(error))
            return
        if self.book.complaints:
            self.told.setText(self.book.complaints)
        self.records.show(kind, result)
        many = tr("{shown} of {count} records").format(shown=len(result), count=count)
        self.count.setText(
            many if count else tr("nothing yet: angles typed at the brake come here")
        )
        is_bends = self.kind == "bend"
        for widget in (self.plot, self.message, self.correct):
            widget.setVisible(is_bends)
        if result:
            self.table.selectRow(0)
        self._chosen()

    def _ask(self, work: Callable[[], T]) -> T:
        return patiently(self.book.url, work)

    def chosen(self) -> AnyRecord | None:
        """The record of the row that is chosen."""
        row = self.table.currentIndex().row()
        return self.records.records[row] if 0 <= row < len(self.records.records) else None

    def _chosen(self) -> None:
        record = self.chosen()
        self.correct.setEnabled(isinstance(record, BendRecord) and not record.struck)
        self.strike.setEnabled(record is not None)
        self.strike.setText(
            tr("Bring back") if record is not None and record.struck else tr("Strike out")
        )
        self._learnt, self._asked = None, self._asked + 1
        self.message.setText("")
        self.plot.update()
        if isinstance(record, BendRecord):
            number = self._asked
            bends: tuple[BendRecord | StripRecord, ...] = (
                *self.session.book.bends,
                *self.session.book.strips,
            )
            rule = handbook(self.session.rack, self.session.settings.every_metal)

            def work() -> None:
                if number != self._asked:
                    return  # another row was chosen meanwhile
                try:
                    self._found.emit(
                        number, record, learn(bends, BendContext.of(record), rule), bends
                    )
                except RuntimeError:
                    return  # the dialog is gone

            self._crew.submit(work)

    @property
    def busy(self) -> bool:
        """True while what the bends say is being worked out."""
        return self._learnt is None and isinstance(self.chosen(), BendRecord)

    def _tell(
        self,
        number: int,
        record: BendRecord,
        learnt: Learnt,
        bends: tuple[BendRecord | StripRecord, ...],
    ) -> None:
        """What the bends say of the one that is chosen."""
        if number == self._asked:
            behind = set(learnt.ids)
            self._learnt = (
                learnt,
                [b for b in bends if b.id in behind and isinstance(b, BendRecord)],
            )
            wording = self._wording()
            self.message.setText(
                tr(
                    "{metal}, {thickness}, on {machine} springs back {learnt}; nine bends in "
                    "ten are between {low:.1f}° and {high:.1f}°."
                ).format(
                    metal=wording.cell(record, "metal"),
                    thickness=wording.cell(record, "thickness"),
                    machine=wording.cell(record, "machine") or tr("any brake"),
                    learnt=learnt.text(),
                    low=learnt.within[0],
                    high=learnt.within[1],
                )
            )
            self.plot.update()

    def _wording(self) -> Wording:
        return Wording(
            self.session.job.units,
            {brake.key: brake.name for brake in self.session.rack.brakes},
            self.session.settings.every_metal,
        )

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        if self._learnt is not None:
            record = self.chosen()
            learnt, bends = self._learnt
            paint_learnt(p, rect, bends, learnt, self.look, record.id if record else "")

    def _point(self, place: QPointF) -> None:
        """Choose the record of the point that was clicked; one the search leaves out is searched
        for no more."""
        if self._learnt is None:
            return
        learnt, bends = self._learnt
        plot = LearntPlot.of(QRectF(self.plot.rect()), bends, learnt)
        near = [
            (math.hypot(at.x() - place.x(), at.y() - place.y()), bend.id)
            for bend, at in plot.points(bends)
        ]
        far, id_ = min(near, default=(math.inf, ""))
        if far > NEAR:
            return
        if id_ not in self._ids and self.search.text():
            self.search.clear()
            self.refresh()
        if id_ in self._ids:
            row = self._ids.index(id_)
            self.table.selectRow(row)
            self.table.scrollTo(self.records.index(row, 0))

    @property
    def _ids(self) -> list[str]:
        return [record.id for record in self.records.records]

    # --- what is done ----------------------------------------------------------------------------

    def _correct(self) -> None:
        """Write the bend anew with another angle; the old record stays in the book and is no longer
        counted."""
        record = self.chosen()
        if not isinstance(record, BendRecord):
            return
        text, taken = QInputDialog.getText(
            self,
            tr("Correct the angle"),
            tr("Angle after release, bent from flat:"),
            text="" if record.got is None else f"{record.got:g}",
        )
        if not taken:
            return
        try:
            got = parse_angle(text) if text.strip() else None
            self._ask(lambda: self.book.add(record.corrected(got)))
        except INPUT_ERRORS as error:
            self.told.setText(str(error))
            return
        self._changed("")

    def _strike(self) -> None:
        """Strike the record out, or bring it back: it stays in the book and is no longer counted,
        or is counted again."""
        record = self.chosen()
        if record is None:
            return
        try:
            self._ask(lambda: self.book.strike(record, struck=not record.struck))
        except BookError as error:
            self.told.setText(str(error))
            return
        self._changed(
            tr("Counted again.") if record.struck else tr("Struck out: no longer counted.")
        )

    def _changed(self, sentence: str) -> None:
        self.told.setText(sentence)
        self.refresh()
        self.session.book.read_again()

    def _hand_out(self) -> None:
        path = ask_where(
            self, tr("Export the book"), "book.json", tr("Records (*.json *.csv)"), "json", "csv"
        )
        if path is None:
            return
        try:
            records = self._ask(lambda: tuple(self.book.every()))
            text = csv_text(records) if path.suffix.lower() == ".csv" else json_text(records)
            write_atomically(path, text.encode())
        except (FileError, BookError) as error:
            self.told.setText(str(error))
            return
        self.told.setText(tr("{count} records written.").format(count=len(records)))

    def _bring_in(self) -> None:
        name, _ = QFileDialog.getOpenFileName(
            self, tr("Import records"), "", tr("Records (*.json *.csv)")
        )
        if not name:
            return
        try:
            records = read_records(Path(name))
            new = self._ask(lambda: self.book.add(*records))
            self._changed(
                tr("{new} of {count} records were new.").format(new=new, count=len(records))
            )
        except BookError as error:
            self.told.setText(str(error))

    def _merge(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, tr("Another book"), "", tr("Books (*.db)"))
        if not name:
            return
        try:
            with Book(Path(name)) as other:
                new = self._ask(lambda: self.book.merge(other))
            text = counted("{count} record was new.", "{count} records were new.", new)
            self._changed(" ".join(filter(None, (text, self.book.settled_text, other.complaints))))
        except BookError as error:
            self.told.setText(str(error))
