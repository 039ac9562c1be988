import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from zealous_crane.kernel.contact import first_touches, hull, least_distance
from zealous_crane.kernel.plain.plane import hit_angles
from zealous_crane.kernel.plane import Outlines, drawn_in, turned


def polygon(rng, centre, size):
    return hull(centre + rng.normal(size=(7, 2)) * size)


def lean(outline, pole, degrees):
    """The outline turned clockwise by each of these angles, as shapely sees it; by complex numbers,
    not as we turn it."""
    at = (outline - pole) @ [1, 1j] * np.exp(-1j * np.radians(np.atleast_1d(degrees)))[:, None]
    return shapely.polygons(np.stack([at.real, at.imag], axis=-1) + pole)


def test_a_corner_meets_a_wall_by_hand():
    # A corner at (−1, 0) turning about the origin meets the line y = 0 from z 0.5 to 2 after a
    # quarter turn.
    hit = hit_angles(
        np.array([[-1.0, 0.0]]), np.zeros(2), np.array([[0.0, 0.5]]), np.array([[0.0, 2.0]]), 3.0
    )
    assert math.degrees(hit[0, 0]) == pytest.approx(90)
    back = hit_angles(
        np.array([[-1.0, 0.0]]),
        np.zeros(2),
        np.array([[0.0, 0.5]]),
        np.array([[0.0, 2.0]]),
        6.0,
        backwards=True,
    )
    assert math.degrees(back[0, 0]) == pytest.approx(270)


def apart(rng):
    """Two outlines that do not overlap to begin with."""
    while True:
        moving, still = (
            polygon(rng, np.array([-40.0, 0]), 12),
            polygon(rng, rng.normal(size=2) * 30, 12),
        )
        if not shapely.Polygon(moving).intersects(shapely.Polygon(still)):
            return moving, still


@pytest.mark.parametrize("seed", range(120))
def test_first_touch_against_shapely(seed):
    """Below the angle the outlines are apart, just above they overlap; clearance agrees with fine
    sampling."""
    rng = np.random.default_rng(seed)
    pole = rng.normal(size=2) * 5
    moving, still = apart(rng)
    touch = first_touches([moving], Outlines.of([still]), math.radians(170), about=pole)[0]
    end = 170.0 if touch is None else math.degrees(touch.angle)
    gaps = shapely.distance(lean(moving, pole, np.linspace(0, end, 400)), shapely.Polygon(still))
    assert gaps[:-2].min() > 0
    if touch is not None:
        over, at = lean(moving, pole, [end + 1e-4, end])
        assert over.intersects(shapely.Polygon(still))
        assert at.distance(shapely.Point(touch.place)) < 1e-6
    # How close they come: up to a little before they touch, or all the way round.
    end *= 0.98
    least_seen = shapely.distance(
        lean(moving, pole, np.linspace(0, end, 400)), shapely.Polygon(still)
    ).min()
    least = min(
        least_distance(moving, pole, still, math.radians(end)),
        least_distance(still, pole, moving, math.radians(end), backwards=True),
    )
    assert least <= least_seen + 1e-9
    assert least == pytest.approx(least_seen, abs=0.02 * max(1.0, least_seen))


@settings(deadline=None)
@given(st.integers(0, 10_000))
def test_drawing_in_agrees_with_shapely(seed):
    outline = polygon(np.random.default_rng(seed), np.zeros(2), 20)
    ours, theirs = (
        shapely.Polygon(drawn_in(outline, 0.01)),
        shapely.Polygon(outline).buffer(-0.01, join_style="mitre", mitre_limit=100),
    )
    # Areas of what two nearly equal shapes do not share are not to be had of the library: it lays
    # sides over each other that all but coincide.
    assert ours.hausdorff_distance(theirs) < 1e-6 and ours.area == pytest.approx(theirs.area)


@given(st.integers(0, 10_000))
def test_the_hull_agrees_with_shapely(seed):
    points = np.random.default_rng(seed).normal(size=(12, 2))
    ours = shapely.Polygon(hull(points))
    assert ours.symmetric_difference(shapely.MultiPoint(points).convex_hull).area < 1e-7
    assert ours.exterior.is_ccw


def test_a_turn_lifts_what_lies_in_front():
    assert turned(np.array([[-1.0, 0.0]]), np.zeros(2), math.radians(90))[0] == pytest.approx(
        [0, 1]
    )


def test_an_outline_with_a_corner_twice_or_a_spike_is_drawn_in_all_the_same():
    square = np.array([(0.0, 0.0), (10, 0), (10, 0), (10, 10), (0, 10)])
    assert drawn_in(square, 1.0) == pytest.approx(
        np.array([(1, 1), (9, 1), (9, 1), (9, 9), (1, 9)]), abs=1.01
    )
    inside = drawn_in(square, 1.0)
    assert inside.min() >= -1e-9 and inside.max() <= 10 + 1e-9
    spike = np.array([(0.0, 0.0), (10, 0), (10, 10), (5, 10), (5, 15), (5, 10), (0, 10)])
    assert (
        np.isfinite(drawn_in(spike, 0.1)).all() and np.abs(drawn_in(spike, 0.1) - spike).max() < 0.5
    )
    assert drawn_in(np.zeros((3, 2)), 1.0) == pytest.approx(np.zeros((3, 2)))
