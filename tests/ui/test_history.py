"""Steps of undo: what is typed in one field is one, what is typed and taken back is none."""

import pytest

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.ui.state import history
from zealous_crane.ui.state.history import History, HistoryStep

RACK = shipped_rack()
STEPS = [HistoryStep(demo_work(name), 0, RACK) for name in list(DEMOS)[:4]]


@pytest.fixture
def clock(monkeypatch):
    now = [100.0]
    monkeypatch.setattr(history.time, "monotonic", lambda: now[0])
    return now


def test_typing_on_in_one_field_is_one_step(clock):
    states = History(STEPS[0])
    states.take(STEPS[1], "length")
    clock[0] += 1.0
    states.take(STEPS[2], "length")
    assert states.steps_back == 1 and states.step is STEPS[2]
    clock[0] += history.SAME_EDIT + 0.1
    states.take(STEPS[3], "length")
    assert states.steps_back == 2


def test_another_field_or_a_pause_between_is_a_step_of_its_own(clock):
    states = History(STEPS[0])
    states.take(STEPS[1], "length")
    states.take(STEPS[2], "width")
    states.settle()
    states.take(STEPS[3], "width")
    assert states.steps_back == 3


def test_typed_and_taken_back_leaves_nothing(clock):
    states = History(STEPS[0])
    states.take(STEPS[1], "length")
    states.take(STEPS[0], "length")
    assert not states.can_undo and states.step == STEPS[0]


def test_what_was_undone_is_gone_once_something_else_is_done(clock):
    states = History(STEPS[0])
    states.take(STEPS[1], "")
    states.move(-1)
    assert states.can_redo
    states.take(STEPS[2], "")
    assert not states.can_redo and states.steps_back == 1


def test_the_oldest_go_first_and_a_change_elsewhere_reaches_all(clock, monkeypatch):
    monkeypatch.setattr(history, "MOST_STEPS", 3)
    states = History(STEPS[0])
    for step in STEPS[1:]:
        states.take(step, "")
    assert states.steps_back == 2 and states.step is STEPS[3]
    states.rebase(lambda step: HistoryStep(step.work, 7, step.rack))
    assert states.step.at == 7
    states.move(-2)
    assert states.step.at == 7 and states.step.work == STEPS[1].work
