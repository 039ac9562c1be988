"""Random design trees."""

from __future__ import annotations

import random

import numpy as np

from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.corner import Corner, CornerRule, ReliefRule, ReliefShape, Tab, Walls
from zealous_crane.part.design import Base, Design, Facet, Flange, PolygonBase
from zealous_crane.part.edge import End, Hem, HemForm, Joggle, Seam, SeamForm
from zealous_crane.part.hole import Cutout, HolePlace, HoleShape, MarkForm, Stiffener


def random_standing(rng, edge, depth):
    kind = rng.random()
    if kind < 0.12:
        return Hem(
            edge=edge,
            form=rng.choice(list(HemForm)),
            length=rng.uniform(1, 25),
            inwards=rng.random() < 0.7,
            notch=rng.uniform(0, 60),
        )
    if kind < 0.18:
        return Joggle(edge=edge, lap=rng.uniform(3, 20), inwards=rng.random() < 0.5)
    if kind < 0.28:
        return Seam(
            edge=edge,
            form=rng.choice(list(SeamForm)),
            allowance=rng.uniform(3, 25),
            notch=rng.choice([0, 30]),
        )
    if kind < 0.33:
        w, h = rng.uniform(20, 80), rng.uniform(10, 60)
        return Facet(
            edge=edge,
            corners=(
                (0, 0),
                (w, 0),
                (rng.uniform(0, 100), h),
                (rng.uniform(-20, w / 2), h * rng.uniform(0.5, 1)),
            ),
        )
    inner = ()
    if depth < 3 and rng.random() < 0.6:
        inner = tuple(
            random_standing(rng, e, depth + 1)
            for e in rng.sample(["back", "left", "right"], rng.randint(1, 2))
        )
    ends = [
        None if rng.random() < 0.8 else End(trim=rng.uniform(-5, 30), taper=rng.uniform(-20, 40))
        for _ in range(2)
    ]
    angle = rng.choice([90, 90, 90, -90, 45, 120, -60, rng.uniform(5, 149)])
    return Flange(
        edge=edge,
        height=rng.uniform(3, 90),
        measured=rng.choice(["inside", "outside", "flat"]),
        angle=angle,
        radius=rng.choice([None, None, rng.uniform(0, 4)]),
        left=ends[0],
        right=ends[1],
        flanges=inner,
    )


def random_tab(rng):
    return Tab(
        length=rng.uniform(5, 40),
        inside=rng.random() < 0.5,
        fastening=rng.choice(["none", "spot", "rivet"]),
    )


def random_design(rng):
    if rng.random() < 0.85:
        base = Base(
            length=rng.uniform(20, 400),
            width=rng.uniform(20, 300),
            measured=rng.choice(["inside", "outside", "flat"]),
        )
        edges = ["front", "right", "back", "left"]
    else:
        n = rng.randint(3, 8)
        ring = [
            (100 * np.cos(a), 70 * np.sin(a))
            for a in np.sort(
                np.array([2 * np.pi * (i + rng.uniform(0, 0.6)) / n for i in range(n)])
            )
        ]
        base, edges = PolygonBase(corners=ring), [f"edge-{i + 1}" for i in range(n)]
        if n == 4:
            edges = ["front", "right", "back", "left"]
    rule = rng.choice([*CornerRule, CornerRule.OPEN, CornerRule.OPEN])
    corner = Corner(
        rule=rule,
        by=rng.choice(list(Walls)),
        gap=rng.choice([None, rng.uniform(0, 3)]),
        relief=ReliefRule(
            shape=rng.choice(list(ReliefShape)), size=rng.choice([None, None, rng.uniform(0.5, 12)])
        ),
        tab=random_tab(rng) if rule is CornerRule.TAB else None,
    )
    flanges = tuple(
        random_standing(rng, e, 1) for e in rng.sample(edges, rng.randint(0, len(edges)))
    )
    cutouts = tuple(
        Cutout(
            panel=rng.choice(["base", "base", "front wall"]),
            shape=HoleShape.ROUND,
            length=rng.uniform(1, 30),
            x=HolePlace(value=rng.uniform(-90, 90)),
            y=HolePlace(
                value=rng.uniform(0, 40),
                edge="front",
                face=rng.choice(["inside", "outside", "flat"]),
            ),
        )
        for _ in range(rng.choice([0, 0, 1, 2]))
    )
    marks = (
        (Stiffener(form=rng.choice(list(MarkForm)), inset=rng.uniform(0, 20)),)
        if rng.random() < 0.2
        else ()
    )
    return Design(base=base, flanges=flanges, corner=corner, cutouts=cutouts, marks=marks)


def random_tree_job(seed):
    rng = random.Random(f"tree {seed}")
    tree = random_design(rng)
    school = rng.choice([OnTheLine(), NeutralLine(k=rng.uniform(0.3, 0.5)), None])
    return Job(
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness=f"{rng.uniform(0.4, 3):.2f} mm",
        units=rng.choice(["mm", "in"]),
        school=school,
    )
