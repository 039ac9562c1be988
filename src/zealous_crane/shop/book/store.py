"""The tables of the book, one for each kind of record. A change here is a new step in
``migrations``."""

from __future__ import annotations

import csv
import json
import sqlite3
import types
import typing
import uuid
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path
from threading import Lock
from time import monotonic, sleep
from typing import Any, get_args

from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from pydantic import ValidationError
from sqlalchemy import (
    Column,
    ColumnElement,
    Connection,
    Engine,
    Float,
    Index,
    Integer,
    MetaData,
    Select,
    String,
    Table,
    Text,
    and_,
    create_engine,
    event,
    func,
    insert,
    literal_column,
    or_,
    select,
)
from sqlalchemy.exc import SQLAlchemyError

from ...errors import InputError
from ...i18n import counted, tr
from ...schema.reading import read_json, readable
from ...units.length import cut
from .address import WAIT, book_url, is_file, parsed, patience, shown, why_not_there
from .record import KINDS, READER, AnyRecord, BookError, from_words, read_rows

METADATA = MetaData()

LONG = frozenset({"note", "hits", "order", "set_up", "next_time", "text"})
"""Fields that hold prose."""


WORDS = "words"
"""Column of everything said in a record, small letters, which searching looks through: no field of
a record."""


DIALECT = "dialect"
"""What an index says where only one kind of database has it."""


def words_of(record: AnyRecord) -> str:
    """What searching looks through."""
    told = record.model_dump(exclude={"id", "kind", "replaces", "hits"})
    return " ".join(
        str(value) for value in told.values() if isinstance(value, str) and value
    ).lower()


def _type(name: str, annotation: Any) -> tuple[Any, bool]:
    """The column's type, and whether it may be empty."""
    parts = (
        set(get_args(annotation))
        if typing.get_origin(annotation) in (typing.Union, types.UnionType)
        else {annotation}
    )
    optional = type(None) in parts
    plain = {get_args(p)[0] if typing.get_origin(p) is typing.Annotated else p for p in parts} - {
        type(None)
    }
    if float in plain:
        return Float(), optional
    if int in plain or bool in plain:
        return Integer(), optional
    return (Text() if name in LONG else String(200)), optional


def _table(kind: str) -> Table:
    columns = []
    for name, info in KINDS[kind].model_fields.items():
        if name == "kind":
            continue
        column_type, optional = _type(name, info.annotation)
        columns.append(Column(name, column_type, primary_key=name == "id", nullable=optional))
    columns.append(Column(WORDS, Text(), nullable=False))
    table = Table(f"book_{kind}", METADATA, *columns)
    # In a file, what is searched and what it is ordered by stand together: a search reads them one
    # after the other and goes to the records only for what it found. Long notes are more than a
    # database's index takes, which is quick enough without.
    Index(
        f"ix_book_{kind}_newest",
        table.c.made,
        table.c.id,
        table.c[WORDS],
        table.c.struck,
        info={DIALECT: "sqlite"},
    )
    Index(f"ix_book_{kind}_made", table.c.made, info={DIALECT: "postgresql"})
    Index(f"ix_book_{kind}_replaces", table.c.replaces)
    if {"metal", "thickness"} <= set(table.c.keys()):
        Index(f"ix_book_{kind}_metal", table.c.metal, table.c.thickness)
    return table


TABLES: dict[str, Table] = {kind: _table(kind) for kind in KINDS}
"""The table of every kind."""


LARGEST = 50_000_000
"""Bytes; more records than that are not taken over at once."""

MOST = 100_000
"""Records taken from one file."""


CACHE = 65_536
"""KiB of a book that are kept in memory."""


