"""What the book has learnt of a metal, and the test strip it learns from."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Annotated, Any

import typer

from .. import api
from ..brake.brake import Brake
from ..brake.library import MachineLibrary
from ..i18n import counted, tr
from ..metal.material import Material
from ..metal.sheet import Sheet
from ..planning.remedies.sizes import least_sizes
from ..shop.book.record import (
    KINDS,
    READER,
    AnyRecord,
    BendRecord,
    BookError,
    StripRecord,
    from_words,
)
from ..shop.hierarchical_fit import BendContext
from ..shop.settings import book_place, shop_home
from ..shop.springback import learn
from ..units.length import Units, show_length
from .options import (
    CANNOT,
    AsJson,
    BrakeChoice,
    JobFile,
    PartChoice,
    load,
    metals_with,
    plain,
    print_json,
    rack_of_shop,
    rack_with,
    refused,
    settings_of_shop,
    stop,
)


def learnt(
    metal: Annotated[str, typer.Option(help="Key of the metal.")],
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")],
    brake: Annotated[str, typer.Option(help="Key of the brake.")],
    tool: Annotated[str, typer.Option(help="Punch and die, or what is out of the ordinary.")] = "",
    book: BookAt = None,
    as_json: AsJson = False,
) -> None:
    """What the book says of the springback of a metal on a brake, and where it comes from."""
    known = metals_with(metal)
    sheet = Sheet.read(known[metal], thickness)
    result = _record(BendContext(metal, sheet.thickness, brake, tool), known, rack_of_shop(), book)
    if as_json:
        print_json(result)
    else:
        typer.echo(result["says"])
        typer.echo(result["neutral_line"]["says"])


def coupon(
    job: JobFile, brake: BrakeChoice = None, part: PartChoice = None, as_json: AsJson = False
) -> None:
    """The test strip for a job: size, mark, set-up and force; measure it and write it into the book
    as a strip."""
    from ..planning.setup import record as set_up_record
    from ..planning.setup import set_up_facts, set_up_of
    from ..shop.test_strip import care_of, coupon_job

    work, on, _ = load(job, brake, part)
    strip = coupon_job(work, on)
    plan = api.plan(strip, on, remedies=False)
    line = plan.blank.folds[0]
    told: dict[str, Any] = {
        "name": strip.name,
        "flat": plan.blank.size[0],
        "width": plan.blank.size[1],
        "line": float(line.start[0]),
        "angle": 90.0,
        "says": plan.sentence,
        "caution": care_of(on),
        "set_up": [set_up_record(set_up_of(plan, stroke)) for stroke in plan.strokes],
    }
    if as_json:
        print_json(told)
    else:
        flat, width, at = (
            show_length(v, strip.units) for v in (told["flat"], told["width"], told["line"])
        )
        typer.echo(
            tr("{name}: cut {flat} × {width}, mark the line {line} from one end.").format(
                name=strip.name, flat=flat, width=width, line=at
            )
        )
        for stroke in plan.strokes:
            typer.echo("  " + stroke.sentence())
            for fact in set_up_facts(plan, stroke):
                if fact.value:
                    typer.echo(f"      {fact.label}: {fact.value}")
        if care_of(on):
            typer.echo("  " + care_of(on))
    if refused(plan):
        raise stop(plan.sentence, CANNOT)


def least(
    metal: Annotated[str, typer.Option(help="Key of the metal.")],
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")],
    brake: Annotated[
        str, typer.Option(metavar="KEY|FILE", help="A brake of the shop, or a brake file.")
    ],
    as_json: AsJson = False,
) -> None:
    """The least flange, return, hem and distance between two bends on a brake in a sheet, outside,
    and why."""
    known = metals_with(metal)
    rack, key = rack_with(brake)
    machine, sheet = rack[key or brake], Sheet.read(known[metal], thickness)
    result = least_sizes(machine, sheet)
    if as_json:
        print_json([plain(one) for one in result])
        return
    for one in result:
        typer.echo(f"{one.what}: {show_length(one.size, machine.marked_in.fine)} ({one.why})")
    if not result:
        typer.echo(tr("No least sizes are known for this machine and sheet."))


def _record(
    place: BendContext, metals: Mapping[str, Material], rack: MachineLibrary, where: str | None
) -> dict[str, Any]:
    """What the book says of the springback in one place, with the records behind it.

    Raises:
        BrakeError: neither this shop nor its book knows the machine.
    """
    from ..shop.deduction import learn_k, usual_k
    from ..shop.springback import handbook

    with open_book(where) as opened:
        bends, strips = opened.find("bend"), opened.find("strip")
    if place.machine not in {record.machine for record in (*bends, *strips)}:
        rack[place.machine]  # a slip of the pen is no brake nobody has bent on yet
    result = learn((*bends, *strips), place, handbook(rack, metals))
    k = learn_k(strips, place, usual_k(metals))
    line = {**plain(k), "within": list(k.within), "says": k.text(), "k": k.k}
    return {
        **plain(result),
        "neutral_line": line,
        "within": list(result.within),
        "says": result.text(),
        "stop_at_90": result.stop(90.0),
    }


book_app = typer.Typer(
    help="The shop's book: test strips, bends, sizes, jobs done, stock, cautions.",
    no_args_is_help=True,
)

SHOWN = 8
"""Characters of an id that are listed, and of which it is known again where they are its alone."""

BookAt = Annotated[
    str | None, typer.Option("--book", metavar="FILE|URL", help="Another book than the shop's own.")
]


def open_book(where: str | None) -> Any:
    """A book by its place; None is the shop's own."""
    # The store is loaded only where a book is opened.
    from ..shop.book.store import Book

    return Book(where or book_place(shop_home()))


