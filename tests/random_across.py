"""Seeded random parts with metal that may lie across a bend line, and a machine for each, for the
check in solids."""

from __future__ import annotations

import random
from collections.abc import Callable
from typing import Any

from random_press import random_press
from random_work import random_brake, random_job, random_part
from zealous_crane.brake.brake import Brake
from zealous_crane.brake.hand_folder import HandFolder
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.tools import Segment
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.job.job import Job

Ring = list[list[float]]


def random_folder(rng: random.Random) -> HandFolder:
    """A bench edge and bars, drawn from a wide range."""
    height = rng.uniform(8, 60)
    return HandFolder(
        key="random",
        name="Random",
        bed_length=2000,
        rated=3.0,
        bars=(Segment(width=10, count=20), Segment(width=50, count=20)),
        bar_height=height,
        bar_depth=rng.uniform(1.3, 3) * height,
        nose_radius=rng.uniform(0.2, 1.0),
        rake=rng.choice([0.0, rng.uniform(5, 50)]),
        bed_lean=rng.uniform(0, 30),
        greatest_angle=rng.uniform(100, 150),
    )


def beside_the_fold(rng: random.Random) -> tuple[Ring, list[dict[str, Any]]]:
    """A base with a leg that runs on past the line of a flange on its re-entrant edge."""
    wide, leg, gap = rng.uniform(120, 260), rng.uniform(20, 120), rng.uniform(1, 12)
    low, flange, tall = rng.uniform(40, 90), rng.uniform(12, 45), rng.uniform(15, 120)
    left = leg + gap
    right = left + rng.uniform(40, 120)
    wide = max(wide, right + rng.choice([0.0, 4.0]))
    ring = [[0, 0], [wide, 0], [wide, low]]
    if wide > right:
        ring.append([right, low])
    ring += [
        [right, low + flange],
        [left, low + flange],
        [left, low],
        [leg, low],
        [leg, low + tall],
        [0, low + tall],
    ]
    return ring, [
        {"start": [left, low], "end": [right, low], "angle": rng.choice([90, 60, -90, 30])}
    ]


def ears(rng: random.Random) -> tuple[Ring, list[dict[str, Any]]]:
    """A flange whose ears reach back beside the base, at one end or both."""
    wide, ear, back = rng.uniform(80, 240), rng.uniform(8, 30), rng.uniform(3, 60)
    flange, deep, slit = rng.uniform(15, 50), rng.uniform(60, 140), rng.uniform(1, 6)
    both = rng.random() < 0.5
    x0, x1 = ear + slit, wide
    ring = [[0.0, -flange], [x1, -flange]]
    if both:
        ring[-1] = [x1 + ear + slit, -flange]
        ring += [[x1 + ear + slit, back], [x1 + slit, back], [x1 + slit, 0]]
    ring += [[x1, 0], [x1, deep], [x0, deep], [x0, 0], [ear, 0], [ear, back], [0.0, back]]
    return ring, [{"start": [x0, 0.0], "end": [x1, 0.0], "angle": rng.choice([90, 70, -90])}]


MACHINES: dict[str, Callable[[random.Random], Brake]] = {
    "leaf": random_brake,
    "press": random_press,
    "hand": random_folder,
}


def random_across(rng: random.Random, kind: str) -> tuple[Job, Brake]:
    """A part that can be developed, on a random machine of a kind."""
    while True:
        brake = MACHINES[kind](rng)
        part = rng.randrange(5)
        if part < 2:
            ring, folds = (beside_the_fold if part == 0 else ears)(rng)
            flat = {
                "outline": [[x, y, 0.0] for x, y in ring],
                "holes": [],
                "folds": folds,
                "marks": [],
            }
            job = Job.model_validate(
                {
                    "name": "across",
                    "part": {"kind": "flat", "flat": flat},
                    "metal": "mild-steel",
                    "thickness": f"{rng.uniform(0.5, 1.5):.3f} mm",
                    "units": "mm",
                    "radius": rng.choice([None, rng.uniform(0, 2)]),
                    "brake": "random",
                }
            )
        else:
            job = (random_job if part < 4 else random_part)(rng)
            job = job.model_copy(update={"brake": "random"})
        if isinstance(brake, LeafBrake):
            brake = brake.model_copy(update={"open_ends": rng.random() < 0.5})
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        if len(blank.folds) <= 6:
            return job, brake
