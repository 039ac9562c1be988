"""A size that is typed, until it is on the screen."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from typing import TYPE_CHECKING

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.blank import Blank
from zealous_crane.flat.development import develop
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.planning.plan import Plan, PlannedStroke
from zealous_crane.planning.planner import make_plan
from zealous_crane.units.length import Units

from .rows import median, never_alike, row

if TYPE_CHECKING:
    from PySide6.QtGui import QImage


def shape() -> None:
    """From a typed size to the new blank and the folded part on the screen."""
    from views import wait_until

    from zealous_crane.paint.application import application
    from zealous_crane.paint.queue import Turns
    from zealous_crane.ui.pages.shape import ShapeStage
    from zealous_crane.ui.state.session import Session
    from zealous_crane.ui.window.window import Window, page

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
        shown.folded.canvas.grab()
        shown.flat.grab()

    others = never_alike(job)
    row("thirty panels: blank alone", median(lambda: develop(next(others)), 15), "")
    row("thirty panels: typed size to blank, form and fold on screen", median(typed, 15), "< 50")
    made.session.bench_plan.again = replan  # type: ignore[method-assign]
    made.session.mark_saved()
    made.close()


def thirty_panels() -> Job:
    """A strip of ten legs with a tab on both ends of each: thirty panels, twenty-nine folds."""

    def legs(number: int) -> tuple[Flange, ...]:
        tabs = tuple(Flange(edge=e, height=12) for e in ("left", "right"))
        beyond = legs(number - 1) if number > 1 else ()
        return (Flange(edge="back", height=40, angle=30, flanges=(*tabs, *beyond)),)

    tabs = tuple(Flange(edge=e, height=12) for e in ("left", "right"))
    tree = Design(base=Base(length=300, width=40), flanges=(*tabs, *legs(9)))
    return Job(
        name="thirty panels",
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness="0.8 mm",
        units=Units.MM,
    )


def _in_round(image: QImage) -> None:
    """Every stroke of every demonstration in three dimensions, swung a little for each picture."""
    from PySide6.QtCore import QRectF
    from PySide6.QtGui import QPainter

    from zealous_crane.paint.machine_view import Shot, paint_moment
    from zealous_crane.paint.theme import LIGHT
    from zealous_crane.planning.motion import clamped

    rack, swung, played = shipped_rack(), [], []
    for work in DEMOS:
        for job in demo_work(work).parts:
            plan = make_plan(job, rack[job.brake])
            if plan.strokes:
                played.append(_played(plan, image))
            for stroke in plan.strokes:
                angles = itertools.count()

                def painted(stroke: PlannedStroke = stroke, angles: Iterator[int] = angles) -> None:
                    p = QPainter(image)
                    angle = stroke.verdict.reach * (next(angles) % 20) / 20
                    paint_moment(p, QRectF(image.rect()), clamped(stroke, angle), LIGHT, Shot())
                    p.end()

                swung.append(median(painted, 5, fresh=False))
    row("a stroke in three dimensions, swinging: the slowest of all", max(swung), "< 33")
    row("the film of a job, a picture of it: the slowest of all", max(played), "< 33")


def _played(plan: Plan, image: QImage) -> float:
    """Milliseconds of a picture of a whole job, moment after moment: the median."""
    from PySide6.QtCore import QRectF
    from PySide6.QtGui import QPainter

    from zealous_crane.paint.machine_view import EYE, film_shot, paint_moment
    from zealous_crane.paint.theme import LIGHT
    from zealous_crane.planning.motion import JobMotion

    motion = JobMotion(plan)
    shot, moments = film_shot(motion, EYE), itertools.count()

    def painted() -> None:
        p = QPainter(image)
        at = (next(moments) % 60) / 60 * motion.seconds
        paint_moment(p, QRectF(image.rect()), motion.moment(at), LIGHT, shot)
        p.end()

    return median(painted, 60, fresh=False)


def folded() -> None:
    """The folded picture of every demonstration turned a little, and folded a little: medians, and
    the slowest of them."""
    from PySide6.QtCore import QRectF
    from PySide6.QtGui import QImage, QPainter

    from zealous_crane.paint.application import application
    from zealous_crane.paint.folded import paint_folded
    from zealous_crane.paint.theme import LIGHT

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
            moved.append(
                median(lambda s=shares: painted(0.3 + 0.01 * (next(s) % 60), 28.0), 9, fresh=False)
            )
    row("the folded part turned: slowest demonstration", max(turned), "< 30")
    row("the same folding: slowest demonstration", max(moved), "-")
    _in_round(image)