def _fields(words: list[str]) -> dict[str, str]:
    result = {}
    for word in words:
        name, equals, value = word.partition("=")
        if not equals:
            raise typer.BadParameter(
                tr("write each field as name=value; {word!r} is none").format(word=word)
            )
        result[name.strip()] = value
    return result


@book_app.command()
def add(
    kind: Annotated[str, typer.Argument(help=" | ".join(KINDS))],
    fields: Annotated[
        list[str],
        typer.Argument(
            metavar="NAME=VALUE ...", help="metal=galvanized angle=90 stop=92 got=90.5 …"
        ),
    ],
    book: BookAt = None,
) -> None:
    """Write one record into the book: its id, and what the book says now of such bends."""
    record = READER.validate_python(from_words({"kind": kind, **_fields(fields)}))
    with open_book(book) as opened:
        _check(record, opened)
        opened.add(record)
        typer.echo(record.id)
        taught = _taught(record, opened)
    if taught:
        typer.echo(taught)


def _check(record: AnyRecord, opened: Any) -> None:
    """Whether a record speaks of what the shop has: a slip of the pen would teach a place of its
    own.

    Raises:
        BrakeError: a brake that neither the shop nor its book knows.
        BookError: a set-up it does not have, or a record that is not there.
    """
    metal = getattr(record, "metal", None)
    if metal is not None:
        metals_with(metal)
    machine, tool = getattr(record, "machine", ""), getattr(record, "tool", "")
    if machine:
        rack = rack_of_shop()
        before = [r for kind in ("bend", "strip") for r in opened.find(kind, machine=machine)]
        if not before:
            rack[machine]
        known = {*_tools_of(rack.find(machine), record), *(r.tool for r in before)}
        if tool and tool not in known:
            listed = "; ".join(sorted(known - {""})) or tr("none is out of the ordinary")
            raise BookError(
                tr("{machine} has no set-up {tool!r}. Known: {known}.").format(
                    machine=machine, tool=tool, known=listed
                )
            )
    if record.replaces is not None and not opened.find(
        record.kind, id=record.replaces, struck=True
    ):
        raise BookError(
            tr(
                "There is no {kind} record {id} to replace, or another one stands for it already."
            ).format(kind=record.kind, id=record.replaces)
        )


def _tools_of(brake: Brake | None, record: AnyRecord) -> set[str]:
    """Set-ups of a brake by the keys that bends in a sheet are booked under, where the brake is the
    shop's."""
    from ..bending.machines import toolings
    from ..job.job import Job
    from ..part.kinds.strip import SingleBend

    if brake is None or not isinstance(record, BendRecord | StripRecord):
        return set()
    job = Job(
        part=SingleBend(first=100, second=100, length=100),
        metal=record.metal,
        thickness=f"{record.thickness} mm",
        units=Units.MM,
    )
    blank = api.develop(job, brake)
    return {
        tooling.key
        for bottomed in (False, True)
        for tooling in toolings(brake, blank, bottomed, every=True)
    }


