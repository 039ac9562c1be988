"""Random design trees: each is developed into a sound flat, or refused with a sentence."""

import random

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

import solids
from zealous_crane.allowance import NeutralLine, OnTheLine
from zealous_crane.blank import DevelopmentError, develop, handles, mark_out
from zealous_crane.blank.development import check_developable
from zealous_crane.files.plan_file import blank_record
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part import (
    Base,
    Corner,
    CornerRule,
    Cutout,
    Design,
    End,
    Facet,
    Flange,
    Hem,
    HemForm,
    HoleShape,
    Joggle,
    Mark,
    MarkForm,
    Place,
    PolygonBase,
    Relief,
    ReliefShape,
    Seam,
    SeamForm,
    Tab,
    Walls,
)


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
        return Seam(edge=edge, form=rng.choice(list(SeamForm)), allowance=rng.uniform(3, 25), notch=rng.choice([0, 30]))
    if kind < 0.33:
        w, h = rng.uniform(20, 80), rng.uniform(10, 60)
        return Facet(
            edge=edge, corners=((0, 0), (w, 0), (rng.uniform(0, 100), h), (rng.uniform(-20, w / 2), h * rng.uniform(0.5, 1)))
        )
    inner = ()
    if depth < 3 and rng.random() < 0.6:
        inner = tuple(random_standing(rng, e, depth + 1) for e in rng.sample(["back", "left", "right"], rng.randint(1, 2)))
    ends = [None if rng.random() < 0.8 else End(trim=rng.uniform(-5, 30), taper=rng.uniform(-20, 40)) for _ in range(2)]
    angle = rng.choice([90, 90, 90, -90, 45, 120, -60, rng.uniform(5, 149)])
    return Flange(
        edge=edge, height=rng.uniform(3, 90), measured=rng.choice(["inside", "outside", "flat"]), angle=angle,
        radius=rng.choice([None, None, rng.uniform(0, 4)]), left=ends[0], right=ends[1], flanges=inner,
    )  # fmt: skip


def random_tab(rng):
    return Tab(length=rng.uniform(5, 40), inside=rng.random() < 0.5, fastening=rng.choice(["none", "spot", "rivet"]))


def random_design(rng):
    if rng.random() < 0.85:
        base = Base(length=rng.uniform(20, 400), width=rng.uniform(20, 300), measured=rng.choice(["inside", "outside", "flat"]))
        edges = ["front", "right", "back", "left"]
    else:
        n = rng.randint(3, 8)
        ring = [
            (100 * np.cos(a), 70 * np.sin(a))
            for a in np.sort(np.array([2 * np.pi * (i + rng.uniform(0, 0.6)) / n for i in range(n)]))
        ]
        base, edges = PolygonBase(corners=ring), [f"edge-{i + 1}" for i in range(n)]
        if n == 4:
            edges = ["front", "right", "back", "left"]
    rule = rng.choice([*CornerRule, CornerRule.OPEN, CornerRule.OPEN])
    corner = Corner(
        rule=rule, by=rng.choice(list(Walls)), gap=rng.choice([None, rng.uniform(0, 3)]),
        relief=Relief(shape=rng.choice(list(ReliefShape)), size=rng.choice([None, None, rng.uniform(0.5, 12)])),
        tab=random_tab(rng) if rule is CornerRule.TAB else None,
    )  # fmt: skip
    flanges = tuple(random_standing(rng, e, 1) for e in rng.sample(edges, rng.randint(0, len(edges))))
    cutouts = tuple(
        Cutout(
            panel=rng.choice(["base", "base", "front wall"]), shape=HoleShape.ROUND, length=rng.uniform(1, 30),
            x=Place(value=rng.uniform(-90, 90)),
            y=Place(value=rng.uniform(0, 40), edge="front", face=rng.choice(["inside", "outside", "flat"])),
        )
        for _ in range(rng.choice([0, 0, 1, 2]))
    )  # fmt: skip
    marks = (Mark(form=rng.choice(list(MarkForm)), inset=rng.uniform(0, 20)),) if rng.random() < 0.2 else ()
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


def try_tree(seed):
    """The blank and its job; None when the tree was refused in words."""
    try:
        job = random_tree_job(seed)
        blank = develop(job)
    except (DevelopmentError, ValidationError) as error:
        assert len(str(error)) > 20
        return None
    return job, blank


def check_tree(seed):
    made = try_tree(seed)
    if made is None:
        return False
    job, blank = made
    outline = shapely.Polygon(blank.outline.flattened())
    assert outline.is_valid and outline.exterior.is_ccw and len(blank.folds) == len(blank.panels) - 1
    shapes = [shapely.Polygon(p.polygon) for p in blank.panels]
    ears = {f.child for f in blank.folds if f.name.endswith(" ear") or f.name.endswith("far half")}
    for i, one in enumerate(shapes):
        assert one.is_valid, blank.panels[i].name
        assert sum(shapely.Polygon(p).area for p in blank.panels[i].pieces) == pytest.approx(one.area, rel=1e-6)
        for j in range(i):
            assert one.intersection(shapes[j]).area < 2e-3 or {i, j} & ears
    assert blank.area + sum(abs(h.path.area) for h in blank.holes) + blank.waste == pytest.approx(
        blank.size[0] * blank.size[1], rel=1e-3, abs=2
    )
    # Every sum that opens ends in the size it explains.
    assert [blank.sums[0].total, blank.sums[1].total] == pytest.approx(blank.size, abs=1e-6)
    marking = mark_out(blank)
    assert all(0 <= s.setting <= max(blank.size) for s in marking.scribe) and handles(job).edges
    # The written record folds up by other code into rigid panels whose fold lines stay where both panels have them.
    record = blank_record(blank, job)
    poses = solids.placed(record, [0.0] * len(blank.folds), 0)
    assert all(np.allclose(p, np.column_stack([np.eye(3), np.zeros(3)]), atol=1e-6) for p in poses)
    return True


@pytest.mark.parametrize("start", range(0, 160, 20))
def test_random_trees(start):
    done = [check_tree(seed) for seed in range(start, start + 20)]
    assert any(done)


def test_a_part_is_refused_in_the_same_words_without_its_flat():
    refused = 0
    for seed in range(150):
        try:
            job = random_tree_job(seed)
        except ValidationError:
            continue
        said = []
        for ask in (develop, check_developable):
            try:
                ask(job)
                said.append("")
            except DevelopmentError as error:
                said.append(str(error))
        assert said[0] == said[1], seed
        refused += bool(said[0])
    assert refused > 20
