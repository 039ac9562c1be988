"""Polygons cut on chords and brought back to true arcs; convex pieces; half planes: against shapely
and plain geometry."""

import math
import random

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry.polygon import orient

from zealous_crane.flat.ring import (
    Circles,
    RoundCut,
    convex_pieces,
    half_plane,
    is_convex,
    less,
    to_paths,
    without_repeats,
)

SQUARE = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 80.0), (0.0, 80.0)])


@settings(max_examples=80)
@given(st.floats(-6, 106), st.floats(-6, 86), st.floats(0.6, 7))
def test_a_round_cut_leaves_true_arcs(x, y, r):
    circle = RoundCut(np.array([x, y]), r)
    left = less(shapely.Polygon(SQUARE), circle.polygon)
    if (
        left.geom_type != "Polygon"
        or left.interiors
        or not circle.polygon.intersects(shapely.Polygon(SQUARE))
    ):
        return
    exact = shapely.Polygon(SQUARE).difference(shapely.Point(x, y).buffer(r, quad_segs=2000)).area
    [path] = to_paths([np.array(orient(left).exterior.coords)], Circles([circle]))
    # Chords leave half a percent of the circle; the arcs none, but where a cut only grazes an edge.
    assert path.area == pytest.approx(exact, abs=0.02 + 0.002 * r * r)
    for i, bulge in enumerate(path.bulges):
        if bulge:
            centre, radius, _, _ = path.arc(i)
            assert np.hypot(*(centre - circle.centre)) < 0.05 * r and radius == pytest.approx(
                r, rel=0.05
            )


def test_a_corner_relief_is_exact():
    circle = RoundCut(np.array([100.0, 80.0]), 5.0)
    [path] = to_paths(
        [np.array(orient(less(shapely.Polygon(SQUARE), circle.polygon)).exterior.coords)],
        Circles([circle]),
    )
    assert len(path.points) == 5 and np.count_nonzero(path.bulges) == 1
    assert path.area == pytest.approx(8000 - math.pi * 25 / 4, abs=1e-9)
    centre, radius, _, sweep = path.arc(int(np.flatnonzero(path.bulges)[0]))
    assert (
        centre == pytest.approx((100, 80))
        and radius == pytest.approx(5)
        and abs(sweep) == pytest.approx(math.pi / 2)
    )


def test_a_whole_circle_is_two_arcs():
    circle = RoundCut(np.array([3.0, 4.0]), 2.0)
    [path] = to_paths([np.array(circle.polygon.exterior.coords)], Circles([circle]))
    assert len(path.points) == 2 and abs(path.area) == pytest.approx(math.pi * 4)


def test_rings_brought_back_together_are_as_each_alone():
    rng = np.random.default_rng(4)
    circles = Circles(RoundCut(rng.uniform(0, 100, 2), rng.uniform(0.5, 9)) for _ in range(12))
    left = shapely.Polygon(SQUARE).buffer(20)
    for circle in circles.each:
        left = less(left, circle.polygon)
    apart = [shapely.box(200 + 10 * k, 0, 205 + 10 * k, 5) for k in range(3)]
    shapes = [*getattr(left, "geoms", [left]), *apart, *(circle.polygon for circle in circles.each)]
    rings = [
        np.array(ring.coords) for shape in shapes for ring in (shape.exterior, *shape.interiors)
    ]
    together = to_paths(rings, circles)
    assert sum(bool(path.bulges.any()) for path in together) > 12 and not together[-13].bulges.any()
    for ring, path in zip(rings, together, strict=True):
        [alone] = to_paths([ring], circles)
        assert np.array_equal(alone.points, path.points) and np.array_equal(
            alone.bulges, path.bulges
        )
    assert to_paths([], circles) == [] and len(to_paths(rings, Circles([]))) == len(rings)


def test_repeated_and_straight_corners_go():
    ring = np.array(
        [(0, 0), (50, 0), (50, 0), (100, 0), (100, 80), (100, 80 + 1e-7), (40, 80), (0, 80)],
        dtype=float,
    )
    assert without_repeats(ring) == pytest.approx(SQUARE, abs=1e-6)


@given(st.floats(0, 2 * math.pi), st.floats(-60, 60))
def test_half_plane_against_shapely(angle, off):
    inward = np.array([math.cos(angle), math.sin(angle)])
    origin = np.array([50.0, 40.0]) + inward * off
    side = np.array([-inward[1], inward[0]])
    big = [
        origin + side * 999,
        origin - side * 999,
        origin - side * 999 + inward * 999,
        origin + side * 999 + inward * 999,
    ]
    expected = shapely.Polygon(SQUARE).intersection(shapely.Polygon(big))
    kept = half_plane(SQUARE, origin, inward)
    area = shapely.Polygon(kept).area if len(kept) >= 3 else 0.0
    assert area == pytest.approx(expected.area, abs=1e-6)


def star(rng, n):
    """A simple polygon of n corners, seldom convex."""
    angles = np.sort([rng.uniform(0, 2 * math.pi) for _ in range(n)])
    return np.array(
        [(math.cos(a) * r, math.sin(a) * r) for a in angles for r in [rng.uniform(10, 100)]]
    )


@pytest.mark.parametrize("seed", range(40))
def test_convex_pieces_tile_the_polygon(seed):
    ring = star(random.Random(seed), 4 + seed % 12)
    polygon = shapely.Polygon(ring)
    if not polygon.is_valid or not polygon.exterior.is_ccw or polygon.area < 1:
        pytest.skip("this seed drew no simple polygon")
    pieces = convex_pieces(ring)
    shapes = [shapely.Polygon(p) for p in pieces]
    assert all(is_convex(p) for p in pieces)
    assert sum(s.area for s in shapes) == pytest.approx(polygon.area, rel=1e-9)
    assert shapely.union_all(shapes).symmetric_difference(polygon).area < 1e-6
    # Joining triangles must pay: never as many pieces as triangles.
    assert len(pieces) < len(ring) - 2 or len(ring) <= 4 or len(pieces) == 1


def test_a_convex_polygon_is_its_own_piece():
    assert convex_pieces(SQUARE)[0] is SQUARE and is_convex(SQUARE)
    ell = np.array([(0, 0), (10, 0), (10, 4), (4, 4), (4, 10), (0, 10)], dtype=float)
    assert not is_convex(ell) and len(convex_pieces(ell)) == 2
