"""What all tests of the window share."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hands import planned
from shared_worker import SharedWorker

from zealous_crane.demo import demo_job
from zealous_crane.paint.application import application
from zealous_crane.ui.pages import stage as pages
from zealous_crane.ui.state.autosave import SafetyCopy
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window
from zealous_crane.workers import pool as crew


@pytest.fixture(scope="session", autouse=True)
def what_the_crew_plans_is_shared(plans_are_shared: None) -> None:
    """Window after window asks for the plan of the same part; who plans in earnest is tried in
    test_crew.py, with a crew of its own."""
    crew.CREW._worker = SharedWorker


@pytest.fixture(scope="session", autouse=True)
def the_application_is_there() -> None:
    """Letters are measured and painted by some tests that open no window; without an application
    that ends the process."""
    application()


LATER = 3_600_000
"""Milliseconds: longer than any test."""


@pytest.fixture(scope="session", autouse=True)
def pages_are_made_when_they_are_wanted() -> Iterator[int]:
    """Hundreds of windows are opened, and each would make all its pages while a test waits for
    something else; that they are made ahead is tried in test_stage_pages.py. Gives how long the
    program waits before it makes one."""
    usual, pages.BETWEEN = pages.BETWEEN, LATER
    yield usual
    pages.BETWEEN = usual


@pytest.fixture
def window(qtbot, rack, tmp_path):
    application()
    session = Session(
        demo_job(),
        rack,
        SafetyCopy(tmp_path / "benches" / "bench.json"),
        tmp_path / "data" / "zealous-crane" / "brakes",
    )
    made = Window(session)
    # Whatever a test left unsaved is left on purpose; nobody is there to answer.
    qtbot.addWidget(made, before_close_func=lambda _: session.mark_saved())
    made.show()
    planned(qtbot, session)
    return made


@pytest.fixture
def open_window(qtbot, rack, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    application()

    def opened(job):
        session = Session(
            job,
            rack,
            SafetyCopy(tmp_path / "benches" / "bench.json"),
            tmp_path / "data" / "zealous-crane" / "brakes",
        )
        made = Window(session)
        qtbot.addWidget(made, before_close_func=lambda _: session.mark_saved())
        made.show()
        qtbot.waitUntil(
            lambda: not session.bench_plan.planning and session.plan is not None, timeout=60_000
        )
        return made

    return opened
