"""The search against every order tried one by one, on random parts of several kinds."""

from __future__ import annotations

import copy
import math
import random
from collections.abc import Iterator
from dataclasses import replace

import pytest

from zealous_crane.blank import Blank, DevelopmentError, MadeBy, develop
from zealous_crane.job import DrawnPart, Job
from zealous_crane.part import Base, Corner, Design, Flange, Hem
from zealous_crane.part.kinds import JawCover, Strip
from zealous_crane.plan.order.route import Move, Route, State
from zealous_crane.plan.order.search import Search
from zealous_crane.plan.order.symmetry import unchanged
from zealous_crane.plan.stroke.setting import Setting


def every_order(search: Search) -> float | None:
    """Least cost over every sequence of folds, clampings and set-ups, by plain recursion; None when none comes through.

    Nothing is left out for being unlikely or dear, there is no bound, and nothing is taken for its mirror image: only what follows
    from one and the same state is remembered.
    """
    blank, search = search.blank, copy.copy(search)
    search._same, search._known, search._looked, search._carried = (unchanged(blank),), {}, {}, {}
    wanted = [i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
    known: dict[State, float] = {}
    allowed: dict[tuple, list[tuple[Move, float]]] = {}

    def least(state: State) -> float:
        if state not in known:
            known[state] = 0.0 if all(state.is_done(i) for i in wanted) else min(steps(state), default=math.inf)
        return known[state]

    def steps(state: State) -> Iterator[float]:
        for fold in (i for i in wanted if not state.is_done(i)):
            for clamps_parent in (True, False):
                setting = Setting(blank, fold, clamps_parent, state.angles)
                if setting.folds[0] != fold:
                    continue
                handling = search.choices.handling(setting, state.last)
                for target in (None,):  # no folds left part way are asked for
                    key = fold, clamps_parent, target, state.angles, state.tooling
                    if key not in allowed:
                        moves = [Move(fold, clamps_parent, target, t) for t in search.choices.toolings]
                        allowed[key] = [(m, e) for m in moves if (e := extras(search, state, m)) is not None]
                    for move, extra in allowed[key]:
                        made = search.made(state, (), move)
                        if made is not None:
                            yield handling + made[0] + extra + least(made[1])

    cost = least(search.choices.start)
    return cost if math.isfinite(cost) else None


def extras(search: Search, state: State, move: Move) -> float | None:
    """What a set-up costs beyond the change of tools itself: a little more when it is out of the ordinary, and then only where the
    plain one does not do."""
    plain = search.choices.plain(replace(state, tooling=None))
    if move.tooling in plain or move.tooling == state.tooling:
        return 0.0
    return next(
        (
            (2.0 if getattr(move.tooling, "end", 0) else 0.5)
            for tooling in plain
            for other, _ in search.instead(state, move._replace(tooling=tooling))
            if other == move
        ),
        None,
    )


def small_part(rng: random.Random) -> Blank:
    """A part of at most six strokes."""
    while True:
        kind = rng.randrange(4)
        if kind == 0:
            legs = tuple(rng.uniform(25, 90) for _ in range(rng.randint(3, 5)))
            part = Strip(
                legs=legs,
                angles=tuple(rng.choice([90, 60, -90, 45]) for _ in legs[1:]),
                length=rng.uniform(60, 400),
                measured="inside",
            )
        elif kind == 1:
            part = JawCover(
                length=rng.uniform(80, 200), first=rng.uniform(35, 80), second=rng.uniform(35, 80), tab=rng.uniform(8, 16),
                angle=rng.choice([90, 60]),
            )  # fmt: skip
        else:
            edges = rng.sample(["front", "right", "back", "left"], rng.randint(1, 3))
            flanges = []
            for i, edge in enumerate(edges):
                inner = ()
                if i == 0 and rng.random() < 0.7:
                    lip = Flange(edge="back", height=rng.uniform(8, 15), angle=rng.choice([90, -90]))
                    inner = (Hem(edge="back", length=rng.uniform(8, 14)) if kind == 2 else lip,)
                flanges.append(
                    Flange(edge=edge, height=rng.uniform(20, 90), angle=rng.choice([90, 90, 75, -90]), flanges=inner)
                )
            base = Base(length=rng.uniform(80, 300), width=rng.uniform(80, 250))
            part = DrawnPart(tree=Design(base=base, flanges=tuple(flanges), corner=Corner(gap=rng.uniform(0.3, 2))))
        job = Job(part=part, metal="mild-steel", thickness=f"{rng.uniform(0.4, 1.2):.2f} mm", units="mm")
        try:
            return develop(job)
        except DevelopmentError:
            continue


LONG = {1: 101, 36: 136}
"""Seeds whose brute force takes as long as that of all others together, and what is asked instead."""


@pytest.mark.parametrize("start", range(0, 40, 10))
def test_search_and_every_order_agree(start, rack):
    feasible = grouped = hemmed = 0
    for seed in (LONG.get(seed, seed) for seed in range(start, start + 10)):
        rng = random.Random(f"orders {seed}")
        blank = small_part(rng)
        while sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds) > 6:
            blank = small_part(rng)
        search = Search(blank, rng.choice([brake for brake in rack.brakes if brake.kind != "press"]))
        found = search.best()
        cost = found.cost if isinstance(found, Route) else None
        expected = every_order(search)
        assert cost == (pytest.approx(expected) if expected is not None else None), seed
        feasible += cost is not None
        grouped += any(len(mates) > 1 for mates in blank.on_one_line)
        hemmed += any(f.made_by is MadeBy.HEM for f in blank.folds)
        if isinstance(found, Route):
            made = [i for v in found.verdicts for i in v.stroke.setting.folds]
            assert sorted(made) == sorted(i for i, f in enumerate(blank.folds) if f.made_by is not MadeBy.TOOL)
    assert 2 <= feasible <= 10 and grouped + hemmed >= 1


@pytest.mark.parametrize("start", range(0, 24, 8))
def test_search_and_every_order_agree_on_a_press(start, rack):
    feasible = 0
    for seed in range(start, start + 8):
        rng = random.Random(f"press {seed}")
        blank = small_part(rng)
        while sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds) > 3:
            blank = small_part(rng)
        search = Search(blank, rng.choice([brake for brake in rack.brakes if brake.kind == "press"]))
        found = search.best()
        cost = found.cost if isinstance(found, Route) else None
        expected = every_order(search)
        assert cost == (pytest.approx(expected) if expected is not None else None), seed
        feasible += cost is not None
    assert feasible >= 3


def test_a_route_never_leaves_a_hem_for_later(rack):
    tree = Design(
        base=Base(length=200, width=150),
        flanges=(
            Flange(edge="front", height=30, flanges=(Hem(edge="back", length=10),)),
            Flange(edge="back", height=30, flanges=(Hem(edge="back", length=10),)),
        ),
    )
    blank = develop(Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.6 mm", units="mm"))
    found = Search(blank, rack["bench-finger-1000"]).best()
    assert isinstance(found, Route)
    kinds = [v.stroke.setting.line.made_by for v in found.verdicts]
    assert kinds == [MadeBy.HEM, MadeBy.HEM, MadeBy.BRAKE, MadeBy.BRAKE]
