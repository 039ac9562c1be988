"""The bench without a window: what changes the work, and what a change leaves as it was."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.job.job import OrderWishes
from zealous_crane.ui.state.bench import Bench
from zealous_crane.ui.state.history import HistoryStep
from zealous_crane.ui.state.order_edits import OrderEdits


@pytest.fixture
def bench(qapp):
    return Bench(HistoryStep(demo_work(next(iter(DEMOS))), 0, shipped_rack()))


def test_a_change_is_one_step_and_lays_out_anew(bench):
    before, flat = bench.job, bench.blank
    seen = []
    bench.changed.connect(lambda: seen.append(bench.job.thickness))
    assert bench.edit("", thickness="18 ga") is None
    assert seen == ["18 ga"] and bench.history.steps_back == 1
    assert bench.blank.thickness > flat.thickness
    assert bench.developed(bench.history.step) == bench.blank
    bench.history.move(-1)
    assert bench.job == before


@pytest.mark.parametrize("fields", [{"thickness": "99 ga"}, {"thickness": "20 ga", "quantity": 0}])
def test_what_cannot_be_leaves_everything_and_says_why(bench, fields):
    before, flat = bench.job, bench.blank
    assert bench.edit("", **fields)
    assert bench.job == before and bench.blank is flat and not bench.can_undo


def test_wishes_for_the_order_are_put_kept_apart_and_taken_back(bench):
    orders, folds = OrderEdits(bench), tuple(fold.name for fold in bench.blank.folds)
    assert orders.put(folds[:2]) is None and bench.job.order.sequence == folds[:2]
    assert orders.hold(folds[0], "far") is None
    assert orders.hold(folds[1], "base") is None and orders.hold(folds[0], None) is None
    assert bench.job.order.clamp == {folds[1]: "base"}
    assert bench.job.order.sequence == folds[:2]
    assert orders.free() is None and bench.job.order == OrderWishes()