class Book:
    """Records, added and read; never changed.

    Args:
        where: a file, which is made when it is not there, or the address of a database.

    Raises:
        BookError: it is damaged, in use, written by a newer version, or cannot be reached.
    """

    def __init__(self, where: Path | str) -> None:
        self.url = book_url(where)
        self.name = cut(Path(str(where)).name) if self.is_file else shown(self.url)
        self.damaged: dict[str, str] = {}
        """Rows that are no records, and why; what else the book holds is read all the same."""
        self.settled = 0
        """Corrections that a later correction of the same record stands for, at another bench."""
        if parsed(self.url) is None:
            raise BookError(
                tr(
                    "The address {name} of the book cannot be read; write "
                    "postgresql+psycopg://name@machine/book."
                ).format(name=self.name)
            )
        try:
            if self.is_file:
                Path(self.url.removeprefix("sqlite:///")).parent.mkdir(parents=True, exist_ok=True)
                self._engine = create_engine(self.url, connect_args={"timeout": WAIT})
                event.listen(self._engine, "connect", _careful)
            else:
                self._engine = create_engine(
                    self.url, pool_pre_ping=True, pool_timeout=WAIT, connect_args=patience(self.url)
                )
        except (SQLAlchemyError, OSError, ImportError) as error:
            raise BookError(self._why(error)) from None
        self._bring_up_to_date()

    @property
    def is_file(self) -> bool:
        """True for a file, false for a database several benches share."""
        return is_file(self.url)

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    def __enter__(self) -> Book:
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    @contextmanager
    def _using(self) -> Iterator[Connection]:
        """A connection in one transaction; everything that goes wrong is one sentence."""
        try:
            with self._engine.begin() as connection:
                yield connection
        except (SQLAlchemyError, sqlite3.Error, OSError) as error:
            raise BookError(self._why(error)) from None

    def _why(self, error: Exception) -> str:
        text = str(getattr(error, "orig", None) or error).lower()
        if not self.is_file:
            return why_not_there(text, self.url)
        if "locked" in text or "busy" in text:
            return tr(
                "The book {name} is in use by another program. Nothing was lost; try again."
            ).format(name=self.name)
        if "full" in text:
            return tr(
                "The disk is full: nothing was written into the book {name}, and nothing in it "
                "was lost."
            ).format(name=self.name)
        if (
            "malformed" in text
            or "not a database" in text
            or "disk image" in text
            or "no such column" in text
        ):
            return tr(
                "The book {name} is damaged or no book. It is left as it is; plans go on without "
                "it. Put a copy in its place,"
                " or move it away to begin anew."
            ).format(name=self.name)
        if (
            "readonly" in text
            or "read-only" in text
            or "unable to open" in text
            or "permission" in text
        ):
            return tr("The book {name} cannot be written here: {why}.").format(
                name=self.name, why=cut(text.splitlines()[0])
            )
        return tr("The book {name} could not be used: {why}.").format(
            name=self.name, why=cut(text.splitlines()[0])
        )

    def _bring_up_to_date(self) -> None:
        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        scripts = ScriptDirectory.from_config(config)
        head = scripts.get_current_head()
        with self._using() as connection:
            if _step(connection) == head:
                return
            # Whoever opens it at the same moment waits, and finds the steps taken.
            _alone(connection)
            now = _step(connection)
            if now == head:
                return
            if now is not None and now not in {step.revision for step in scripts.walk_revisions()}:
                raise BookError(
                    tr(
                        "The book {name} was written by a newer version of this program (step "
                        "{now}). It is left as it is."
                    ).format(name=self.name, now=now)
                )
            config.attributes["connection"] = connection
            with _ONE_AT_A_TIME:
                command.upgrade(config, "head")

    # --- writing ---------------------------------------------------------------------------------

    def add(self, *records: AnyRecord) -> int:
        """Write records, all or none; those already there, by their ids, are passed over. Returns
        how many were new.

        Raises:
            BookError: nothing was written.
        """
        new = 0
        with self._using() as connection:
            for kind, table in TABLES.items():
                rows = {
                    r.id: {**r.model_dump(exclude={"kind"}), WORDS: words_of(r)}
                    for r in records
                    if r.kind == kind
                }
                known: set[str] = set()
                ids = list(rows)
                for i in range(0, len(ids), 500):
                    known |= set(
                        connection.scalars(
                            select(table.c.id).where(table.c.id.in_(ids[i : i + 500]))
                        )
                    )
                fresh = [row for id_, row in rows.items() if id_ not in known]
                if fresh:
                    connection.execute(insert(table), fresh)
                    self.settled += _settle(
                        connection,
                        kind,
                        table,
                        [row["replaces"] for row in fresh if row["replaces"]],
                    )
                new += len(fresh)
        return new

    # --- reading ---------------------------------------------------------------------------------

    def find(
        self,
        kind: str,
        *,
        text: str = "",
        most: int | None = None,
        replaced: bool = False,
        struck: bool = False,
        **fields: object,
    ) -> tuple[AnyRecord, ...]:
        """Records of a kind, the newest first.

        Args:
            kind: key of the kind.
            text: words looked for in every field of words.
            most: at most so many.
            replaced: those that were corrected, too, and those struck out.
            struck: those struck out, too.
            fields: what fields must hold.

        Raises:
            BookError: it could not be read, or there is no such kind or field.
        """
        table, wanted = self._wanted(kind, text, replaced, struck or replaced, fields)
        asked = select(table).where(*wanted).order_by(*_newest_first(table)).limit(most)
        with self._using() as connection:
            return self._read(kind, connection.execute(asked).mappings())

    def _read(self, kind: str, rows: Iterable[Mapping[Any, Any]]) -> tuple[AnyRecord, ...]:
        """The records of some rows; a row that is none is named in :attr:`damaged` and hides no
        other."""
        result = []
        for row in rows:
            try:
                result.append(_record(kind, row))
            except ValidationError as error:
                self.damaged[str(row["id"])] = (
                    f"{kind} {cut(str(row['id'])[:40])}: {readable(error)}"
                )
        return tuple(result)

    def page(
        self, kind: str, *, text: str = "", most: int, struck: bool = False
    ) -> tuple[tuple[AnyRecord, ...], int]:
        """The newest records of a kind, and how many there are in all.

        Args:
            kind: key of the kind.
            text: words looked for in every field of words.
            most: so many are returned.
            struck: those struck out, too.
        """
        table, wanted = self._wanted(kind, text, False, struck, {})
        newest = select(table.c.id).where(*wanted).order_by(*_newest_first(table)).limit(most + 1)
        with self._using() as connection:
            ids = connection.scalars(newest).all()
            # Where few are found, everything was gone through and they are counted too.
            count = (
                len(ids)
                if len(ids) <= most
                else self._counted(connection, table, wanted, text, struck=struck)
            )
            asked = select(table).where(table.c.id.in_(ids[:most])).order_by(*_newest_first(table))
            return self._read(kind, connection.execute(asked).mappings()), count

    def count(self, kind: str, *, text: str = "", **fields: object) -> int:
        """How many records of a kind there are.

        Args:
            kind: of the records.
            text: words they hold; empty counts all.
            fields: values their fields have.
        """
        table, wanted = self._wanted(kind, text, False, False, fields)
        with self._using() as connection:
            return self._counted(connection, table, wanted, text, any_field=bool(fields))

    def _counted(
        self,
        connection: Connection,
        table: Table,
        wanted: tuple[ColumnElement[bool], ...],
        text: str,
        *,
        struck: bool = False,
        any_field: bool = False,
    ) -> int:
        if text.split() or any_field:
            return int(
                connection.scalar(select(func.count()).select_from(table).where(*wanted)) or 0
            )
        # All of them: the few that were corrected or struck out are counted, not the many that were
        # not.
        gone = (
            table.c.id.in_(_corrected(table))
            if struck
            else or_(table.c.id.in_(_corrected(table)), table.c.struck != 0)
        )
        corrected = select(func.count()).select_from(table).where(gone)
        every = select(func.count()).select_from(table)
        return int(connection.scalar(every) or 0) - int(connection.scalar(corrected) or 0)

    def _wanted(
        self, kind: str, text: str, replaced: bool, struck: bool, fields: dict[str, object]
    ) -> tuple[Table, tuple[ColumnElement[bool], ...]]:
        """The table, and what a record in it must hold."""
        table = TABLES.get(kind)
        if table is None or not set(fields) <= set(table.c.keys()):
            known = ", ".join(TABLES)
            raise BookError(
                tr("The book has no such records: {kind}. It has {known}.").format(
                    kind=cut(kind), known=known
                )
            )
        wanted = [table.c[name] == value for name, value in fields.items()]
        wanted += [table.c[WORDS].contains(word, autoescape=True) for word in text.lower().split()]
        if not replaced:
            wanted.append(table.c.id.not_in(_corrected(table)))
        if not struck:
            # Written out, so that the index answers it.
            wanted.append(table.c.struck == literal_column("0"))
        return table, tuple(wanted)

    def every(self) -> Iterator[AnyRecord]:
        """All records, corrected ones too, kind by kind, the oldest first."""
        for page in self.pages():
            yield from page

    def pages(self) -> Iterator[tuple[AnyRecord, ...]]:
        """The same, so many at a time: a book of years is never held in memory whole."""
        for kind, table in TABLES.items():
            asked = select(table).order_by(table.c.made, table.c.id).limit(PAGE)
            begun = None
            while True:
                where = (
                    asked
                    if begun is None
                    else asked.where(
                        or_(
                            table.c.made > begun[0],
                            and_(table.c.made == begun[0], table.c.id > begun[1]),
                        )
                    )
                )
                with self._using() as connection:
                    rows = connection.execute(where).mappings().all()
                    result = self._read(kind, rows)
                if not rows:
                    break
                begun = rows[-1]["made"], rows[-1]["id"]
                yield result

    def strike(self, record: AnyRecord, *, struck: bool = True) -> AnyRecord:
        """Strike a record out, or bring it back: one more record stands for it. Returns that.

        Raises:
            BookError: nothing was written.
        """
        kept = record.model_dump(exclude={"id", "made", "replaces"})
        new = type(record).model_validate({**kept, "replaces": record.id, "struck": struck})
        self.add(new)
        return new

    # --- files -----------------------------------------------------------------------------------

    @property
    def settled_text(self) -> str:
        """What became of records that were corrected at two benches, a sentence; empty where none
        was."""
        return (
            ""
            if not self.settled
            else counted(
                "{count} correction gave way to a later one of the same record, made at another "
                "bench: that one counts.",
                "{count} corrections gave way to later ones of the same records, made at another "
                "bench: those count.",
                self.settled,
            )
        )

    @property
    def complaints(self) -> str:
        """What is wrong with rows that were read, one sentence; empty where nothing is."""
        if not self.damaged:
            return ""
        shown = "; ".join(list(self.damaged.values())[:3]) + (
            "; …" if len(self.damaged) > 3 else ""
        )
        return tr(
            "The book {name} holds {rows} that cannot be read and are left out: {shown}"
        ).format(
            name=self.name,
            rows=counted("{count} row", "{count} rows", len(self.damaged)),
            shown=shown,
        )

    def merge(self, other: Book) -> int:
        """Take over what another book has and this one has not, so many at a time, the oldest
        first: a correction never comes before what it corrects, and where the line breaks, merging
        again goes on. Returns how many were new."""
        return sum(self.add(*page) for page in other.pages())


