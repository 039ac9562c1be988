"""What is kept of a piece, what is proved from afar, and how a press lets a part go: each against
the long way round."""

from __future__ import annotations

import math
import random

import numpy as np
import pytest
import shapely

from random_press import random_press_stroke
from random_work import random_kind_stroke
from zealous_crane.bending.press.passage import (
    DieRise,
    PressMovement,
    PressPassage,
    PressSwing,
    PunchRise,
    struck,
)
from zealous_crane.bending.setting import Setting
from zealous_crane.brake.library import shipped_rack
from zealous_crane.cache import BatchCache, forget
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.flat.folding import panel_poses
from zealous_crane.kernel.advance import OutlineTurn, first_advances
from zealous_crane.kernel.contact import hull
from zealous_crane.kernel.obstacle import earliest, may_meet, ring_of
from zealous_crane.kernel.plane import Outlines, turned
from zealous_crane.kernel.solid import Solid
from zealous_crane.planning.route import Route, SearchOptions
from zealous_crane.planning.search import Search

# --- what is kept --------------------------------------------------------------------------------


def test_answers_are_worked_out_once_and_dropped_when_there_are_too_many():
    asked: list[list[int]] = []

    def squares(keys):
        asked.append(list(keys))
        return [k * k for k in keys]

    known: BatchCache[int, int] = BatchCache(most=5)
    assert known.ask([1, 2, 1], squares) == [1, 4, 1] and asked == [[1, 2]], "each once"
    assert known.ask([2, 3], squares) == [4, 9] and asked[-1] == [3]
    known.ask([4, 5, 6], squares)
    assert known.ask([1, 7], squares) == [1, 49] and asked[-1] == [7], (
        "what is asked for again is not dropped"
    )
    assert known.ask([2], squares) == [4] and asked[-1] == [2], "the rest was"
    known.forget()
    assert known.ask([7], squares) == [49] and asked[-1] == [7]


@pytest.mark.parametrize("seed", range(20))
def test_a_stroke_asked_again_says_the_same(seed):
    rng = random.Random(seed)
    blank, _, stroke, intervals = random_kind_stroke(rng) if seed % 2 else random_press_stroke(rng)
    setting = stroke.setting

    def answers(asked):
        ways = {way: (asked.barred(30.0, way), asked.slabs(30.0, 90.0, way)) for way in asked.ways}
        return asked.contact(intervals), ways

    first = answers(stroke)
    # Once with what is kept of the first, and once worked out from nothing.
    for drop in (lambda: None, forget):
        drop()
        assert (
            answers(
                type(stroke)(
                    Setting(blank, setting.fold, setting.clamps_parent, setting.angles),
                    stroke.tooling,
                )
            )
            == first
        )
    for way in stroke.ways:
        # What keeps the part from going in keeps it from being bent as well.
        entry, whole = stroke.entry(way), stroke.slabs(30.0, 90.0, way)
        for slab in entry:
            if slab.blocked is not None:
                inside = [s for s in whole if s.low < slab.high - 1e-6 and s.high > slab.low + 1e-6]
                assert inside and all(s.blocked is not None for s in inside)


@pytest.mark.parametrize("seed", range(12))
def test_pieces_stand_where_the_whole_part_is_posed(seed):
    rng = random.Random(900 + seed)
    blank, _, stroke, _ = random_kind_stroke(rng)
    setting = stroke.setting
    angles = [0.0 if i in setting.folds else a for i, a in enumerate(setting.angles)]
    whole = panel_poses(blank, angles, setting.clamped)
    points = rng.choices(range(-50, 50), k=6)
    for one, other in zip(setting.poses, whole, strict=True):
        at = np.array(points, float).reshape(2, 3)
        assert one.apply(at) == pytest.approx((setting.frame @ other).apply(at), abs=1e-6)


# --- what is proved from afar -------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(60))
def test_what_cannot_meet_from_afar_never_does(seed):
    rng = np.random.default_rng(seed)
    pole = rng.uniform(-3, 3, 2)
    one, other = (hull(rng.uniform(-80, 80, 2) + rng.uniform(-25, 25, (5, 2))) for _ in range(2))
    limit = float(rng.uniform(0.2, 2.4))
    solids = [
        Solid("p", 0, np.concatenate([np.insert(ring, 0, x, axis=1) for x in (0.0, 10.0)]))
        for ring in (one, other)
    ]
    rings = [ring_of(solid, *pole.tolist()) for solid in solids]
    angles = np.linspace(0, limit, 200)
    gaps = shapely.distance(
        shapely.polygons(np.stack([turned(one, pole, a) for a in angles])), shapely.Polygon(other)
    )
    if gaps.min() == 0:
        assert may_meet(*rings, 0.01, limit)
    if not may_meet(*rings, 2.0, limit):
        assert gaps.min() >= 2.0 - 1e-6


