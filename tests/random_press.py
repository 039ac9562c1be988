"""Seeded random presses, tools and strokes for the checks in solids."""

from __future__ import annotations

import random

from random_work import random_job, random_part, standing
from zealous_crane.bending.press.stroke import PressStroke, PressTooling
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.press_brake import PressBrake, gooseneck_punch, straight_punch, v_die
from zealous_crane.brake.tools import Segment
from zealous_crane.flat.blank import Blank
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.job.job import Job

PIECES = (Segment(width=10, count=20), Segment(width=50, count=20))


def random_press(rng: random.Random) -> PressBrake:
    """A press with one punch, one die, drawn from a wide range."""
    angle = rng.choice([30.0, 60.0, 86.0, 88.0])
    if rng.random() < 0.5:
        punch = gooseneck_punch(
            "neck",
            angle=angle if angle > 50 else 60,
            radius=rng.uniform(0.3, 2),
            throat=rng.uniform(10, 40),
            height=rng.uniform(170, 240),
            neck=rng.uniform(12, 24),
            pieces=PIECES,
        )
    else:
        punch = straight_punch(
            "straight",
            angle=angle,
            radius=rng.uniform(0.3, 2),
            width=rng.uniform(8, 24),
            height=rng.uniform(60, 140),
            pieces=PIECES,
        )
    die = v_die(
        "die",
        rng.uniform(5, 24),
        angle=rng.choice([30.0, 60.0, 86.0]),
        land=rng.uniform(3, 12),
        pieces=PIECES,
    )
    return PressBrake(
        key="random",
        name="Random",
        bed_length=3000,
        force=5000,
        open_height=punch.height + die.height + rng.uniform(60, 300),
        shut_height=20,
        ram_front=-rng.uniform(15, 60),
        ram_back=rng.uniform(15, 60),
        table_front=-rng.uniform(20, 80),
        table_back=rng.uniform(20, 80),
        punches=(punch,),
        dies=(die,),
        open_ends=rng.random() < 0.3,
    )


def random_press_stroke(
    rng: random.Random,
) -> tuple[Blank, Job, PressStroke, tuple[tuple[float, float], ...]]:
    """A stroke on a press: any fold, either side at the back, any neighbours up, the fold itself
    flat or part way."""
    while True:
        job = random_job(rng) if rng.random() < 0.5 else random_part(rng)
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        press = random_press(rng)
        makes = [i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
        fold = rng.choice(makes)
        begun = (
            rng.choice([0.0, 0.0, 0.0, rng.uniform(5, 30)])
            if blank.folds[fold].made_by is MadeBy.BRAKE
            else 0.0
        )
        sign = 1 if blank.folds[fold].angle > 0 else -1
        angles = [0.0 if rng.random() < 0.5 else standing(rng, f) for f in blank.folds]
        for i in blank.near_line[fold]:
            angles[i] = begun * sign
        setting = Setting(blank, fold, rng.random() < 0.6, tuple(angles))
        low, high = setting.span
        edges = sorted(rng.uniform(low * 1.2, high * 1.2) for _ in range(4))
        tooling = PressTooling(press, press.punches[0], press.dies[0])
        if rng.random() < 0.4 and not tooling.punch.even:
            tooling = PressTooling(press, tooling.punch.turned, tooling.die, True)
        return (
            blank,
            job,
            PressStroke(setting, tooling),
            ((edges[0], edges[1]), (edges[2], edges[3])),
        )