def _record(kind: str, row: Mapping[Any, Any]) -> AnyRecord:
    """What stands in a row of a table."""
    return KINDS[kind].model_validate(
        {**{n: v for n, v in row.items() if n != WORDS}, "kind": kind}
    )


PAGE = 2000
"""Records that are read and taken over at a time."""

SETTLED = uuid.UUID("0c1f1a2e-7c7e-4b43-9a0b-3d4f2b6f9d11")
"""Names what strikes out a correction that another bench corrected later; any would do that is the
same at every bench."""


def _settle(connection: Connection, kind: str, table: Table, replaced: Sequence[str]) -> int:
    """Where one record was corrected at two benches, the latest correction counts: the others are
    struck out. Returns how many were.

    The record that strikes one out is the same wherever it is made, so that benches which merge
    each other's books agree.
    """
    count = 0
    for root in {_first_of(connection, table, id_) for id_ in replaced}:
        ends: list[Mapping[Any, Any]] = []
        look = [root]
        while look:
            after = (
                connection.execute(select(table).where(table.c.replaces.in_(look))).mappings().all()
            )
            corrected = {row["replaces"] for row in after}
            ends += [row for row in _rows(connection, table, look) if row["id"] not in corrected]
            look = [row["id"] for row in after]
        standing = [row for row in ends if row["id"] != root]
        for row in sorted(standing, key=lambda r: (r["made"], r["id"]))[:-1]:
            if not row["struck"]:
                struck = {
                    **row,
                    "id": uuid.uuid5(SETTLED, row["id"]).hex,
                    "replaces": row["id"],
                    "struck": True,
                }
                connection.execute(insert(table), [struck])
                count += 1
    return count


