"""What is left of the stock: records of what came in and went out, added up."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..cutting.piece import OffCut
from .book.record import StockRecord

GRID = 0.5
"""mm; pieces nearer in size than this are alike."""

SAME_SHEET = 0.03
"""Share of its thickness by which a sheet may differ and still be the same."""


@dataclass(frozen=True)
class Stocked:
    """Pieces of one size and metal that the book has.

    Attributes:
        what: ``sheet`` or ``off-cut``.
        metal, thickness, length, width: of one piece; mm.
        count: how many there are; none where more went out than ever came in.
        name: as the shop calls it.
    """

    what: str
    metal: str
    thickness: float
    length: float
    width: float
    count: int
    name: str

    def is_of(self, metal: str, thickness: float) -> bool:
        """True for pieces of a metal and a thickness (mm)."""
        return self.metal == metal and abs(self.thickness - thickness) < SAME_SHEET * thickness


def stock_left(records: Iterable[StockRecord]) -> tuple[Stocked, ...]:
    """What there is, sheets first, then the largest: what came in less what went out, piece by
    piece. Sheets nobody has ever written in are not counted; those that are used up are.
    """
    count: dict[tuple[str, str, float, float, float], int] = {}
    first: dict[tuple[str, str, float, float, float], StockRecord] = {}
    counted: set[tuple[str, str, float, float, float]] = set()
    for record in records:
        long, short = max(record.length, record.width), min(record.length, record.width)
        key = (
            record.what,
            record.metal,
            round(record.thickness, 3),
            round(long / GRID),
            round(short / GRID),
        )
        count[key] = count.get(key, 0) + record.count
        first.setdefault(key, record)
        if record.count > 0:
            counted.add(key)
    result = [
        Stocked(r.what, r.metal, r.thickness, r.length, r.width, max(0, count[key]), r.name[:80])
        for key, r in first.items()
        if count[key] > 0 or (r.what == "sheet" and key in counted)
    ]
    return tuple(sorted(result, key=lambda one: (one.what != "sheet", -one.length * one.width)))


def offcuts_of(stocked: Iterable[Stocked]) -> tuple[OffCut, ...]:
    """The off-cuts among what there is, as a work is cut from them."""
    return tuple(
        OffCut(
            length=one.length,
            width=one.width,
            count=min(one.count, 1000),
            name=one.name,
            metal=one.metal,
            thickness=one.thickness,
        )
        for one in stocked
        if one.what == "off-cut"
    )
