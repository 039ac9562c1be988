"""The hits of one bend: stop, let go, measure, go on. Written into the book as one short text a
person can read."""

from __future__ import annotations

import csv
import io
import re
import uuid
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum
from itertools import chain, islice
from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Discriminator, Field, TypeAdapter, field_validator

from ...errors import INPUT_ERRORS, InputError
from ...i18n import tr
from ...metal.material import MATERIALS
from ...metal.sheet import Sheet
from ...schema.model import MANY_LINES, ONE_LINE, InputModel, Length, LengthOrZero, PositiveLength
from ...units.length import Units, parse_length
from ...units.quantities import parse_angle

LEAST_READ = 3.0
"""Degrees; a reading of less than this tells nothing of springback."""


PART = 0.5
"""Share of the variance between bends at 90° that is the sheet's own and not the reading's: it does
not grow where a bend is shallow. Common practice, no source."""


class ReadingCondition(StrEnum):
    """How a bend stood when it was read, as it is written behind a hit."""

    RELEASED = ""
    HELD = "~"
    """The leaf or the ram had not let go yet."""
    BY_HAND = "h"
    """The hand had gone on where the brake stopped."""


@dataclass(frozen=True)
class Hit:
    """One hit of a bend and what came of it.

    Attributes:
        stop: degrees the brake was stopped at, from flat.
        left, right: degrees read at the two ends, from flat; the same where one reading was taken.
        reading: how the bend stood when it was read.
    """

    stop: float
    left: float
    right: float
    reading: ReadingCondition = ReadingCondition.RELEASED

    @property
    def got(self) -> float:
        """Mean of both ends, degrees."""
        return (self.left + self.right) / 2

    @property
    def teaches(self) -> bool:
        """True when it says something of springback: let go, by the brake alone, and bent far
        enough to be read."""
        return self.reading is ReadingCondition.RELEASED and self.got >= LEAST_READ

    @property
    def text(self) -> str:
        """``92>88.4`` or ``92>88/89``, with the mark of its reading."""
        ends = (
            f"{self.left:.6g}" if self.left == self.right else f"{self.left:.6g}/{self.right:.6g}"
        )
        return f"{self.stop:.6g}>{ends}{self.reading.value}"


_HIT = re.compile(r"([\d.]+)>([\d.]+)(?:/([\d.]+))?([~h]?)")


def hits_text(hits: Iterable[Hit]) -> str:
    """Hits in order, as the book has them."""
    return " ".join(hit.text for hit in hits)


def read_hits(text: str) -> tuple[Hit, ...]:
    """Hits of a text of :func:`hits_text`.

    Raises:
        InputError: a hit that is none.
    """
    result = []
    for word in text.split():
        match = _HIT.fullmatch(word)
        if match is None:
            raise InputError(
                tr("{word!r} is no hit; write stop>angle, such as 92>88.4").format(word=word)
            )
        left = float(match[2])
        result.append(
            Hit(
                float(match[1]),
                left,
                left if match[3] is None else float(match[3]),
                ReadingCondition(match[4]),
            )
        )
    return tuple(result)


def springback_at_90(hits: Iterable[Hit]) -> tuple[float, float] | None:
    """Springback that the hits of one bend show, degrees at 90°, and how much it weighs against a
    reading at 90°.

    Springback is taken in proportion to the angle: least squares of what each hit came back by
    against the angle it stands at. A reading is as uncertain at any angle, so a shallow bend tells
    less.

    Returns:
        None where no hit teaches anything.
    """
    taught = [(hit.stop, hit.got) for hit in hits if hit.teaches]
    if not taught:
        return None
    squares = sum(got * got for _, got in taught)
    weight = 1 / (PART + (1 - PART) * 90.0**2 / squares)
    return 90.0 * sum((stop - got) * got for stop, got in taught) / squares, min(1.0, weight)


class BookError(InputError):
    """The book could not be used; the message says why, and what is still safe."""


def _now() -> str:
    return datetime.now(UTC).isoformat(timespec="milliseconds")


Text = Annotated[str, Field(max_length=4000), ONE_LINE]
Note = Annotated[str, Field(max_length=4000), MANY_LINES]
Name = Annotated[str, Field(max_length=200), ONE_LINE]


class Record(InputModel):
    """One record.

    Attributes:
        id: its own, the same in every book it is merged into.
        made: when it was written, ISO 8601, UTC.
        replaces: id of the record this one corrects; the old one stays and is no longer counted.
        struck: it is struck out: it stands for the one it replaces, and neither is counted.
        who: who wrote it; may stay empty.
        note: anything worth saying.
    """

    # What checks a record is made when the first one is read or written: the window does not wait
    # for it.
    model_config = ConfigDict(defer_build=True)

    id: Annotated[str, Field(min_length=8, max_length=64), ONE_LINE] = Field(
        default_factory=lambda: uuid.uuid4().hex
    )
    made: Annotated[str, Field(max_length=40), ONE_LINE] = Field(default_factory=_now)
    replaces: Annotated[str, Field(max_length=64), ONE_LINE] | None = None
    struck: bool = False
    who: Name = ""
    note: Note = ""

    @field_validator("made")
    @classmethod
    def _a_time(cls, value: str) -> str:
        try:
            result = datetime.fromisoformat(value)
        except ValueError:
            raise InputError(
                tr("{value!r} is no date and time; write 2026-11-24T14:30:00").format(value=value)
            ) from None
        at = result if result.tzinfo is not None else result.replace(tzinfo=UTC)
        return at.astimezone(UTC).isoformat(timespec="milliseconds")

    @property
    def day(self) -> str:
        """The day it was written, as the book shows it."""
        return self.made[:10]


