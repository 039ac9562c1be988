"""Strokes, and the same verdicts by stepping solids."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from functools import partial
from typing import Any

from solids import Rebuilt
from zealous_crane.bending.judge import judge
from zealous_crane.bending.leaf.stroke import LeafStroke, LeafTooling
from zealous_crane.bending.machines import toolings
from zealous_crane.bending.press.stroke import PressStroke
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import Job
from zealous_crane.planning.planner import make_plan

from .rows import median, never_alike, row


def leaf_strokes(job: Job, brake: LeafBrake) -> list[Callable[[], object]]:
    """Every stroke of an open box, judged: first of all and last of all, either side clamped."""
    blank = develop(job)
    return [
        partial(
            lambda *how: judge(blank, LeafTooling(brake), Setting(blank, *how)),
            fold,
            clamps,
            angles,
        )
        for fold in range(4)
        for clamps in (True, False)
        for angles in ((0.0,) * 4, tuple(0.0 if i == fold else 90.0 for i in range(4)))
    ]


def engine() -> None:
    """Strokes, whole plans, and the same verdicts by stepping solids."""
    job = demo_job()
    brake = shipped_rack()[job.brake]
    assert isinstance(brake, LeafBrake)
    each = statistics.median(median(stroke, 15) for stroke in leaf_strokes(job, brake))
    row("one stroke judged: all panels, all tools, free intervals", each, "< 2")

    row("an open box planned end to end", median(lambda: make_plan(job, brake), 9), "< 200")
    thick = job.model_copy(update={"metal": "mild-steel", "thickness": "18 ga"})
    row(
        "the same by the neutral line, with rounded bends",
        median(lambda: make_plan(thick, brake), 9),
        "< 200",
    )
    others = never_alike(job)
    row("development alone", median(lambda: develop(next(others)), 50, fresh=False), "-")

    plan = make_plan(job, brake)
    record = plan_record(plan)
    ours = theirs = kept = 0.0
    same = 0
    for written, stroke in zip(record["strokes"], plan.strokes, strict=True):
        setting = stroke.verdict.stroke.setting

        def exact(
            setting: Setting = setting, sections: tuple[tuple[float, float], ...] = stroke.sections
        ) -> float | None:
            fresh = LeafStroke(
                Setting(setting.blank, setting.fold, setting.clamps_parent, setting.angles),
                LeafTooling(brake),
            )
            contact = fresh.contact(sections)
            return None if contact is None else contact.angle

        ours += median(exact, 15)
        found, seconds, seconds_kept = stepped(record["blank"], written, int(brake.greatest_angle))
        theirs, kept = theirs + seconds, kept + seconds_kept
        angle = exact()
        same += (found is None) == (angle is None) and (
            found is None or angle is None or found - 1 <= angle <= found
        )
    beside_solids("four strokes", ours, theirs, kept, 100, f"{same} of {len(record['strokes'])}")


def press() -> None:
    """A stroke of a press, and the same verdicts by stepping solids."""
    job = demo_job("frame-rail")
    brake = shipped_rack()[job.brake]
    plan = make_plan(job, brake)
    blank, tooling = plan.blank, toolings(brake, plan.blank)[0]
    setting = plan.strokes[-1].verdict.stroke.setting
    again = lambda: Setting(blank, setting.fold, setting.clamps_parent, setting.angles)  # noqa: E731
    row("one stroke of a press judged", median(lambda: judge(blank, tooling, again()), 15), "< 10")
    record = plan_record(plan)
    ours = theirs = kept = 0.0
    same = 0
    for written, stroke in zip(record["strokes"], plan.strokes, strict=True):
        held, sections = stroke.verdict.stroke.setting, stroke.sections
        fresh = lambda held=held: Setting(held.blank, held.fold, held.clamps_parent, held.angles)  # noqa: E731

        def exact(fresh=fresh, s=stroke, x=sections):  # type: ignore[no-untyped-def]
            return PressStroke(fresh(), s.verdict.tooling).contact(x)

        ours += median(exact, 9)
        found, seconds, seconds_kept = stepped(
            record["blank"], written, int(written["greatest_angle"])
        )
        theirs, kept = theirs + seconds, kept + seconds_kept
        contact = exact()
        same += (found is None) == (contact is None) and (
            found is None or contact is None or found - 1 <= contact.angle <= found
        )
    beside_solids(
        f"press, {len(plan.strokes)} strokes",
        ours,
        theirs,
        kept,
        80,
        f"{same} of {len(record['strokes'])}",
    )


def stepped(
    blank: dict[str, Any], stroke: dict[str, Any], greatest: int
) -> tuple[float | None, float, float]:
    """Where a stroke first touches by 1° steps in solids; seconds with tools and part turned anew
    at every step, as a reckoner without a memory would, and with everything kept that does not
    turn."""
    taken = []
    for keeps in (False, True):
        begin = time.perf_counter()
        rebuilt, found = Rebuilt(blank, stroke), None
        for degrees in range(1, greatest + 1):
            if not keeps:
                rebuilt.forget()
            if rebuilt.strikes(degrees, 0.0):
                found = float(degrees)
                break
        taken.append(time.perf_counter() - begin)
    return found, taken[0], taken[1]


def beside_solids(
    what: str, ours: float, theirs: float, kept: float, wanted: int, same: str
) -> None:
    """Our seconds against those of 1° steps in solids."""
    print(
        f"\n  {what}, first contact:   exact {ours * 1000:.2f} ms,   1° steps with manifold3d "
        f"{theirs * 1000:.0f} ms"
    )
    print(f"  ratio {theirs / ours:.0f} ×  (wanted {wanted} ×);   same verdict to a step: {same}")
    print(
        f"  with all kept from step to step that does not turn, solids take {kept * 1000:.0f} ms: "
        f"{kept / ours:.0f} ×\n"
    )
