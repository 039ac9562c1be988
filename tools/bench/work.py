"""Cutting, checking and the book."""

from __future__ import annotations

import statistics
import sys
import tempfile
from pathlib import Path

from zealous_crane.flat.ruler import Striking

from .rows import median, row


def cutting() -> None:
    """Sixty blanks of ten sizes, and how sheets compare with a general packing library on random
    works."""
    sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "tests" / "cutting"))
    import random

    from test_cutting import against_library

    from zealous_crane.cutting.piece import Shear, Stock, WantedBlank
    from zealous_crane.cutting.solve import plan_cutting

    rng = random.Random(4)
    blanks = [
        WantedBlank(f"b{i}", rng.uniform(130, 810), rng.uniform(80, 560), 6) for i in range(10)
    ]
    row(
        "60 blanks of ten sizes cut",
        median(lambda: plan_cutting(blanks, [Stock("sheet", 2438.4, 1219.2)], Shear()), 3),
        "< 2000",
    )
    found = [against_library(seed)[1:] for seed in range(60)]
    fewer, more = (
        sum(ours < theirs for ours, theirs in found),
        sum(ours > theirs for ours, theirs in found),
    )
    print(
        f"  60 random works against a packing library: fewer sheets {fewer}, as many "
        f"{60 - fewer - more}, more {more}"
    )


def checking() -> None:
    """A figure typed in Check, and how often a planted fault is named first (seed 11, as in the
    tests)."""
    sys.path.insert(0, str(Path(__file__).resolve().parents[2] / "tests" / "inspection"))
    from test_inspection import PARTS, named_of, tried

    from zealous_crane.inspection.explain import explain, worth_measuring
    from zealous_crane.inspection.model import Model

    job, blank, measures = tried("inspection-tray")
    asked = worth_measuring(blank, measures, 10, Striking.of(job))
    values = Model(blank, Striking.of(job)).values(asked, {})
    got = {m.key: float(v) + 0.2 for m, v in zip(asked, values, strict=True)}
    row(
        "ten measured sizes explained",
        median(lambda: explain(blank, measures, got, Striking.of(job)), 9, fresh=False),
        "< 50",
    )
    told, named, certain, wrong = named_of(11, 14)
    print(
        f"  planted faults of {len(PARTS)} parts: named first {named} of {told} that can be told; "
        f"certain {certain}, wrongly {wrong}"
    )


def book() -> None:
    """The views of a book of 100 000 records: the median of each, and the slowest seen."""
    from .years import book_of_years, views

    with tempfile.TemporaryDirectory() as folder:
        book_of_years(Path(folder), 100_000)
        taken = views(Path(folder), 7)
    for view, seconds in taken.items():
        row(
            f"a book of 100 000 records: {view}",
            statistics.median(seconds),
            f"< 200; slowest {max(seconds) * 1000:.0f}",
        )
