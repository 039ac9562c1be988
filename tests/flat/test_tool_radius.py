"""The inside radius and the school a brake suggests, where the job names none."""

from __future__ import annotations

import pytest

from zealous_crane.flat.development import develop
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.job.job import Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.metal.shop_table import ShopTable, TestStrip
from zealous_crane.part.kinds.strip import SingleBend
from zealous_crane.planning.planner import make_plan


def angle(thickness, **fields):
    part = SingleBend(first=60, second=50, length=300, angle=90)
    return Job(part=part, metal="mild-steel", thickness=thickness, units="mm", **fields)


def radius(job, brake):
    return flat_for(job, brake).folds[0].bend.radius


def test_a_press_makes_the_radius_of_its_v_and_a_leaf_brake_that_of_its_nose(rack):
    press, leaf = rack["honey-press-2000"], rack["bench-finger-1000"]
    # 2 mm is bent over the V nearest to 6 T, here V 10 or 12 or so: about 16 % of it. Common
    # practice, no source.
    found = press.radius(angle("2 mm").sheet)
    assert found is not None and found.press and 0.15 * 10 <= found.radius <= 0.17 * 16
    assert radius(angle("2 mm"), press) == pytest.approx(found.radius)
    assert radius(angle("1.2 mm"), leaf) == pytest.approx(leaf.nose_radius)
    said = [
        item
        for item in develop(angle("2 mm"), found).sums
        if str(item.what).startswith("Inside radius")
    ]
    assert len(said) == 1 and "Bent in air over" in str(said[0].rule)
    assert make_plan(angle("2 mm", brake=press.key), press).blank.folds[
        0
    ].bend.radius == pytest.approx(found.radius)


def test_what_is_written_or_measured_wins(rack):
    press = rack["honey-press-2000"]
    assert radius(angle("2 mm", radius=5.0), press) == 5.0
    strip = TestStrip(length=96.5, first=50, second=50, thickness=2, radius=2.4)
    assert radius(angle("2 mm", school=ShopTable(strips=(strip,))), press) == pytest.approx(2.4)
    assert radius(angle("1 mm", school=OnTheLine()), press) == 0.0


def test_thin_sheet_is_folded_on_the_line_on_a_leaf_brake_and_by_its_neutral_line_in_a_press(rack):
    thin = angle("0.8 mm")
    leaf, press = (flat_for(thin, rack[key]) for key in ("bench-finger-1000", "honey-press-2000"))
    assert leaf.folds[0].bend.gain == pytest.approx(0)
    bend = press.folds[0].bend
    assert bend.k_factor == pytest.approx(NeutralLine().k) and bend.radius > 0


def test_a_strip_that_cannot_be_is_refused_with_the_reason():
    with pytest.raises(ValueError, match="neutral line outside the middle of the sheet"):
        TestStrip(length=99.9, first=50, second=50, thickness=2, radius=2)
    with pytest.raises(ValueError, match="neutral line inside the bend"):
        TestStrip(length=93, first=50, second=50, thickness=2, radius=2)
