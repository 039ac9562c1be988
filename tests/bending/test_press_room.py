"""What a press leaves free: places of a turn worked out together, and boxes that may stand for
outlines."""

import math
import random

import numpy as np
import pytest
import shapely

from zealous_crane.bending.press.passage import PressSwing
from zealous_crane.kernel.outline import boxes_apart


@pytest.mark.parametrize("seed", range(12))
def test_places_together_are_those_one_by_one(seed):
    rng = random.Random(seed)
    swing = PressSwing(
        (rng.uniform(-2, 2), rng.uniform(0, 2)),
        rng.choice([1.0, -1.0]),
        rng.choice([0.0, 1.4]),
        0.0,
        1.2,
    )
    points = np.array([(rng.uniform(-80, 80), rng.uniform(-5, 60)) for _ in range(5)])
    halves = np.linspace(0, 1.2, 9)
    together = swing.stood_at(points, halves)
    assert together == pytest.approx(
        np.array([swing.stood(points, half) for half in halves.tolist()]), abs=1e-9
    )


@pytest.mark.parametrize("seed", range(12))
def test_boxes_are_never_farther_apart_than_what_is_in_them(seed):
    rng = random.Random(seed)
    tool = np.array([(rng.uniform(0, 50), rng.uniform(0, 50)) for _ in range(6)])
    places = np.array(
        [[(rng.uniform(-90, 120), rng.uniform(-90, 120)) for _ in range(4)] for _ in range(3)]
    )
    box = tool.min(axis=0).tolist(), tool.max(axis=0).tolist()
    exact = min(
        shapely.MultiPoint(place).convex_hull.distance(shapely.MultiPoint(tool).convex_hull)
        for place in places
    )
    assert boxes_apart(places, box) <= exact + 1e-9
    far = places + np.array([1000.0, 0.0])
    assert boxes_apart(far, box) == pytest.approx(
        math.hypot(
            far[..., 0].min() - box[1][0],
            max(0.0, far[..., 1].min() - box[1][1], box[0][1] - far[..., 1].max()),
        )
    )
