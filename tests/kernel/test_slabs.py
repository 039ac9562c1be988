"""Where fingers may stand, against thin fingers tried one by one in solids."""

from __future__ import annotations

import random

import numpy as np
import pytest
import shapely

from random_work import random_stroke, record
from solids import Rebuilt
from zealous_crane.bending.leaf.stroke import outlines_for
from zealous_crane.bending.passage import Movement, Passage, struck
from zealous_crane.brake.library import shipped_rack
from zealous_crane.kernel.contact import hull
from zealous_crane.kernel.interval import Slab, free_intervals, laid_over, where
from zealous_crane.kernel.obstacle import Contact, Obstacle, Phase
from zealous_crane.kernel.solid import Body, BodyKind, Solid, ToolPart

THIN = 0.4
"""Width of the fingers tried, mm."""


def thin_finger_strikes(blank, written, x, wanted, after, ease, opening) -> bool:
    """Whether a thin finger at x is struck on the way in, in the swing, or on the way out."""
    one = {**written, "sections": [[x - THIN / 2, x + THIN / 2]], "opening": opening}
    rebuilt = Rebuilt(blank, one)

    def struck(motion, degrees):
        return any(tool == "finger" for _, tool in rebuilt.opened(*motion).strikes(degrees, -0.005))

    swing = np.linspace(0, wanted, 12)
    if any(struck((0, 0), a) for a in swing) or any(
        struck((0, opening * s), 0) for s in (0.1, 0.3, 0.6, 1.0)
    ):
        return True
    if any(struck((away, opening), 0) for away in (5, 20, 60, 120, 250, 500)):
        return True
    lifts = [(ease, opening * s) for s in (0.0, 0.1, 0.3, 0.6, 1.0)]
    outs = [(ease + away, opening) for away in (5, 20, 60, 120, 250, 500)]
    return any(struck(motion, after) for motion in (*lifts, *outs))


@pytest.mark.solid
@pytest.mark.parametrize("seed", range(40))
def test_a_finger_in_a_free_interval_is_never_struck(seed):
    rng = random.Random(5_000 + seed)
    while True:
        # Draw until there is a stroke that can go in, swing and come out, so that every seed tests
        # something.
        blank, job, stroke, fingers = random_stroke(rng)
        fixed = stroke.fixed_contact
        wanted = min(90.0, 90.0 if fixed is None else fixed.angle - 0.2)
        if wanted >= 5 and stroke.barred(wanted) is None:
            break
    written = {**record(blank, job, stroke, fingers)[1]}
    low, high = stroke.setting.x_range
    free = free_intervals(stroke.slabs(wanted, wanted), wanted)
    ease, opening = stroke.ease(wanted), stroke.tools.opening
    blank_written = record(blank, job, stroke, fingers)[0]
    places = [rng.uniform(low - 10, high + 10) for _ in range(60)]
    inside = [x for x in places if any(a <= x - THIN / 2 and x + THIN / 2 <= b for a, b in free)][
        :5
    ]
    assert inside, "beyond the part a finger may always stand"
    for x in inside:
        struck = thin_finger_strikes(blank_written, written, x, wanted, wanted, ease, opening)
        assert not struck, (seed, x)


def finger():
    from zealous_crane.metal.allowance import OnTheLine

    brake = shipped_rack()["apiary-finger-50"]
    return outlines_for(brake, OnTheLine().bend(90, 0, 0.8), 0.0)[1]["finger"]


