"""The book, looked into: records of one kind, searched; bends as a picture of what they taught;
handed out, brought in, merged."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import QEventLoop, QRectF, QSize, Qt, QTimer, Signal
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
from ...metal.material import MATERIALS
from ...paint.sheets import paint_learnt
from ...paint.theme import Theme
from ...shop.book.address import is_file
from ...shop.book.record import KINDS, AnyRecord, BendRecord, BookError, StripRecord, csv_text
from ...shop.book.store import Book, json_text, read_records
from ...shop.hierarchical_fit import BendContext
from ...shop.springback import Learnt, handbook, learn
from ...units.length import show_length
from ...units.quantities import parse_angle
from ..state.session import Session
from ..widgets.canvas import Canvas
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


class Records(QStandardItemModel):
    """Records of one kind as rows; their words are handed over once, not asked for cell by cell
    whenever the table is painted."""

    def __init__(self) -> None:
        super().__init__()
        self.records: tuple[AnyRecord, ...] = ()
        self.names: list[str] = []

    def show(self, kind: str, records: tuple[AnyRecord, ...]) -> None:
        """Show other records."""
        self.records = records
        fields = ["made", *(n for n in KINDS[kind].model_fields if n not in HIDDEN and n != "made")]
        columns = {n: [_cell(r, n) for r in records] for n in fields}
        # Columns that say nothing are left out.
        self.names = [n for n in fields if n == "made" or any(columns[n])]
        # Who looks at the table hears of it once, at the end: its columns would be measured anew
        # for every one of them.
        self.blockSignals(True)
        self.clear()
        for name in self.names:
            self.appendColumn([QStandardItem(text) for text in columns[name]])
        self.setHorizontalHeaderLabels(
            [tr(name.replace("_", " ").capitalize()) for name in self.names]
        )
        self.blockSignals(False)
        self.beginResetModel()
        self.endResetModel()


def _cell(record: AnyRecord, name: str) -> str:
    value = getattr(record, name)
    if name == "made":
        return f"{value[:10]}  {value[11:16]}"
    if name == "struck":
        return tr("struck out") if value else ""
    return "" if value in (None, "") else f"{value:g}" if isinstance(value, float) else str(value)


def _metal(key: str) -> str:
    """A metal's name, or what the record calls it."""
    return MATERIALS[key].name if key in MATERIALS else key


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
            raise BookError(tr("This window keeps no book."))
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
        self.kinds.setAccessibleName(tr("Kind of record"))
        for kind in KINDS:
            self.kinds.addItem(str(TITLES[kind]), kind)
        self.kinds.activated.connect(lambda _: self.refresh())
        self.search = QLineEdit()
        self.search.setAccessibleName(tr("Words looked for"))
        self.search.setPlaceholderText(tr("search: job, metal, machine, note …"))
        self.search.setClearButtonEnabled(True)
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self.refresh)
        self.search.textChanged.connect(lambda _: self._pause.start())
        self.count = QLabel()
        self.count.setObjectName("faint")
        self.records = Records()
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
        self.plot = Canvas(tr("What the bends say"), self._paint, QSize(300, 190))
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
            (tr("Hand out …"), self._hand_out),
            (tr("Bring in …"), self._bring_in),
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
            self.message.setText(
                tr(
                    "{metal}, {thickness}, on {machine} springs back {learnt}; nine bends of ten "
                    "between {low:.1f}° and {high:.1f}°."
                ).format(
                    metal=_metal(record.metal),
                    thickness=show_length(record.thickness, self.session.job.units.fine),
                    machine=self._machine(record.machine),
                    learnt=learnt.text(),
                    low=learnt.within[0],
                    high=learnt.within[1],
                )
            )
            self.plot.update()

    def _machine(self, key: str) -> str:
        """A brake's name, or what the record calls it where this shop has none such."""
        return next(
            (b.name for b in self.session.rack.brakes if b.key == key), key or tr("any brake")
        )

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        if self._learnt is not None:
            paint_learnt(p, rect, self._learnt[1], self._learnt[0], self.look)

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
            self, tr("Hand the book out"), "book.json", tr("Records (*.json *.csv)"), "json", "csv"
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
            self, tr("Bring records in"), "", tr("Records (*.json *.csv)")
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
