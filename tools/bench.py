"""What is fast and how fast: medians, and ratios measured in the same run.

The machines this runs on are shared, so single figures wander; ratios hold.
"""

from __future__ import annotations

import argparse
import itertools
import math
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests"))

from bench_against import against

from solids import Rebuilt
from zealous_crane.blank import Blank, Striking, develop
from zealous_crane.brake import Brake, LeafBrake, shipped_rack
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.files.plan_file import plan_record
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part import Base, Corner, Design, Flange
from zealous_crane.part.kinds import Strip
from zealous_crane.plan.make import make_plan
from zealous_crane.plan.memory import forget
from zealous_crane.plan.result.plan import Plan
from zealous_crane.plan.stroke.judge import judge
from zealous_crane.plan.stroke.leaf.stroke import LeafStroke
from zealous_crane.plan.stroke.leaf.tooling import LeafTooling
from zealous_crane.plan.stroke.machines import toolings
from zealous_crane.plan.stroke.press.stroke import PressStroke
from zealous_crane.plan.stroke.setting import Setting


def median(work: Callable[[], object], times: int, *, fresh: bool = True) -> float:
    """Median seconds of ``times`` runs after one warm-up; with nothing remembered of the run before unless ``fresh`` is off."""
    work()
    taken = []
    for _ in range(times):
        if fresh:
            forget()
        begin = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begin)
    return statistics.median(taken)


def never_alike(job: Job) -> Iterator[Job]:
    """A job again and again, its inside radius a hair larger each time: nothing that is kept of the one before serves."""
    return (job.model_copy(update={"radius": job.inside_radius + 1e-6 * k}) for k in itertools.count(1))


def row(what: str, seconds: float, wanted: str) -> None:
    print(f"  {what:<58}{seconds * 1000:>10.2f} ms   wanted {wanted}")


def engine() -> None:
    """Strokes, whole plans, and the same verdicts by stepping solids."""
    job = demo_job()
    brake = shipped_rack()[job.brake]
    assert isinstance(brake, LeafBrake)
    blank = develop(job)
    strokes = [
        (fold, clamps, angles)
        for fold in range(4)
        for clamps in (True, False)
        for angles in ((0.0,) * 4, tuple(0.0 if i == fold else 90.0 for i in range(4)))
    ]
    each = statistics.median(
        median(lambda s=s: judge(blank, LeafTooling(brake), Setting(blank, *s)), 15) for s in strokes
    )  # fmt: skip
    row("one stroke judged: all panels, all tools, free intervals", each, "< 2")

    row("an open box planned end to end", median(lambda: make_plan(job, brake), 9), "< 200")
    thick = job.model_copy(update={"metal": "mild-steel", "thickness": "18 ga"})
    row("the same by the neutral line, with rounded bends", median(lambda: make_plan(thick, brake), 9), "< 200")
    others = never_alike(job)
    row("development alone", median(lambda: develop(next(others)), 50, fresh=False), "-")

    plan = make_plan(job, brake)
    record = plan_record(plan)
    ours = theirs = kept = 0.0
    same = 0
    for written, stroke in zip(record["strokes"], plan.strokes, strict=True):
        setting = stroke.verdict.stroke.setting

        def exact(setting: Setting = setting, sections: tuple[tuple[float, float], ...] = stroke.sections) -> float | None:
            fresh = LeafStroke(Setting(setting.blank, setting.fold, setting.clamps_parent, setting.angles), LeafTooling(brake))
            contact = fresh.contact(sections)
            return None if contact is None else contact.angle

        ours += median(exact, 15)
        found, seconds, seconds_kept = stepped(record["blank"], written, int(brake.greatest_angle))
        theirs, kept = theirs + seconds, kept + seconds_kept
        angle = exact()
        same += (found is None) == (angle is None) and (found is None or angle is None or found - 1 <= angle <= found)
    beside_solids("four strokes", ours, theirs, kept, 100, f"{same} of {len(record['strokes'])}")


def stepped(blank: dict[str, Any], stroke: dict[str, Any], greatest: int) -> tuple[float | None, float, float]:
    """Where a stroke first touches by 1° steps in solids; seconds with tools and part turned anew at every step, as a reckoner without a
    memory would, and with everything kept that does not turn."""
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


