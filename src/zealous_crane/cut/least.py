"""What no cutting whatever gets below."""

from __future__ import annotations

import math
from collections.abc import Sequence

from .pattern import Patterns


def least_sheets(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int]) -> int:
    """Sheets below which nothing gets: by area, and by blanks no two of which fit on one sheet."""
    return max(_by_area(patterns, sheets, wanted, 0.0), sum(wanted[k] for k in _alone(patterns, sheets)), 1)


def least_with_offcuts(patterns: Patterns) -> int:
    """Whole sheets below which nothing gets, whatever is cut from the off-cuts: by the metal they do not hold, by the blanks that come from
    none of them, and by blanks no two of which fit on one sheet."""
    stock, blanks = patterns.stock, patterns.blanks
    sheets = [i for i, s in enumerate(stock) if not s.offcut]
    if not sheets:
        return 0
    wanted, every = [b.count for b in blanks], range(len(blanks))
    offcuts = [(i, s.count or 1) for i, s in enumerate(stock) if s.offcut and any(_fits(patterns, i, k) for k in every)]
    held = sum(count * _room(patterns, i) for i, count in offcuts)
    beyond = [0 if any(_fits(patterns, i, k) for i, _ in offcuts) else n for k, n in enumerate(wanted)]
    alone = _alone(patterns, sheets)
    taken = 0
    if alone:
        # Of blanks no two of which share a sheet, an off-cut takes no more than its metal.
        smallest = min(blanks[k].area for k in alone)
        taken = sum(
            count * int(_room(patterns, i) / smallest + 1e-9)
            for i, count in offcuts
            if any(_fits(patterns, i, k) for k in alone)
        )
    return max(
        _by_area(patterns, sheets, wanted, held),
        least_sheets(patterns, sheets, beyond) if any(beyond) else 0,
        sum(wanted[k] for k in alone) - taken,
        0,
    )


def takes_any(patterns: Patterns) -> bool:
    """True where some blank comes from some off-cut."""
    return any(_fits(patterns, i, k) for i, s in enumerate(patterns.stock) if s.offcut for k in range(len(patterns.blanks)))


def _room(patterns: Patterns, number: int) -> float:
    """Metal (mm²) of a piece of stock once it is squared."""
    length, width = patterns.room(number)
    return length * width


def _by_area(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], held: float) -> int:
    """Sheets for what is wanted beyond the metal (mm²) that is held elsewhere."""
    total = sum(b.area * n for b, n in zip(patterns.blanks, wanted, strict=True))
    return math.ceil((total - held) / max(_room(patterns, i) for i in sheets) - 1e-9)


def _alone(patterns: Patterns, sheets: Sequence[int]) -> list[int]:
    """Numbers of the blanks that cover the middle of every sheet, whichever way they lie and go in at all: no two of these share one."""
    rooms = [patterns.room(i) for i in sheets]
    length, width = max(a for a, _ in rooms), max(b for _, b in rooms)
    side, other = max(length, width), min(length, width)
    found = []
    for number, blank in enumerate(patterns.blanks):
        low, high = sorted((blank.length, blank.width))
        along = high > side / 2 and low > other / 2
        upright = high > other or (low > side / 2 and high > other / 2)
        if along and upright:
            found.append(number)
    return found


def _fits(patterns: Patterns, stock: int, blank: int) -> bool:
    """True where a blank comes from a piece of stock by its size, either way it may lie."""
    length, width = patterns.room(stock)
    one = patterns.blanks[blank]
    ways = [(one.length, one.width)] + ([(one.width, one.length)] if one.turns else [])
    return any(a <= length + 1e-6 and b <= width + 1e-6 for a, b in ways)
