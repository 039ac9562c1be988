"""How a figure is taken and shown."""

from __future__ import annotations

import itertools
import statistics
import time
from collections.abc import Callable, Iterator

from zealous_crane.cache import forget
from zealous_crane.job.job import Job


def median(work: Callable[[], object], times: int, *, fresh: bool = True) -> float:
    """Median seconds of ``times`` runs after one warm-up; with nothing remembered of the run before
    unless ``fresh`` is off."""
    work()
    taken = []
    for _ in range(times):
        if fresh:
            forget()
        begin = time.perf_counter()
        work()
        taken.append(time.perf_counter() - begin)
    return statistics.median(taken)


def never_alike(job: Job) -> Iterator[Job]:
    """A job again and again, its inside radius a hair larger each time: nothing that is kept of the
    one before serves."""
    return (
        job.model_copy(update={"radius": job.inside_radius + 1e-6 * k}) for k in itertools.count(1)
    )


def row(what: str, seconds: float, wanted: str) -> None:
    print(f"  {what:<58}{seconds * 1000:>10.2f} ms   wanted {wanted}")
