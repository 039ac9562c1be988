"""What no cutting whatever gets below."""

from __future__ import annotations

import math
from collections.abc import Sequence

from .pattern import Patterns


def least_sheets(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int]) -> int:
    """Sheets below which nothing gets: by area, and by blanks no two of which fit on one sheet."""
    rooms = [patterns.room(i) for i in sheets]
    largest = max(a * b for a, b in rooms)
    by_area = math.ceil(sum(b.area * n for b, n in zip(patterns.blanks, wanted, strict=True)) / largest - 1e-9)
    length, width = max(a for a, _ in rooms), max(b for _, b in rooms)
    side, other = max(length, width), min(length, width)
    big = 0
    for blank, n in zip(patterns.blanks, wanted, strict=True):
        low, high = sorted((blank.length, blank.width))
        # Whichever way it lies and goes in at all, it covers the middle of the sheet: no two of these share one.
        along = high > side / 2 and low > other / 2
        upright = high > other or (low > side / 2 and high > other / 2)
        big += n if along and upright else 0
    return max(by_area, big, 1)
