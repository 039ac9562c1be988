"""Blanks and plans, said or printed as JSON, and a plan judged again."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from ..files.job_file import read_job
from ..files.plan_file import blank_record, plan_record
from ..measure.words import tr
from ..plan.make import make_plan
from ..plan.result.facts import set_up_facts
from ..plan.stroke.machine import FactKey
from .asked import (
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

CARD = (FactKey.HELD, FactKey.TOOLS, FactKey.PIECES, FactKey.UNDER, FactKey.GAUGE, FactKey.WAY, FactKey.HAND)
"""What is told of every bend: the side clamped, what stands in the brake, the stop, and what a hand does."""


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
    found = planned_within(job, brake, part, until or 0.0) if hurried else planned(job, brake, part)
    if as_json:
        print_json(plan_record(found))
    else:
        if not refused(found):
            typer.echo(found.sentence)
        told = {stroke.sentence() for stroke in found.strokes}
        for reason in found.reasons if found.feasible else ():
            if reason not in told:
                typer.echo("  " + tr("Take care: {doubt}").format(doubt=reason))
        for before in (step for step in found.hand if step.after == 0):
            typer.echo("  " + before.says)
        for stroke in found.strokes:
            typer.echo("  " + stroke.sentence())
            shown = [fact.value for fact in set_up_facts(found, stroke) if fact.key in CARD]
            typer.echo(f"      {stroke.name}: {'; '.join(filter(None, shown))}")
            for step in found.hand:
                if step.after == stroke.number:
                    typer.echo(tr("  Then: {says}").format(says=step.says))
        for sentence in found.advice if found.feasible else ():
            typer.echo("  " + tr("What works: {cure}").format(cure=sentence))
    if refused(found):
        raise stop(
            "\n".join((found.sentence, *found.reasons, *(tr("What works: {cure}").format(cure=cure) for cure in found.advice))),
            CANNOT,
        )


def check(
    job: JobFile,
    plan_file: Annotated[Path, typer.Argument(metavar="PLAN.json", help="A plan file, ours or edited.")],
    part: PartChoice = None,
    as_json: AsJson = False,
) -> None:
    """Judge a plan file again for a job: its order and sides, on the brake it names. Exit code 3 where anything is otherwise."""
    from .recheck import differences, read_plan, wished

    record = read_plan(plan_file)
    work = read_job(job, part)
    on = str(record.get("brake", {}).get("key", work.brake))
    found = make_plan(wished(work, record), rack_of_shop()[on])
    said = differences(found, record)
    if as_json:
        print_json({"same": not said, "differences": said, "verdict": found.sentence})
    else:
        typer.echo("\n".join(said) if said else tr("Judged again, and the same: {sentence}").format(sentence=found.sentence))
    if said:
        raise typer.Exit(3)
