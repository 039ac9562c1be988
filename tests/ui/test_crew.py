"""Planning in processes of its own: nothing waits for it, it can be called off, and it may die
without harm."""

from __future__ import annotations

import itertools
import os
import signal
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from halves import halves
from hands import planned
from PySide6.QtCore import QObject, QTimer

from zealous_crane.bending.machine import FactKey
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.paint.application import application
from zealous_crane.paint.theme import LIGHT
from zealous_crane.planning.gauging import gauging_lines
from zealous_crane.planning.plan import Plan
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.setup import set_up_facts
from zealous_crane.ui.pages.bend import BendStage
from zealous_crane.ui.state.background_call import Beside
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.working import seconds_left
from zealous_crane.workers.messages import Ask
from zealous_crane.workers.pool import Crew


@pytest.fixture(scope="module")
def crew():
    """One for all tests that leave its processes alive."""
    made = Crew()
    yield made
    made.close()


@pytest.fixture
def own_crew():
    made = Crew()
    yield made
    made.close()


@pytest.fixture
def session_of(qtbot, rack, tmp_path, monkeypatch):
    """Makes a session that has a crew plan for it."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    application()
    made = []

    def make(crew):
        made.append(Session(demo_job(), rack, crew=crew))
        return made[-1]

    yield make
    for session in made:
        session.close()


@pytest.fixture
def session(session_of, crew):
    return session_of(crew)


def processes(crew):
    return [worker._process for worker in crew._workers if worker._process is not None]


def test_a_process_plans_what_this_one_would(qtbot, session_of, own_crew, rack):
    session = session_of(own_crew)
    plan = planned(qtbot, session)
    mine = make_plan(session.job, rack[session.job.brake])
    assert [s.sentence() for s in plan.strokes] == [
        s.sentence() for s in mine.strokes
    ] and plan.cost == mine.cost
    (process,) = processes(own_crew)
    assert process.pid != os.getpid() and os.getpriority(os.PRIO_PROCESS, process.pid) > 0


def test_a_plan_comes_with_what_every_view_shows_of_it(qtbot, session, monkeypatch):
    """Nobody who looks waits for it: not for the ways to make up a block, nor for what is set, nor
    for the gauge."""
    plan = planned(qtbot, session)

    def asked(*_):
        raise AssertionError("worked out in the window")

    for name in ("plan.fits", "setup._set_up", "gauging._stops"):
        monkeypatch.setattr(f"zealous_crane.planning.{name}", asked)
    shown = [fact.key for stroke in plan.strokes for fact in set_up_facts(plan, stroke)]
    assert FactKey.OTHERS in shown and gauging_lines(plan)


def test_the_first_order_comes_sooner_without_what_lies_past_its_stops(qtbot, session):
    """It is replaced in a moment: of every stroke but the one on show, nobody needs to know yet
    what would be touched beyond."""
    seen: list[Plan] = []
    session.bench_plan.planner.found.connect(seen.append)
    page = BendStage(session, LIGHT)
    qtbot.addWidget(page)
    page.show()
    said: list[list[str]] = []
    session.planned.connect(
        lambda: said.append(
            [stroke.sentence(beyond=not session.plan.looking) for stroke in session.plan.strokes]
        )
    )
    session.start_with(demo_work("inspection-tray"))
    whole = planned(qtbot, session)
    first = seen[0]
    assert first.looking and not whole.looking
    # What came with it was worked out over there.
    assert ["contact" in vars(stroke) for stroke in first.strokes] == [True] + [False] * (
        len(first.strokes) - 1
    )
    assert not any("would touch" in sentence for sentence in said[0]) and any(
        "would touch" in sentence for sentence in said[-1]
    )
    qtbot.waitUntil(
        lambda: (
            [card.accessibleName() for card in page.cards]
            == [stroke.sentence() for stroke in whole.strokes]
        )
    )


def test_what_is_asked_is_written_down_by_who_asks(qtbot, session, monkeypatch):
    """In a thread of its own it would be read while a view adds what it works out to the same
    blank."""
    planned(qtbot, session)
    wrote = []
    monkeypatch.setattr(
        Ask, "__getstate__", lambda self: wrote.append(threading.current_thread()) or self.__dict__
    )
    session.edit("quantity", quantity=7)
    assert planned(qtbot, session).job.quantity == 7
    assert wrote and set(wrote) == {threading.main_thread()}


def test_what_was_worked_out_once_is_found_again(qtbot, session):
    first = planned(qtbot, session)
    session.edit("quantity", quantity=40)
    other = planned(qtbot, session)
    assert other.job.quantity == 40
    session.undo()
    assert session.plan is first and not session.bench_plan.busy, (
        "at once, and nothing is worked out again"
    )
    with qtbot.waitSignal(session.planned, timeout=2000):
        session.redo()
    assert session.plan is other
    # A part of the same sizes is the same job, whoever made it.
    session.change(session.job.model_copy(update={"quantity": first.job.quantity}))
    assert session.plan is first


def test_a_process_that_dies_is_said_and_replaced(qtbot, session_of, own_crew):
    session = session_of(own_crew)
    planned(qtbot, session)
    said = []
    session.complained.connect(said.append)
    session.start_with(demo_job("wax-melter-chimney"))
    (process,) = processes(own_crew)
    with qtbot.waitSignal(session.complained, timeout=60_000):
        os.kill(process.pid, signal.SIGKILL)
    assert "stopped answering" in said[-1]
    assert planned(qtbot, session).feasible, "a thread does the work"
    session.start_with(demo_job("hive-stand-angle"))
    assert planned(qtbot, session).feasible
    assert [worker.gone for worker in own_crew._workers] == [False]


def test_a_process_that_is_stopped_is_said_within_five_seconds_and_a_thread_plans(
    qtbot, session_of, own_crew
):
    session = session_of(own_crew)
    planned(qtbot, session)
    said = []
    session.complained.connect(said.append)
    (process,) = processes(own_crew)
    os.kill(process.pid, signal.SIGSTOP)
    session.start_with(demo_job("hive-stand-angle"))
    # Idle it is found out too, so that nobody waits for it later.
    qtbot.waitUntil(lambda: bool(said) or process.poll() is not None, timeout=5_000)
    assert planned(qtbot, session).feasible and process.poll() is not None


def test_where_no_process_can_be_started_a_thread_plans(qtbot, session_of, own_crew, monkeypatch):
    def refuse(*_args, **_more):
        raise OSError("no more processes")

    monkeypatch.setattr("zealous_crane.workers.pool.subprocess.Popen", refuse)
    session = session_of(own_crew)
    assert planned(qtbot, session).feasible


def test_the_newest_is_planned_though_an_older_one_goes_on(qtbot, session_of, own_crew):
    session = session_of(own_crew)
    planned(qtbot, session)
    session.start_with(demo_job("wax-melter-chimney"))
    qtbot.waitUntil(
        lambda: session.bench_plan.planner.judged > 0 or session.plan is not None, timeout=60_000
    )
    heard = []
    session.bench_plan.planner.found.connect(heard.append)
    session.start_with(demo_job("hive-stand-angle"))
    plan = planned(qtbot, session)
    assert plan.job.name == demo_job("hive-stand-angle").name
    assert {found.job.name for found in heard} == {plan.job.name}, (
        "nothing of the one called off is heard"
    )
    assert 1 <= len(processes(own_crew)) <= 2


def test_the_processes_go_when_their_window_does(qtbot, session_of, own_crew):
    planned(qtbot, session_of(own_crew))
    running = processes(own_crew)
    assert running
    own_crew.close()
    for process in running:
        assert process.wait(5) is not None


PARENT = """
import time
from zealous_crane.workers.pool import ProcessWorker
worker = ProcessWorker(lambda *_: None)
worker.stop(1)  # the first word starts it
while worker._process is None:
    time.sleep(0.01)
