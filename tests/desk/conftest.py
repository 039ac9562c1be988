"""What all tests of the window share."""

from __future__ import annotations

import pytest
from shared_worker import SharedWorker

from zealous_crane.desk import crew


@pytest.fixture(scope="session", autouse=True)
def what_the_crew_plans_is_shared(plans_are_shared: None) -> None:
    """Window after window asks for the plan of the same part; who plans in earnest is tried in test_crew.py, with a crew of its own."""
    crew.CREW._worker = SharedWorker
