"""The part against itself, and rooms along the fold, each against another way to the same
answer."""

from __future__ import annotations

import math

import manifold3d
import numpy as np
import pytest
import shapely

from zealous_crane.kernel.contact import hull
from zealous_crane.kernel.interval import where
from zealous_crane.kernel.plane import TOUCH
from zealous_crane.kernel.self_contact import Meeting, grown
from zealous_crane.kernel.solid import Solid, plate
from zealous_crane.kernel.swept_prism import Stood, SweptPrism, lifted


def turn(rng) -> np.ndarray:
    """A random rotation."""
    q, r = np.linalg.qr(rng.normal(size=(3, 3)))
    q = q * np.sign(np.diag(r))
    return q if np.linalg.det(q) > 0 else q[:, ::-1]


def leaning_plate(rng, middle, size=40.0, thickness=1.5) -> Solid:
    """A plate of three to six corners, standing anyhow."""
    flat = hull(rng.uniform(-size, size, (6, 2)))
    return Solid("plate", 0, plate(flat, thickness) @ turn(rng).T + np.array(middle))


def as_manifold(corners) -> manifold3d.Manifold:
    return manifold3d.Manifold.hull_points(np.asarray(corners, np.float32))


def shared(one, other) -> float:
    return (as_manifold(one) ^ as_manifold(other)).volume()


@pytest.mark.solid
@pytest.mark.parametrize("seed", range(80))
def test_two_plates_first_meet_where_solids_begin_to_overlap(seed):
    rng = np.random.default_rng(seed)
    moving = leaning_plate(rng, (0, -70, rng.uniform(-20, 20)))
    resting = leaning_plate(rng, (rng.uniform(-30, 30), rng.uniform(-20, 60), rng.uniform(30, 70)))
    found = Meeting(0.0, 0.0, math.radians(170)).of(moving, resting, (0.0, 1.0))
    about = np.array([0.0, 0.0, 1.0])

    def at(degrees):
        return lifted(moving.corners - about, math.radians(degrees)) + about

    first = found.angle if found is not None else 170.0
    for degrees in np.linspace(0, first - 0.05, 60) if first > 0.05 else ():
        assert shared(at(degrees), resting.corners) < 1e-3, (seed, degrees, first)
    if found is not None and found.angle > 0:
        overlaps = [
            shared(at(found.angle + more), resting.corners) for more in (0.05, 0.1, 0.2, 0.4, 0.8)
        ]
        # A graze may be over at once; what goes on into the metal is not.
        assert max(overlaps) > 1e-6 or found.angle > 169, (seed, first)


def test_a_clearance_is_kept_across_the_fold_and_not_along_it():
    wall = Solid(
        "wall", 0, plate(np.array([(0.0, 0.0), (50.0, 0.0), (50.0, 30.0), (0.0, 30.0)]), 2.0)
    )
    beside = Solid("tab", 1, wall.corners + np.array([50.0, 0.0, 0.0]))
    bigger = grown(wall, 3.0)
    assert bigger is not None
    low, high = bigger.corners.min(axis=0), bigger.corners.max(axis=0)
    assert low == pytest.approx([TOUCH, -3.0, -3.0]) and high == pytest.approx(
        [50 - TOUCH, 33.0, 5.0]
    )
    assert Meeting(3.0, 0.0, 2.0).of(wall, beside, (0.0, 0.0)) is None, (
        "side by side is not in the way"
    )
    over = Solid("lip", 1, wall.corners + np.array([0.0, 0.0, 4.0]))
    touched = Meeting(3.0, 0.0, 2.0).of(wall, over, (0.0, 0.0))
    assert touched is not None and touched.angle == 0.0, (
        "4 mm above a plate of 2 mm leaves 2 mm of the 3 wanted"
    )
    assert Meeting(1.5, 0.0, 0.001).of(wall, over, (0.0, 0.0)) is None
    assert grown(wall, -1.2) is None, "nothing is left of 2 mm drawn in by 1.2 on both sides"
    assert (
        Meeting(0.0, 0.0, 0.001).of(
            wall, Solid("on it", 1, wall.corners + np.array([0, 0, 1.8])), (0.0, 0.0), 0.4
        )
        is None
    )


def test_a_thin_point_is_drawn_in_to_what_is_left_of_it():
    point = Solid(
        "tab", 0, plate(np.array([(0.0, 0.0), (40.0, 0.0), (40.0, 1.0), (0.0, 30.0)]), 2.0)
    )
    core = grown(point, -0.6)
    assert core is not None
    inside = shapely.Polygon(core.corners[: len(core.corners) // 2, :2])
    outline = shapely.Polygon([(0, 0), (40, 0), (40, 1), (0, 30)])
    assert outline.buffer(1e-9).covers(inside) and inside.area < outline.area - 20


@pytest.mark.parametrize("seed", range(60))
def test_how_far_a_leaning_plate_reaches_into_a_room_against_halving(seed):
    rng = np.random.default_rng(1_000 + seed)
    solid = leaning_plate(rng, rng.uniform(-20, 20, 3))
    corners = hull(rng.uniform(-30, 30, (6, 2)) + rng.uniform(-25, 25, 2))
    by, polygon = tuple(rng.uniform(-10, 10, 2)), shapely.Polygon(corners)

    def inside(a, b):
        points = solid.within(a, b)
        return len(points) >= 3 and shapely.Polygon(corners + by).intersects(
            shapely.MultiPoint(points).convex_hull
        )

    halved, exact = (
        where(solid, inside),
        SweptPrism.of(corners).reach(Stood(solid, (0.0, 0.0), 0.0), by),
    )
    assert polygon.area > 0 and (halved is None) == (exact is None)
    if halved is not None:
        assert exact == pytest.approx(halved, abs=0.11)
    # The same turned: room and plate together.
    angle = float(rng.uniform(-2, 2))
    turned = Solid("plate", 0, lifted(solid.corners, angle))
    again = SweptPrism.of(corners).reach(Stood(solid, (0.0, 0.0), angle), by)
    straight = SweptPrism.of(corners).reach(Stood(turned, (0.0, 0.0), 0.0), by)
    assert (again is None) == (straight is None) and (
        again is None or again == pytest.approx(straight, abs=1e-6)
    )
