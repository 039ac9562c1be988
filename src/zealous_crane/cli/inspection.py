"""Checking a finished part without a window: its sizes, and what explains those that were
measured."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .. import api
from ..errors import INPUT_ERRORS, InputError
from ..i18n import tr
from ..inspection.inspection import Inspection
from ..inspection.measures import InspectedSize
from ..inspection.model import What
from ..inspection.wording import (
    advice,
    cause_words,
    question_text,
    show_measure,
    show_spread,
    unit_of,
    verdict,
)
from ..io.atomic import FileError
from ..schema.reading import plain, read_json
from .options import BrakeChoice, PartChoice, load_job, print_json

LARGEST = 1_000_000
"""Bytes; more is no file of sizes."""


def inspection_of(path: Path, brake: str | None = None, part: str | None = None) -> Inspection:
    """The inspection of the part in a job file."""
    job, rack = load_job(path, brake, part)
    return api.inspection_of(job, rack=rack)


def sizes_record(inspection: Inspection, *, every: bool) -> dict[str, Any]:
    """The sizes as JSON: mm and degrees."""
    return {
        "job": inspection.job.name,
        "sizes": [_line(line) for line in (inspection.lines if every else inspection.first)],
    }


def _line(line: InspectedSize) -> dict[str, Any]:
    m = line.measure
    return {
        "key": m.key,
        "says": m.says,
        "kind": m.what.value,
        "wanted": round(line.wanted, 6),
        "allowed": line.allowed,
        "by": line.standard,
        "usual": round(line.promised, 4),
        "end": {-1: "left", 1: "right"}.get(m.end),
    }


def explained_record(inspection: Inspection, measured: dict[str, float]) -> dict[str, Any]:
    """What explains measured sizes, as JSON.

    Raises:
        InputError: a size this part does not have, or none at all.
    """
    told = inspection.explained(measured)
    if told is None:
        raise InputError(
            tr("nothing is measured: write the sizes by their keys, as sizes --json gives them")
        )
    blank, job = inspection.blank, inspection.job
    causes = []
    for each in told.causes:
        text = advice(each, blank, job)
        causes.append(
            {
                "cause": each.cause.key,
                "says": text.what,
                "by": round(each.by, 4),
                "odds": round(each.odds, 4),
                "this_part": text.this_part,
                "next_part": text.next_part,
                "change": text.change,
            }
        )
    return {
        "job": job.name,
        "says": verdict(told, blank, job, len(inspection.out(measured))),
        "out_of_tolerance": [line.measure.key for line in inspection.out(measured)],
        "nothing_wrong": round(told.fine, 4),
        "causes": causes,
        "alike": [{"cause": c.key, "says": cause_words(c, blank, job)} for c in told.alike],
        "measure_next": None
        if told.question is None
        else {
            "key": told.question.measure.key,
            "says": question_text(told.question, blank, job),
            "expected_off": {
                c.key: round(v, 4)
                for c, v in zip(told.question.between, told.question.expected, strict=True)
            },
        },
        "left": {
            line: round(v, 4)
            for line, v in zip(_keys(inspection, measured), told.left, strict=True)
        },
    }


def _keys(inspection: Inspection, measured: dict[str, float]) -> list[str]:
    return [m.key for m in inspection.measures if m.key in measured]


def read_measured(path: Path, inspection: Inspection) -> dict[str, float]:
    """What was measured, by key: plain numbers in mm and degrees, or text as a person writes it in
    the job's units.

    Raises:
        FileError: it cannot be read, or says something that is no figure.
    """
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError) as error:
        raise FileError(
            tr("{name} cannot be read: {error}").format(name=path.name, error=error)
        ) from None
    if not isinstance(data, dict):
        raise FileError(
            tr("{name} holds no sizes: write {example}").format(
                name=path.name, example='{"leg:0:0": 25.1}'
            )
        )
    measured: dict[str, float] = {}
    for key, value in data.items():
        try:
            line = inspection.line(key)
            if isinstance(value, bool) or not isinstance(value, (int, float, str)):
                raise InputError(tr("is no figure"))
            measured[key] = (
                inspection.read(line, value)
                if isinstance(value, str)
                else inspection.likely(line, float(value))
            )
        except INPUT_ERRORS as error:
            raise FileError(
                tr("{name}: {key}: {error}").format(name=path.name, key=key, error=plain(error))
            ) from None
    return measured


def sizes(
    job: Annotated[Path, typer.Argument(metavar="JOB", help="A job file.")],
    every: Annotated[
        bool, typer.Option("--all", help="Every size there is, not only those that tell most.")
    ] = False,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print them as JSON.")] = False,
) -> None:
    """What to measure on the finished part, with tolerances, those sizes first that tell most."""
    inspection = inspection_of(job, brake, part)
    if as_json:
        print_json(sizes_record(inspection, every=every))
        return
    for line in inspection.lines if every else inspection.first:
        wanted, allowed = (
            show_measure(line.measure, line.wanted, inspection.job),
            show_spread(line.measure, line.allowed, inspection.job.units),
        )
        unit = "" if line.measure.what is What.ANGLE else f" {unit_of(inspection.job.units)}"
        by = f" ({line.standard})" if line.standard else ""
        typer.echo(f"{line.measure.key:16}  {line.measure.says}: {wanted} ± {allowed}{unit}{by}")


def explain(
    job: Annotated[Path, typer.Argument(metavar="JOB", help="A job file.")],
    measured: Annotated[Path, typer.Argument(metavar="MEASURED.json", help="Sizes by their keys.")],
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print everything as JSON.")] = False,
) -> None:
    """What most likely made a part come out as it was measured: causes with their odds, what to
    measure next, what to do."""
    inspection = inspection_of(job, brake, part)
    try:
        record = explained_record(inspection, read_measured(measured, inspection))
    except INPUT_ERRORS as error:
        raise FileError(plain(error)) from None
    if as_json:
        print_json(record)
        return
    typer.echo(record["says"])
    for cause in record["causes"]:
        typer.echo(f"{round(100 * cause['odds'])} in 100: {cause['says']} {cause['next_part']}")
    if record["measure_next"]:
        typer.echo(record["measure_next"]["says"])
