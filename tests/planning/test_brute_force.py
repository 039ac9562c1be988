"""The search against every order tried one by one, on random parts of several kinds."""

from __future__ import annotations

import random

import pytest

from every_order import every_order
from zealous_crane.flat.blank import Blank
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError, MadeBy
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.corner import Corner
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Hem
from zealous_crane.part.kinds.cover import JawCover
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.route import Route
from zealous_crane.planning.search import Search


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
                length=rng.uniform(80, 200),
                first=rng.uniform(35, 80),
                second=rng.uniform(35, 80),
                tab=rng.uniform(8, 16),
                angle=rng.choice([90, 60]),
            )
        else:
            edges = rng.sample(["front", "right", "back", "left"], rng.randint(1, 3))
            flanges = []
            for i, edge in enumerate(edges):
                inner = ()
                if i == 0 and rng.random() < 0.7:
                    lip = Flange(
                        edge="back", height=rng.uniform(8, 15), angle=rng.choice([90, -90])
                    )
                    inner = (Hem(edge="back", length=rng.uniform(8, 14)) if kind == 2 else lip,)
                flanges.append(
                    Flange(
                        edge=edge,
                        height=rng.uniform(20, 90),
                        angle=rng.choice([90, 90, 75, -90]),
                        flanges=inner,
                    )
                )
            base = Base(length=rng.uniform(80, 300), width=rng.uniform(80, 250))
            part = DrawnPart(
                tree=Design(
                    base=base, flanges=tuple(flanges), corner=Corner(gap=rng.uniform(0.3, 2))
                )
            )
        job = Job(
            part=part, metal="mild-steel", thickness=f"{rng.uniform(0.4, 1.2):.2f} mm", units="mm"
        )
        try:
            return develop(job)
        except DevelopmentError:
            continue


LONG = {1: 101, 36: 136}
"""Seeds whose brute force takes as long as that of all others together, and what is asked
instead."""


@pytest.mark.parametrize("start", range(0, 40, 10))
def test_search_and_every_order_agree(start, rack):
    feasible = grouped = hemmed = 0
    for seed in (LONG.get(seed, seed) for seed in range(start, start + 10)):
        rng = random.Random(f"orders {seed}")
        blank = small_part(rng)
        while sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds) > 6:
            blank = small_part(rng)
        search = Search(
            blank, rng.choice([brake for brake in rack.brakes if brake.kind != "press"])
        )
        found = search.best()
        cost = found.cost if isinstance(found, Route) else None
        expected = every_order(search)
        assert cost == (pytest.approx(expected) if expected is not None else None), seed
        feasible += cost is not None
        grouped += any(len(mates) > 1 for mates in blank.on_one_line)
        hemmed += any(f.made_by is MadeBy.HEM for f in blank.folds)
        if isinstance(found, Route):
            made = [i for v in found.verdicts for i in v.stroke.setting.folds]
            assert sorted(made) == sorted(
                i for i, f in enumerate(blank.folds) if f.made_by is not MadeBy.TOOL
            )
    assert 2 <= feasible <= 10 and grouped + hemmed >= 1


@pytest.mark.parametrize("start", range(0, 24, 8))
def test_search_and_every_order_agree_on_a_press(start, rack):
    feasible = 0
    for seed in range(start, start + 8):
        rng = random.Random(f"press {seed}")
        blank = small_part(rng)
        while sum(f.made_by in (MadeBy.BRAKE, MadeBy.HEM) for f in blank.folds) > 3:
            blank = small_part(rng)
        search = Search(
            blank, rng.choice([brake for brake in rack.brakes if brake.kind == "press"])
        )
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
    blank = develop(
        Job(part=DrawnPart(tree=tree), metal="mild-steel", thickness="0.6 mm", units="mm")
    )
    found = Search(blank, rack["bench-finger-1000"]).best()
    assert isinstance(found, Route)
    kinds = [v.stroke.setting.line.made_by for v in found.verdicts]
    assert kinds == [MadeBy.HEM, MadeBy.HEM, MadeBy.BRAKE, MadeBy.BRAKE]
