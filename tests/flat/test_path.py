import math
import random

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from zealous_crane.flat.features import Fold
from zealous_crane.flat.folding import (
    arc_radius,
    fold_pose,
    panel_poses,
    pole_height,
    strip_section,
)
from zealous_crane.flat.path import ClosedPath
from zealous_crane.metal.allowance import FaaHandbook, NeutralLine, OnTheLine

BENDS = st.builds(
    lambda school, angle, radius, thickness: school.bend(angle, radius, thickness),
    st.sampled_from([OnTheLine(), NeutralLine(k=0.42), FaaHandbook()]),
    st.floats(20, 140),
    st.floats(0, 4),
    st.floats(0.3, 3),
)


def test_a_circle_of_two_arcs():
    circle = ClosedPath(np.array([[-5.0, 0.0], [5.0, 0.0]]), np.array([1.0, 1.0]))
    assert circle.area == pytest.approx(math.pi * 25)
    centre, radius, _, sweep = circle.arc(0)
    assert (
        centre == pytest.approx([0, 0])
        and radius == pytest.approx(5)
        and sweep == pytest.approx(math.pi)
    )
    assert np.allclose(np.hypot(*circle.flattened().T), 5)


@given(st.floats(-2.4, 2.4).filter(lambda b: abs(b) > 0.02))
def test_the_area_of_a_bulge_agrees_with_its_chords(bulge):
    path = ClosedPath(
        np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 40.0], [0.0, 40.0]]),
        np.array([0.0, bulge, 0.0, 0.0]),
    )
    fine = path.flattened(math.radians(0.25))
    x, y = fine[:, 0], fine[:, 1]
    area = 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
    assert path.area == pytest.approx(area, rel=1e-4, abs=0.05)
    assert np.allclose(path.moved(np.array([3.0, 4.0])).points, path.points + np.array([3.0, 4.0]))


@given(st.lists(st.floats(-2.4, 2.4), min_size=4, max_size=4), st.floats(0, 6.2))
def test_bounds_are_those_of_the_arcs_themselves(bulges, turned):
    turn = np.array([[math.cos(turned), math.sin(turned)], [-math.sin(turned), math.cos(turned)]])
    corners = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 40.0], [0.0, 40.0]]) @ turn
    path = ClosedPath(corners, np.array(bulges))
    fine = path.flattened(math.radians(0.2))
    # Between two corners of what is flattened so finely the arc bulges by no more than this; a flat
    # arc has a large radius.
    chord = 40.0
    missed = max(
        min(chord * (1 + b * b) / (4 * b) * (1 - math.cos(math.radians(0.1))), chord * b / 2)
        for b in np.abs(bulges) + 1e-9
    )
    assert path.bounds == pytest.approx((*fine.min(axis=0), *fine.max(axis=0)), abs=1e-6 + missed)
    # A hair of the chords' sagitta: never inside them.
    assert np.all(np.array(path.bounds[:2]) <= fine.min(axis=0) + 1e-9)
    assert np.all(np.array(path.bounds[2:]) >= fine.max(axis=0) - 1e-9)


def fold_of(bend) -> Fold:
    return Fold(
        "f",
        0,
        1,
        np.array([0.0, -10.0]),
        np.array([0.0, 10.0]),
        np.array([1.0, 0.0]),
        bend.angle,
        bend,
    )


@given(BENDS)
def test_the_pole_carries_the_flat_into_the_finished_fold(bend):
    """The far tangent point ends on the arc of the bend's own radius, and the panel in its
    direction."""
    pose = fold_pose(fold_of(bend), bend.angle, bend.thickness)
    theta = math.radians(bend.angle)
    moved = pose.apply(
        np.array(
            [
                [bend.allowance / 2, 0.0, bend.thickness],
                [bend.allowance / 2 + 10, 0.0, bend.thickness],
            ]
        )
    )
    centre = np.array([-bend.allowance / 2, bend.thickness + bend.radius])
    wanted = centre + bend.radius * np.array([math.sin(theta), -math.cos(theta)])
    assert moved[0, [0, 2]] == pytest.approx(wanted, abs=1e-9)
    assert moved[1, [0, 2]] - moved[0, [0, 2]] == pytest.approx(
        10 * np.array([math.cos(theta), math.sin(theta)]), abs=1e-9
    )
    assert arc_radius(bend, bend.angle) == pytest.approx(bend.radius, abs=1e-9)


