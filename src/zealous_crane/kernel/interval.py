"""Intervals of the fold line: where a finger may stand, and where it is in the way."""

from __future__ import annotations

import itertools
from bisect import insort
from collections.abc import Callable, Generator, Iterable, Sequence
from typing import NamedTuple

from .obstacle import Contact, Obstacle
from .solid import Solid

FINEST = 0.05
"""Where the shadow of a solid changes along the fold, intervals are cut down to this width, mm."""


class Slab(NamedTuple):
    """An interval of the fold line in which a finger meets the same things.

    Attributes:
        low, high: mm along x.
        blocked: what keeps a finger from standing here at all.
        contact: what stops the swing at a finger here.
    """

    low: float
    high: float
    blocked: Obstacle | None
    contact: Contact | None

    def free(self, degrees: float) -> bool:
        """True when a finger here lets the swing reach ``degrees``."""
        return self.blocked is None and (self.contact is None or self.contact.angle >= degrees)


Asking = Generator[tuple[float, float], bool, tuple[float, float] | None]
"""Asks whether an interval of x is bad, is told, and ends with the least interval that holds all
that is."""


def _asking(solid: Solid) -> Asking:
    low, high = solid.x_range
    if not (yield low, high):
        return None
    if solid.uniform or ((yield low, low + FINEST) and (yield high - FINEST, high)):
        return low, high
    a, b = low, high
    while b - a > FINEST:
        middle = (a + b) / 2
        a, b = (a, middle) if (yield low, middle) else (middle, b)
    first, b = a, high
    while b - a > FINEST:
        middle = (a + b) / 2
        a, b = (middle, b) if (yield middle, high) else (a, middle)
    return first, b


def where(solid: Solid, bad: Callable[[float, float], bool]) -> tuple[float, float] | None:
    """The least interval that holds every x at which a clip of a solid is bad, to within
    ``FINEST``; None when none is.

    ``bad`` of a growing interval turns true once and stays so, hence halving finds both ends.
    """
    return where_each([solid], lambda asked: [bad(low, high) for _, low, high in asked])[0]


def where_each(
    solids: Sequence[Solid], bad: Callable[[list[tuple[int, float, float]]], list[bool]]
) -> list[tuple[float, float] | None]:
    """The same of many solids at once: ``bad`` is asked about (number of the solid, low, high) of
    all that are not through."""
    result: list[tuple[float, float] | None] = [None] * len(solids)
    open_ = {k: _asking(solid) for k, solid in enumerate(solids)}
    asked = [(k, *next(asking)) for k, asking in open_.items()]
    while asked:
        answers = zip([k for k, _, _ in asked], bad(asked), strict=True)
        asked = []
        for k, answer in answers:
            try:
                asked.append((k, *open_[k].send(answer)))
            except StopIteration as end:
                result[k] = end.value
    return result


def laid_over(spans: Sequence[Slab], bed: float) -> tuple[Slab, ...]:
    """Overlapping findings cut into intervals that follow one another over twice the bed."""
    cuts = sorted({-bed, bed, *(x for s in spans for x in s[:2] if -bed < x < bed)})
    slabs: list[Slab] = []
    # From one interval to the next few findings begin and few end; those that go on keep their
    # order.
    coming = sorted(range(len(spans)), key=lambda k: -spans[k].low)
    over: list[int] = []
    for low, high in itertools.pairwise(cuts):
        if high - low <= 1e-6:
            continue
        while coming and spans[coming[-1]].low < high - 1e-7:
            insort(over, coming.pop())
        over = [k for k in over if spans[k].high > low + 1e-7]
        blocked = contact = None
        # In one loop, which takes half the time: it is gone through for every stroke.
        for k in over:
            _, _, bars, stops = spans[k]
            blocked = blocked or bars
            if stops is not None and (contact is None or stops.angle < contact.angle):
                contact = stops
        last = slabs[-1] if slabs else None
        if last and last.blocked == blocked and last.contact == contact:
            slabs[-1] = Slab(last.low, high, blocked, contact)
        else:
            slabs.append(Slab(low, high, blocked, contact))
    return tuple(slabs)


def free_intervals(slabs: Iterable[Slab], degrees: float) -> tuple[tuple[float, float], ...]:
    """Intervals (mm along x) in which fingers may stand for a swing to ``degrees``."""
    free: list[tuple[float, float]] = []
    for slab in slabs:
        if not slab.free(degrees):
            continue
        if free and abs(free[-1][1] - slab.low) < 1e-9:
            free[-1] = (free[-1][0], slab.high)
        else:
            free.append((slab.low, slab.high))
    return tuple(free)
