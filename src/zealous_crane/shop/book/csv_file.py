"""Records as a table that any spreadsheet opens, and back."""

from __future__ import annotations

import csv
import io
import uuid
from collections import Counter
from collections.abc import Iterable
from itertools import chain, islice

from .record import AnyRecord

FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""

PLAIN = "'"
"""Written before such a text: a spreadsheet shows it as text then."""

ROWS = uuid.UUID("6f0b3c52-5d6e-4f0e-9a55-2f6f7f1f6a10")
"""Names the rows of tables without ids; any would do that stays the same."""


def csv_text(records: Iterable[AnyRecord]) -> str:
    """Records as CSV, one row each; fields a kind does not have stay empty. Texts that look like a formula are written as text."""
    rows = [record.model_dump(mode="json") for record in records]
    names = list(dict.fromkeys(["kind", *(name for row in rows for name in row)]))
    stream = io.StringIO(newline="")
    writer = csv.DictWriter(stream, names)
    writer.writeheader()
    writer.writerows({name: _defused(value) for name, value in row.items()} for row in rows)
    return stream.getvalue()


def _defused(value: object) -> object:
    return PLAIN + value if isinstance(value, str) and value.startswith(FORMULA) else value


def read_rows(lines: Iterable[str], most: int) -> list[dict[str, str]]:
    """The rows of a table parted by commas, semicolons or tabs, at most so many; empty cells are left out.

    A row without an id is given one by what it says, and by how many times it has come: the same table brought in twice is one.

    Raises:
        csv.Error: it is no table.
    """
    lines = iter(lines)
    first = next(lines, "")
    delimiter = max(",;\t", key=first.count)
    seen: Counter[str] = Counter()
    rows = []
    for read in islice(csv.DictReader(chain([first], lines), delimiter=delimiter), most):
        row = {name: _as_written(cell) for name, cell in read.items() if name and cell}
        if "id" not in row:
            said = repr(sorted(row.items()))
            row["id"] = uuid.uuid5(ROWS, f"{said} {seen[said]}").hex
            seen[said] += 1
        rows.append(row)
    return rows


def _as_written(cell: str) -> str:
    return cell[1:] if cell.startswith(PLAIN) and cell[1:].startswith(FORMULA) else cell
