"""Which test runs which line of the heart, and how long each test takes: a plug-in for the tests,
used by tools/mutants.py."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import coverage
import pytest

TIMES = ".times"
"""Ending of the file with the seconds of each test, beside the one with its lines."""

_measuring: dict[str, coverage.Coverage] = {}
_seconds: dict[str, float] = {}


def pytest_configure(config: pytest.Config) -> None:
    """Begin to measure before anything of ours is brought in."""
    found = coverage.Coverage(
        data_file=os.environ["REACH"], source=["src/zealous_crane"], config_file=False
    )
    found.start()
    _measuring["all"] = found


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """What runs from here on, fixtures too, is run by this test."""
    _measuring["all"].switch_context(item.nodeid)
    yield
    _measuring["all"].switch_context("")


def pytest_runtest_logreport(report: pytest.TestReport) -> None:
    """Add up the time of a test and its fixtures."""
    _seconds[report.nodeid] = _seconds.get(report.nodeid, 0.0) + report.duration


def pytest_sessionfinish() -> None:
    """Write both files."""
    _measuring["all"].stop()
    _measuring["all"].save()
    lines = [f"{seconds:.3f} {test}" for test, seconds in _seconds.items()]
    Path(os.environ["REACH"]).with_suffix(TIMES).write_text("\n".join(lines), encoding="utf-8")