@pytest.mark.parametrize("seed", range(60))
def test_a_passage_agrees_with_small_steps(seed):
    rng = np.random.default_rng(seed)
    tool = finger()
    points = hull(rng.uniform((-60, 0), (90, 60)) + rng.normal(size=(6, 2)) * rng.uniform(2, 25))
    opening, ease = float(rng.uniform(20, 120)), float(rng.uniform(0.5, 20))
    solid = Solid(
        "wall",
        0,
        np.concatenate([np.insert(points, 0, 0.0, axis=1), np.insert(points, 0, 40.0, axis=1)]),
    )
    ways = (Passage(Movement("front", opening, None)), Passage(Movement("front", opening, ease)))
    found = next(
        (phase for way in ways if (phase := struck(solid, None, tool, way)) is not None), None
    )
    path = [(0.0, -opening * k / 80) for k in range(81)]
    path += [(-k * 4.0, -opening) for k in range(80)]
    path += [(-ease * k / 20, 0.0) for k in range(21)] + [
        (-ease, -opening * k / 80) for k in range(81)
    ]
    passed = shapely.polygons(points + np.array(path)[:, None])
    if shapely.Polygon(tool.outline).intersects(passed).any():
        assert found is not None
    if found is not None:
        # The steps are at most 4 mm apart: a tool grown by that is met on the way.
        assert shapely.Polygon(tool.outline).buffer(4.0).intersects(passed).any()


def wedge() -> Solid:
    """A plate that leans along x: its clips change from end to end."""
    ring = np.array([(0.0, 0.0, 0.0), (10.0, 0.0, 40.0), (10.0, 0.0, 41.0), (0.0, 0.0, 1.0)])
    return Solid("wedge", 1, np.concatenate([ring, ring + np.array([0.0, 20.0, 0.0])]))


def test_the_least_interval_is_found_from_both_ends():
    solid = wedge()
    # Bad where the plate is higher than 20 and lower than 30: about x = 4.75 to 7.5.
    found = where(
        solid,
        lambda a, b: bool(
            len(z := solid.within(a, b)) and z[:, 1].max() > 20 and z[:, 1].min() < 30
        ),
    )
    assert found is not None
    assert found[0] == pytest.approx(4.75, abs=0.06) and found[1] == pytest.approx(7.5, abs=0.06)
    assert where(solid, lambda a, b: False) is None
    assert where(solid, lambda a, b: True) == (0.0, 10.0)


def test_clips_of_a_solid_against_shapely():
    solid = wedge()
    assert not solid.uniform and solid.x_range == (0.0, 10.0)
    clip = solid.clipped(2.0, 3.0)
    assert clip[:, 1].min() == pytest.approx(8.0) and clip[:, 1].max() == pytest.approx(13.0)
    assert len(solid.clipped(11.0, 12.0)) == 0
    section = shapely.Polygon([(0, 0), (10, 40), (10, 41), (0, 1)]).intersection(
        shapely.box(2, -100, 3, 100)
    )
    assert clip[:, 1].min() == pytest.approx(section.bounds[1]) and clip[
        :, 1
    ].max() == pytest.approx(section.bounds[3])


def test_findings_laid_over_each_other():
    wall, lip = Body(BodyKind.PANEL, "wall"), Body(BodyKind.PANEL, "lip")
    blocked, early = (
        Obstacle(wall, ToolPart.FINGER, Phase.CLAMPING),
        Contact(80.0, Obstacle(lip, ToolPart.FINGER, Phase.SWING)),
    )
    late = Contact(95.0, Obstacle(lip, ToolPart.BEAM, Phase.SWING))
    slabs = laid_over(
        [Slab(-10, 0, blocked, None), Slab(-5, 20, None, late), Slab(5, 8, None, early)], 100
    )
    assert [(s.low, s.high) for s in slabs] == [
        (-100, -10),
        (-10, -5),
        (-5, 0),
        (0, 5),
        (5, 8),
        (8, 20),
        (20, 100),
    ]
    assert free_intervals(slabs, 90) == ((-100, -10), (0, 5), (8, 100))
    assert free_intervals(slabs, 70) == ((-100, -10), (0, 100))
    assert free_intervals(slabs, 96) == ((-100, -10), (20, 100))
    assert "while clamping" in str(blocked.sentence()) and "as it is bent" in str(
        early.obstacle.sentence()
    )
