"""Every choice of every ready kind on every shipped brake: planned, or refused and why. Writes
docs/kinds.md.

From each kind's demonstration one choice is changed at a time (for sleeves form, hem and lip
together), and nothing else.
"""

from __future__ import annotations

import itertools
import re
import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from enum import Enum
from pathlib import Path
from typing import Any, Literal, get_args, get_origin

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.job.job import Job
from zealous_crane.part.kinds import KINDS
from zealous_crane.part.template import PartTemplate
from zealous_crane.planning.planner import make_plan
from zealous_crane.schema.model import unwrapped

ROOT = Path(__file__).resolve().parent.parent

LIMIT = 1500
"""Strokes judged before a plan is given up: a search that is not through says so."""

MORE: dict[str, dict[str, tuple[Any, ...]]] = {
    "sleeve": {"hem": (None, 12.7), "hem_form": ("closed", "double")},
    "cap": {"hem": (None, 6.0), "edge": (None, 12.7)},
    "folded-pan": {"hem": (None, 9.0)},
    "duct-side": {"side": ("front", "left")},
}
"""Sizes that are there or not, and choices worth fewer than all of their values."""

TOGETHER = {"sleeve": ("piece", "lip", "hem_form")}
"""Choices that are tried in every combination."""


@dataclass(frozen=True)
class Tried:
    """One choice on one brake.

    Attributes:
        kind: the kind's key.
        choice: what was changed, in words; empty for the demonstration itself.
        brake: key.
        made: it is planned, or needs no brake.
        says: verdict sentence.
        reasons: why not.
    """

    kind: str
    choice: str
    brake: str
    made: bool
    says: str
    reasons: tuple[str, ...]


def demonstrations() -> dict[str, Job]:
    """A job of every kind: the first demonstration that shows it."""
    found: dict[str, Job] = {}
    for name in DEMOS:
        for job in demo_work(name).parts:
            found.setdefault(job.part.kind, job)
    return found


def values(kind: type[PartTemplate], name: str, key: str) -> tuple[Any, ...]:
    """What a field may be chosen to be; nothing for sizes and counts."""
    if name in MORE.get(key, {}):
        return MORE[key][name]
    plain, _, _ = unwrapped(kind.model_fields[name].annotation, [])
    if isinstance(plain, type) and issubclass(plain, Enum):
        return tuple(m.value for m in plain)
    if get_origin(plain) is Literal and len(get_args(plain)) > 1:
        return get_args(plain)
    return (True, False) if plain is bool else ()


def choices(job: Job) -> Iterator[tuple[str, PartTemplate]]:
    """The part as it is, then with every choice changed."""
    part, kind = job.part, type(job.part)
    key = part.kind
    yield "", part
    together = TOGETHER.get(key, ())
    single = [
        n
        for n in kind.model_fields
        if n not in together and n not in ("kind", "measured") and values(kind, n, key)
    ]
    changes = [{n: v} for n in single for v in values(kind, n, key)]
    changes += [
        dict(zip(together, row, strict=True))
        for row in itertools.product(*(values(kind, n, key) for n in together))
    ]
    for change in changes:
        if not change or all(_plain(getattr(part, n)) == v for n, v in change.items()):
            continue
        if "hem_form" in change and getattr(part, "hem", None) is None:
            change["hem"] = 12.7
        try:
            changed = kind.model_validate({**part.model_dump(), **change})
        except ValueError:
            continue
        words = ", ".join(
            f"{n.replace('_', ' ')} {_word(v)}"
            for n, v in change.items()
            if n != "hem" or v is None or "hem_form" not in change
        )
        yield words, changed


def _plain(value: Any) -> Any:
    return value.value if isinstance(value, Enum) else value


def _word(value: Any) -> str:
    if value is None:
        return "none"
    return (
        {True: "yes", False: "no"}[value]
        if isinstance(value, bool)
        else f"{value:g} mm"
        if isinstance(value, float)
        else str(value)
    )


def grid() -> list[tuple[str, str, Job]]:
    """Every choice on every brake: kind, choice, job."""
    rack = shipped_rack()
    return [
        (key, words, job.model_copy(update={"part": part, "brake": brake.key}))
        for key, job in sorted(demonstrations().items())
        for words, part in choices(job)
        for brake in rack.brakes
    ]


def tried(asked: tuple[str, str, Job]) -> Tried:
    """Plan one."""
    kind, words, job = asked
    rack = shipped_rack()
    try:
        plan = make_plan(job, rack[job.brake], limit=LIMIT)
    except DevelopmentError as error:
        return Tried(kind, words, job.brake, False, str(error), (str(error),))
    return Tried(kind, words, job.brake, plan.feasible or plan.open, plan.sentence, plan.reasons)


def short(one: Tried) -> str:
    """Why not, in few words: numbers left out, so that alike reasons are alike."""
    said = re.sub(
        r"^(Cannot be made (on this brake|in this order)|No order found, and that is no proof): ?",
        "",
        one.says,
    )
    return re.sub(r"^with the .*? up, ", "", said)


def document(found: list[Tried]) -> str:
    """docs/kinds.md."""
    rack = shipped_rack()
    labels = {kind.model_fields["kind"].default: kind.label for kind in KINDS}
    lines = [
        "# The ready kinds, and what cannot be made of them",
        "",
        "Every choice of every kind's form on every brake that ships, from the sizes of the "
        "demonstrations, one choice changed at a time"
        " (of a sleeve piece, lip and hem together). Written by `tools/kinds.py`; one of 23 is "
        "planned anew by the tests.",
        "",
        f"{len(found)} plans: {sum(t.made for t in found)} can be made, "
        f"{sum(not t.made for t in found)} cannot. Other sizes may differ:"
        " the program says so for yours.",
        "",
        "| kind | " + " | ".join(b.name for b in rack.brakes) + " |",
        "|---|" + "---|" * len(rack.brakes),
    ]
    for kind, rows in itertools.groupby(found, key=lambda t: t.kind):
        mine = list(rows)
        cells = []
        for brake in rack.brakes:
            here = [t for t in mine if t.brake == brake.key]
            cells.append(f"{sum(t.made for t in here)} of {len(here)}")
        lines.append(f"| {labels[kind]} | " + " | ".join(cells) + " |")
    lines += ["", "## Refused, and why", ""]
    for kind, rows in itertools.groupby((t for t in found if not t.made), key=lambda t: t.kind):
        lines += [f"### {labels[kind]}", "", "| choice | brake | why |", "|---|---|---|"]
        lines += [f"| {t.choice or 'as shown'} | {rack[t.brake].name} | {short(t)} |" for t in rows]
        lines.append("")
    return "\n".join(lines)


def main() -> int:
    with ProcessPoolExecutor() as crew:
        found = list(crew.map(tried, grid(), chunksize=4))
    (ROOT / "docs" / "kinds.md").write_text(document(found), encoding="utf-8")
    print(f"{len(found)} plans, {sum(t.made for t in found)} made")
    return 0


if __name__ == "__main__":
    sys.exit(main())