def beside_solids(what: str, ours: float, theirs: float, kept: float, wanted: int, same: str) -> None:
    """Our seconds against those of 1° steps in solids."""
    print(f"\n  {what}, first contact:   exact {ours * 1000:.2f} ms,   1° steps with manifold3d {theirs * 1000:.0f} ms")
    print(f"  ratio {theirs / ours:.0f} ×  (wanted {wanted} ×);   same verdict to a step: {same}")
    print(f"  with all kept from step to step that does not turn, solids take {kept * 1000:.0f} ms: {kept / ours:.0f} ×\n")


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
        exact = lambda fresh=fresh, s=stroke, x=sections: PressStroke(fresh(), s.verdict.tooling).contact(x)  # noqa: E731
        ours += median(exact, 9)
        found, seconds, seconds_kept = stepped(record["blank"], written, int(written["greatest_angle"]))
        theirs, kept = theirs + seconds, kept + seconds_kept
        contact = exact()
        same += (found is None) == (contact is None) and (
            found is None or contact is None or found - 1 <= contact.angle <= found
        )
    beside_solids(f"press, {len(plan.strokes)} strokes", ours, theirs, kept, 80, f"{same} of {len(record['strokes'])}")


def wave(count: int) -> Job:
    """A strip bent to and fro ``count`` times."""
    part = Strip(legs=(60.0,) * (count + 1), angles=tuple(30.0 if i % 2 else -30.0 for i in range(count)), length=300)
    return Job(name=f"{count} strokes", part=part, metal="mild-steel", thickness="0.6 mm", units="mm", springback=2)


