"""The whole suite, and how fast the machine was meanwhile: where others share it, minutes alone say
nothing."""

from __future__ import annotations

import statistics
import subprocess
import time
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

from zealous_crane.brake.leaf_brake import LeafBrake
from zealous_crane.brake.library import shipped_rack
from zealous_crane.cache import forget
from zealous_crane.demo import demo_job

from .rows import row
from .strokes import leaf_strokes

EVERY = 5.0
"""Seconds between two looks at the machine: a hundredth of what it does."""


class Run(NamedTuple):
    """A run of the suite.

    Attributes:
        seconds: by the clock.
        told: its last line.
        meanwhile: CPU seconds of one piece of the same work, again and again beside it, the median.
    """

    seconds: float
    told: str
    meanwhile: float


def run_suite(work: Callable[[], object]) -> Run:
    """Run all tests as ``./crane test`` does, and a piece of work now and then beside them.

    Args:
        work: is always the same and keeps nothing.

    Raises:
        RuntimeError: a test failed: the time of such a run says nothing.
    """
    crane = Path(__file__).resolve().parents[2] / "crane"
    taken: list[float] = []
    begin = time.perf_counter()
    with subprocess.Popen(
        [str(crane), "test"], stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    ) as tests:
        while True:
            started = time.process_time()
            work()
            taken.append(time.process_time() - started)
            try:
                told, _ = tests.communicate(timeout=EVERY)
                break
            except subprocess.TimeoutExpired:
                continue
    seconds = time.perf_counter() - begin
    if tests.returncode:
        raise RuntimeError(f"the suite failed; run ./crane test\n{told[-2000:]}")
    return Run(seconds, told.strip().splitlines()[-1], statistics.median(taken))


def suite() -> None:
    """All tests, and the machine's speed beside them: only asked for by name, since it takes so
    long."""
    job = demo_job()
    brake = shipped_rack()[job.brake]
    assert isinstance(brake, LeafBrake)
    strokes = leaf_strokes(job, brake)

    def judged() -> None:
        for stroke in strokes:
            forget()
            stroke()

    judged()
    ran = run_suite(judged)
    each = ran.meanwhile / len(strokes)
    print(f"  {ran.told}")
    row("the whole suite, format, lint and types too", ran.seconds, "< 360000 on two quiet cores")
    row("a leaf stroke judged meanwhile, of the CPU", each, "-")
    print(f"  it takes as long as {ran.seconds / each:,.0f} such strokes\n")
