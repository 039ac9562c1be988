"""First contacts of turning outlines as the NumPy back end finds them, against small steps with
plane geometry of another library."""

import math

import numpy as np
import pytest
import shapely
from shapely import affinity

from zealous_crane.kernel.plain.advance import TurningOutlines, advances

STILL = (0.0, 0.0, 0.0, 0.0, 0.0)


def box(y, z, wide, high):
    return np.array([(y, z), (y + wide, z), (y + wide, z + high), (y, z + high)])


def stepped(outline, turn, rest, begin, limit, steps=2_000):
    """The first of many angles at which a turned outline overlaps the one at rest, or None."""
    y, z, sense, offset = turn
    ring, still = shapely.Polygon(outline), shapely.Polygon(rest)
    for angle in np.linspace(begin, limit, steps):
        turned = affinity.rotate(ring, -sense * angle, origin=(y, z), use_radians=True)
        turned = affinity.translate(
            turned, offset * (math.cos(angle) - 1), offset * math.sin(angle)
        )
        if turned.intersection(still).area > 1e-9:
            return angle
    return None


@pytest.mark.parametrize("seed", range(12))
def test_contact_is_where_small_steps_find_it(seed):
    rng = np.random.default_rng(seed)
    outlines = [
        box(*rng.uniform((5, -2), (20, 4)), *rng.uniform((4, 1), (25, 6))) for _ in range(4)
    ]
    turns = np.array(
        [
            (*rng.uniform(-1, 1, 2), rng.choice((-1.0, 1.0)), rng.choice((0.0, rng.uniform(0, 3))))
            for _ in outlines
        ]
    )
    rest = box(rng.uniform(-20, 4), rng.choice((-28.0, 12.0)), rng.uniform(8, 25), 14.0)
    limit, widest, parts = 1.6, math.radians(2.5), 32
    found = advances(outlines, turns, rest, STILL, (0.0, limit), (5e-4, widest, parts))
    assert len(found) == len(outlines)
    for contact, outline, turn in zip(found, outlines, turns, strict=True):
        expected = stepped(outline, turn, rest, 0.0, limit)
        if expected is None:
            assert contact is None
        else:
            assert contact is not None
            # Never late; early by less than the last part it is looked at in.
            early = expected - contact[0]
            assert -1e-9 < early < widest / parts + 2 * limit / 2_000


def test_a_corner_is_turned_clockwise_about_its_own_pole():
    turning = TurningOutlines.of([box(2, 0, 1, 1)], np.array([(2.0, 0.0, 1.0, 0.0)]))
    y, z = turning.at(np.array([0, 1]), np.array([math.pi / 2]))
    assert y[0] == pytest.approx([2, 2]) and z[0] == pytest.approx([0, -1])
    along = turning.along(np.array([0]), np.array([math.pi / 2]))
    assert np.array(along).ravel() == pytest.approx([0, -1])
