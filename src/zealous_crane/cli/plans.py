"""A plan file, ours or edited, judged again for the job it is said to be of."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from .. import api
from ..bending.machine import FactKey
from ..errors import INPUT_ERRORS, InputError
from ..i18n import the, the_first, tr
from ..io.job_file import read_job
from ..io.plan_file import blank_record, plan_record
from ..job.job import Job, OrderWishes
from ..planning.plan import Plan
from ..planning.setup import set_up_facts
from ..schema.reading import read_json
from .options import (
    CANNOT,
    AsJson,
    BrakeChoice,
    JobFile,
    PartChoice,
    asked_of,
    load_flat,
    planned,
    planned_within,
    print_json,
    rack_of_shop,
    refused,
    stop,
)

LARGEST = 60_000_000
"""Bytes; no plan says more."""

SAME_ANGLE, SAME_LENGTH = 0.05, 0.01
"""Degrees and mm; figures nearer than this are one."""


class RecheckError(InputError):
    """A plan file that cannot be judged; the message says why."""


def read_plan(path: Path) -> dict[str, Any]:
    """A plan file as data.

    Raises:
        RecheckError: it is none.
    """
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError) as error:
        raise RecheckError(
            tr("{name} could not be read: {error}").format(name=path.name, error=error)
        ) from None
    if (
        not isinstance(data, dict)
        or data.get("format") != "zealous-crane-plan"
        or not isinstance(data.get("strokes"), list)
    ):
        raise RecheckError(tr("{name} is no plan of this program.").format(name=path.name))
    return data


def wished(job: Job, record: dict[str, Any]) -> Job:
    """The job with the order and the sides of a plan file asked for.

    Raises:
        RecheckError: the file's strokes do not say them.
    """
    sequence: list[str] = []
    clamp: dict[str, str] = {}
    try:
        panels, folds = record["blank"]["panels"], record["blank"]["folds"]
        for stroke in record["strokes"]:
            for number in stroke["folds"]:
                fold = folds[number]
                name = fold["name"]
                if name not in sequence:
                    sequence.append(name)
                held = panels[stroke["clamped"]]["name"]
                clamp[name] = "base" if held == panels[fold["parent"]]["name"] else "far"
        return job.model_copy(
            update={"order": OrderWishes.model_validate({"sequence": sequence, "clamp": clamp})}
        )
    except (KeyError, IndexError, TypeError, *INPUT_ERRORS) as error:
        raise RecheckError(
            tr("The strokes of this plan file cannot be read: {error}").format(error=error)
        ) from None


def differences(plan: Plan, record: dict[str, Any]) -> list[str]:
    """What a plan judged again says otherwise than its file, in sentences; empty where nothing
    does."""
    result: list[str] = []
    size = record["blank"].get("size", [0, 0])
    if any(abs(a - float(b)) > SAME_LENGTH for a, b in zip(plan.blank.size, size, strict=False)):
        result.append(
            tr("The blank is {now} mm, in the file {then} mm.").format(
                now=" × ".join(f"{v:.2f}" for v in plan.blank.size),
                then=" × ".join(f"{float(v):.2f}" for v in size),
            )
        )
    if bool(record.get("verdict", {}).get("feasible")) != plan.feasible:
        result.append(tr("Judged again: {sentence}").format(sentence=plan.sentence))
    for then, now in zip(record["strokes"], plan.strokes, strict=False):
        if then.get("name") != now.name:
            result.append(
                tr("Stroke {number} is {now}, in the file {then}.").format(
                    number=now.number, now=the(now.name), then=the(str(then.get("name")))
                )
            )
            continue
        for key, words, value in (
            ("reach", tr("goes to"), now.verdict.reach),
            ("wanted", tr("is to be stopped at"), now.verdict.wanted),
            ("by_hand", tr("leaves for the hand"), now.verdict.by_hand),
        ):
            text = then.get(key)
            if isinstance(text, (int, float)) and abs(float(text) - value) > SAME_ANGLE:
                result.append(
                    tr("{name} {words} {now:.1f}°, in the file {then:.1f}°.").format(
                        name=the_first(now.name), words=words, now=value, then=text
                    )
                )
    if len(record["strokes"]) != len(plan.strokes) and plan.feasible:
        result.append(
            tr("It takes {now} strokes, in the file {then}.").format(
                now=len(plan.strokes), then=len(record["strokes"])
            )
        )
    return result


CARD = (
    FactKey.HELD,
    FactKey.TOOLS,
    FactKey.PIECES,
    FactKey.UNDER,
    FactKey.GAUGE,
    FactKey.WAY,
    FactKey.HAND,
)
"""What is told of every bend: the side clamped, what stands in the brake, the stop, and what a hand
does."""


def blank(
    job: JobFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole blank as JSON.")] = False,
) -> None:
    """Develop the blank: size, folds, notches, scribe settings, every sum."""
    work, flat = load_flat(job, brake, part)
    record = blank_record(flat, work)
    if as_json:
        print_json(record)
        return
    for item in record["sums"]:
        typer.echo(f"{item['what']}: {item['sum']}")
    for doubt in record["doubts"]:
        typer.echo(tr("Take care: {doubt}").format(doubt=doubt))
    for question in asked_of(job, brake, part):
        typer.echo(question)


def plan(  # noqa: C901
    job: JobFile,
    brake: BrakeChoice = None,
    part: PartChoice = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print the whole plan as JSON.")] = False,
    quick: Annotated[
        bool,
        typer.Option(
            "--quick", help="The first order that works, if it is not the cheapest; no remedies."
        ),
    ] = False,
    until: Annotated[
        float | None,
        typer.Option("--until", metavar="SECONDS", min=0.1, help="What is found by then."),
    ] = None,
) -> None:
    """Plan the bends: order, clamping, fingers, reach and clearance of every stroke."""
    hurried = quick or until is not None
    result = (
        planned_within(job, brake, part, until or 0.0) if hurried else planned(job, brake, part)
    )
    if as_json:
        print_json(plan_record(result))
    else:
        if not refused(result):
            typer.echo(result.sentence)
        told = {stroke.sentence() for stroke in result.strokes}
        for reason in result.reasons if result.feasible else ():
            if reason not in told:
                typer.echo("  " + tr("Take care: {doubt}").format(doubt=reason))
        for before in (step for step in result.hand if step.after == 0):
            typer.echo("  " + before.says)
        for stroke in result.strokes:
            typer.echo("  " + stroke.sentence())
            shown = [fact.value for fact in set_up_facts(result, stroke) if fact.key in CARD]
            typer.echo(f"      {stroke.name}: {'; '.join(filter(None, shown))}")
            for step in result.hand:
                if step.after == stroke.number:
                    typer.echo(tr("  Then: {says}").format(says=step.says))
        for sentence in result.advice if result.feasible else ():
            typer.echo("  " + tr("What would work: {cure}").format(cure=sentence))
    if refused(result):
        raise stop(
            "\n".join(
                (
                    result.sentence,
                    *result.reasons,
                    *(tr("What would work: {cure}").format(cure=cure) for cure in result.advice),
                )
            ),
            CANNOT,
        )


def check(
    job: JobFile,
    plan_file: Annotated[
        Path, typer.Argument(metavar="PLAN.json", help="A plan file, ours or edited.")
    ],
    part: PartChoice = None,
    as_json: AsJson = False,
) -> None:
    """Judge a plan file again for a job: its order and sides, on the brake it names. Exit code 3
    where anything is otherwise."""

    record = read_plan(plan_file)
    work = read_job(job, part)
    on = str(record.get("brake", {}).get("key", work.brake))
    result = api.plan(wished(work, record), rack_of_shop()[on], remedies=False)
    text = differences(result, record)
    if as_json:
        print_json({"same": not text, "differences": text, "verdict": result.sentence})
    else:
        typer.echo(
            "\n".join(text)
            if text
            else tr("Judged again, and the same: {sentence}").format(sentence=result.sentence)
        )
    if text:
        raise typer.Exit(3)
