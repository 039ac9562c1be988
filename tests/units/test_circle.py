"""The circle through measured points, against points made from known circles."""

import numpy as np
import pytest

from zealous_crane.ui.dialogs.take_over import best_circle


@pytest.mark.parametrize("seed", range(20))
def test_three_points_give_the_very_circle_and_many_the_nearest(seed):
    rng = np.random.default_rng(seed)
    centre, radius = rng.uniform(-500, 500, 2), rng.uniform(1, 80)
    turn = rng.uniform(0, 2 * np.pi)
    angles = turn + np.array([0.0, 1.2, 3.0])
    found = best_circle(centre + radius * np.column_stack([np.cos(angles), np.sin(angles)]))
    assert np.allclose(found.centre, centre, atol=1e-7) and found.radius == pytest.approx(
        radius, abs=1e-7
    )
    angles = turn + np.linspace(0, 2 * np.pi, 7)[:6]
    points = (
        centre
        + radius * np.column_stack([np.cos(angles), np.sin(angles)])
        + rng.normal(0, 0.05, (6, 2))
    )
    found = best_circle(points)
    assert np.hypot(*(np.array(found.centre) - centre)) < 0.12 and abs(found.radius - radius) < 0.12
    # No circle near it is nearer to the points.
    sums = [
        np.sum((np.hypot(*(points - np.array(found.centre) - d[:2]).T) - found.radius - d[2]) ** 2)
        for d in rng.normal(0, 1e-3, (50, 3))
    ]
    assert min(sums) >= sum(o * o for o in found.off)


@pytest.mark.parametrize(
    "points", [[(0, 0), (1, 0)], [(0, 0), (5, 0), (10, 0)], [(1, 1), (1, 1), (1, 1)]]
)
def test_what_gives_no_circle_is_said(points):
    with pytest.raises(ValueError, match=r"three points|lie on a line"):
        best_circle(np.array(points, float))
