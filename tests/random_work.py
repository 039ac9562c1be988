"""Seeded random boxes, brakes, states and fingers for the checks in solids."""

from __future__ import annotations

import random
from typing import Any

from zealous_crane.bending.leaf.stroke import LeafStroke, LeafTooling
from zealous_crane.bending.setting import Setting
from zealous_crane.bending.stroke import Stroke
from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.tools import Segment
from zealous_crane.flat.blank import Blank
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.flat.features import Fold
from zealous_crane.io.plan_file import blank_record, stroke_record
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.corner import Corner, ReliefRule
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge
from zealous_crane.part.kinds.box import HemmedTray, LockingBox
from zealous_crane.part.kinds.cover import EnclosureBase, JawCover
from zealous_crane.part.kinds.duct import Cap, Sleeve
from zealous_crane.part.kinds.strip import Strip


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
        fingers=(Segment(width=10, count=20), Segment(width=50, count=20)),
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
            lip = (
                Flange(
                    edge=Edge.BACK, height=rng.uniform(6, 20), angle=rng.choice([90, -90, 60, 120])
                ),
            )
        flanges.append(
            Flange(
                edge=edge,
                height=rng.uniform(15, 120),
                angle=rng.choice([90, 90, 90, 75, 105, -90]),
                flanges=lip,
            )
        )
    thickness = rng.uniform(0.4, 2.0)
    return Job(
        name="random",
        part=DrawnPart(
            tree=Design(
                base=Base(length=rng.uniform(60, 400), width=rng.uniform(60, 300)),
                flanges=tuple(flanges),
                corner=Corner(
                    gap=rng.uniform(0, 2),
                    relief=ReliefRule(shape=rng.choice(["round", "square", "none"])),
                ),
            )
        ),
        metal="mild-steel",
        thickness=f"{thickness:.3f} mm",
        school=rng.choice([OnTheLine(), NeutralLine(k=rng.uniform(0.3, 0.5))]),
        radius=rng.choice([None, rng.uniform(0, 2) * thickness]),
        units="mm",
    )


def likely_job(rng: random.Random, brake: LeafBrake) -> Job:
    """A part that may well be made: walls below the fingers, now and then a lip or a wall not
    square, five folds at most."""
    edges = rng.sample(list(Edge), rng.randint(1, 4))
    flanges = []
    for i, edge in enumerate(edges):
        height = brake.finger_height * rng.uniform(0.15, 1.1)
        lip = ()
        if i == 0 and rng.random() < 0.35:
            lip = (Flange(edge=Edge.BACK, height=rng.uniform(8, 15), angle=rng.choice([90, -90])),)
        flanges.append(
            Flange(edge=edge, height=height, angle=rng.choice([90, 90, 90, 80, 60]), flanges=lip)
        )
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


def random_stroke(
    rng: random.Random,
) -> tuple[Blank, Job, LeafStroke, tuple[tuple[float, float], ...]]:
    """A stroke with its fingers: any fold, either side clamped, any neighbours up, fully or part
    way."""
    while True:
        job, brake = random_job(rng), random_brake(rng)
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        fold = rng.randrange(len(blank.folds))
        angles = tuple(
            0.0
            if i == fold or rng.random() < 0.35
            else f.angle * rng.choice([1, 1, 1, rng.uniform(0.3, 1.05)])
            for i, f in enumerate(blank.folds)
        )
        setting = Setting(blank, fold, rng.random() < 0.7, angles)
        half = setting.line.length / 2
        edges = sorted(rng.uniform(-half * 1.2, half * 1.2) for _ in range(4))
        return (
            blank,
            job,
            LeafStroke(setting, LeafTooling(brake)),
            ((edges[0], edges[1]), (edges[2], edges[3])),
        )


def standing(rng: random.Random, fold: Fold) -> float:
    """An angle a fold may stand at: hems and what a tool makes are finished, others may be part
    way."""
    return fold.angle * (
        rng.choice([1, 1, rng.uniform(0.3, 1)]) if fold.made_by is MadeBy.BRAKE else 1
    )


def random_part(rng: random.Random) -> Job:
    """A ready kind with hems, tabs, lips or folds on one line: panels of any shape, folds up to a
    hem's 180°."""
    sizes = {"length": rng.uniform(90, 300), "width": rng.uniform(90, 250)}
    kind = rng.randrange(7)
    if kind == 0:
        part: Any = HemmedTray(
            **sizes, depth=rng.uniform(25, 80), hem=rng.uniform(8, 14), tab=rng.uniform(8, 25)
        )
    elif kind == 1:
        part = JawCover(
            length=sizes["length"],
            first=60,
            second=rng.uniform(30, 70),
            tab=rng.uniform(8, 14),
            angle=rng.uniform(40, 100),
        )
    elif kind == 2:
        part = EnclosureBase(**sizes, height=rng.uniform(40, 90))
    elif kind == 3:
        part = Sleeve(
            **sizes,
            height=rng.uniform(60, 150),
            lip=rng.choice(["in", "out", "none"]),
            hem=rng.choice([None, 10.0]),
        )
    elif kind == 4:
        part = Cap(**sizes, depth=rng.uniform(10, 30), edge=rng.uniform(8, 15), hem=None)
    elif kind == 5:
        part = LockingBox(**sizes, depth=rng.uniform(30, 70), tab=rng.uniform(10, 25))
    else:
        legs = tuple(rng.uniform(20, 80) for _ in range(rng.randint(3, 5)))
        part = Strip(
            legs=legs,
            angles=tuple(rng.choice([90, 60, -90, 110]) for _ in legs[1:]),
            length=rng.uniform(60, 300),
            measured="inside",
        )
    school = rng.choice([OnTheLine(), NeutralLine(k=rng.uniform(0.3, 0.5))])
    thickness = f"{rng.uniform(0.4, 1.5):.3f} mm"
    return Job(
        name="kind", part=part, metal="mild-steel", thickness=thickness, school=school, units="mm"
    )


def random_kind_stroke(
    rng: random.Random,
) -> tuple[Blank, Job, LeafStroke, tuple[tuple[float, float], ...]]:
    """A stroke of a ready kind on a leaf brake, some with the fold begun, some at an end of the
    bed."""
    while True:
        job = random_part(rng)
        try:
            blank = develop(job)
        except DevelopmentError:
            continue
        makes = [i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
        fold = rng.choice(makes)
        angles = [0.0 if rng.random() < 0.6 else standing(rng, f) for f in blank.folds]
        begun = (
            rng.choice([0.0, 0.0, rng.uniform(5, 40)])
            if blank.folds[fold].made_by is MadeBy.BRAKE
            else 0.0
        )
        for i in blank.near_line[fold]:
            angles[i] = begun if blank.folds[fold].angle > 0 else -begun
        setting = Setting(blank, fold, rng.random() < 0.7, tuple(angles))
        low, high = setting.span
        edges = sorted(rng.uniform(low * 1.2, high * 1.2) for _ in range(4))
        tooling = LeafTooling(random_brake(rng), end=rng.choice([0, 0, -1, 1]))
        return (
            blank,
            job,
            LeafStroke(setting, tooling),
            ((edges[0], edges[1]), (edges[2], edges[3])),
        )


Record = dict[str, Any]


def record(
    blank: Blank, job: Job, stroke: Stroke, fingers: tuple[tuple[float, float], ...]
) -> tuple[Record, Record]:
    """Blank and stroke in the form a plan file has them."""
    return blank_record(blank, job), stroke_record(stroke, fingers)
