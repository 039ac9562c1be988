"""What is printed and drawn: sheets, marking, templates, drawings, shapes, the manual."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from .. import api
from ..i18n import tr
from ..io.formats import DRAWINGS, SHAPES, Subject
from ..io.job_file import read_work
from .options import (
    CANNOT,
    BrakeChoice,
    DxfVersion,
    JobFile,
    PartChoice,
    PdfFile,
    load_flat,
    on_asked_brake,
    on_rack,
    planned,
    rack_with,
    refused,
    settings_of_shop,
    stop,
)


def sheet(
    job: JobFile,
    output: PdfFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    every: Annotated[
        bool,
        typer.Option(
            "--every-part", help="All parts of the work in one document, and how they are cut."
        ),
    ] = False,
) -> None:
    """Print the sheet for the bench and the brake as a PDF."""
    from ..paper.writers import writer_of

    if every:
        from ..paper.documents import write_work_pages

        rack, key = rack_with(brake)
        work = read_work(job, on_rack(rack, key))
        plans = [planned(job, brake, str(number)) for number in range(1, len(work.parts) + 1)]
        jobs = [on_asked_brake(one, key) for one in work.parts]
        told = api.cut(jobs, work.cut_from or settings_of_shop().cut_from, rack=rack)
        write_work_pages(work, plans, told, output)
        none = next((plan for plan in plans if refused(plan)), None)
        if none is not None:
            raise stop(none.sentence, CANNOT)
        return
    result = planned(job, brake, part)
    writer_of("sheet").write(Subject(result.job, result.blank, result), output)
    if refused(result):
        raise stop(result.sentence, CANNOT)


def export(
    job: JobFile,
    output: Annotated[
        Path,
        typer.Option(
            "-o", "--output", metavar="FILE.dxf|svg|stl|glb", help="The drawing or shape to write."
        ),
    ],
    brake: BrakeChoice = None,
    part: PartChoice = None,
    inches: Annotated[
        bool | None,
        typer.Option("--inches/--mm", help="Units; the job's own when not said, and mm for STL."),
    ] = None,
    dxf: DxfVersion = None,
) -> None:
    """Write the blank as a DXF or SVG drawing in true millimetres or inches; the folded part as
    STL, or as glTF (in metres)."""
    writer = next(
        (w for w in (*DRAWINGS, *SHAPES) if w.ending == output.suffix.lower().removeprefix(".")),
        None,
    )
    if writer is None:
        raise stop(tr("{name}: drawings are written as .dxf or .svg.").format(name=output.name))
    work, flat = load_flat(job, brake, part)
    writer.write(
        Subject(work, flat, inches=inches, dxf=dxf or settings_of_shop().ways.drawings), output
    )


def film(
    job: JobFile,
    output: Annotated[
        Path,
        typer.Option(
            "-o",
            "--output",
            metavar="FILE.png|FILE.glb|FOLDER",
            help="An animated picture, a scene for a 3D viewer, or a folder for drawings.",
        ),
    ],
    brake: BrakeChoice = None,
    part: PartChoice = None,
) -> None:
    """Write how the part is bent as a film: an animated PNG, an animated glTF, or a folder of SVG
    drawings, one for every piece of work."""
    from ..paper.film import write_drawings
    from ..paper.writers import writer_of

    ending = output.suffix.lower()
    if ending not in ("", ".png", ".glb"):
        raise stop(
            tr("{name}: films are written as .png, as .glb, or into a folder.").format(
                name=output.name
            )
        )
    result = planned(job, brake, part)
    if not ending:
        count = write_drawings(result, output)
        typer.echo(tr("{count} files in {folder}.").format(count=count, folder=output))
        return
    writer = writer_of("film" if ending == ".png" else "motion")
    writer.write(Subject(result.job, result.blank, result), output)


def marking(
    job: JobFile, output: PdfFile, brake: BrakeChoice = None, part: PartChoice = None
) -> None:
    """Print the marking sheet: running dimensions, scribe settings, holes and points, steps."""
    from ..paper.writers import writer_of

    writer_of("marking").write(Subject(*load_flat(job, brake, part)), output)


def template(
    job: JobFile,
    output: PdfFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    paper: Annotated[
        str | None,
        typer.Option(
            "--paper",
            help="a4, a3, letter, tabloid, or roll (36 in); else as usual in the job's units.",
        ),
    ] = None,
) -> None:
    """Print the blank at full size over as many pages as it takes."""
    from ..paper.page import paper_layout
    from ..paper.template import write_template

    work, flat = load_flat(job, brake, part)
    write_template(work, flat, output, None if paper is None else paper_layout(paper, flat.size))


def manual(
    folder: Annotated[Path, typer.Argument(metavar="FOLDER", help="Where the pages go.")],
) -> None:
    """Write the manual as HTML."""
    from ..paint.application import application
    from ..ui.dialogs.about import write_manual

    application()
    typer.echo(
        tr("{count} files in {folder}.").format(count=len(write_manual(folder)), folder=folder)
    )
