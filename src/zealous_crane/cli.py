"""The command line: the same work without a window."""

from __future__ import annotations

import dataclasses
import json
import os
import sys
import time
from pathlib import Path
from typing import Annotated, Any

import typer
from pydantic import ValidationError
from typer.completion import completion_init  # type: ignore[attr-defined]

from .blank import Blank, DevelopmentError, develop
from .brake import Brake, BrakeError, Rack, read_brake, shop_rack, tool_radius
from .cli_book import AsJson, BookAt, book_app, learnt_record
from .cli_check import explain, sizes
from .cli_cut import cut as cut_command
from .cli_cut import fits_piece
from .cli_devices import simulate
from .cli_help import translate
from .cli_recheck import RecheckError
from .cli_shop import shop_app
from .cut import CutError
from .files.atomic import FileError
from .files.drawing_in import DrawingError, read_drawing
from .files.job_file import JobFileError, job_schema, read_fitting, read_job, read_work, write_job, write_work
from .files.plan_file import blank_record, plan_record
from .files.writer import DRAWINGS, SHAPES, Subject
from .job import FlatPart, Job
from .measure import say_forces_in, show_length
from .measure.report import readable
from .measure.text import cut
from .measure.words import tr
from .metal import Sheet
from .plan.advice.advise import advise
from .plan.make import make_plan
from .plan.order.route import Cancelled
from .plan.result.plan import Plan
from .shop.book import BookError
from .shop.place import shop_home
from .shop.settings import ShopSettings, read_settings
from .work import Work

app = typer.Typer(
    help=tr(
        "Plans boxes, pans and strips of sheet metal for finger, press and bench brakes. With no command the window opens."
    ),
    no_args_is_help=False,
    add_completion=False,
    context_settings={"help_option_names": ["-h", "--help"]},
    pretty_exceptions_enable=False,
)

app.add_typer(book_app, name="book")
app.add_typer(shop_app, name="shop")
app.command("cut")(cut_command)
app.command("fits-piece")(fits_piece)
app.command("sizes")(sizes)
app.command("explain")(explain)
app.command("simulate")(simulate)

CANNOT = 3
"""Exit code when everything was read but the part cannot be made."""

JobFile = Annotated[Path, typer.Argument(metavar="JOB", help="A job or work file; - reads standard input.")]
PartChoice = Annotated[str | None, typer.Option("--part", metavar="N|NAME", help="Which part of a work of several.")]
PdfFile = Annotated[Path, typer.Option("-o", "--output", metavar="FILE.pdf", help="The PDF to write.")]
BrakeChoice = Annotated[
    str | None, typer.Option("--brake", metavar="KEY|FILE", help="Another brake of the shop, or a brake file.")
]


def shop_folder() -> Path:
    """Where a shop keeps its own brake files."""
    return shop_home() / "brakes"


def _stop(sentence: object, code: int = 1) -> typer.Exit:
    typer.echo(str(sentence), err=True)
    return typer.Exit(code)


def _settings() -> ShopSettings:
    settings, complaint = read_settings(shop_home())
    if complaint:
        typer.echo(complaint, err=True)
    return settings


def _rack() -> Rack:
    say_forces_in(read_settings(shop_home())[0].ways.tonnage)
    rack, complaints = shop_rack(shop_folder())
    for complaint in complaints:
        typer.echo(tr("Left out: {complaint}").format(complaint=complaint), err=True)
    return rack


def _load(path: Path, brake: str | None, part: str | None) -> tuple[Job, Brake, Rack]:
    """The job, its brake and the rack; a brake file named on the command line joins the rack."""
    rack = _rack()
    job = read_job(path, part)
    if brake is not None:
        if brake.endswith(".json"):
            own = read_brake(Path(brake))
            rack, brake = rack.with_brakes([own]), own.key
        job = job.model_copy(update={"brake": brake})
    return job, rack[job.brake], rack


def _planned(path: Path, brake: str | None, part: str | None) -> Plan:
    job, machine, rack = _load(path, brake, part)
    return advise(make_plan(job, machine), rack)


def _planned_within(path: Path, brake: str | None, part: str | None, seconds: float) -> Plan:
    """The best plan that is there after so many seconds; without end, that of the first order that works."""
    job, machine, rack = _load(path, brake, part)
    begun, first = time.monotonic(), list[Plan]()

    def late() -> bool:
        return time.monotonic() - begun > seconds if seconds else bool(first)

    plan = None
    try:
        plan = make_plan(job, machine, cancelled=late, at_once=first.append)
        return advise(plan, rack, cancelled=late) if seconds else plan
    except Cancelled:
        found = plan or (first[0] if first else None)
        if found is None:
            raise _stop(
                tr("No order was found within {seconds:g} s, and that is no proof that there is none.").format(seconds=seconds),
                CANNOT,
            ) from None
        return dataclasses.replace(found, looking=False)


