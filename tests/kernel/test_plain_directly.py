"""The answers of the NumPy back end, each against plane geometry of another library."""

import numpy as np
import pytest
import shapely

from zealous_crane.kernel.plain import passage, prism


def brick(low, high):
    """Corners, normals and offsets of a box, the corners in loops of faces as pieces have them."""
    (a, b, c), (d, e, f) = low, high
    ring = [(b, c), (e, c), (e, f), (b, f)]
    return np.array([(a, y, z) for y, z in ring] + [(d, y, z) for y, z in ring], dtype=float)


def test_the_extent_of_a_prism_and_of_what_is_none():
    low, high, uniform = prism.extent(brick((1, 2, 3), (4, 6, 8)))
    assert low == (1, 2, 3) and high == (4, 6, 8) and uniform
    slanted = brick((1, 2, 3), (4, 6, 8))
    slanted[0, 0] = 1.5
    assert not prism.extent(slanted)[2]


@pytest.mark.parametrize("seed", range(20))
def test_a_leg_strikes_what_the_swept_hull_overlaps(seed):
    rng = np.random.default_rng(seed)
    points = rng.uniform(-10, 10, (5, 2))
    outline = np.array([(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0)]) + rng.uniform(-20, 20, 2)
    path = np.vstack([rng.uniform(-10, 10, (1, 2)), rng.uniform(-25, 25, (3, 2))])
    expected, at = 0, path[0]
    for number, step in enumerate(path[1:], start=1):
        swept = shapely.MultiPoint([*(points + at), *(points + at + step)]).convex_hull
        if swept.intersection(shapely.Polygon(outline)).area > 1e-9:
            expected = number
            break
        at = at + step
    assert passage.leg(points, path, outline) == expected
