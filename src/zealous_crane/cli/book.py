"""The shop's book without a window."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from ..measure.words import tr
from ..shop.book import KINDS, READER, AnyRecord, BookError
from ..shop.book.record import from_words
from ..shop.place import book_place, shop_home
from .asked import AsJson, print_json

book_app = typer.Typer(help=tr("The shop's book: test strips, bends, sizes, jobs done, stock, cautions."), no_args_is_help=True)

BookAt = Annotated[str | None, typer.Option("--book", metavar="FILE|URL", help="Another book than the shop's own.")]


def open_book(where: str | None) -> Any:
    """A book by its place; None is the shop's own."""
    # The store is loaded only where a book is opened.
    from ..shop.book.store import Book

    return Book(where or book_place(shop_home()))


def _fields(words: list[str]) -> dict[str, str]:
    found = {}
    for word in words:
        name, equals, value = word.partition("=")
        if not equals:
            raise typer.BadParameter(tr("write each field as name=value; {word!r} is none").format(word=word))
        found[name.strip()] = value
    return found


@book_app.command()
def add(
    kind: Annotated[str, typer.Argument(help=" | ".join(KINDS))],
    fields: Annotated[list[str], typer.Argument(metavar="NAME=VALUE ...", help="metal=galvanized angle=90 stop=92 got=90.5 …")],
    book: BookAt = None,
) -> None:
    """Write one record into the book."""
    record = READER.validate_python(from_words({"kind": kind, **_fields(fields)}))
    with open_book(book) as opened:
        opened.add(record)
    typer.echo(record.id)


@book_app.command("list")
def list_(
    kind: Annotated[str, typer.Argument(help=" | ".join(KINDS))] = "bend",
    find: Annotated[str, typer.Option("--find", metavar="WORDS", help="Words looked for.")] = "",
    most: Annotated[int, typer.Option("--most", min=1, help="At most so many, the newest first.")] = 50,
    book: BookAt = None,
    as_json: AsJson = False,
) -> None:
    """List records of one kind, the newest first."""
    with open_book(book) as opened:
        records = opened.find(kind, text=find, most=most)
    if as_json:
        print_json([r.model_dump(mode="json") for r in records])
        return
    for record in records:
        typer.echo(line_of(record))


def line_of(record: AnyRecord) -> str:
    """A record in one line: the day, then what is not empty."""
    told = record.model_dump(mode="json", exclude={"id", "made", "kind", "replaces", "struck"}, exclude_none=True)
    return f"{record.day}  " + "  ".join(f"{name} {value:g}" if isinstance(value, float) else f"{name} {value}"
                                         for name, value in told.items() if value != "")  # fmt: skip


@book_app.command()
def strike(
    id_: Annotated[str, typer.Argument(metavar="ID", help="Id of the record, as list --json shows it.")],
    back: Annotated[bool, typer.Option("--back", help="Bring it back instead.")] = False,
    book: BookAt = None,
) -> None:
    """Strike a record out: it stays in the book and is no longer counted; --back counts it again."""
    with open_book(book) as opened:
        found = next((r for kind in KINDS for r in opened.find(kind, struck=True, id=id_)), None)
        if found is None or found.struck is not back:
            raise BookError(tr("There is no record {id} to strike out or bring back.").format(id=id_))
        typer.echo(opened.strike(found, struck=not back).id)


@book_app.command()
def export(
    output: Annotated[Path, typer.Option("-o", "--output", metavar="FILE.json|csv", help="The file to write.")],
    book: BookAt = None,
) -> None:
    """Write the whole book as JSON or CSV."""
    from ..files.atomic import write_atomically
    from ..shop.book.csv_file import csv_text
    from ..shop.book.store import json_text

    with open_book(book) as opened:
        records = tuple(opened.every())
    text = csv_text(records) if output.suffix.lower() == ".csv" else json_text(records)
    write_atomically(output, text.encode())
    typer.echo(tr("{count} records").format(count=len(records)))


@book_app.command("import")
def import_(file: Annotated[Path, typer.Argument(metavar="FILE.json|csv")], book: BookAt = None) -> None:
    """Take records over from a file; all or none."""
    from ..shop.book.store import read_records

    records = read_records(file)
    with open_book(book) as opened:
        typer.echo(tr("{new} of {count} records were new").format(new=opened.add(*records), count=len(records)))


@book_app.command()
def merge(
    other: Annotated[str, typer.Argument(metavar="BOOK", help="The other book: a file or an address.")], book: BookAt = None
) -> None:
    """Take over what another book has and this one has not."""
    with open_book(book) as opened, open_book(other) as second:
        typer.echo(tr("{new} records were new").format(new=opened.merge(second)))