def _flat(job: Job) -> Blank:
    """A job laid flat, with the inside radius its brake makes where it names none and the shop has the brake."""
    known = {brake.key: brake for brake in _rack().brakes}
    return develop(job, tool_radius(known[job.brake], job.sheet) if job.brake in known else None)


def _refused(found: Plan) -> bool:
    """True when the part cannot be made, or no order was found; a part with nothing for the brake is not refused."""
    return not found.feasible and not (found.open and not found.nothing_found)


def _print(record: dict[str, Any]) -> None:
    typer.echo(json.dumps(record, indent=1, ensure_ascii=False))


def _show_version(wanted: bool) -> None:
    if wanted:
        typer.echo(tr("Zealous Crane {version}").format(version=sys.modules[__package__].__version__))
        raise typer.Exit


@app.callback(invoke_without_command=True)
def _window(
    context: typer.Context,
    version: Annotated[
        bool, typer.Option("--version", callback=_show_version, is_eager=True, help="Say which version.")
    ] = False,
) -> None:
    if context.invoked_subcommand is None:
        raise typer.Exit(open_window(None))


def open_window(job: Path | None) -> int:
    """Open the window, with a job when one is given; its exit code."""
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        typer.echo(
            tr("There is no display to open a window on. The commands blank, plan, sheet and export work without."), err=True
        )
        return 1
    from .desk import run

    return run(job)


@app.command("open")
def open_job(job: Annotated[Path | None, typer.Argument(metavar="JOB", help="A job file.")] = None) -> None:
    """Open the window."""
    raise typer.Exit(open_window(job))


@app.command()
def blank(
    job: JobFile,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole blank as JSON.")] = False,
) -> None:
    """Develop the blank: size, folds, notches, scribe settings, every sum."""
    work = read_job(job, part)
    record = blank_record(_flat(work), work)
    if as_json:
        _print(record)
        return
    for item in record["sums"]:
        typer.echo(f"{item['what']}: {item['sum']}")
    for doubt in record["doubts"]:
        typer.echo(tr("Take care: {doubt}").format(doubt=doubt))


@app.command()
def plan(
    job: JobFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole plan as JSON.")] = False,
    quick: Annotated[
        bool, typer.Option("--quick", help="The first order that works, if it is not the cheapest; no cures.")
    ] = False,
    until: Annotated[float | None, typer.Option("--until", metavar="SECONDS", min=0.1, help="What is found by then.")] = None,
) -> None:
    """Plan the bends: order, clamping, fingers, reach and clearance of every stroke."""
    hurried = quick or until is not None
    found = _planned_within(job, brake, part, until or 0.0) if hurried else _planned(job, brake, part)
    if as_json:
        _print(plan_record(found))
    else:
        if not _refused(found):
            typer.echo(found.sentence)
        for before in (step for step in found.hand if step.after == 0):
            typer.echo("  " + before.says)
        for stroke in found.strokes:
            typer.echo("  " + stroke.sentence())
            for step in found.hand:
                if step.after == stroke.number:
                    typer.echo(tr("  Then: {says}").format(says=step.says))
        for sentence in found.advice if found.feasible else ():
            typer.echo("  " + tr("What works: {cure}").format(cure=sentence))
    if _refused(found):
        raise _stop(
            "\n".join((found.sentence, *found.reasons, *(tr("What works: {cure}").format(cure=cure) for cure in found.advice))),
            CANNOT,
        )


@app.command()
def check(
    job: JobFile,
    plan_file: Annotated[Path, typer.Argument(metavar="PLAN.json", help="A plan file, ours or edited.")],
    part: PartChoice = None,
    as_json: AsJson = False,
) -> None:
    """Judge a plan file again for a job: its order and sides, on the brake it names. Exit code 3 where anything is otherwise."""
    from .cli_recheck import differences, read_plan, wished

    record = read_plan(plan_file)
    work = read_job(job, part)
    on = str(record.get("brake", {}).get("key", work.brake))
    found = make_plan(wished(work, record), _rack()[on])
    said = differences(found, record)
    if as_json:
        _print({"same": not said, "differences": said, "verdict": found.sentence})
    else:
        typer.echo("\n".join(said) if said else tr("Judged again, and the same: {sentence}").format(sentence=found.sentence))
    if said:
        raise typer.Exit(3)


