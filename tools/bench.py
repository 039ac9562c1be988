"""What is fast and how fast: medians, and ratios measured in the same run.

The machines this runs on are shared, so single figures wander; ratios hold.
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests"))

from solids import Rebuilt
from zealous_crane.blank import develop
from zealous_crane.brake import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.files import plan_record
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part import Base, Design, Flange
from zealous_crane.plan import Setting, judge, make_plan, passage, solid


def median(work: Callable[[], object], times: int) -> float:
    """Median seconds of ``times`` runs after one warm-up."""
    work()
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begin)
    return statistics.median(taken)


def row(what: str, seconds: float, wanted: str) -> None:
    print(f"  {what:<58}{seconds * 1000:>10.2f} ms   wanted {wanted}")


def engine() -> None:
    """Strokes, whole plans, and the same verdicts by stepping solids."""
    job = demo_job()
    brake = shipped_rack()[job.brake]
    blank = develop(job)
    strokes = [
        (fold, clamps, angles)
        for fold in range(4)
        for clamps in (True, False)
        for angles in ((0.0,) * 4, tuple(0.0 if i == fold else 90.0 for i in range(4)))
    ]
    each = statistics.median(
        median(lambda s=s: judge(blank, brake, Setting(blank, *s)), 15) for s in strokes
    )  # fmt: skip
    row("one stroke judged: all panels, all tools, free intervals", each, "< 2")

    def whole(work: Job) -> None:
        solid._kept.cache_clear()
        passage.barred_by_resting.cache_clear()
        make_plan(work, brake)

    row("an open box planned end to end", median(lambda: whole(job), 9), "< 200")
    thick = job.model_copy(update={"metal": "mild-steel", "thickness": "18 ga"})
    row("the same by the neutral line, with rounded bends", median(lambda: whole(thick), 9), "< 200")
    row("development alone", median(lambda: develop(job), 50), "-")

    plan = make_plan(job, brake)
    record = plan_record(plan)
    ours = theirs = 0.0
    same = 0
    for written, stroke in zip(record["strokes"], plan.strokes, strict=True):
        setting = stroke.verdict.stroke.setting

        def exact(setting: Setting = setting, sections: tuple[tuple[float, float], ...] = stroke.sections) -> float | None:
            from zealous_crane.plan import LeafStroke, LeafTooling

            fresh = LeafStroke(Setting(setting.blank, setting.fold, setting.clamps_parent, setting.angles), LeafTooling(brake))
            contact = fresh.contact(sections)
            return None if contact is None else contact.angle

        def stepped(written: dict = written) -> float | None:  # type: ignore[type-arg]
            rebuilt = Rebuilt(record["blank"], written)
            for degrees in range(1, int(brake.greatest_angle) + 1):
                if rebuilt.strikes(degrees, 0.0):
                    return float(degrees)
            return None

        ours += median(exact, 15)
        begin = time.perf_counter()
        found = stepped()
        theirs += time.perf_counter() - begin
        angle = exact()
        same += (found is None) == (angle is None) and (found is None or angle is None or found - 1 <= angle <= found)
    print(f"\n  four strokes, first contact:   exact {ours * 1000:.2f} ms,   1° steps with manifold3d {theirs * 1000:.0f} ms")
    print(f"  ratio {theirs / ours:.0f} ×  (wanted 50 ×);   same verdict to a step: {same} of {len(record['strokes'])}\n")


def window() -> None:
    """Start of the window in a fresh process, and the angle being dragged."""
    begin_script = (
        "import time; t = time.perf_counter()\n"
        "from zealous_crane.desk.app import application\n"
        "from zealous_crane.desk.session import Session\n"
        "from zealous_crane.desk.window import Window\n"
        "from zealous_crane.demo import demo_job\n"
        "from zealous_crane.brake import shipped_rack\n"
        "app = application(); w = Window(Session(demo_job(), shipped_rack())); w.show(); app.processEvents(); w.grab()\n"
        "print(time.perf_counter() - t); w.session.close()\n"
    )

    def start() -> float:
        out = subprocess.run([sys.executable, "-c", begin_script], capture_output=True, text=True, check=True, env=os.environ)
        return float(out.stdout.split()[-1])

    start()
    row("window ready, fresh process, warm disk", statistics.median(start() for _ in range(5)), "< 2000")

    from zealous_crane.desk.app import application
    from zealous_crane.desk.picture import settle
    from zealous_crane.desk.session import Session
    from zealous_crane.desk.window import Window

    application()
    made = Window(Session(demo_job(), shipped_rack()))
    made.show()
    settle(made.session)
    made.show_stage(3)
    made.bend.choose(3)
    frames: list[float] = []
    for degrees in range(120):
        begin = time.perf_counter()
        made.bend.swing(float(degrees))
        made.bend.end.grab()
        frames.append(time.perf_counter() - begin)
    worst = sorted(frames)[int(len(frames) * 0.98)]
    print(f"  {'dragging the angle: frames a second, median / slowest 2 %':<58}"
          f"{1 / statistics.median(frames):>7.0f} / {1 / worst:.0f}   wanted >= 30")  # fmt: skip
    made.close()


def thirty_panels() -> Job:
    """A strip of ten legs with a tab on both ends of each: thirty panels, twenty-nine folds."""

    def legs(number: int) -> tuple[Flange, ...]:
        tabs = tuple(Flange(edge=e, height=12) for e in ("left", "right"))
        beyond = legs(number - 1) if number > 1 else ()
        return (Flange(edge="back", height=40, angle=30, flanges=(*tabs, *beyond)),)

    tabs = tuple(Flange(edge=e, height=12) for e in ("left", "right"))
    tree = Design(base=Base(length=300, width=40), flanges=(*tabs, *legs(9)))
    return Job(name="thirty panels", part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.8 mm", units="mm")


def shape() -> None:
    """From a typed size to the new blank and the folded part on the screen."""
    from zealous_crane.desk.app import application
    from zealous_crane.desk.session import Session
    from zealous_crane.desk.window import Window

    application()
    job = thirty_panels()
    made = Window(Session(job, shipped_rack()))
    made.show()
    made.session._running.stopped.set()  # type: ignore[union-attr]
    sizes = iter(range(300, 1000))
    replan = made.session.replan
    made.session.replan = lambda: None  # type: ignore[method-assign]

    def typed() -> None:
        tree = job.part.design(0.8).model_dump()
        tree["base"]["length"] = float(next(sizes))
        assert made.session.edit("bench", part={"kind": "design", "tree": tree}) is None
        made.shape.folded.grab()
        made.shape.flat.grab()

    row("thirty panels: blank alone", median(lambda: develop(job), 15), "")
    row("thirty panels: typed size to blank, form and fold on screen", median(typed, 15), "< 50")
    made.session.replan = replan  # type: ignore[method-assign]
    made.session.mark_saved()
    made.close()


if __name__ == "__main__":
    print("Zealous Crane, medians on this machine:\n")
    engine()
    shape()
    window()