def _taught(record: AnyRecord, opened: Any) -> str:
    """What the book says of the place of a bend or a strip, now that it is written; empty of
    anything else."""
    from ..shop.deduction import learn_k, usual_k
    from ..shop.hierarchical_fit import BendContext
    from ..shop.springback import handbook, learn

    if not isinstance(record, BendRecord | StripRecord):
        return ""
    metals = settings_of_shop().every_metal
    place, strips = BendContext.of(record), opened.find("strip")
    result = learn((*opened.find("bend"), *strips), place, handbook(rack_of_shop(), metals))
    text = tr("Springback there: {learnt}.").format(learnt=result.text())
    return (
        text
        if isinstance(record, BendRecord)
        else f"{text} {learn_k(strips, place, usual_k(metals)).text()}."
    )


@book_app.command("list")
def list_(
    kind: Annotated[str, typer.Argument(help=" | ".join(KINDS))] = "bend",
    find: Annotated[str, typer.Option("--find", metavar="WORDS", help="Words to search for.")] = "",
    most: Annotated[
        int, typer.Option("--most", min=1, help="At most so many, the newest first.")
    ] = 50,
    book: BookAt = None,
    as_json: AsJson = False,
) -> None:
    """List records of one kind, the newest first."""
    with open_book(book) as opened:
        records, wrong = opened.find(kind, text=find, most=most), opened.complaints
    if wrong:
        typer.echo(wrong, err=True)
    if as_json:
        print_json([r.model_dump(mode="json") for r in records])
        return
    for record in records:
        typer.echo(line_of(record))


def line_of(record: AnyRecord) -> str:
    """A record in one line: its id, the day, then what is not empty."""
    told = record.model_dump(
        mode="json", exclude={"id", "made", "kind", "replaces", "struck"}, exclude_none=True
    )
    return f"{record.id[:SHOWN]}  {record.day}  " + "  ".join(
        f"{name} {value:g}" if isinstance(value, float) else f"{name} {value}"
        for name, value in told.items()
        if value != ""
    )


@book_app.command()
def strike(
    id_: Annotated[
        str,
        typer.Argument(metavar="ID", help="Id of the record, or how it begins, as list shows it."),
    ],
    back: Annotated[bool, typer.Option("--back", help="Bring it back instead.")] = False,
    book: BookAt = None,
) -> None:
    """Strike a record out: it stays in the book and is no longer counted; --back counts it
    again."""
    with open_book(book) as opened:
        known = (
            [r for kind in KINDS for r in opened.find(kind, struck=True) if r.id.startswith(id_)]
            if len(id_) >= 4
            else []
        )
        match = next((r for r in known if r.id == id_), known[0] if len(known) == 1 else None)
        if match is None and known:
            raise BookError(
                tr("{count} records begin with {id}; write more of it.").format(
                    count=len(known), id=id_
                )
            )
        if match is None or match.struck is not back:
            raise BookError(
                tr("There is no record {id} to strike out or bring back.").format(id=id_)
            )
        typer.echo(opened.strike(match, struck=not back).id)


@book_app.command()
def export(
    output: Annotated[
        Path, typer.Option("-o", "--output", metavar="FILE.json|csv", help="The file to write.")
    ],
    book: BookAt = None,
) -> None:
    """Write the whole book as JSON or CSV."""
    from ..io.atomic import write_atomically
    from ..shop.book.record import csv_text
    from ..shop.book.store import json_text

    with open_book(book) as opened:
        records = tuple(opened.every())
    text = csv_text(records) if output.suffix.lower() == ".csv" else json_text(records)
    write_atomically(output, text.encode())
    typer.echo(tr("{count} records").format(count=len(records)))


@book_app.command("import")
def import_(
    file: Annotated[Path, typer.Argument(metavar="FILE.json|csv")], book: BookAt = None
) -> None:
    """Take records over from a file; all or none."""
    from ..shop.book.store import read_records

    records = read_records(file)
    with open_book(book) as opened:
        typer.echo(
            tr("{new} of {count} records were new").format(
                new=opened.add(*records), count=len(records)
            )
        )
        _tell_settled(opened)


@book_app.command()
def merge(
    other: Annotated[
        str, typer.Argument(metavar="BOOK", help="The other book: a file or an address.")
    ],
    book: BookAt = None,
) -> None:
    """Take over what another book has and this one has not."""
    with open_book(book) as opened, open_book(other) as second:
        typer.echo(
            counted("{count} record was new", "{count} records were new", opened.merge(second))
        )
        _tell_settled(opened)
        for one in (opened, second):
            if one.complaints:
                typer.echo(one.complaints, err=True)


def _tell_settled(opened: Any) -> None:
    if opened.settled:
        typer.echo(opened.settled_text)
