"""Cutting without a window: sheets for a work, and what comes from the piece in hand."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError

from .. import api
from ..cutting.layout import SheetCut, StopSetting
from ..cutting.piece import CutError, CutFrom
from ..cutting.summary import MetalSummary, kept_lines, setting_lines, sheet_title
from ..errors import InputError
from ..i18n import tr
from ..io.cut_files import write_cutting
from ..io.job_file import read_job, read_work
from ..schema.reading import read_json, readable
from ..work.work import Work
from .options import (
    AsJson,
    BrakeChoice,
    DxfVersion,
    PartChoice,
    on_asked_brake,
    on_rack,
    plain,
    print_json,
    rack_with,
    settings_of_shop,
)

LARGEST = 1_000_000
"""Bytes; more does not say what is cut from."""


def _cut_from(path: Path) -> CutFrom:
    try:
        return CutFrom.model_validate(read_json(path, LARGEST))
    except ValidationError as error:
        raise CutError(f"{path.name}: {readable(error)}") from None
    except InputError as error:
        raise CutError(
            tr("{name} is damaged or does not say what is cut from: {error}.").format(
                name=path.name, error=error
            )
        ) from None


def _record(sheet: SheetCut) -> dict[str, object]:
    result: dict[str, object] = plain(sheet)
    result["cuts"] = [{**plain(one), "against": one.against} for one in sheet.cuts]
    return result


def _setting(one: StopSetting) -> dict[str, object]:
    cuts = [
        {
            "sheet": at.sheet,
            "times": at.times,
            "length": at.cut.length,
            "of": at.cut.of,
            "gives": at.cut.gives,
        }
        for at in one.cuts
    ]
    return {
        "what": one.what,
        "gauge": one.gauge,
        "times": one.times,
        "against": one.against,
        "cuts": cuts,
    }


def cut(  # noqa: C901, PLR0913
    work: Annotated[Path, typer.Argument(metavar="WORK", help="A job or work file.")],
    stock: Annotated[
        Path | None,
        typer.Option(
            "--stock",
            metavar="FILE.json",
            help="Sheet, off-cuts and shear; else as the work or the shop says.",
        ),
    ] = None,
    brake: BrakeChoice = None,
    output: Annotated[
        Path | None,
        typer.Option(
            "-o",
            "--output",
            metavar="FILE",
            help="Write a cut sheet (.pdf), list (.csv) or drawing (.svg, .dxf).",
        ),
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print everything as JSON.")] = False,
    inches: Annotated[
        bool | None,
        typer.Option("--inches/--mm", help="Units of a drawing; those of the work when not said."),
    ] = None,
    dxf: DxfVersion = None,
) -> None:
    """Cut a work's blanks from sheets and off-cuts by rips and crosscuts: placements, every cut in
    order, what is left."""
    rack, key = rack_with(brake)
    read = read_work(work, on_rack(rack, key))
    asks, units = read.unsaid(on_rack(rack, key)), read.parts[0].units
    waiting = tuple(sorted({*read.waiting(), *asks}))
    jobs = tuple(on_asked_brake(job, key) for k, job in enumerate(read.parts) if k not in waiting)
    cut_from = (
        _cut_from(stock) if stock is not None else read.cut_from or settings_of_shop().cut_from
    )
    told: list[dict[str, Any]] = []
    every = api.cut(jobs, cut_from, rack=rack)
    for one_lot in every:
        lot, sheets = one_lot.lot, one_lot.sheets
        if one_lot.cannot:
            raise CutError(f"{lot.name}: {one_lot.says}")
        told.append(
            {
                "sheet": lot.name,
                "metal": lot.metal,
                "thickness": lot.thickness,
                "weight_kg": lot.weight,
                "says": one_lot.says,
                "bought": one_lot.bought,
                "least": one_lot.least,
                "proved": one_lot.proved,
                "yield": one_lot.yielded,
                "yield_at_most": one_lot.at_most,
                "sheets_kg": one_lot.sheet_mass,
                "cost": one_lot.cost,
                "care": list(one_lot.care),
                "sheets": [_record(sheet) for sheet in sheets],
                "settings": [_setting(one) for one in one_lot.settings],
            }
        )
        if not as_json:
            typer.echo(f"{lot.name}: {one_lot.says}")
            for line in setting_lines(one_lot, units):
                typer.echo(f"  {line}")
            for number, sheet in enumerate(sheets):
                typer.echo("  " + sheet_title(one_lot, number, units))
                for line in kept_lines(sheet, units):
                    typer.echo(f"    {line}")
    if waiting and not as_json:
        names = ", ".join(read.parts[k].name for k in waiting if k not in asks)
        if names:
            typer.echo(
                tr("Not cut yet, until the other part is measured: {waiting}.").format(
                    waiting=names
                )
            )
        for question in asks.values():
            typer.echo(tr("Not cut yet. {question}").format(question=question))
    if output is not None:
        in_inches = units.is_inch if inches is None else inches
        _write(
            every, read, output, inches=in_inches, version=dxf or settings_of_shop().ways.drawings
        )
    if as_json:
        print_json(
            {
                "lots": told,
                "waiting": [read.parts[k].name for k in waiting],
                "asked": list(asks.values()),
            }
        )


def _write(
    told: tuple[MetalSummary, ...], work: Work, path: Path, *, inches: bool, version: str
) -> None:
    first = work.parts[0]
    if write_cutting(told, path, inches=inches, version=version):
        return
    if path.suffix.lower() != ".pdf":
        raise CutError(tr("{name}: write .pdf, .csv, .svg or .dxf.").format(name=path.name))
    from ..paper.sheets import write_cut_sheet

    write_cut_sheet(told, first.model_copy(update={"name": work.name}), path)


def fits_piece(
    job: Annotated[Path, typer.Argument(metavar="JOB", help="A job file.")],
    piece: Annotated[
        str,
        typer.Option("--piece", metavar="LENGTHxWIDTH", help="The piece in hand: 29x29, 640x400."),
    ],
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: AsJson = False,
) -> None:
    """Whether a part comes from the piece in hand, how many, and how large each of its sizes may be
    so that it does."""
    from ..cutting.piece_in_hand import LargestSize, in_hand, read_piece, verdict, would_go

    rack, key = rack_with(brake)
    read = read_work(job, on_rack(rack, key))
    wanted = on_asked_brake(read_job(job, part, on_rack(rack, key)), key)
    length, width = read_piece(piece, wanted.units)
    told = in_hand(
        wanted,
        rack.find(wanted.brake),
        length,
        width,
        (read.cut_from or settings_of_shop().cut_from).shear,
    )

    def record(reach: LargestSize) -> dict[str, object]:
        blank = None if reach.blank is None else list(reach.blank)
        return {
            "size": reach.size.title,
            "now": reach.size.value,
            "greatest": reach.value,
            "blank": blank,
        }

    if as_json:
        result = {
            "fits": told.count > 0,
            "count": told.count,
            "blank": list(told.blank),
            "piece": [length, width],
            "sizes": [record(r) for r in told.reaches],
            "together": [record(r) for r in told.together],
            "last": None if told.last is None else record(told.last),
        }
        print_json(result)
        return
    typer.echo(verdict(told, wanted))
    for words, _ in would_go(told, wanted):
        typer.echo(f"  {words}")