def _rows(connection: Connection, table: Table, ids: Sequence[str]) -> list[Mapping[Any, Any]]:
    return list(connection.execute(select(table).where(table.c.id.in_(ids))).mappings())


def _first_of(connection: Connection, table: Table, id_: str) -> str:
    """The record that a chain of corrections began with, as far as the book holds it."""
    known = {id_}
    while True:
        before = connection.scalar(select(table.c.replaces).where(table.c.id == id_))
        if before is None or before in known:
            return id_
        known.add(before)
        id_ = str(before)


def _newest_first(table: Table) -> tuple[ColumnElement[Any], ColumnElement[Any]]:
    return table.c.made.desc(), table.c.id.desc()


def _corrected(table: Table) -> Select[Any]:
    """Ids of the records another one stands for."""
    return select(table.c.replaces).where(table.c.replaces.is_not(None))


def _step(connection: Connection) -> str | None:
    """The last step of the tables that was taken."""
    return MigrationContext.configure(connection).get_current_revision()


_ONE_AT_A_TIME = Lock()
"""The library that takes the steps knows of one connection in a process."""

MOVING = 20_261_130
"""The number under which benches agree who sets up a shared book."""


def _alone(connection: Connection) -> None:
    """Nobody else changes the book until this transaction ends; its steps are taken all or none."""
    if connection.dialect.name == "sqlite":
        connection.exec_driver_sql("BEGIN IMMEDIATE")
    elif connection.dialect.name == "postgresql":
        connection.execute(select(func.pg_advisory_xact_lock(MOVING)))


