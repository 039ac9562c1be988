"""Seeded random boxes, brakes, states and fingers for the checks in solids."""

from __future__ import annotations

import random
from typing import Any

from zealous_crane.allowance import NeutralLine, OnTheLine
from zealous_crane.blank import Blank, DevelopmentError, develop
from zealous_crane.brake import Finger, LeafBrake
from zealous_crane.files.plan_file import _list, _profile, blank_record
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part import Base, Corner, Design, Edge, Flange, Relief
from zealous_crane.plan import Setting, Stroke


def random_brake(rng: random.Random) -> LeafBrake:
    """A brake whose sections stand up, drawn from a wide range."""
    height = rng.uniform(40, 140)
    throat = rng.uniform(0, 20)
    drop = rng.choice([0.0, rng.uniform(3, 12)])
    return LeafBrake(
        key="random",
        name="Random",
        bed_length=2000,
        rated=3.0,
        fingers=(Finger(width=10, count=20), Finger(width=50, count=20)),
        finger_height=height,
        nose_radius=rng.uniform(0.2, 1.0),
        rake=rng.uniform(35, 60),
        throat=throat,
        foot=rng.uniform(30, 70),
        head_drop=drop,
        head_front=rng.uniform(0, 10),
        beam_front=rng.uniform(0, 25),
        beam_depth=rng.uniform(60, 140),
        leaf_bar=rng.uniform(6, 30),
        leaf_depth=rng.uniform(30, 90),
        greatest_angle=rng.uniform(100, 150),
        opening=rng.uniform(60, 200),
    )


def random_job(rng: random.Random) -> Job:
    """A box with one to four walls of different heights, some with a lip in or out."""
    walls = rng.sample(list(Edge), rng.randint(1, 4))
    flanges = []
    for edge in walls:
        lip = ()
        if rng.random() < 0.3:
            lip = (Flange(edge=Edge.BACK, height=rng.uniform(6, 20), angle=rng.choice([90, -90, 60, 120])),)
        flanges.append(
            Flange(edge=edge, height=rng.uniform(15, 120), angle=rng.choice([90, 90, 90, 75, 105, -90]), flanges=lip)
        )
    thickness = rng.uniform(0.4, 2.0)
    return Job(
        name="random",
        part=DrawnPart(
            tree=Design(
                base=Base(length=rng.uniform(60, 400), width=rng.uniform(60, 300)),
                flanges=tuple(flanges),
                corner=Corner(gap=rng.uniform(0, 2), relief=Relief(shape=rng.choice(["round", "square", "none"]))),
            )
        ),
        metal="mild-steel",
        thickness=f"{thickness:.3f} mm",
        school=rng.choice([OnTheLine(), NeutralLine(k=rng.uniform(0.3, 0.5))]),
        radius=rng.choice([None, rng.uniform(0, 2) * thickness]),
        units="mm",
    )


def likely_job(rng: random.Random, brake: LeafBrake) -> Job:
    """A part that may well be made: walls below the fingers, now and then a lip or a wall not square, five folds at most."""
    edges = rng.sample(list(Edge), rng.randint(1, 4))
    flanges = []
    for i, edge in enumerate(edges):
        height = brake.finger_height * rng.uniform(0.15, 1.1)
        lip = ()
        if i == 0 and rng.random() < 0.35:
            lip = (Flange(edge=Edge.BACK, height=rng.uniform(8, 15), angle=rng.choice([90, -90])),)
        flanges.append(Flange(edge=edge, height=height, angle=rng.choice([90, 90, 90, 80, 60]), flanges=lip))
    base = Base(length=rng.uniform(90, 400), width=rng.uniform(90, 300))
    thickness = rng.uniform(0.4, 1.2)
    tree = Design(base=base, flanges=tuple(flanges), corner=Corner(gap=rng.uniform(0.3, 2)))
    return Job(
        name="likely",
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness=f"{thickness:.3f} mm",
        school=rng.choice([OnTheLine(), NeutralLine(k=rng.uniform(0.3, 0.5))]),
        units="mm",
    )


def random_stroke(rng: random.Random) -> tuple[Blank, Job, Stroke, tuple[tuple[float, float], ...]]:
    """A stroke with its fingers: any fold, either side clamped, any neighbours up, fully or part way."""
    while True:
        job, brake = random_job(rng), random_brake(rng)
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        fold = rng.randrange(len(blank.folds))
        angles = tuple(
            0.0 if i == fold or rng.random() < 0.35 else f.angle * rng.choice([1, 1, 1, rng.uniform(0.3, 1.05)])
            for i, f in enumerate(blank.folds)
        )
        setting = Setting(blank, fold, rng.random() < 0.7, angles)
        half = setting.line.length / 2
        edges = sorted(rng.uniform(-half * 1.2, half * 1.2) for _ in range(4))
        return blank, job, Stroke(setting, brake), ((edges[0], edges[1]), (edges[2], edges[3]))


Record = dict[str, Any]


def record(blank: Blank, job: Job, stroke: Stroke, fingers: tuple[tuple[float, float], ...]) -> tuple[Record, Record]:
    """Blank and stroke in the form a plan file has them."""
    setting, tools = stroke.setting, stroke.tools
    return blank_record(blank, job), {
        "fold": setting.fold,
        "clamped": setting.clamped,
        "folding": setting.folding,
        "swinging": sorted(setting.swinging),
        "frame": {"turn": _list(setting.frame.turn), "shift": _list(setting.frame.shift)},
        "angles_before": list(setting.angles),
        "pole": _list(setting.pole),
        "hinge": _list(tools.hinge),
        "tools": {p.name: _profile(p) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)},
        "fingers": [list(f) for f in fingers],
    }
