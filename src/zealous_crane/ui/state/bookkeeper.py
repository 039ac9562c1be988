"""Records that could not be written into the book: they wait in a file beside it, for this window
or the next one that opens."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal

from ...brake.library import MachineLibrary
from ...i18n import counted, tr
from ...io.atomic import FileError, write_atomically
from ...metal.material import Material
from ...shop.book.record import AnyRecord, BendRecord, BookError, StockRecord, StripRecord
from ...shop.deduction import LearntK, learn_k, usual_k
from ...shop.hierarchical_fit import BendContext
from ...shop.springback import Learnt, handbook, learn
from ...shop.stock import stock_left

NAMED = "book-waiting-*.json"
"""How such files are called in the shop's folder; each window writes its own."""


class Waiting:
    """What waits of one window, on disk.

    Args:
        folder: the shop's folder; None keeps nothing beyond the window.
    """

    def __init__(self, folder: Path | None) -> None:
        self.folder = folder
        self.path = None if folder is None else folder / NAMED.replace("*", uuid.uuid4().hex[:12])

    def keep(self, records: Sequence[AnyRecord]) -> str:
        """Write what waits, in place of what waited before. Returns why it could not be, or
        nothing."""
        from ...shop.book.store import json_text

        if self.path is None:
            return ""
        try:
            if records:
                self.path.parent.mkdir(parents=True, exist_ok=True)
                write_atomically(self.path, json_text(records).encode())
            else:
                self.path.unlink(missing_ok=True)
        except (FileError, OSError) as error:
            return str(error)
        return ""

    def left(self) -> Iterator[tuple[Path, tuple[AnyRecord, ...] | str]]:
        """What other windows left waiting, file by file; or why a file cannot be read."""
        from ...shop.book.store import read_records

        for path in sorted(self.folder.glob(NAMED)) if self.folder is not None else ():
            if path != self.path:
                try:
                    yield path, read_records(path)
                except BookError as error:
                    yield path, str(error)


LATEST = 3000
"""Bends that are learnt from at most: the latest."""


BESIDE = 400
"""Records up to which learning takes no time anybody notices; more are gone through beside the
window."""

Asked = tuple[BendContext, str | None]
"""A place, and the id of a record that is left out."""