@app.command()
def sheet(
    job: JobFile,
    output: PdfFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    every: Annotated[
        bool, typer.Option("--every-part", help="All parts of the work in one document, and how they are cut.")
    ] = False,
) -> None:
    """Print the sheet for the bench and the brake as a PDF."""
    from .desk.writers import writer_of

    if every:
        from .cut.cut_from import CutFrom
        from .cut.told import worked_out
        from .desk.work_pages import write_work_pages

        work = read_work(job)
        plans = [_planned(job, brake, str(number)) for number in range(1, len(work.parts) + 1)]
        told = worked_out(work.parts, work.cut_from or CutFrom(), work.parts[0].units)
        write_work_pages(work, plans, told, output)
        refused = next((plan for plan in plans if _refused(plan)), None)
        if refused is not None:
            raise _stop(refused.sentence, CANNOT)
        return
    found = _planned(job, brake, part)
    writer_of("sheet").write(Subject(found.job, found.blank, found), output)
    if _refused(found):
        raise _stop(found.sentence, CANNOT)


@app.command()
def export(
    job: JobFile,
    output: Annotated[
        Path, typer.Option("-o", "--output", metavar="FILE.dxf|svg|stl|glb", help="The drawing or shape to write.")
    ],
    part: PartChoice = None,
    inches: Annotated[bool | None, typer.Option("--inches/--mm", help="Units; the job's own when not said.")] = None,
) -> None:
    """Write the blank as a DXF drawing in true millimetres or inches, or as an SVG in true size; the folded part as STL or glTF."""
    writer = next((w for w in (*DRAWINGS, *SHAPES) if w.ending == output.suffix.lower().removeprefix(".")), None)
    if writer is None:
        raise _stop(tr("{name}: drawings are written as .dxf or .svg.").format(name=output.name))
    work = read_job(job, part)
    writer.write(Subject(work, _flat(work), inches=inches), output)


@app.command()
def marking(job: JobFile, output: PdfFile, part: PartChoice = None) -> None:
    """Print the marking sheet: running dimensions, scribe settings, holes and points, steps."""
    from .desk.writers import writer_of

    work = read_job(job, part)
    writer_of("marking").write(Subject(work, _flat(work)), output)


@app.command()
def template(job: JobFile, output: PdfFile, part: PartChoice = None) -> None:
    """Print the blank at full size over as many pages as it takes."""
    from .desk.writers import writer_of

    work = read_job(job, part)
    writer_of("template").write(Subject(work, _flat(work)), output)


@app.command()
def manual(folder: Annotated[Path, typer.Argument(metavar="FOLDER", help="Where the pages go.")]) -> None:
    """Write the manual as HTML."""
    from .desk.app import application
    from .desk.manual_window import write_manual

    application()
    typer.echo(tr("{count} files in {folder}.").format(count=len(write_manual(folder)), folder=folder))


@app.command("from-drawing")
def from_drawing(
    drawing: Annotated[Path, typer.Argument(metavar="FILE.dxf", help="A drawing of a flat.")],
    output: Annotated[Path, typer.Option("-o", "--output", metavar="JOB.json", help="The job file to write.")],
    metal: Annotated[str, typer.Option(help="Key of the metal.")] = "mild-steel",
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")] = "20 ga",
    angle: Annotated[float, typer.Option(help="Degrees for folds that say nothing.")] = 90.0,
) -> None:
    """Make a job of a drawn flat; what was assumed or left out is said."""
    reading = read_drawing(drawing, angle=angle)
    own = _settings().own_metal(metal)
    job = Job(
        name=drawing.stem,
        part=FlatPart(flat=reading.flat),
        metal=metal,
        own_metal=own,
        thickness=thickness,
        **reading.tolerance.fields,
    )
    develop(job)
    write_job(job, output)
    for sentence in reading.said:
        typer.echo(sentence)


