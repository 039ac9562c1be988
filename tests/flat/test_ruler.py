"""Notch lines on the ticks of a rule: towards the safe side, and what it costs is said."""

import numpy as np
import pytest
import shapely

from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import Job
from zealous_crane.part.corner import Corner, ReliefRule
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.length import INCH, Units


def box(ruler, gap="0.03 in", thickness="24 ga"):
    part = OpenBox(
        length="8 in",
        width="6 in",
        depth="2 1/2 in",
        corner=Corner(gap=gap, relief=ReliefRule(shape="none")),
    )
    return Job(part=part, metal="galvanized", thickness=thickness, units="in", ruler=ruler)


def flat(blank):
    return shapely.Polygon(blank.outline.points)


def lines(blank):
    """Every distance of a straight cut from the sheet's edges, mm."""
    ring = np.array(blank.outline.points)
    return ring[:, 0], ring[:, 1]


@pytest.mark.parametrize(
    ("ruler", "tick"), [("1/64 in", INCH / 64), ("1/32 in", INCH / 32), ("1/16 in", INCH / 16)]
)
def test_every_notch_line_lies_on_a_tick_and_no_notch_is_smaller(ruler, tick):
    loose, ruled = develop(box(None)), develop(box(ruler))
    for where in lines(ruled):
        assert np.abs(where / tick - np.round(where / tick)).max() < 1e-6
    assert ruled.size == loose.size
    # The notches are cut from the blank: what is left is no larger anywhere.
    assert flat(ruled).area < flat(loose).area
    assert flat(loose).buffer(1e-6).contains(flat(ruled))
    said = next(s for s in ruled.sums if str(s.what).startswith("Notch lines put on"))
    step = np.ceil(0.03 * INCH / tick) * tick - 0.03 * INCH
    assert said.total == pytest.approx(step)
    notch = next(s for s in ruled.sums if "notch line from the left" in str(s.what))
    assert (notch.total / tick) == pytest.approx(round(notch.total / tick))


def test_settings_within_the_rule_become_one():
    settings = {
        round(s.setting, 6) for s in mark_out(develop(box("1/32 in")), Units.FRACTIONS).scribe
    }
    assert all(abs(s / (INCH / 32) - round(s / (INCH / 32))) < 1e-6 for s in settings)


def test_metal_with_an_allowance_keeps_its_lines():
    job = box("1/16 in", thickness="14 ga")
    assert develop(job).outline.points == pytest.approx(
        develop(job.model_copy(update={"ruler": None})).outline.points
    )
