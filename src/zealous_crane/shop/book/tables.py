"""The tables of the book, one for each kind of record. A change here is a new step in ``migrations``."""

from __future__ import annotations

import types
import typing
from typing import Any, get_args

from sqlalchemy import Column, Float, Index, Integer, MetaData, String, Table, Text

from .record import KINDS, AnyRecord

METADATA = MetaData()

LONG = frozenset({"note", "hits", "order", "set_up", "next_time", "text"})
"""Fields that hold prose."""


WORDS = "words"
"""Column of everything said in a record, small letters, which searching looks through: no field of a record."""


DIALECT = "dialect"
"""What an index says where only one kind of database has it."""


def words_of(record: AnyRecord) -> str:
    """What searching looks through."""
    told = record.model_dump(exclude={"id", "kind", "replaces", "hits"})
    return " ".join(str(value) for value in told.values() if isinstance(value, str) and value).lower()


def _type(name: str, annotation: Any) -> tuple[Any, bool]:
    """The column's type, and whether it may be empty."""
    parts = set(get_args(annotation)) if typing.get_origin(annotation) in (typing.Union, types.UnionType) else {annotation}
    optional = type(None) in parts
    plain = {get_args(p)[0] if typing.get_origin(p) is typing.Annotated else p for p in parts} - {type(None)}
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
    # In a file, what is searched and what it is ordered by stand together: a search reads them one after the other and goes to the
    # records only for what it found. Long notes are more than a database's index takes, which is quick enough without.
    Index(f"ix_book_{kind}_newest", table.c.made, table.c.id, table.c[WORDS], table.c.struck, info={DIALECT: "sqlite"})
    Index(f"ix_book_{kind}_made", table.c.made, info={DIALECT: "postgresql"})
    Index(f"ix_book_{kind}_replaces", table.c.replaces)
    if {"metal", "thickness"} <= set(table.c.keys()):
        Index(f"ix_book_{kind}_metal", table.c.metal, table.c.thickness)
    return table


TABLES: dict[str, Table] = {kind: _table(kind) for kind in KINDS}
"""The table of every kind."""
