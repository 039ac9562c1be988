"""The piece in hand: does the part come from it, and if not, which size of the part would."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..blank import DevelopmentError, develop
from ..job import Job
from ..measure import INCH
from ..part.size import Size, sizes

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


def fits(job: Job, length: float, width: float) -> bool:
    """True when the blank of a part comes from a piece, either way round.

    Raises:
        DevelopmentError: the part cannot be laid flat.
    """
    a, b = develop(job).size
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
                return changed, develop(changed).size
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
