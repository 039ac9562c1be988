"""Jobs that are made: of a drawing, of the sizes of a duct fitting; and what a job file holds."""

from __future__ import annotations

import dataclasses
from enum import StrEnum
from pathlib import Path
from typing import Annotated

import typer

from ..blank import check_flat, flat_for
from ..files.drawing_in import DrawingError, Taken, UnitNotNamedError, read_drawing
from ..files.job_file import read_fitting, write_job, write_work
from ..files.schema import schema_of
from ..job import FlatPart, Job
from ..measure import INCH, Units
from ..measure.input_error import InputError
from ..measure.words import tr
from ..work import Work
from .asked import print_json, rack_of_shop, settings_of_shop


class DrawnIn(StrEnum):
    """Units a drawing may be in."""

    MM = "mm"
    CM = "cm"
    M = "m"
    IN = "in"
    FT = "ft"


DRAWN_IN = {DrawnIn.MM: 1.0, DrawnIn.CM: 10.0, DrawnIn.M: 1000.0, DrawnIn.IN: INCH, DrawnIn.FT: 12 * INCH}
"""mm."""


def _taken(asked: list[str]) -> dict[int, Taken]:
    """What lines are taken for, as it is typed: ``1=fold``.

    Raises:
        InputError: it is not said so.
    """
    found = {}
    for text in asked:
        number, _, what = text.partition("=")
        if not number.isdigit() or int(number) < 1 or what not in tuple(Taken):
            raise InputError(tr("{text!r}: write a number and what it is, as 1=fold, 2=mark or 3=cut.").format(text=text))
        found[int(number) - 1] = Taken(what)
    return found


def from_drawing(
    drawing: Annotated[Path, typer.Argument(metavar="FILE.dxf", help="A drawing of a flat.")],
    output: Annotated[Path, typer.Option("-o", "--output", metavar="JOB.json", help="The job file to write.")],
    metal: Annotated[str, typer.Option(help="Key of the metal.")] = "mild-steel",
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")] = "20 ga",
    angle: Annotated[float, typer.Option(help="Degrees for folds that say nothing.")] = 90.0,
    unit: Annotated[DrawnIn | None, typer.Option(help="What one unit of the drawing is, where it does not say.")] = None,
    take: Annotated[
        list[str] | None,
        typer.Option("--take", metavar="NUMBER=fold|mark|cut", help="What a line is that is left out otherwise."),
    ] = None,
) -> None:
    """Make a job of a drawn flat; what was assumed or left out is said, by its number where it can be something."""
    try:
        reading = read_drawing(drawing, unit=DRAWN_IN[unit] if unit else None, angle=angle, taken=_taken(take or []))
    except UnitNotNamedError as error:
        raise DrawingError(tr("{error} Give --unit mm or --unit in.").format(error=error)) from None
    own = settings_of_shop().own_metal(metal)
    job = Job(
        name=drawing.stem,
        part=FlatPart(flat=reading.flat),
        metal=metal,
        own_metal=own,
        thickness=thickness,
        **{"units": reading.units(Units.MM), **reading.tolerance.fields},
    )
    check_flat(job, rack_of_shop().find(job.brake))
    write_job(job, output)
    for sentence in reading.said:
        typer.echo(sentence)
    for number, left in enumerate(reading.left_out, start=1):
        if left.taken is Taken.NOTHING and left.may:
            typer.echo(
                tr("Left out, {number}: {why} --take {number}={may}").format(
                    number=number, why=left.why, may="|".join(left.may)
                )
            )


def fitting(
    sizes: Annotated[Path, typer.Argument(metavar="SIZES.json", help="The sizes of a duct fitting; - reads standard input.")],
    output: Annotated[Path | None, typer.Option("-o", "--output", metavar="WORK.json", help="The work file to write.")] = None,
) -> None:
    """Make every piece of a duct fitting from its two openings: pieces, cleats and assembly, printed as JSON."""
    wanted = read_fitting(sizes)
    work = Work.of_fitting(wanted)
    rack = rack_of_shop()
    pieces = [
        {"name": job.name, "quantity": job.quantity, "blank": list(flat_for(job, rack.find(job.brake)).size)}
        for job in work.parts
    ]
    if output is not None:
        write_work(work, output)
    print_json(
        {
            "pieces": pieces,
            "cleats": [dataclasses.asdict(cleat) for cleat in wanted.cleats()],
            "assembly": list(wanted.assembly()),
        }
    )


def schema(kind: Annotated[str, typer.Argument(metavar="job|work|brake|plan", help="Which file.")] = "job") -> None:
    """Print the JSON Schema of a file: job, work, brake or plan."""
    print_json(schema_of(kind))
