"""The piece in hand: does the part come from it, and if not, which size of the part would."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from ..blank import DevelopmentError, develop
from ..job import Job
from ..measure import INCH, Units, parse_length
from ..measure.words import tr
from ..part.size import Size, sizes
from .piece import Blank, CutError, Shear, Stock

LARGEST_COUNT = 500
"""Pieces that are counted at most."""

LARGEST = 4.0
"""A size is looked for up to so many times what it is."""


@dataclass(frozen=True)
class Reach:
    """The greatest value of one size at which the part still comes from the piece.

    Attributes:
        size: which size, and what it is now.
        value: mm; None when no value does.
        blank: length and width of the blank then, mm.
        job: the job with it.
    """

    size: Size
    value: float | None
    blank: tuple[float, float] | None
    job: Job | None


@dataclass(frozen=True)
class InHand:
    """What a piece gives.

    Attributes:
        blank: length and width of the part's blank, mm.
        count: how many come from it.
        reaches: how large each size may be.
        last: what of the part comes from the largest piece that is left, one size made smaller; None where nothing does.
    """

    blank: tuple[float, float]
    count: int
    reaches: tuple[Reach, ...]
    last: Reach | None = None


def read_piece(text: str, units: Units) -> tuple[float, float]:
    """``29x29``, ``8 1/2 × 3``, ``640 mm x 400 mm`` as length and width, mm.

    Raises:
        CutError: it is not two lengths.
    """
    parts = text.replace("×", "x").lower().split("x")
    try:
        if len(parts) != 2:
            raise ValueError
        length, width = (parse_length(p.strip(), units) for p in parts)
    except ValueError:
        raise CutError(tr("{text!r}: write the piece as length x width, such as 29x29.").format(text=text)) from None
    if length <= 0 or width <= 0:
        raise CutError(tr("{text!r}: a piece is longer and wider than nothing.").format(text=text))
    return length, width


def in_hand(job: Job, length: float, width: float, shear: Shear) -> InHand:
    """What a piece gives: how many of a part, and how large its sizes may be.

    Args:
        job: the part.
        length, width: of the piece, mm.
        shear: what cuts.

    Raises:
        DevelopmentError: the part cannot be laid flat.
    """
    size = develop(job).sheared
    count = 0
    if _in(*size, length, width):
        from .layout import lay_out
        from .pattern import Patterns
        from .solve import Cutting

        most = min(LARGEST_COUNT, int(length * width / (size[0] * size[1])) + 1)
        piece = Patterns(
            [Blank(job.name, *size, most, turns=job.grain is None)], [Stock("piece", length, width, 1, True)], shear
        )
        _, pattern = piece.best(0, np.ones(1), [most])
        count = max(1, 0 if pattern is None else pattern.counts.get(0, 0))
        if pattern is not None:
            sheets = lay_out(Cutting((pattern,), tuple(piece.blanks), tuple(piece.stock), shear, 1, True))
            left = max((o for s in sheets for o in s.offcuts), key=lambda o: o.length * o.width, default=None)
            last = None if left is None else _smaller(reaches(job, left.length, left.width))
            return InHand(size, count, reaches(job, length, width), last)
    return InHand(size, count, reaches(job, length, width))


def _smaller(found: tuple[Reach, ...]) -> Reach | None:
    """The one size that has to give way least, of those that may."""
    less = [r for r in found if r.value is not None and 0 < r.value < r.size.value]
    return max(less, key=lambda r: (r.value or 0.0) / r.size.value, default=None)


def fits(job: Job, length: float, width: float) -> bool:
    """True when the blank of a part comes from a piece, either way round.

    Raises:
        DevelopmentError: the part cannot be laid flat.
    """
    a, b = develop(job).sheared
    return _in(a, b, length, width)


def _in(a: float, b: float, length: float, width: float) -> bool:
    (low, high), (room_low, room_high) = sorted((a, b)), sorted((length, width))
    return low <= room_low + 1e-6 and high <= room_high + 1e-6


def reaches(job: Job, length: float, width: float) -> tuple[Reach, ...]:
    """For every size of a part, the greatest at which it still comes from a piece, through the development, to the ticks of a rule.

    Args:
        job: the part.
        length, width: of the piece in hand, mm.
    """
    tick = INCH / 16 if job.units.is_inch else 0.5
    found: list[Reach] = []
    for size in sizes(job.part):

        def made(value: float, size: Size = size) -> tuple[Job, tuple[float, float]] | None:
            try:
                changed = job.model_copy(update={"part": size.changed(job.part, value)})
                return changed, develop(changed).sheared
            except (ValueError, DevelopmentError):
                return None

        best = _greatest(made, size.value, tick, length, width)
        changed = made(best) if best is not None else None
        found.append(Reach(size, best, changed[1] if changed else None, changed[0] if changed else None))
    return tuple(found)


def _greatest(
    made: Callable[[float], tuple[Job, tuple[float, float]] | None], now: float, tick: float, length: float, width: float
) -> float | None:
    """The greatest value in ticks at which it still fits; None when none does, or when the size does not matter."""

    def goes(ticks: int) -> bool:
        found = made(ticks * tick)
        return found is not None and _in(*found[1], length, width)

    low = max(1, int(now / tick + 1e-6))
    high = max(low + 1, int(LARGEST * now / tick))
    if goes(low):
        if goes(high):
            return None  # it may be as large as one likes
    else:
        high, step = low, max(1, low // 2)
        while step and not goes(max(1, low - step)):
            if low - step <= 1:
                return None
            low, step = low - step, max(1, step // 2)
        low = max(1, low - step)
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if goes(middle) else (low, middle)
    return low * tick
