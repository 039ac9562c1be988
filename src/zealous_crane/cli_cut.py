"""Cutting without a window: sheets for a work, and what comes from the piece in hand."""

from __future__ import annotations

import dataclasses
import json
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError

from .cut import CutError
from .cut.cut_from import CutFrom
from .files import read_job, read_work
from .measure import Units, parse_length, show_length
from .measure.report import readable
from .measure.words import tr


def _cut_from(path: Path) -> CutFrom:
    try:
        return CutFrom.model_validate(json.loads(path.read_text(encoding="utf-8")))
    except ValidationError as error:
        raise CutError(f"{path.name}: {readable(error)}") from None
    except ValueError as error:
        raise CutError(
            tr("{name} is damaged or does not say what is cut from: {error}.").format(name=path.name, error=error)
        ) from None


def cut(
    work: Annotated[Path, typer.Argument(metavar="WORK", help="A job or work file.")],
    stock: Annotated[
        Path | None, typer.Option("--stock", metavar="FILE.json", help="Sheet, off-cuts and shear; else as the work says.")
    ] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print everything as JSON.")] = False,
) -> None:
    """Cut a work's blanks from sheets and off-cuts by rips and crosscuts: placements, every cut in order, what is left."""
    from .cut.layout import lay_out
    from .cut.solve import plan_cutting
    from .cut.work import lots

    read = read_work(work)
    jobs, units = read.parts, read.parts[0].units
    cut_from = _cut_from(stock) if stock is not None else read.cut_from or CutFrom()
    told: list[dict[str, Any]] = []
    for lot in lots(jobs):
        cutting = plan_cutting(lot.blanks, cut_from.stock, cut_from.shear, units)
        sheets = lay_out(cutting)
        told.append(
            {
                "sheet": lot.name, "metal": lot.metal, "thickness": lot.thickness, "weight_kg": lot.weight,
                "says": cutting.sentence(), "bought": cutting.bought, "least": cutting.least, "proved": cutting.proved,
                "yield": cutting.yielded, "sheets": [dataclasses.asdict(sheet) for sheet in sheets],
            }
        )  # fmt: skip
        if not as_json:
            typer.echo(f"{lot.name}: {cutting.sentence()}")
            for sheet in sheets:
                typer.echo(f"  {sheet.alike} × {sheet.stock.name}")
                for number, one in enumerate(sheet.cuts, start=1):
                    typer.echo(
                        tr("    {number}. {what} at {gauge}, {times} ×: {gives}").format(
                            number=number,
                            what=one.what,
                            gauge=show_length(one.gauge, units.fine),
                            times=one.times,
                            gives=one.gives,
                        )
                    )
                for left in sheet.offcuts:
                    size = tr("{length} × {width}").format(
                        length=show_length(left.length, units), width=show_length(left.width, units)
                    )
                    typer.echo(tr("    keep: {size}").format(size=size))
    if as_json:
        typer.echo(json.dumps({"lots": told}, ensure_ascii=False, indent=1))


def read_piece(text: str, inches: bool) -> tuple[float, float]:
    """``29x29``, ``8 1/2 × 3``, ``640 mm x 400 mm`` as length and width, mm.

    Raises:
        CutError: it is not two lengths.
    """
    parts = text.replace("×", "x").lower().split("x")
    try:
        if len(parts) != 2:
            raise ValueError
        length, width = (parse_length(p.strip(), Units.FRACTIONS if inches else Units.MM) for p in parts)
    except ValueError:
        raise CutError(tr("{text!r}: write the piece as length x width, such as 29x29.").format(text=text)) from None
    return length, width


def fits_piece(
    job: Annotated[Path, typer.Argument(metavar="JOB", help="A job file.")],
    piece: Annotated[str, typer.Option("--piece", metavar="LENGTHxWIDTH", help="The piece in hand: 29x29, 640x400.")],
    part: Annotated[str | None, typer.Option("--part", metavar="N|NAME")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print as JSON.")] = False,
) -> None:
    """Whether a part comes from the piece in hand, and how large each of its sizes may be so that it does."""
    from .blank import develop
    from .cut.in_hand import fits, reaches

    wanted = read_job(job, part)
    length, width = read_piece(piece, wanted.units.is_inch)
    blank = develop(wanted).size
    goes = fits(wanted, length, width)
    found = reaches(wanted, length, width)
    if as_json:
        sizes = [
            {
                "size": r.size.title,
                "now": r.size.value,
                "greatest": r.value,
                "blank": None if r.blank is None else list(r.blank),
            }
            for r in found
        ]
        typer.echo(json.dumps({"fits": goes, "blank": list(blank), "piece": [length, width], "sizes": sizes}, indent=1))
        return
    units = wanted.units
    shown = tr("{length} × {width}").format(length=show_length(blank[0], units), width=show_length(blank[1], units))
    typer.echo(
        tr("It comes from this piece.")
        if goes
        else tr("It needs {shown} and does not come from this piece.").format(shown=shown)
    )
    for reach in found:
        if reach.value is not None and abs(reach.value - reach.size.value) > 1e-6:
            typer.echo(
                tr("  {title} up to {value} instead of {now}").format(
                    title=reach.size.title, value=show_length(reach.value, units), now=show_length(reach.size.value, units)
                )
            )
