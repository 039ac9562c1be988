"""Where metal lies on a line: against a general geometry library on random sheets with holes."""

import math
import random

import numpy as np
import pytest
import shapely

from zealous_crane.flat.development import SEEN, metal_on

SHEET = shapely.Polygon(
    [(0, 0), (100, 0), (100, 40), (60, 40), (60, 80), (0, 80)],
    [[(10, 10), (30, 10), (30, 30), (10, 30)]],
)


def across(metal, origin, along, low, high):
    """From and to by the library: the line cut out of the sheet, grown by a hair so that its edges
    belong to it."""
    ends = np.array([origin + low * along, origin + high * along])
    met = (
        shapely.get_coordinates(shapely.LineString(ends).intersection(metal.buffer(1e-9))) - origin
    )
    at = met @ along
    return (at.min(), at.max()) if len(at) and np.ptp(at) > SEEN else None


@pytest.mark.parametrize("seed", range(60))
def test_as_the_library_cuts_it(seed):
    rng = random.Random(seed)
    angle = rng.uniform(0, 2 * math.pi)
    along = np.array([math.cos(angle), math.sin(angle)])
    origin = np.array([rng.uniform(-20, 120), rng.uniform(-20, 100)])
    low, high = sorted(rng.uniform(-150, 150) for _ in range(2))
    (found,) = metal_on(SHEET, origin[None], along[None], np.array([(low, high)]))
    expected = across(SHEET, origin, along, low, high)
    if expected is None:
        assert found is None
    else:
        assert found == pytest.approx(expected, abs=1e-6)


@pytest.mark.parametrize(
    ("origin", "span", "expected"),
    [
        # Along the sheet's own front edge, along the step of its outline, through the hole, along
        # the hole's side.
        ((0, 0), (-5, 200), (0, 100)),
        ((0, 40), (0, 200), (0, 100)),
        ((0, 20), (0, 20), (0, 10)),
        ((0, 10), (12, 28), (12, 28)),
        # Beside the sheet; up to its corner and no farther.
        ((0, -1e-6), (0, 100), None),
        ((0, 60), (60, 90), None),
    ],
)
def test_edges_count_and_what_is_beside_them_does_not(origin, span, expected):
    (found,) = metal_on(
        SHEET, np.array([origin], float), np.array([[1.0, 0.0]]), np.array([span], float)
    )
    assert found == (None if expected is None else pytest.approx(expected, abs=1e-6))


def test_several_lines_at_once():
    found = metal_on(
        SHEET,
        np.array([(0.0, 20.0), (20.0, 0.0)]),
        np.eye(2),
        np.array([(0.0, 200.0), (0.0, 200.0)]),
    )
    assert [
        f == pytest.approx(e, abs=1e-9) for f, e in zip(found, [(0, 100), (0, 80)], strict=True)
    ] == [True, True]