class BendRecord(Record):
    """A bend, and the angle that came out.

    Attributes:
        job, part, stroke: name of the job, number of the part in the lot, name of the fold.
        machine, tool: key of the brake; punch and die, or what is out of the ordinary about the
            set-up.
        metal, thickness, lot: key of the metal; mm; which sheet or delivery.
        angle: wanted after release, degrees from flat.
        stop: degrees it was stopped at.
        got: degrees measured after release; None when nobody measured.
        end: left or right where the two ends of the leaf were read by themselves, in books written
            before bends had hits.
        hits: every hit of the bend in order, ``92>88.4 93.6>90``; ``stop`` and ``got`` are those of
            the last. Empty where it had one.
    """

    kind: Literal["bend"] = "bend"
    job: Name = ""
    part: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    stroke: Name = ""
    machine: Name = ""
    tool: Name = ""
    metal: Name
    thickness: Annotated[float, Field(gt=0, le=100)]
    lot: Name = ""
    angle: Annotated[float, Field(gt=0, le=180)]
    stop: Annotated[float, Field(gt=0, le=190)]
    got: Annotated[float, Field(gt=0, le=190)] | None = None
    end: Literal["", "left", "right"] = ""
    hits: Note = ""

    @field_validator("hits")
    @classmethod
    def _hits_can_be_read(cls, value: str) -> str:
        read_hits(value)
        return value

    @property
    def every_hit(self) -> tuple[Hit, ...]:
        """Its hits in order; one where none were written down, none where nobody measured."""
        if self.hits:
            return read_hits(self.hits)
        return () if self.got is None else (Hit(self.stop, self.got, self.got),)

    @property
    def springback(self) -> float | None:
        """Degrees at 90° it came back by, over all its hits; None where they teach nothing."""
        result = springback_at_90(self.every_hit)
        return None if result is None else result[0]

    def with_hit(self, hit: Hit) -> Self:
        """The record that stands for this one once the bend was hit again."""
        kept = self.model_dump(exclude={"id", "made", "replaces", "stop", "got", "hits"})
        hits = hits_text((*self.every_hit, hit))
        return type(self).model_validate(
            {**kept, "replaces": self.id, "stop": hit.stop, "got": hit.got, "hits": hits}
        )

    def corrected(self, got: float | None) -> Self:
        """The record that stands for this one once its last reading is corrected, degrees after
        release; None: nobody measured."""
        kept = self.model_dump(exclude={"id", "made", "replaces", "got", "hits"})
        *before, last = self.every_hit or (Hit(self.stop, 0.0, 0.0),)
        hits = before if got is None else [*before, Hit(last.stop, got, got, last.reading)]
        fields = {"replaces": self.id, "got": got, "hits": hits_text(hits)}
        return type(self).model_validate({**kept, **fields})

    def without_last_hit(self) -> Self:
        """The record that stands for this one once its last reading is taken back; struck out where
        it had only one."""
        kept = self.model_dump(exclude={"id", "made", "replaces"})
        *hits, last = self.every_hit or (Hit(self.stop, self.angle, self.angle),)
        if not hits:
            return type(self).model_validate({**kept, "replaces": self.id, "struck": True})
        last = hits[-1]
        fields = {"replaces": self.id, "stop": last.stop, "got": last.got, "hits": hits_text(hits)}
        return type(self).model_validate({**kept, **fields})


class StripRecord(Record):
    """A test strip: what was cut, how it was bent, and what was measured.

    Attributes:
        metal, thickness, lot, machine, tool: as of a bend.
        width: along the fold, mm.
        flat: length of the strip, mm.
        line: where the bend line was, from the end of the first leg, mm.
        leg_one, leg_two: measured after release, mm; to the mark, the first is how far its inside
            came out past the mark, which may be less than nothing.
        legs: how they were measured; to the mark, the second leg is measured inside.
        angle: degrees after release, from flat.
        stop: degrees it was stopped at.
        radius: inside, mm; None when not measured.
    """

    kind: Literal["strip"] = "strip"
    metal: Name
    thickness: Annotated[float, Field(gt=0, le=100)]
    lot: Name = ""
    machine: Name = ""
    tool: Name = ""
    width: PositiveLength
    flat: Annotated[PositiveLength, Field(title="Flat strip")]
    line: Annotated[PositiveLength, Field(title="Line from one end")]
    leg_one: Annotated[Length, Field(title="First leg")]
    leg_two: Annotated[PositiveLength, Field(title="Second leg")]
    legs: Annotated[Literal["outside", "inside", "to the mark"], Field(title="Legs measured")] = (
        "outside"
    )
    angle: Annotated[float, Field(gt=0, le=180, title="Angle that came out")]
    stop: Annotated[float, Field(gt=0, le=190, title="Stopped at")]
    radius: Annotated[LengthOrZero, Field(title="Inside radius")] | None = None