print(worker._process.pid, flush=True)
time.sleep(60)
"""


def test_a_process_ends_when_its_program_is_killed():
    parent = subprocess.Popen([sys.executable, "-c", PARENT], stdout=subprocess.PIPE, text=True)
    child = Path("/proc") / parent.stdout.readline().strip()
    time.sleep(1.0)  # it listens by then
    assert child.exists()
    parent.kill()
    parent.wait()
    for _ in range(200):
        if not child.exists() or "zealous" not in (child / "cmdline").read_text():
            break
        time.sleep(0.05)
    else:
        pytest.fail("it goes on by itself")


def test_the_window_goes_on_while_it_is_planned(qtbot, session):
    """The event loop turns while twelve folds are searched: a 10 ms timer is never kept waiting as
    long as a stroke takes."""
    planned(qtbot, session)
    beats, timer = [], QTimer()
    timer.timeout.connect(lambda: beats.append(time.perf_counter()))
    timer.start(10)
    session.start_with(demo_job("wax-melter-chimney"))
    qtbot.wait(1500)
    timer.stop()
    gaps = sorted(b - a for a, b in itertools.pairwise(beats))
    assert len(beats) > 20 and gaps[len(gaps) // 2] < 0.1, (
        "turning, not waiting: medians, the machine being shared"
    )


@pytest.mark.parametrize(
    ("gone", "standing", "of", "left"),
    [(1.0, 3, 12, None), (3.0, 0, 12, None), (3.0, 3, 12, 9), (4.0, 12, 12, None), (2.0, 7, 8, 1)],
)
def test_the_time_left_is_what_the_pace_so_far_says(gone, standing, of, left):
    assert seconds_left(gone, standing, of) == left


def test_other_things_are_worked_out_in_a_process_and_a_refusal_is_an_answer(qtbot, crew):
    application()
    asker = QObject()
    beside, heard = Beside(asker, crew), []
    beside.ask(heard.append, (halves, (8,)), (halves, (7,)))
    assert beside.running
    qtbot.waitUntil(lambda: not beside.running, timeout=60_000)
    (half, process), refused = heard
    assert (
        half == 4
        and process != os.getpid()
        and isinstance(refused, ValueError)
        and str(refused) == "7 is odd"
    )


def test_a_newer_question_takes_the_place_of_the_older(qtbot, crew):
    application()
    asker = QObject()
    beside, heard = Beside(asker, crew), []
    beside.ask(lambda answer: heard.append(("old", answer)), (time.sleep, (0.3,)), (max, (1, 2)))
    beside.ask(lambda answer: heard.append(("new", answer)), (max, (3, 4)))
    qtbot.waitUntil(lambda: not beside.running, timeout=60_000)
    qtbot.wait(400)
    assert heard == [("new", 4)]
    beside.ask(heard.append, (max, (5, 6)))
    beside.stop()
    qtbot.wait(200)
    assert heard == [("new", 4)] and not beside.running


def test_a_fault_of_what_is_worked_out_is_raised_where_it_was_asked(qtbot, crew):
    application()
    asker = QObject()
    beside = Beside(asker, crew)
    with qtbot.capture_exceptions() as raised:
        beside.ask(lambda _: None, (max, ()))
        qtbot.waitUntil(lambda: not beside.running, timeout=60_000)
    ((kind, error, _),) = raised
    assert kind is RuntimeError and "TypeError" in str(error)