def _careful(connection: Any, _record: object) -> None:
    """A file is written ahead, so that a crash loses nothing that was told to be there, and several
    programs may read."""
    cursor = connection.cursor()
    _write_ahead(cursor)
    cursor.execute("PRAGMA synchronous=FULL")
    # A book of many years stays in memory while it is looked through.
    cursor.execute(f"PRAGMA cache_size=-{CACHE}")
    cursor.execute(f"PRAGMA mmap_size={CACHE * 4096}")
    cursor.close()


def _write_ahead(cursor: sqlite3.Cursor) -> None:
    """Written ahead from now on; SQLite itself does not wait here for another that does the
    same."""
    until = monotonic() + WAIT
    while True:
        try:
            cursor.execute("PRAGMA journal_mode=WAL")
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or monotonic() > until:
                raise
            sleep(0.02)


def json_text(records: Iterable[AnyRecord]) -> str:
    """Records as JSON, one list."""
    body = ",\n".join(json.dumps(r.model_dump(mode="json"), ensure_ascii=False) for r in records)
    return f'{{"format": "zealous-crane-book", "version": 1, "records": [\n{body}\n]}}\n'


def read_records(path: Path) -> tuple[AnyRecord, ...]:
    """Records from a JSON or CSV file of this program.

    Raises:
        BookError: it cannot be read, or a record is wrong; the message says which.
    """
    name, in_words = cut(path.name), path.suffix.lower() == ".csv"
    try:
        if in_words:
            if path.stat().st_size > LARGEST:
                raise InputError(tr("it is far too large"))
            with path.open(encoding="utf-8-sig", newline="") as lines:
                rows = read_rows(lines, MOST + 1)
        else:
            data = read_json(path, LARGEST)
            held = data.get("records") if isinstance(data, dict) else None
            if not isinstance(held, list):
                raise InputError(tr("it holds no records"))
            rows = held
    except OSError as error:
        raise BookError(
            tr("{name} could not be read: {why}.").format(name=name, why=error.strerror or error)
        ) from None
    except (InputError, UnicodeDecodeError, csv.Error) as error:
        raise BookError(
            tr("{name} is damaged or holds no book: {why}.").format(name=name, why=cut(error))
        ) from None
    if len(rows) > MOST:
        raise BookError(
            tr("{name} holds {count} records; up to {most} are taken at once.").format(
                name=name, count=len(rows) if not in_words else tr("more"), most=MOST
            )
        )
    any_records: list[AnyRecord] = []
    for number, row in enumerate(rows, start=1):
        try:
            any_records.append(READER.validate_python(from_words(row) if in_words else row))
        except (ValidationError, BookError) as error:
            why = (
                readable(error)
                if isinstance(error, ValidationError)
                else str(error).rstrip(".") + "."
            )
            raise BookError(
                tr("{name}, record {number}: {why} Nothing was taken over.").format(
                    name=name, number=number, why=why
                )
            ) from None
    return tuple(any_records)


def engine_of(book: Book) -> Engine:
    """The engine behind a book, for those that look at its tables."""
    return book._engine