class SizeRecord(Record):
    """A size measured on a finished part."""

    kind: Literal["size"] = "size"
    job: Name = ""
    part: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    what: Name
    wanted: Annotated[float, Field(ge=-100_000, le=100_000)]
    got: Annotated[float, Field(ge=-100_000, le=100_000)]


class DoneRecord(Record):
    """A job done: how many, in which order, with which set-up, and what to change next time."""

    kind: Literal["done"] = "done"
    job: Name
    quantity: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    machine: Name = ""
    order: Text = ""
    set_up: Text = ""
    next_time: Text = ""


class StockRecord(Record):
    """Sheets and off-cuts that came in or went out.

    Attributes:
        what: sheet or off-cut.
        name: as the shop calls it.
        metal, thickness, length, width: of one piece; mm.
        count: pieces; below zero when they went out.
    """

    kind: Literal["stock"] = "stock"
    what: Literal["sheet", "off-cut"] = "sheet"
    name: Name = ""
    metal: Name
    thickness: Annotated[float, Field(gt=0, le=100)]
    length: Annotated[float, Field(gt=0, le=100_000)]
    width: Annotated[float, Field(gt=0, le=100_000)]
    count: Annotated[int, Field(ge=-100_000, le=100_000)] = 1


class CautionRecord(Record):
    """A caution somebody has read and acknowledged."""

    kind: Literal["caution"] = "caution"
    job: Name = ""
    text: Text


class PracticeRecord(Record):
    """An exercise somebody did; ``who`` is the learner.

    Attributes:
        exercise: which, so that it can be set again.
        right, asked: answers right at the first try, and in all.
    """

    kind: Literal["practice"] = "practice"
    exercise: Name
    right: Annotated[int, Field(ge=0, le=1000)]
    asked: Annotated[int, Field(ge=1, le=1000)]


AnyRecord = (
    BendRecord
    | StripRecord
    | SizeRecord
    | DoneRecord
    | StockRecord
    | CautionRecord
    | PracticeRecord
)

KINDS: dict[str, type[AnyRecord]] = {
    kind.model_fields["kind"].default: kind
    for kind in (
        BendRecord,
        StripRecord,
        SizeRecord,
        DoneRecord,
        StockRecord,
        CautionRecord,
        PracticeRecord,
    )
}
"""Every kind of record by its key."""

READER: TypeAdapter[AnyRecord] = TypeAdapter(
    Annotated[AnyRecord, Discriminator("kind")], config=ConfigDict(defer_build=True)
)
"""Reads a record from its fields."""


ANGLES = {"bend": ("angle", "stop", "got"), "strip": ("angle", "stop")}
"""Fields that are degrees."""


def from_words(row: dict[str, str]) -> dict[str, object]:
    """A record's fields as a table or a command line has them: plain numbers are mm and degrees;
    lengths may be written with their unit, angles with their sign, a thickness as a gauge of the
    record's metal.

    Raises:
        BookError: what is written is no figure; the message says which and why.
    """
    kind = KINDS.get(row.get("kind", ""))
    result: dict[str, object] = {}
    for name, text in row.items():
        annotation = (
            str(kind.model_fields[name].annotation)
            if kind is not None and name in kind.model_fields
            else ""
        )
        number = "float" in annotation
        try:
            result[name] = float(text) if number else text
        except ValueError:
            try:
                result[name] = _written(name, text, row)
            except INPUT_ERRORS as error:
                raise BookError(f"{name}: {error}") from None
    return result


def _written(name: str, text: str, row: dict[str, str]) -> float:
    """A figure that is more than a plain number."""
    if name in ANGLES.get(row["kind"], ()):
        return parse_angle(text)
    metal = MATERIALS.get(row.get("metal", ""))
    if name == "thickness" and metal is not None:
        return Sheet.read(metal, text, Units.MM).thickness
    return parse_length(text, Units.MM)


FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""

PLAIN = "'"
"""Written before such a text: a spreadsheet shows it as text then."""

ROWS = uuid.UUID("6f0b3c52-5d6e-4f0e-9a55-2f6f7f1f6a10")
"""Names the rows of tables without ids; any would do that stays the same."""


def csv_text(records: Iterable[AnyRecord]) -> str:
    """Records as CSV, one row each; fields a kind does not have stay empty. Texts that look like a
    formula are written as text."""
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
    """The rows of a table parted by commas, semicolons or tabs, at most so many; empty cells are
    left out.

    A row without an id is given one by what it says, and by how many times it has come: the same
    table brought in twice is one.

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
            text = repr(sorted(row.items()))
            row["id"] = uuid.uuid5(ROWS, f"{text} {seen[text]}").hex
            seen[text] += 1
        rows.append(row)
    return rows


def _as_written(cell: str) -> str:
    return cell[1:] if cell.startswith(PLAIN) and cell[1:].startswith(FORMULA) else cell
