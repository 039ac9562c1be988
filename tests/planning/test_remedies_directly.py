"""Each remedy by itself, against the plan it is a remedy for."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.job.job import Job, OrderWishes
from zealous_crane.part.kinds.box import HemmedTray, OpenBox
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.corners import other_tabs, wider_gap
from zealous_crane.planning.remedies.tools import free_order, in_air, one_more_piece, other_brakes
from zealous_crane.planning.remedies.trial import Trial

RACK = shipped_rack()
TRAY = Job(
    part=HemmedTray(length=300, width=220, depth=50, hem=12, tab=16),
    metal="galvanized",
    thickness="24 ga",
)


def trial(job):
    return Trial(make_plan(job, RACK[job.brake]))


@pytest.fixture(scope="module")
def too_deep():
    return trial(Job(part=OpenBox(length=200, width=150, depth=90), thickness="24 ga"))


def test_a_box_too_deep_here_goes_on_a_brake_with_more_room(too_deep):
    assert not too_deep.plan.feasible
    offered = list(other_brakes(too_deep, RACK))
    assert offered
    for remedy in offered:
        assert remedy.brake.key != too_deep.plan.brake.key == too_deep.job.brake
        assert make_plan(remedy.job, remedy.brake).feasible


def test_what_does_not_help_is_not_offered(too_deep):
    # The beam is in the way: neither an order, nor bending in air, nor one more finger helps.
    assert not list(free_order(too_deep)) and not list(in_air(too_deep))
    assert not list(one_more_piece(too_deep)) and not list(wider_gap(too_deep))


@pytest.mark.parametrize("first", ["left wall", "right wall"])
def test_an_order_that_does_not_go_is_given_back(first):
    """The end wall before its hem cannot be bent: a hem is flattened while the sheet is flat."""
    asked = trial(TRAY.model_copy(update={"order": OrderWishes(sequence=(first,))}))
    assert not asked.plan.feasible
    (remedy,) = free_order(asked)
    assert remedy.job == TRAY and make_plan(remedy.job, asked.plan.brake).feasible


def test_a_missing_finger_is_named_by_its_width():
    brake = RACK["apiary-finger-50"]
    wide = brake.model_copy(update={"fingers": tuple(f for f in brake.fingers if f.width > 70)})
    asked = Trial(
        make_plan(Job(part=OpenBox(length=132, width=132, depth=40), thickness="24 ga"), wide)
    )
    assert not asked.plan.feasible
    (remedy,) = one_more_piece(asked)
    added = [f for f in remedy.brake.fingers if f not in wide.fingers]
    # A 132 mm wall, less the room beside standing walls: 3" and 4" fingers do not make it up.
    assert len(added) == 1 and 120 < added[0].width <= 132
    assert make_plan(remedy.job, remedy.brake).feasible


def test_tabs_inside_the_next_wall_leave_nothing_to_the_hand():
    asked = trial(TRAY)
    assert asked.plan.feasible and not asked.plan.complete
    (remedy,) = other_tabs(asked)
    assert remedy.job.part == TRAY.part.model_copy(update={"tabs_inside": True})
    assert make_plan(remedy.job, asked.plan.brake).complete
