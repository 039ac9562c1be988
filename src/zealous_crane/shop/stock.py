"""What is left of the stock: records of what came in and went out, added up."""

from __future__ import annotations

from collections.abc import Iterable

from ..cut.cut_from import OffCut
from .book.record import StockRecord

GRID = 0.5
"""mm; pieces nearer in size than this are alike."""


def offcuts_left(records: Iterable[StockRecord]) -> tuple[OffCut, ...]:
    """The off-cuts there are, the largest first: what came in less what went out, piece by piece."""
    count: dict[tuple[str, float, float, float], int] = {}
    first: dict[tuple[str, float, float, float], StockRecord] = {}
    for record in records:
        if record.what != "off-cut":
            continue
        long, short = max(record.length, record.width), min(record.length, record.width)
        key = record.metal, round(record.thickness, 3), round(long / GRID), round(short / GRID)
        count[key] = count.get(key, 0) + record.count
        first.setdefault(key, record)
    found = [
        OffCut(
            length=r.length, width=r.width, count=min(count[key], 1000), name=r.name[:80], metal=r.metal, thickness=r.thickness
        )
        for key, r in first.items()
        if count[key] > 0
    ]
    return tuple(sorted(found, key=lambda o: -o.length * o.width))