@pytest.mark.parametrize("seed", range(30))
def test_several_outlines_are_followed_as_well_as_one_at_a_time(seed):
    rng = np.random.default_rng(500 + seed)
    resting = hull(rng.uniform((-30, 40), (30, 90), (6, 2)))
    rise = (
        DieRise(float(rng.uniform(4, 20)), float(rng.uniform(0.2, 2)))
        if seed % 2
        else PunchRise(1.0, 2.0, -0.4)
    )
    rings = [hull(rng.uniform((-90, -5), (-25, 12), (5, 2))) for _ in range(4)]
    offsets = rng.choice([0.0, 0.0, 3.0], 4)

    turns, still = (
        [OutlineTurn((float(offset), 0.7), 1.0, float(offset)) for offset in offsets],
        Outlines.of([resting]),
    )
    together = first_advances(rings, turns, still, rise, 0.0, 0.78)
    alone = [first_advances([rings[k]], [turns[k]], still, rise, 0.0, 0.78)[0] for k in range(4)]
    assert [None if t is None else t.angle for t in together] == [
        None if t is None else t.angle for t in alone
    ]
    for k, touch in enumerate(alone):
        swing = PressSwing((float(offsets[k]), 0.7), 1.0, float(offsets[k]), 0.0, 0.78)
        steps = np.linspace(0, 0.78, 1500)
        stood = shapely.polygons(np.stack([swing.stood(rings[k], a) for a in steps.tolist()]))
        risen = shapely.polygons(
            resting + np.insert(rise.rise(steps)[:, None, None], 0, 0.0, axis=2)
        )
        gaps = shapely.distance(stood, risen)
        if not gaps.all():
            first = steps[gaps == 0][0]
            assert touch is not None and first - 0.002 <= touch.angle <= first + 1e-6
        elif touch is not None:
            assert gaps.min() < 0.1, "a graze between two steps"


# --- out of a press -----------------------------------------------------------------------------


@pytest.mark.parametrize("seed", range(24))
def test_what_strikes_on_the_way_out_of_a_press_does_so_in_small_steps(seed):
    rng = random.Random(seed)
    _, _, stroke, _ = random_press_stroke(rng)
    half, y, z = math.radians(rng.uniform(10, 80)) / 2, *stroke.setting.pole.tolist()
    opening, punch, die = stroke.tools.opening, stroke.punch_shift(half), stroke.die_shift(half)
    compared = 0
    for solid, swing in stroke._moving:
        for name, tool in stroke._still.items():
            if solid in stroke._folded and name != "ram":
                continue
            way = PressPassage(
                PressMovement("out", "front", half, (y, z), opening, punch, die, 0.0), swing, False
            )
            stood = swing.stood(solid.shadow, half)
            above = name in ("punch", "ram")
            first, last = (-punch, -opening - max(die, 0.0)) if above else (-die, 0.0)
            path = [stood + np.array([0.0, h]) for h in np.linspace(first, last, 40)]
            raised = np.array([0.0, -opening if above else 0.0])
            tips = [
                turned(stood + raised, np.array([y, z]) + raised, a)
                for a in np.linspace(0, half, 40)
            ]
            path += tips + [tips[-1] + np.array([-away, 0.0]) for away in np.linspace(0, 400, 60)]
            stands = shapely.polygons(np.stack(path))
            hit = shapely.intersects(shapely.Polygon(tool.outline), stands).any()
            found = struck(solid, None, tool, way)
            compared += 1
            if hit:
                assert found in ("opening", "taking out"), (seed, solid.name, name)
            elif found is not None:
                near = shapely.Polygon(tool.outline).buffer(8.0)
                assert shapely.intersects(near, stands).any(), (seed, solid.name, name)
    assert compared >= 2


# --- the search ---------------------------------------------------------------------------------


@pytest.mark.parametrize("name", ["syrup-tray", "frame-rail", "vise-jaw-cover"])
def test_the_bound_never_promises_too_little(name):
    job = demo_job(name)
    search = Search(develop(job), shipped_rack()[job.brake], SearchOptions(measured=job.springback))
    found = search.best()
    assert isinstance(found, Route)
    # Along the cheapest order what is still to be paid is never less than the bound said.
    state, paid, costs, bounds = search.choices.start, 0.0, [0.0], []
    for verdict in found.verdicts:
        setting = verdict.stroke.setting
        bounds.append(search.choices.least(state))
        move = next(
            m
            for m, _ in search.choices.tried(state)
            if (m.fold, m.clamps_parent) == (setting.fold, setting.clamps_parent)
            and m.tooling == verdict.tooling
        )
        made = search.made(state, (), move)
        assert made is not None
        paid += search.choices.handling(setting, state.last) + made[0]
        costs.append(paid)
        state = made[1]
    assert search.choices.finished(state) and paid == pytest.approx(found.cost)
    assert all(bound <= paid - before + 1e-9 for bound, before in zip(bounds, costs, strict=False))


def test_at_other_costs_the_verdicts_are_taken_over(rack):
    job = demo_job("syrup-tray")
    search = Search(develop(job), rack[job.brake], SearchOptions(measured=job.springback))
    first = search.best()
    other = search.at(search.choices.costs.stationed)
    second = other.best()
    assert isinstance(first, Route) and isinstance(second, Route)
    assert other.judged >= search.judged and second.cost <= first.cost + 1e-9
    assert search.choices.costs.new_tools > other.choices.costs.new_tools, (
        "the first search keeps its own costs"
    )


def test_nothing_is_earliest_of_nothing():
    assert earliest() is None and earliest(None, None) is None
