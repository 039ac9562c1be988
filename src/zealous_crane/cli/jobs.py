"""Jobs that are made: of a drawing, of the sizes of a duct fitting; and what a job file holds."""

from __future__ import annotations

import sys
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from .. import api
from ..brake.library import shop_rack
from ..errors import InputError
from ..flat.on_brake import check_flat
from ..i18n import counted, tr
from ..io.dxf_entities import DrawingError
from ..io.dxf_read import Taken, UnitNotNamedError, read_drawing
from ..io.formats import schema_of
from ..io.job_file import read_fitting, write_job, write_work
from ..job.job import FlatPart, Job
from ..shop.book.record import BookError
from ..shop.settings import book_place, brakes_place, read_settings, shop_home
from ..units.length import INCH, Units
from ..work.work import Work
from .options import AsJson, plain, print_json, rack_of_shop, settings_of_shop


class DrawnIn(StrEnum):
    """Units a drawing may be in."""

    MM = "mm"
    CM = "cm"
    M = "m"
    IN = "in"
    FT = "ft"


DRAWN_IN = {
    DrawnIn.MM: 1.0,
    DrawnIn.CM: 10.0,
    DrawnIn.M: 1000.0,
    DrawnIn.IN: INCH,
    DrawnIn.FT: 12 * INCH,
}
"""mm."""


def _taken(asked: list[str]) -> dict[int, Taken]:
    """What lines are taken for, as it is typed: ``1=fold``.

    Raises:
        InputError: it is not said so.
    """
    result = {}
    for text in asked:
        number, _, what = text.partition("=")
        if not number.isdigit() or int(number) < 1 or what not in tuple(Taken):
            raise InputError(
                tr("{text!r}: write a number and what it is, as 1=fold, 2=mark or 3=cut.").format(
                    text=text
                )
            )
        result[int(number) - 1] = Taken(what)
    return result


def from_drawing(  # noqa: PLR0913
    drawing: Annotated[Path, typer.Argument(metavar="FILE.dxf", help="A drawing of a flat.")],
    output: Annotated[
        Path, typer.Option("-o", "--output", metavar="JOB.json", help="The job file to write.")
    ],
    metal: Annotated[str, typer.Option(help="Key of the metal.")] = "mild-steel",
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")] = "20 ga",
    angle: Annotated[float, typer.Option(help="Degrees for folds that say nothing.")] = 90.0,
    unit: Annotated[
        DrawnIn | None, typer.Option(help="What one unit of the drawing is, where it does not say.")
    ] = None,
    take: Annotated[
        list[str] | None,
        typer.Option(
            "--take",
            metavar="NUMBER=fold|mark|cut",
            help="What a line is that is left out otherwise.",
        ),
    ] = None,
) -> None:
    """Make a job of a drawn flat; what was assumed or left out is said, by its number where it can
    be something."""
    try:
        reading = read_drawing(
            drawing, unit=DRAWN_IN[unit] if unit else None, angle=angle, taken=_taken(take or [])
        )
    except UnitNotNamedError as error:
        raise DrawingError(tr("{error} Give --unit mm or --unit in.").format(error=error)) from None
    own = settings_of_shop().own_metal(metal)
    job = Job(
        name=drawing.stem,
        part=FlatPart(flat=reading.flat),
        metal=metal,
        own_metal=own,
        thickness=thickness,
        units=reading.units(Units.MM),
    ).model_copy(update=reading.tolerance.fields)
    check_flat(job, rack_of_shop().find(job.brake))
    write_job(job, output)
    for sentence in reading.notes:
        typer.echo(sentence)
    for number, left in enumerate(reading.left_out, start=1):
        if left.taken is Taken.NOTHING and left.may:
            typer.echo(
                tr("Left out, {number}: {why} --take {number}={may}").format(
                    number=number, why=left.why, may="|".join(left.may)
                )
            )