class BookKeeper(QObject):
    """Writes into the book and knows what its bends say.

    What cannot be written waits in a file in the shop's folder, is said once, and written with the
    next, or by the next window that opens; planning goes on without the book.

    Args:
        where: a file or the address of a database; None keeps no book beyond this window.
        shop: the shop's folder.
    """

    changed = Signal()
    """The bends known have changed."""

    complained = Signal(str)

    remembered = Signal(str, str, str)
    """What was said to be changed next time: name of the job, the day, the sentence."""

    stocked = Signal(object)
    """What the book still holds: a tuple of :class:`Stocked`."""

    _written = Signal(object)
    _read = Signal(object)
    _left = Signal(object, object)
    _taught = Signal(object)

    def __init__(self, where: Path | str | None, shop: Path | None = None) -> None:
        super().__init__()
        self.where = where
        self._disk = Waiting(shop if where is not None else None)
        self._on_disk = 0
        """Records that wait there, as the thread knows."""
        self._taken_over: dict[Path, set[str]] = {}
        self.bends: list[BendRecord] = []
        self.strips: list[StripRecord] = []
        self.waiting: list[AnyRecord] = []
        self._learnt: dict[Asked, Learnt] = {}
        self._before: dict[BendContext, Learnt] = {}
        """What was last known of a place, while more is learnt."""
        self._learning: set[Asked] = set()
        self._stands = False
        self._told = 0
        """How often what is known has changed."""
        self._learnt_by: tuple[MachineLibrary | None, dict[str, Material]] = (None, {})
        # Every page asks for the same again and again; what was learnt stands until the book says
        # more.
        self.changed.connect(self._forget)
        self._taught.connect(self._after_learning, Qt.ConnectionType.QueuedConnection)
        self._said = self._why = self._unkept = ""
        self._opened = False
        self._crew = ThreadPoolExecutor(1, thread_name_prefix="book")
        self._learner = ThreadPoolExecutor(1, thread_name_prefix="learning")
        self._written.connect(self._after_writing, Qt.ConnectionType.QueuedConnection)
        self._read.connect(self._after_reading, Qt.ConnectionType.QueuedConnection)
        self._left.connect(self._take_over, Qt.ConnectionType.QueuedConnection)

    def load(self) -> None:
        """Read the bends, when that was not done yet; :attr:`changed` tells when they are there."""
        if not self._opened and self.where is not None:
            self._opened = True
            self._crew.submit(self._reading)
            self._crew.submit(self._looking_for_left)

    def read_again(self) -> None:
        """The book may have been changed by somebody else: read it anew; what is known stands until
        that is done."""
        self._opened = False
        self.load()

    def note(self, record: AnyRecord) -> None:
        """Write a record."""
        self.waiting.append(record)
        if isinstance(record, BendRecord):
            self.bends = [
                *(b for b in self.bends if b.id != record.replaces),
                *(() if record.struck else (record,)),
            ]
            self.changed.emit()
        elif isinstance(record, StripRecord):
            self.strips = [
                *(s for s in self.strips if s.id != record.replaces),
                *(() if record.struck else (record,)),
            ]
            self.changed.emit()
        if self.where is not None:
            self._crew.submit(self._writing, tuple(self.waiting))

    def learnt(
        self,
        place: BendContext,
        rack: MachineLibrary,
        metals: Mapping[str, Material],
        without: str | None = None,
        *,
        whole: bool = True,
    ) -> Learnt:
        """What the bends and strips known say of a place, all but the record of that id.

        Args:
            place: what is asked about.
            rack: the shop's machines.
            metals: what the shop bends, by key.
            without: id of a record that is left out.
            whole: the answer counts every record, and is waited for. Else a thick book is gone
                through beside the window: what was known before, or the rule while nothing was,
                    holds until :attr:`changed` tells that the answer is there.
        """
        asked, by = (place, without), (rack, dict(metals))
        if by[0] is not self._learnt_by[0] or by[1] != self._learnt_by[1]:
            self._learnt.clear()
            self._before.clear()
            self._learnt_by = by
        if asked not in self._learnt and not whole and len(self.bends) + len(self.strips) > BESIDE:
            if asked not in self._learning:
                self._learning.add(asked)
                every: tuple[BendRecord | StripRecord, ...] = (*self.bends, *self.strips)
                records = [record for record in every if record.id != without]
                self._learner.submit(
                    self._learn_beside, self._told, asked, records, handbook(rack, metals)
                )
            return self._before.get(place) or learn([], place, handbook(rack, metals))
        if asked not in self._learnt:
            known: tuple[BendRecord | StripRecord, ...] = (*self.bends, *self.strips)
            self._learnt[asked] = learn(
                [record for record in known if record.id != without], place, handbook(rack, metals)
            )
        return self._learnt[asked]

    def _forget(self) -> None:
        """The book says more: what was learnt stands only until that is gone through."""
        if self._stands:
            return
        self._before.update({place: result for (place, _), result in self._learnt.items()})
        self._learnt.clear()
        self._learning.clear()
        self._told += 1

    def _learn_beside(
        self,
        told: int,
        asked: Asked,
        records: list[BendRecord | StripRecord],
        rule: Callable[[BendContext], float],
    ) -> None:
        self._tell(self._taught, (told, asked, learn(records, asked[0], rule)))

    def _after_learning(self, what: tuple[int, Asked, Learnt]) -> None:
        told, asked, result = what
        if told == self._told:
            self._learning.discard(asked)
            self._learnt[asked] = result
            # Nothing more is known: what was learnt stands while the pages ask again.
            self._stands = True
            self.changed.emit()
            self._stands = False

    def learnt_k(self, place: BendContext, metals: Mapping[str, Material]) -> LearntK:
        """What the test strips known say of K in a place."""
        return learn_k(self.strips, place, usual_k(metals))

    def remember(self, job: str) -> None:
        """Ask what was said of a job when it was last done; :attr:`remembered` tells, where
        anything was."""
        if self.where is not None:
            self._crew.submit(self._remembering, job)

    def ask_stock(self) -> None:
        """Ask what sheets and off-cuts are left; :attr:`stocked` tells."""
        if self.where is not None:
            self._crew.submit(self._stocktaking)

    def settle(self) -> None:
        """Wait until everything that was asked for is done."""
        self._crew.submit(lambda: None).result()

    def close(self) -> str:
        """Write what is left and let go of the book. Returns what could not be written and where it
        waits, a sentence, or nothing."""
        if self.where is not None and self.waiting:
            self._crew.submit(self._writing, tuple(self.waiting))
        self._crew.shutdown(wait=True)
        self._learner.shutdown(wait=True, cancel_futures=True)
        if not self._on_disk:
            return ""
        records = counted("{count} record", "{count} records", self._on_disk)
        if self._unkept:
            return tr(
                "{records} could not be written into the book: {why} Nor could they be kept "
                "beside it: {unkept}"
            ).format(records=records, why=self._why, unkept=self._unkept)
        return tr(
            "{records} could not be written into the book: {why} They wait in {file} and are "
            "written when the program next finds the book."
        ).format(records=records, why=self._why, file=self._disk.path)

    # --- on the thread ---------------------------------------------------------------------------

    def _looking_for_left(self) -> None:
        for path, records in self._disk.left():
            try:
                self._left.emit(path, records)
            except RuntimeError:
                return

    def _reading(self) -> None:
        from ...shop.book.record import BookError
        from ...shop.book.store import Book

        if isinstance(self.where, Path) and not self.where.exists():
            return  # nobody has written anything yet
        try:
            with Book(self.where) as book:  # type: ignore[arg-type]
                self._tell(
                    self._read, (*book.find("bend", most=LATEST), *book.find("strip", most=LATEST))
                )
                if book.complaints:
                    self._tell(self._read, book.complaints)
        except BookError as error:
            self._tell(self._read, str(error))

    def _remembering(self, job: str) -> None:
        from ...shop.book.record import BookError, DoneRecord
        from ...shop.book.store import Book

        try:
            with Book(self.where) as book:  # type: ignore[arg-type]
                result = [
                    r for r in book.find("done", job=job, most=20) if isinstance(r, DoneRecord)
                ]
        except BookError:
            return  # planning goes on; the book's own page says why it cannot be read
        latest = max(result, key=lambda r: r.made, default=None)
        if latest is not None and latest.next_time:
            try:
                self.remembered.emit(job, latest.day, latest.next_time)
            except RuntimeError:
                return

    def _stocktaking(self) -> None:
        from ...shop.book.record import BookError
        from ...shop.book.store import Book

        try:
            with Book(self.where) as book:  # type: ignore[arg-type]
                self._tell(
                    self.stocked,
                    stock_left(r for r in book.find("stock") if isinstance(r, StockRecord)),
                )
        except BookError as error:
            self._tell(self._read, str(error))

    def _writing(self, records: tuple[AnyRecord, ...]) -> None:
        from ...shop.book.record import BookError
        from ...shop.book.store import Book

        try:
            with Book(self.where) as book:  # type: ignore[arg-type]
                book.add(*records)
        except BookError as error:
            # What waits is brought to disk at once: the window may be gone any moment.
            self._unkept = self._disk.keep(records)
            self._on_disk, self._why = len(records), str(error)
            self._tell(self._written, f"{error} {self._unkept}".strip())
            return
        if self._on_disk:
            self._disk.keep(())
            self._on_disk = 0
        written = {record.id for record in records}
        for path, ids in list(self._taken_over.items()):
            if ids <= written:
                path.unlink(missing_ok=True)
                del self._taken_over[path]
        self._tell(self._written, records)

    @staticmethod
    def _tell(signal: object, what: object) -> None:
        emit: Callable[[object], None] = signal.emit  # type: ignore[attr-defined]
        try:
            emit(what)
        except RuntimeError:
            return  # the window is gone; what was written is written

    # --- on the window's thread ------------------------------------------------------------------

    def _after_reading(self, what: object) -> None:
        if isinstance(what, str):
            self._complain(what)
            return
        assert isinstance(what, tuple)
        # What waits to be written is not in what was read yet; everything else is as the book says.
        known = {record.id for record in what}
        waiting = {record.id for record in self.waiting} - known
        gone = {record.replaces for record in self.waiting}
        read = [record for record in what if record.id not in gone]
        self.bends = [
            *(b for b in self.bends if b.id in waiting),
            *(r for r in read if isinstance(r, BendRecord)),
        ]
        self.strips = [
            *(s for s in self.strips if s.id in waiting),
            *(r for r in read if isinstance(r, StripRecord)),
        ]
        self.changed.emit()

    def _take_over(self, path: Path, what: object) -> None:
        """Another window could not write these and is gone, or cannot yet: twice written is once,
        by their ids."""
        if isinstance(what, str):
            self._complain(what)
            return
        assert isinstance(what, tuple)
        self._taken_over[path] = {record.id for record in what}
        known = {record.id for record in (*self.waiting, *self.bends, *self.strips)}
        for record in what:
            if record.id not in known:
                self.waiting.append(record)
        replaced = {record.replaces for record in what}
        fresh = [r for r in what if r.id not in known and not r.struck]
        self.bends = [
            *(b for b in self.bends if b.id not in replaced),
            *(r for r in fresh if isinstance(r, BendRecord)),
        ]
        self.strips = [
            *(s for s in self.strips if s.id not in replaced),
            *(r for r in fresh if isinstance(r, StripRecord)),
        ]
        self.changed.emit()
        self._crew.submit(self._writing, tuple({r.id: r for r in (*self.waiting, *what)}.values()))

    def _after_writing(self, what: object) -> None:
        if isinstance(what, str):
            self._complain(
                tr("{why} What was typed is kept and written with the next.").format(why=what)
            )
            return
        assert isinstance(what, tuple)
        done = {record.id for record in what}
        self.waiting = [record for record in self.waiting if record.id not in done]
        self._said = ""

    def _complain(self, sentence: str) -> None:
        if sentence != self._said:
            self._said = sentence
            self.complained.emit(sentence)