@app.command()
def learnt(
    metal: Annotated[str, typer.Option(help="Key of the metal.")],
    thickness: Annotated[str, typer.Option(help="Gauge or thickness.")],
    brake: Annotated[str, typer.Option(help="Key of the brake.")],
    tool: Annotated[str, typer.Option(help="Punch and die, or what is out of the ordinary.")] = "",
    book: BookAt = None,
    as_json: AsJson = False,
) -> None:
    """What the book says of the springback of a metal on a brake, and where it comes from."""
    known = _settings().every_metal
    if metal not in known:
        raise _stop(tr("The metal {key!r} is not known. Known: {known}.").format(key=metal, known=", ".join(known)))
    sheet = Sheet.read(known[metal], thickness)
    found = learnt_record(metal, sheet.thickness, brake, tool, book, _rack())
    if as_json:
        _print(found)
    else:
        typer.echo(found["says"])
        typer.echo(found["neutral_line"]["says"])


@app.command()
def coupon(job: JobFile, brake: BrakeChoice = None, part: PartChoice = None, as_json: AsJson = False) -> None:
    """The test strip for a job: size, mark, set-up and force; measure it and write it into the book as a strip."""
    from .plan.result.set_up import record as set_up_record
    from .plan.result.set_up import set_up_of
    from .shop.coupon import NARROW, coupon_job

    work, on, _ = _load(job, brake, part)
    strip = coupon_job(work, on)
    found = make_plan(strip, on)
    line = found.blank.folds[0]
    told: dict[str, Any] = {
        "name": strip.name,
        "flat": found.blank.size[0],
        "width": found.blank.size[1],
        "line": float(line.start[0]),
        "angle": 90.0,
        "says": found.sentence,
        "caution": NARROW,
        "set_up": [set_up_record(set_up_of(found, stroke)) for stroke in found.strokes],
    }
    if as_json:
        _print(told)
    else:
        flat, width, at = (show_length(v, strip.units) for v in (told["flat"], told["width"], told["line"]))
        typer.echo(tr("{name}: cut {flat} × {width}, mark the line {line} from one end.").format(
            name=strip.name, flat=flat, width=width, line=at))  # fmt: skip
        for stroke in found.strokes:
            typer.echo("  " + stroke.sentence())
        typer.echo("  " + NARROW)
    if _refused(found):
        raise _stop(found.sentence, CANNOT)


@app.command()
def fitting(
    sizes: Annotated[Path, typer.Argument(metavar="SIZES.json", help="The sizes of a duct fitting; - reads standard input.")],
    output: Annotated[Path | None, typer.Option("-o", "--output", metavar="WORK.json", help="The work file to write.")] = None,
) -> None:
    """Make every piece of a duct fitting from its two openings: pieces, cleats and assembly, printed as JSON."""
    wanted = read_fitting(sizes)
    work = Work.of_fitting(wanted)
    pieces = [{"name": job.name, "quantity": job.quantity, "blank": list(develop(job).size)} for job in work.parts]
    if output is not None:
        write_work(work, output)
    _print(
        {
            "pieces": pieces,
            "cleats": [dataclasses.asdict(cleat) for cleat in wanted.cleats()],
            "assembly": list(wanted.assembly()),
        }
    )


@app.command()
def schema() -> None:
    """Print the JSON Schema of the job file."""
    _print(job_schema())


FORESEEN = (BookError, CutError, RecheckError, JobFileError, BrakeError, DevelopmentError, FileError, DrawingError)


def main() -> None:
    """Entry point: every complaint is one sentence on stderr and a non-zero exit."""
    completion_init()
    if len(sys.argv) == 2 and Path(sys.argv[1]).suffix.lower() in (".crane", ".json") and Path(sys.argv[1]).exists():
        # A file alone is opened, as a desktop does with it.
        sys.argv.insert(1, "open")
    command = typer.main.get_command(app)
    translate(command)
    try:
        command()
    except FORESEEN as error:
        _end(str(error))
    except ValidationError as error:
        _end(readable(error))
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(1)
    except OSError as error:
        _end(
            tr("{what} could not be used: {value}.").format(
                what=cut(error.filename or tr("A file")), value=error.strerror or cut(error)
            )
        )
    except MemoryError:
        _end(tr("There is not enough memory for this."))
    except (RecursionError, OverflowError):
        _end(tr("This is nested too deeply, or its sizes are too large, to be worked out."))
    except KeyboardInterrupt:
        sys.exit(130)
    except Exception as error:
        from .desk.log import record_fault

        path = record_fault(error)
        where = tr(" What happened is written in {path}.").format(path=path) if path is not None else ""
        _end(tr("That did not work: a fault of this program.{where}").format(where=where))


def _end(sentence: str) -> None:
    print(sentence, file=sys.stderr)
    sys.exit(1)


if __name__ == "__main__":
    main()
