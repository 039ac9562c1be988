"""What every ready kind answers of itself."""

import pytest

from zealous_crane.errors import InputError
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.part.kinds.duct import Cap
from zealous_crane.part.template import PartTemplate


@pytest.mark.parametrize(
    ("measured", "span"), [("inside", (200.0, 202.0)), ("outside", (198.0, 200.0))]
)
def test_a_size_between_walls_has_an_inside_and_an_outside(measured, span):
    box = OpenBox(length=200, width=100, depth=30, measured=measured)
    assert isinstance(box, PartTemplate) and box.span("length", 1.0) == span
    # What runs between no two walls is one size.
    assert box.span("depth", 1.0) == (30.0, 30.0)
    with pytest.raises(InputError, match="no size called"):
        box.span("girth", 1.0)


def test_a_part_made_larger_is_the_same_but_for_that_size():
    box = OpenBox(length=200, width=100, depth=30)
    assert box.larger("depth", 2.5) == OpenBox(length=200, width=100, depth=32.5)
    with pytest.raises(ValueError):
        box.larger("depth", -30)


def test_a_cap_rests_where_a_box_goes_in():
    assert OpenBox.edges_go_in and not Cap.edges_go_in
    assert OpenBox(length=2, width=2, depth=1).walls("length") == ("left wall", "right wall")
    assert OpenBox(length=2, width=2, depth=1).walls("depth") is None
