"""A plan file, ours or edited, judged again for the job it is said to be of."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from ..job import Job, OrderWishes
from ..measure.input_error import INPUT_ERRORS, InputError
from ..measure.plain_json import read_json
from ..measure.words import the, the_first, tr
from ..plan.result.plan import Plan

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
        raise RecheckError(tr("{name} could not be read: {error}").format(name=path.name, error=error)) from None
    if not isinstance(data, dict) or data.get("format") != "zealous-crane-plan" or not isinstance(data.get("strokes"), list):
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
        return job.model_copy(update={"order": OrderWishes.model_validate({"sequence": sequence, "clamp": clamp})})
    except (KeyError, IndexError, TypeError, *INPUT_ERRORS) as error:
        raise RecheckError(tr("The strokes of this plan file cannot be read: {error}").format(error=error)) from None


def differences(plan: Plan, record: dict[str, Any]) -> list[str]:
    """What a plan judged again says otherwise than its file, in sentences; empty where nothing does."""
    found: list[str] = []
    size = record["blank"].get("size", [0, 0])
    if any(abs(a - float(b)) > SAME_LENGTH for a, b in zip(plan.blank.size, size, strict=False)):
        found.append(
            tr("The blank is {now} mm, in the file {then} mm.").format(
                now=" × ".join(f"{v:.2f}" for v in plan.blank.size), then=" × ".join(f"{float(v):.2f}" for v in size)
            )
        )
    if bool(record.get("verdict", {}).get("feasible")) != plan.feasible:
        found.append(tr("Judged again: {sentence}").format(sentence=plan.sentence))
    for then, now in zip(record["strokes"], plan.strokes, strict=False):
        if then.get("name") != now.name:
            found.append(
                tr("Stroke {number} is {now}, in the file {then}.").format(
                    number=now.number, now=the(now.name), then=the(str(then.get("name")))
                )
            )
            continue
        for key, words, value in (
            ("reach", tr("goes to"), now.verdict.reach), ("wanted", tr("is to be stopped at"), now.verdict.wanted),
            ("by_hand", tr("leaves for the hand"), now.verdict.by_hand),
        ):  # fmt: skip
            said = then.get(key)
            if isinstance(said, (int, float)) and abs(float(said) - value) > SAME_ANGLE:
                found.append(
                    tr("{name} {words} {now:.1f}°, in the file {then:.1f}°.").format(
                        name=the_first(now.name), words=words, now=value, then=said
                    )
                )
    if len(record["strokes"]) != len(plan.strokes) and plan.feasible:
        found.append(
            tr("It takes {now} strokes, in the file {then}.").format(now=len(plan.strokes), then=len(record["strokes"]))
        )
    return found
