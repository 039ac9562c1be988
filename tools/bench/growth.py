"""How the search grows with the strokes."""

from __future__ import annotations

import math
import time
from pathlib import Path

from zealous_crane.brake.brake import Brake
from zealous_crane.brake.library import shipped_rack
from zealous_crane.cache import forget
from zealous_crane.demo import demo_job
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.corner import Corner
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.plan import Plan
from zealous_crane.planning.planner import make_plan
from zealous_crane.units.length import Units

from .rows import median, row


def growth(*, draw: bool = False) -> None:
    """How planning grows with the number of strokes; the plot in docs/growth.svg."""
    brake = shipped_rack()["bench-finger-1000"]
    tray = demo_job("inspection-tray")
    row(
        "tray with hems and tabs, 8 strokes",
        median(lambda: fresh_plan(tray, shipped_rack()[tray.brake]), 3),
        "< 500",
    )
    short = brake.model_copy(update={"finger_height": 45.0, "throat": 10.0})
    no = too_deep()
    plan = fresh_plan(no, short)
    row(
        f"8 strokes that cannot be ({plan.judged} judged)",
        median(lambda: fresh_plan(no, short), 3),
        "< 1000",
    )
    assert not plan.feasible
    points: list[tuple[int, float, int]] = []
    for count in (2, 4, 6, 8, 10, 12, 16, 20):
        job = wave(count)
        begin = time.perf_counter()
        plan = fresh_plan(job, brake)
        points.append((count, time.perf_counter() - begin, plan.judged))
        wanted = {8: "-", 12: "< 1000", 16: "-", 20: "< 3000"}.get(count, "-")
        row(
            f"{len(plan.strokes)} of {count} strokes planned, {plan.judged} judged",
            points[-1][1],
            wanted,
        )
    if draw:
        plot(points, Path(__file__).resolve().parents[2] / "docs" / "growth.svg")


def wave(count: int) -> Job:
    """A strip bent to and fro ``count`` times."""
    part = Strip(
        legs=(60.0,) * (count + 1),
        angles=tuple(30.0 if i % 2 else -30.0 for i in range(count)),
        length=300,
    )
    return Job(
        name=f"{count} strokes",
        part=part,
        metal="mild-steel",
        thickness="0.6 mm",
        units=Units.MM,
        springback=2,
    )


def too_deep() -> Job:
    """Four walls with a lip on each, twice as high as the fingers: eight strokes, and no order for
    them."""
    edges = ("front", "right", "back", "left")
    flanges = tuple(
        Flange(edge=e, height=75, flanges=(Flange(edge="back", height=12, angle=-90),))
        for e in edges
    )
    tree = Design(base=Base(length=300, width=200), flanges=flanges, corner=Corner(gap=2))
    return Job(
        name="too deep",
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness="0.6 mm",
        units=Units.MM,
        springback=2,
    )


def fresh_plan(job: Job, brake: Brake) -> Plan:
    """A plan with nothing remembered."""
    forget()
    return make_plan(job, brake)


def plot(points: list[tuple[int, float, int]], path: Path) -> None:
    """Seconds against strokes, on a scale of tens, as a small SVG."""
    left, top, wide, high = 60, 20, 520, 240
    at = [
        (left + wide * n / 20, top + high * (1 - (math.log10(max(s, 0.01)) + 2) / 4))
        for n, s, _ in points
    ]
    lines = [
        f'<line x1="{left}" x2="{left + wide}" y1="{top + high * k / 4}" '
        f'y2="{top + high * k / 4}" stroke="#ccc"/>'
        for k in range(5)
    ]
    texts = [
        f'<text x="{left - 8}" y="{top + high * k / 4 + 4}" text-anchor="end">{10.0 ** (2 - k):g} '
        f"s</text>"
        for k in range(5)
    ]
    texts += [
        f'<text x="{x}" y="{top + high + 18}" text-anchor="middle">{n}</text>'
        for (x, _), (n, _, _) in zip(at, points, strict=True)
    ]
    texts += [
        f'<text x="{x + 5}" y="{y - 8}">{judged}</text>'
        for (x, y), (_, _, judged) in zip(at, points, strict=True)
    ]
    texts.append(
        f'<text x="{left + wide / 2}" y="{top + high + 36}" text-anchor="middle">strokes; beside '
        f"each point the strokes judged</text>"
    )
    line = " ".join(f"{x:.1f},{y:.1f}" for x, y in at)
    dots = "".join(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="4" fill="#23497f"/>' for x, y in at)
    path.write_text(
        f'<svg xmlns="http://www.w3.org/2000/svg" width="620" height="310" '
        f'font-family="sans-serif" font-size="12">{"".join(lines)}'
        f'<polyline points="{line}" fill="none" stroke="#23497f" '
        f'stroke-width="2"/>{dots}{"".join(texts)}</svg>\n'
    )