def test_the_pole_tends_to_the_neutral_line():
    for k in (0.3, 0.44):
        assert pole_height(NeutralLine(k=k).bend(0.01, 1.0, 2.0)) == pytest.approx(
            2.0 * (1 - k), abs=1e-4
        )
    assert pole_height(OnTheLine().bend(90, 0, 2.0)) == pytest.approx(2.0)


@given(BENDS, st.floats(0.1, 1.0))
def test_the_chain_holds_the_bent_strip_and_little_more(bend, share):
    angle = bend.angle * share
    pieces = strip_section(bend, angle)
    radius = arc_radius(bend, angle)
    if angle < 0.5 or radius > 1e5:
        return
    chain = shapely.union_all([shapely.Polygon(p) for p in pieces])
    assert all(
        shapely.Polygon(p).convex_hull.area == pytest.approx(shapely.Polygon(p).area, rel=1e-9)
        for p in pieces
    )
    phi = np.linspace(0, math.radians(angle), 400)
    start, t = -bend.allowance / 2, bend.thickness

    def ring(r):
        return np.column_stack([start + r * np.sin(phi), t + radius - r * np.cos(phi)])

    metal = shapely.Polygon(np.concatenate([ring(radius + t), ring(radius)[::-1]])).buffer(0)
    assert metal.difference(chain.buffer(1e-3)).area < 1e-6
    assert chain.difference(metal.buffer(0.0301)).area < 1e-3


def test_poses_do_not_depend_on_the_root(box):
    from zealous_crane.flat.development import develop

    blank = develop(box())
    angles = [90.0, 30.0, 88.0, 0.0]
    one = panel_poses(blank, angles, 0)
    for root in range(1, 5):
        other = panel_poses(blank, angles, root)
        back = one[root].inverse @ one[3]
        assert np.allclose(back.turn, other[3].turn) and np.allclose(
            back.shift, other[3].shift, atol=1e-9
        )


@given(st.floats(-1.5, 1.5), st.floats(-1.5, 1.5), st.floats(0.1, 1.2))
def test_a_containing_polygon_holds_the_path(one, other, step):
    """Against the finely flattened path: nothing sticks out, and it is larger by just what lies
    under its tangents and chords."""
    path = ClosedPath(
        np.array([(0.0, 0.0), (60.0, 0.0), (60.0, 40.0), (0.0, 40.0)]),
        np.array([one / 4, 0.0, other / 4, 0.0]),
    )
    fine = shapely.Polygon(path.flattened(0.01))
    around = shapely.Polygon(path.containing(step))
    if not fine.is_valid or not around.is_valid:
        return
    assert fine.difference(around.buffer(1e-9)).area < 0.02
    more = 0.0
    for _, radius, _, sweep in filter(None, (path.arc(i) for i in range(4))):
        n = max(1, math.ceil(abs(sweep) / step))
        part = abs(sweep) / n
        # Between a chord and its arc, or between an arc and the two tangents that meet over its
        # middle.
        more += (
            n
            * radius**2
            * ((part - math.sin(part)) / 2 if sweep < 0 else math.tan(part / 2) - part / 2)
        )
    assert around.area - path.area == pytest.approx(more, abs=1e-5)


def test_a_moved_path_is_flattened_as_its_own_points_would_be():
    rng = random.Random(5)
    for _ in range(40):
        n = rng.randrange(2, 7)
        points = np.array([(rng.uniform(-50, 50), rng.uniform(-50, 50)) for _ in range(n)])
        path = ClosedPath(
            points, np.array([rng.choice((0.0, 1.0, rng.uniform(-1, 1))) for _ in range(n)])
        )
        angle = rng.uniform(0, 6)
        moved = (
            path.turned(np.array([math.cos(angle), math.sin(angle)]))
            .moved(rng.uniform(-9, 9) * np.ones(2))
            .moved(np.array([300.0, 7.0]))
        )
        for step in (math.radians(7.5), math.radians(30)):
            assert np.allclose(
                moved.flattened(step),
                ClosedPath(moved.points, moved.bulges).flattened(step),
                atol=1e-9,
            )
        assert np.hypot(*(moved.points[0] - moved.points[1])) == pytest.approx(
            np.hypot(*(points[0] - points[1]))
        )