def fitting(
    sizes: Annotated[
        Path,
        typer.Argument(
            metavar="SIZES.json", help="The sizes of a duct fitting; - reads standard input."
        ),
    ],
    output: Annotated[
        Path | None,
        typer.Option("-o", "--output", metavar="WORK.json", help="The work file to write."),
    ] = None,
) -> None:
    """Make every piece of a duct fitting from its two openings: pieces, cleats and assembly,
    printed as JSON."""
    wanted = read_fitting(sizes)
    work = Work.of_fitting(wanted)
    rack = rack_of_shop()
    pieces = [
        {
            "name": job.name,
            "quantity": job.quantity,
            "blank": list(api.develop(job, rack=rack).size),
        }
        for job in work.parts
    ]
    if output is not None:
        write_work(work, output)
    print_json(
        {
            "pieces": pieces,
            "cleats": [plain(cleat) for cleat in wanted.cleats()],
            "assembly": list(wanted.assembly()),
        }
    )


def schema(
    kind: Annotated[str, typer.Argument(metavar="job|work|brake|plan", help="Which file.")] = "job",
) -> None:
    """Print the JSON Schema of a file: job, work, brake or plan."""
    print_json(schema_of(kind))


shop_app = typer.Typer(
    help="The shop's machines, and whether its files are whole.", no_args_is_help=True
)

BROKEN = 3
"""Exit code when something of the shop could not be used."""


@shop_app.command("list")
def list_(as_json: AsJson = False) -> None:
    """Every machine of the shop, an example or its own, in use or retired; its own metals, tools
    and ways."""
    rack, _ = shop_rack(brakes_place())
    settings, _ = read_settings(shop_home())
    rows = [
        {
            "key": brake.key,
            "name": brake.name,
            "kind": brake.kind,
            "length": brake.bed_length,
            "own": brake.key in rack.own,
            "retired": brake.key in rack.retired,
        }
        for brake in rack.brakes
    ]
    if as_json:
        text = settings.model_dump(mode="json", exclude={"format", "version"})
        print_json({"machines": rows, **text})
        return
    for row in rows:
        notes = [
            tr("its own") if row["own"] else tr("an example"),
            *([tr("retired")] if row["retired"] else []),
        ]
        typer.echo(f"{row['key']:24}  {row['name']}  ({', '.join(notes)})")
    for metal in settings.metals:
        typer.echo(f"{metal.key:24}  {metal.name}")


@shop_app.command()
def check(as_json: AsJson = False) -> None:
    """Whether every file of the shop can be used: machines and the book. Exit code 3 where one
    cannot."""
    rack, complaints = shop_rack(brakes_place())
    settings, complaint = read_settings(shop_home())
    text, records = [*complaints, *([complaint] if complaint else [])], 0
    try:
        from ..shop.book.record import KINDS
        from ..shop.book.store import Book

        with Book(book_place(shop_home())) as book:
            records = sum(book.count(kind) for kind in KINDS)
    except BookError as error:
        text.append(str(error))
    if as_json:
        print_json(
            {
                "machines": len(rack.brakes),
                "metals": len(settings.metals),
                "records": records,
                "complaints": text,
            }
        )
    else:
        typer.echo(
            tr("{machines}, {records}.").format(
                machines=counted("{count} machine", "{count} machines", len(rack.brakes)),
                records=counted(
                    "{count} record in the book", "{count} records in the book", records
                ),
            )
        )
        for sentence in text:
            typer.echo(sentence, err=True)
    if text:
        raise typer.Exit(BROKEN)


def simulate(
    device: Annotated[str, typer.Argument(help="instrument | gauge")],
    bias: Annotated[
        float, typer.Option("--bias", help="Of a gauge: mm it stands off what it was told.")
    ] = 0.0,
) -> None:
    """A device that is not there: prints the line it hangs on. An instrument sends every figure
    typed (88.5, or 25.1 mm)."""
    from ..devices.simulated import SimulatedGauge, SimulatedInstrument

    if device not in ("instrument", "gauge"):
        raise typer.BadParameter(tr("write instrument or gauge"))
    made = SimulatedInstrument() if device == "instrument" else SimulatedGauge(bias=bias)
    typer.echo(made.name)
    try:
        for line in sys.stdin:
            figure, _, unit = line.strip().partition(" ")
            if isinstance(made, SimulatedInstrument) and figure:
                try:
                    (made.size if unit == "mm" else made.angle)(float(figure))
                except ValueError:
                    typer.echo(tr("{line!r} is no figure").format(line=line.strip()), err=True)
            elif isinstance(made, SimulatedGauge):
                typer.echo(tr("stands at {stands:.3f} mm").format(stands=made.stands))
    finally:
        made.close()
