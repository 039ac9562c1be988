"""What all tests of the window share."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from shared_worker import SharedWorker

from zealous_crane.desk import crew, pages
from zealous_crane.desk.app import application


@pytest.fixture(scope="session", autouse=True)
def what_the_crew_plans_is_shared(plans_are_shared: None) -> None:
    """Window after window asks for the plan of the same part; who plans in earnest is tried in test_crew.py, with a crew of its own."""
    crew.CREW._worker = SharedWorker


@pytest.fixture(scope="session", autouse=True)
def the_application_is_there() -> None:
    """Letters are measured and painted by some tests that open no window; without an application that ends the process."""
    application()


LATER = 3_600_000
"""Milliseconds: longer than any test."""


@pytest.fixture(scope="session", autouse=True)
def pages_are_made_when_they_are_wanted() -> Iterator[int]:
    """Hundreds of windows are opened, and each would make all its pages while a test waits for something else; that they are made ahead is
    tried in test_stage_pages.py. Gives how long the program waits before it makes one."""
    usual, pages.BETWEEN = pages.BETWEEN, LATER
    yield usual
    pages.BETWEEN = usual
