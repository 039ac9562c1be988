"""The fewest sheets: what is certainly not possible, rips, patterns, and cuts of any depth where
those leave a sheet too many."""

from __future__ import annotations

import itertools
import time
from collections.abc import Iterator, Sequence

import numpy as np

from ..i18n import msg
from ..units.figures import Length
from ..units.length import Units
from .columns import PatternSearch, least_sheets, least_with_offcuts, takes_any
from .guillotine import MOST, Nested, fewest, packings
from .layout import Cutting, lay_out, running_order
from .pattern import Pattern, Patterns
from .piece import CutError, Shear, Stock, WantedBlank

SECONDS = 2.0
"""Most that looking for a better answer takes, once there is one."""

POWERS = (1.0, 1.5, 2.0, 3.0, 0.7)
"""Of a blank's area: what it counts for when an off-cut is filled. Above 1 large pieces are taken
before many small ones."""

NEAT = 4
"""Sheets up to which other ways to cut as many are compared."""

GROUPS = 12
"""Groups of emptiest sheets that are cut anew at most, of each size."""

LARGEST = 2000
"""Blanks in all that are planned."""


def plan_cutting(
    blanks: Sequence[WantedBlank],
    stock: Sequence[Stock],
    shear: Shear,
    units: Units = Units.MM,
    seconds: float = SECONDS,
) -> Cutting:
    """Cut the blanks from as little metal as can be found; off-cuts are used first.

    Args:
        blanks: what is wanted.
        stock: sheets and off-cuts; a sheet with no count can be bought.
        shear: what cuts.
        units: for what is said.
        seconds: most that the search for whole numbers takes.

    Raises:
        CutError: a blank fits no sheet, there is not enough stock, or figures that cannot be.
    """
    blanks, stock = tuple(b for b in blanks if b.count > 0), tuple(stock)
    _checked(blanks, stock, shear, units)
    patterns = Patterns(blanks, stock, shear)
    least = least_with_offcuts(patterns)
    best: Cutting | None = None
    for chosen, left in _from_offcuts(patterns):
        # What certainly comes to no less than what is known is not worked out.
        sheets = [i for i, s in enumerate(stock) if not s.offcut]
        bound = least_sheets(patterns, sheets, left) if any(left) else 0
        if best is not None and (best.bought <= least or bound >= best.bought):
            continue
        result = _from_sheets(patterns, chosen, left, least, seconds)
        if result is not None and (best is None or result.bought < best.bought):
            best = result
    if best is None:
        count = min(sum(left) for _, left in _from_offcuts(patterns))
        raise CutError(
            msg(
                "There is not enough stock: {count} blanks are left over when every sheet is cut.",
                count=count,
            )
        )
    return best


def _from_offcuts(patterns: Patterns) -> Iterator[tuple[list[Pattern], list[int]]]:
    """Ways to use what is left over, and how many of each blank are then still wanted: the tightest
    off-cuts first, each with as much metal as it holds, or with its large pieces; then none of
    them. Each way once."""
    stock, blanks = patterns.stock, patterns.blanks
    areas, seen = np.array([b.area for b in blanks]), set[tuple[int, ...]]()
    every = [i for i in sorted(range(len(stock)), key=lambda i: stock[i].area) if stock[i].offcut]
    for power in (*POWERS, None):
        left = [b.count for b in blanks]
        chosen: list[Pattern] = []
        for number in every if power is not None else ():
            for _ in range(stock[number].count or 1):
                _, pattern = patterns.best(number, areas ** (power or 1.0), left)
                if pattern is not None:
                    chosen.append(pattern)
                    left = [n - pattern.counts.get(i, 0) for i, n in enumerate(left)]
        if tuple(left) not in seen:
            seen.add(tuple(left))
            yield chosen, left


def _from_sheets(
    patterns: Patterns, chosen: list[Pattern], left: list[int], least: int, seconds: float
) -> Cutting | None:
    """The rest from whole sheets; None where there are not enough."""
    blanks, stock, shear = patterns.blanks, patterns.stock, patterns.shear
    sheets = [i for i, s in enumerate(stock) if not s.offcut]
    if not any(left):
        return Cutting(tuple(chosen), blanks, stock, shear, least, True)
    search, bound = (
        PatternSearch(patterns, sheets, left, seconds),
        least_sheets(patterns, sheets, left),
    )
    better: list[Pattern | Nested] = [*search.found()]
    proved = search.alike and 0 < len(better) <= bound
    deep = False
    if len(sheets) == 1 and better and not proved:
        better, deep = _deeper(patterns, sheets, left, better, bound, seconds)
    if not deep and not proved and (not better or len(better) > bound):
        further, proved = search.further()
        if further and (not better or search.cost(further) < search.cost(better) - 1e-6):
            better = [*further]
    if not better:
        return None
    better = _neatest(patterns, sheets, left, better)
    # What is proved of the rest alone says nothing of other ways to use what is left over.
    alone = not takes_any(patterns)
    return Cutting(
        (*chosen, *better), blanks, stock, shear, least, proved and alone, deep and alone
    )


