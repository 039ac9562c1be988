"""The room between two walls as another part meets it, by hand."""

import pytest

from zealous_crane.flat.inside_sizes import between, measurable
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import FoldedPan, OpenBox


def job(part):
    return Job(part=part, metal="galvanized", thickness="1 mm")


@pytest.mark.parametrize(("measured", "inside"), [("inside", 200.0), ("outside", 198.0)])
def test_a_box_is_as_wide_as_it_says(measured, inside):
    box = job(OpenBox(length=200, width=120, depth=40, measured=measured))
    found = between(box, "length")
    assert found.clear == pytest.approx(inside) and found.over_all == pytest.approx(inside + 2)
    assert measurable(box)


def test_a_hem_turned_out_makes_it_wider_outside_and_bare_it_does_not_count():
    pan = job(FoldedPan(length=200, width=120, depth=40, hem=8))
    plain = job(FoldedPan(length=200, width=120, depth=40))
    wide = between(pan, "width")
    assert wide.clear == between(plain, "width").clear
    assert wide.over_all > between(plain, "width").over_all
    walls = ("front wall", "back wall")
    assert between(pan, "", walls, bare=True).over_all == pytest.approx(122.0)
    assert wide.over_all - 122.0 == pytest.approx(sum(term.value for term in wide.outward))
