"""The shop without a window: its machines, and whether its files are whole."""

from __future__ import annotations

import typer

from ..brake import shop_rack
from ..measure.words import counted, tr
from ..shop.book import BookError
from ..shop.place import book_place, brakes_place, shop_home
from ..shop.settings import read_settings
from .asked import AsJson, print_json

shop_app = typer.Typer(help=tr("The shop's machines, and whether its files are whole."), no_args_is_help=True)

BROKEN = 3
"""Exit code when something of the shop could not be used."""


@shop_app.command("list")
def list_(as_json: AsJson = False) -> None:
    """Every machine of the shop, an example or its own, in use or retired; its own metals, tools and ways."""
    rack, _ = shop_rack(brakes_place())
    settings, _ = read_settings(shop_home())
    rows = [
        {
            "key": brake.key, "name": brake.name, "kind": brake.kind, "length": brake.bed_length,
            "own": brake.key in rack.own, "retired": brake.key in rack.retired,
        }
        for brake in rack.brakes
    ]  # fmt: skip
    if as_json:
        said = settings.model_dump(mode="json", exclude={"format", "version"})
        print_json({"machines": rows, **said})
        return
    for row in rows:
        notes = [tr("its own") if row["own"] else tr("an example"), *([tr("retired")] if row["retired"] else [])]
        typer.echo(f"{row['key']:24}  {row['name']}  ({', '.join(notes)})")
    for metal in settings.metals:
        typer.echo(f"{metal.key:24}  {metal.name}")


@shop_app.command()
def check(as_json: AsJson = False) -> None:
    """Whether every file of the shop can be used: machines and the book. Exit code 3 where one cannot."""
    rack, complaints = shop_rack(brakes_place())
    settings, complaint = read_settings(shop_home())
    said, records = [*complaints, *([complaint] if complaint else [])], 0
    try:
        from ..shop.book import KINDS
        from ..shop.book.store import Book

        with Book(book_place(shop_home())) as book:
            records = sum(book.count(kind) for kind in KINDS)
    except BookError as error:
        said.append(str(error))
    if as_json:
        print_json({"machines": len(rack.brakes), "metals": len(settings.metals), "records": records, "complaints": said})
    else:
        typer.echo(
            tr("{machines}, {records}.").format(
                machines=counted("{count} machine", "{count} machines", len(rack.brakes)),
                records=counted("{count} record in the book", "{count} records in the book", records),
            )
        )
        for sentence in said:
            typer.echo(sentence, err=True)
    if said:
        raise typer.Exit(BROKEN)