def _neatest(
    patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], found: list[Pattern | Nested]
) -> list[Pattern | Nested]:
    """Among cuttings of as many sheets of one size the one with the fewest settings of the stop,
    then the fewest cuts, then the largest single off-cut: that found, or one filled sheet by sheet,
    ripped the one way or the other."""
    if len(sheets) != 1 or len(found) > NEAT:
        return found
    number, areas = sheets[0], np.array([b.area for b in patterns.blanks])
    tried: list[list[Pattern | Nested]] = [found]
    for ways, power, stacked in itertools.product(((False,), (True,)), POWERS, (False, True)):
        left, filled = list(wanted), list[Pattern | Nested]()
        while any(left) and len(filled) < len(found):
            _, pattern = patterns.best(number, areas**power, left, stacked=stacked, ways=ways)
            if pattern is None:
                break
            filled.append(pattern)
            left = [max(0, n - pattern.counts.get(i, 0)) for i, n in enumerate(left)]
        if not any(left) and len(filled) == len(found) and filled not in tried:
            tried.append(filled)

    def trouble(sheets_cut: list[Pattern | Nested]) -> tuple[int, int, float]:
        laid = lay_out(
            Cutting(tuple(sheets_cut), patterns.blanks, patterns.stock, patterns.shear, 0, False)
        )
        order = running_order(laid)
        largest = max((o.length * o.width for sheet in laid for o in sheet.offcuts), default=0.0)
        return len(order), sum(one.times for one in order), -largest

    return min(tried, key=trouble)


def _deeper(
    patterns: Patterns,
    sheets: Sequence[int],
    wanted: Sequence[int],
    found: Sequence[Pattern | Nested],
    least: int,
    seconds: float,
) -> tuple[list[Pattern | Nested], bool]:
    """Fewer sheets by cuts of any depth, where the metal would allow fewer; and whether every way
    was looked at."""
    best: list[Pattern | Nested] = list(found)
    number, shear = sheets[0], patterns.shear
    limit = patterns.stock[number].count
    if len(best) <= least:
        return best, False
    pieces = [
        (i, blank)
        for i, (blank, n) in enumerate(zip(patterns.blanks, wanted, strict=True))
        for _ in range(n)
    ]
    room = patterns.room(number)
    if len(pieces) <= MOST:
        exact = fewest(pieces, number, room, shear.kerf, shear.length)
        if exact is None:
            return best, False
        fewer, proved = exact
        return (list(fewer), proved) if len(fewer) < len(best) else (best, proved)
    until = time.monotonic() + seconds
    for packed in packings(pieces, number, room, shear.kerf, shear.length):
        if len(packed) < len(best) and (limit is None or len(packed) <= limit):
            best = list(packed)
        if len(best) <= least:
            return best, False
        if time.monotonic() > until:
            break
    return _repacked(patterns, number, best, least), False


def _repacked(
    patterns: Patterns, number: int, best: list[Pattern | Nested], least: int
) -> list[Pattern | Nested]:
    """The emptiest sheets cut anew, two and three at a time, as long as that saves one."""
    room, shear = patterns.room(number), patterns.shear
    again = True
    while again and len(best) > least:
        again = False
        ranked = sorted(
            best, key=lambda p: sum(patterns.blanks[i].area * n for i, n in p.counts.items())
        )
        for count in (2, 3):
            for group in itertools.islice(itertools.combinations(ranked[:6], count), GROUPS):
                pieces = [
                    (i, patterns.blanks[i])
                    for p in group
                    for i, n in p.counts.items()
                    for _ in range(n)
                ]
                if (
                    len(pieces) > MOST
                    or sum(b.area for _, b in pieces) > (count - 1) * room[0] * room[1]
                ):
                    continue
                fewer = fewest(pieces, number, room, shear.kerf, shear.length)
                if fewer is not None and len(fewer[0]) < count:
                    kept = list(best)
                    for p in group:
                        kept.remove(p)
                    best, again = [*kept, *fewer[0]], True
                    break
            if again:
                break
    return best


def _checked(
    blanks: tuple[WantedBlank, ...], stock: tuple[Stock, ...], shear: Shear, units: Units
) -> None:
    if shear.kerf < 0 or shear.squaring < 0:
        raise CutError(msg("Kerf and squaring cut cannot be less than nothing."))
    if not stock:
        raise CutError(msg("There is no stock: say which sheets there are."))
    if sum(b.count for b in blanks) > LARGEST:
        raise CutError(
            msg(
                "{count} blanks are more than are planned at once ({most}); plan them in lots.",
                count=sum(b.count for b in blanks),
                most=LARGEST,
            )
        )
    patterns = Patterns(blanks, stock, shear)
    for i, blank in enumerate(blanks):
        if min(blank.length, blank.width) < shear.least_strip - 1e-9:
            raise CutError(
                msg(
                    "{name} is {width} wide and the hold-down needs {least}: cut it with snips or "
                    "a saw.",
                    name=blank.name,
                    width=Length(min(blank.length, blank.width), units),
                    least=Length(shear.least_strip, units),
                )
            )
        one = np.zeros(len(blanks))
        one[i] = 1.0
        wanted = [1 if k == i else 0 for k in range(len(blanks))]
        if not any(patterns.best(k, one, wanted)[1] for k in range(len(stock))):
            largest = max(stock, key=lambda s: s.area)
            raise CutError(
                msg(
                    "{name}, {length} × {width}, comes from none of the sheets: the largest is "
                    "{sheet_length} × {sheet_width}, the shear"
                    " cuts {cut}.",
                    name=blank.name,
                    length=Length(blank.length, units),
                    width=Length(blank.width, units),
                    sheet_length=Length(largest.length, units),
                    sheet_width=Length(largest.width, units),
                    cut=Length(shear.length, units),
                )
            )
