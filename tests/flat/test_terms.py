"""Summands of a size: like ones once with their count, gains after heights; sums by hand."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.flat.sums import gain, gains_last, merged
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.sums import Term


def test_like_terms_are_counted_and_nothing_is_left_out():
    terms = [Term("wall", 20.0), gain(0.5), Term("wall", 20.0), Term("wall", 21.0), gain(0.5)]
    kept = merged(terms)
    assert [(t.value, t.count) for t in kept] == [(20.0, 2), (0.5, 2), (21.0, 1)]
    assert sum(t.value * t.count for t in kept) == sum(t.value for t in terms)
    assert merged([Term("nothing", 0.0), Term("once", 1.0, 0)]) == ()


def test_gains_come_after_what_is_read_on_the_drawing():
    terms = gains_last([gain(0.5), Term("wall", 20.0), gain(0.4), Term("lip", 8.0)])
    assert [t.value for t in terms] == [20.0, 8.0, 0.5, 0.4]


@pytest.mark.parametrize("measured", ["inside", "outside"])
def test_the_sums_of_a_box_are_its_blank(measured):
    job = Job(part=OpenBox(length=200, width=120, depth=40, measured=measured), thickness="2 mm")
    blank = flat_for(job, shipped_rack()[job.brake])
    for total, size in zip(blank.sums[:2], blank.size, strict=True):
        assert sum(t.value * t.count for t in total.terms) == pytest.approx(size, abs=1e-6)
        assert any(t.by_bend for t in total.terms)
        assert [t.by_bend for t in total.terms] == sorted(t.by_bend for t in total.terms)