def too_deep() -> Job:
    """Four walls with a lip on each, twice as high as the fingers: eight strokes, and no order for them."""
    edges = ("front", "right", "back", "left")
    flanges = tuple(Flange(edge=e, height=75, flanges=(Flange(edge="back", height=12, angle=-90),)) for e in edges)
    tree = Design(base=Base(length=300, width=200), flanges=flanges, corner=Corner(gap=2))
    return Job(name="too deep", part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.6 mm", units="mm", springback=2)


def growth(*, draw: bool = False) -> None:
    """How planning grows with the number of strokes; the plot in docs/growth.svg."""
    brake = shipped_rack()["bench-finger-1000"]
    tray = demo_job("inspection-tray")
    row("tray with hems and tabs, 8 strokes", median(lambda: fresh_plan(tray, shipped_rack()[tray.brake]), 3), "< 500")
    short = brake.model_copy(update={"finger_height": 45.0, "throat": 10.0})
    no = too_deep()
    plan = fresh_plan(no, short)
    row(f"8 strokes that cannot be ({plan.judged} judged)", median(lambda: fresh_plan(no, short), 3), "< 1000")
    assert not plan.feasible
    points: list[tuple[int, float, int]] = []
    for count in (2, 4, 6, 8, 10, 12, 16, 20):
        job = wave(count)
        begin = time.perf_counter()
        plan = fresh_plan(job, brake)
        points.append((count, time.perf_counter() - begin, plan.judged))
        wanted = {8: "-", 12: "< 1000", 16: "-", 20: "< 3000"}.get(count, "-")
        row(f"{len(plan.strokes)} of {count} strokes planned, {plan.judged} judged", points[-1][1], wanted)
    if draw:
        plot(points, Path(__file__).resolve().parent.parent / "docs" / "growth.svg")


def fresh_plan(job: Job, brake: Brake) -> Plan:
    """A plan with nothing remembered."""
    forget()
    return make_plan(job, brake)


def plot(points: list[tuple[int, float, int]], path: Path) -> None:
    """Seconds against strokes, on a scale of tens, as a small SVG."""
    left, top, wide, high = 60, 20, 520, 240
    at = [(left + wide * n / 20, top + high * (1 - (math.log10(max(s, 0.01)) + 2) / 4)) for n, s, _ in points]
    lines = [
        f'<line x1="{left}" x2="{left + wide}" y1="{top + high * k / 4}" y2="{top + high * k / 4}" stroke="#ccc"/>'
        for k in range(5)
    ]
    texts = [
        f'<text x="{left - 8}" y="{top + high * k / 4 + 4}" text-anchor="end">{10.0 ** (2 - k):g} s</text>' for k in range(5)
    ]
    texts += [
        f'<text x="{x}" y="{top + high + 18}" text-anchor="middle">{n}</text>'
        for (x, _), (n, _, _) in zip(at, points, strict=True)
    ]
    texts += [f'<text x="{x + 5}" y="{y - 8}">{judged}</text>' for (x, y), (_, _, judged) in zip(at, points, strict=True)]
    texts.append(
        f'<text x="{left + wide / 2}" y="{top + high + 36}" text-anchor="middle">strokes; beside each point the strokes judged</text>'
    )
    line = " ".join(f"{x:.1f},{y:.1f}" for x, y in at)
    dots = "".join(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="4" fill="#23497f"/>' for x, y in at)
    path.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="620" height="310" font-family="sans-serif" font-size="12">{"".join(lines)}'
        f'<polyline points="{line}" fill="none" stroke="#23497f" stroke-width="2"/>{dots}{"".join(texts)}</svg>\n'
    )


def window() -> None:
    """Start of the window in a fresh process, and the angle being dragged."""
    begin_script = (
        "import time; t = time.perf_counter()\n"
        "from zealous_crane.desk.app import application\n"
        "from zealous_crane.desk.session import Session\n"
        "from zealous_crane.desk.turns import Turns\n"
        "from zealous_crane.desk.window import Window\n"
        "from zealous_crane.demo import DEMOS, demo_job, demo_work\n"
        "from zealous_crane.brake import shipped_rack\n"
        "app = application(); w = Window(Session(demo_job(), shipped_rack())); w.show(); app.processEvents()\n"
        "while not Turns.of_all().through:\n    app.processEvents()\n"
        "w.grab()\n"
        "print(time.perf_counter() - t); w.session.close()\n"
    )

    with tempfile.TemporaryDirectory() as compiled:
        # As on the desktop of a person who starts it again: what was compiled the first time is there.
        warm = {name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"}
        warm["PYTHONPYCACHEPREFIX"] = compiled

        def start() -> float:
            out = subprocess.run([sys.executable, "-c", begin_script], capture_output=True, text=True, check=True, env=warm)
            return float(out.stdout.split()[-1])

        start()
        row("window ready, fresh process, bytecode warm", statistics.median(start() for _ in range(5)), "< 1000")

    from zealous_crane.desk.app import application
    from zealous_crane.desk.picture import settle
    from zealous_crane.desk.session import Session
    from zealous_crane.desk.stages.bend import BendStage
    from zealous_crane.desk.window import Window, page

    application()
    made = Window(Session(demo_job(), shipped_rack()))
    made.show()
    settle(made.session)
    made.show_stage("bend")
    bends = page(made.stages, "bend", BendStage)
    bends.choose(3)
    frames: list[float] = []
    for degrees in range(120):
        begin = time.perf_counter()
        bends.swing(float(degrees))
        bends.end.grab()
        frames.append(time.perf_counter() - begin)
    worst = sorted(frames)[int(len(frames) * 0.98)]
    print(f"  {'dragging the angle: frames a second, median / slowest 2 %':<58}"
          f"{1 / statistics.median(frames):>7.0f} / {1 / worst:.0f}   wanted >= 30")  # fmt: skip
    made.close()


def waiting() -> None:
    """How long single events keep the window, while it plans."""
    from bench_stalls import stalls

    for seed in (7, 8):
        found = stalls(2000, seed)
        row(f"2 000 random events while planning (seed {seed}): median", statistics.median(s.all for s in found), "")
        for what, kept, itself in (
            ("the loop held at a time", [s.held for s in found], [s.held_itself for s in found]),
            ("until all is done and painted", [s.all for s in found], [s.all_itself for s in found]),
        ):
            taken, own = sorted(kept), sorted(itself)
            for share in (0.99, 0.999, 1.0):
                at = min(int(len(taken) * share), len(taken) - 1)
                row(
                    f"  {what}, {share:.1%} at most", taken[at],
                    f"< {150 if share == 1 else 50}; the window's own thread {own[at] * 1000:.0f}",
                )  # fmt: skip
            print(f"    over 100 ms: {sum(t > 0.1 for t in taken)}, by its own reckoning {sum(t > 0.1 for t in own)}")


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
    from zealous_crane.desk.picture import wait_until
    from zealous_crane.desk.session import Session
    from zealous_crane.desk.stages.shape import ShapeStage
    from zealous_crane.desk.turns import Turns
    from zealous_crane.desk.window import Window, page

    application()
    job = thirty_panels()
    made = Window(Session(job, shipped_rack()))
    made.show()
    made.session.bench_plan.planner.stop()
    wait_until(lambda: Turns.of_all().through, 5_000)
    sizes = iter(range(300, 1000))
    shown = page(made.stages, "shape", ShapeStage)
    replan = made.session.bench_plan.again
    made.session.bench_plan.again = lambda: None  # type: ignore[method-assign]

    def typed() -> None:
        tree = job.part.design(0.8).model_dump()
        tree["base"]["length"] = float(next(sizes))
        assert made.session.edit("bench", part={"kind": "design", "tree": tree}) is None
        shown.folded.grab()
        shown.flat.grab()

    others = never_alike(job)
    row("thirty panels: blank alone", median(lambda: develop(next(others)), 15), "")
    row("thirty panels: typed size to blank, form and fold on screen", median(typed, 15), "< 50")
    made.session.bench_plan.again = replan  # type: ignore[method-assign]
    made.session.mark_saved()
    made.close()


def folded() -> None:
    """The folded picture of every demonstration turned a little, and folded a little: medians, and the slowest of them."""
    from PySide6.QtCore import QRectF
    from PySide6.QtGui import QImage, QPainter

    from zealous_crane.desk.app import application
    from zealous_crane.desk.paint.folded import paint_folded
    from zealous_crane.desk.theme import LIGHT

    application()
    image = QImage(760, 320, QImage.Format.Format_RGB32)
    turned, moved = [], []
    for work in DEMOS:
        for job in demo_work(work).parts:
            blank, turns, shares = develop(job), itertools.count(), itertools.count()

            def painted(share: float, turn: float, blank: Blank = blank) -> None:
                p = QPainter(image)
                paint_folded(p, QRectF(image.rect()), blank, LIGHT, share=share, turn=turn)
                p.end()

            turned.append(median(lambda t=turns: painted(1.0, 28.0 + 7 * next(t)), 9, fresh=False))
            moved.append(median(lambda s=shares: painted(0.3 + 0.01 * (next(s) % 60), 28.0), 9, fresh=False))
    row("the folded part turned: slowest demonstration", max(turned), "< 30")
    row("the same folding: slowest demonstration", max(moved), "-")


def cutting() -> None:
    """Sixty blanks of ten sizes, and how sheets compare with a general packing library on random works."""
    sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests" / "cut"))
    import random

    from test_cutting import against_library

    from zealous_crane.cut import Blank, Shear, Stock
    from zealous_crane.cut.solve import plan_cutting

    rng = random.Random(4)
    blanks = [Blank(f"b{i}", rng.uniform(130, 810), rng.uniform(80, 560), 6) for i in range(10)]
    row(
        "60 blanks of ten sizes cut",
        median(lambda: plan_cutting(blanks, [Stock("sheet", 2438.4, 1219.2)], Shear()), 3),
        "< 2000",
    )
    found = [against_library(seed)[1:] for seed in range(60)]
    fewer, more = sum(ours < theirs for ours, theirs in found), sum(ours > theirs for ours, theirs in found)
    print(f"  60 random works against a packing library: fewer sheets {fewer}, as many {60 - fewer - more}, more {more}")


def checking() -> None:
    """A figure typed in Check, and how often a planted fault is named first (seed 11, as in the tests)."""
    sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tests" / "check"))
    from test_inspection import PARTS, named_of, tried

    from zealous_crane.check.explain import explain, worth_measuring
    from zealous_crane.check.model import Model

    job, blank, measures = tried("inspection-tray")
    asked = worth_measuring(blank, measures, 10, Striking.of(job))
    values = Model(blank, Striking.of(job)).values(asked, {})
    got = {m.key: float(v) + 0.2 for m, v in zip(asked, values, strict=True)}
    row("ten measured sizes explained", median(lambda: explain(blank, measures, got, Striking.of(job)), 9, fresh=False), "< 50")
    told, named, certain, wrong = named_of(11, 14)
    print(
        f"  planted faults of {len(PARTS)} parts: named first {named} of {told} that can be told; certain {certain}, wrongly {wrong}"
    )


def book() -> None:
    """The views of a book of 100 000 records: the median of each, and the slowest seen."""
    from bench_book import book_of_years, views

    with tempfile.TemporaryDirectory() as folder:
        book_of_years(Path(folder), 100_000)
        taken = views(Path(folder), 7)
    for view, seconds in taken.items():
        row(f"a book of 100 000 records: {view}", statistics.median(seconds), f"< 200; slowest {max(seconds) * 1000:.0f}")


SECTIONS = {
    "engine": engine, "press": press, "growth": growth, "shape": shape, "folded": folded, "cutting": cutting,
    "checking": checking, "book": book, "window": window, "waiting": waiting,
}  # fmt: skip

if __name__ == "__main__":
    parser = argparse.ArgumentParser(prog="./crane bench", description=__doc__)
    parser.add_argument("sections", nargs="*", metavar="SECTION", help=f"which figures; none means all: {', '.join(SECTIONS)}")
    parser.add_argument(
        "--against", nargs="+", metavar=("COMMIT", "TIMES"), help="plans and cures against an older commit instead"
    )
    parser.add_argument("--draw", action="store_true", help="draw docs/growth.svg from what growth found")
    asked = parser.parse_args()
    if asked.against:
        against(asked.against[0], *(int(times) for times in asked.against[1:2]))
        sys.exit()
    if unknown := set(asked.sections) - set(SECTIONS):
        parser.error(f"there is no {', '.join(sorted(unknown))}; there is {', '.join(SECTIONS)}")
    print("Zealous Crane, medians on this machine:\n")
    SECTIONS["growth"] = partial(growth, draw=asked.draw)
    for name in asked.sections or SECTIONS:
        SECTIONS[name]()
