"""The fewest sheets: patterns worth having by column generation, whole numbers of them by branch and bound, and what is certainly
not possible.

Gilmore and Gomory's method (1961, 1965): the linear programme over patterns is solved with a few of them, its prices say which further
pattern would help most, until none does.
"""

from __future__ import annotations

import itertools
import math
import random
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..measure import Units, show_length
from ..measure.words import tr
from .nested import MOST, Nested, fewest, packings
from .pattern import Pattern, Patterns
from .piece import Blank, CutError, Shear, Stock
from .ripped import ripped

Array = NDArray[np.float64]

ROUNDS = 40
"""Rounds of asking for a better pattern."""

GREEDY = 12
"""Greedy plans tried, each with prices of its own: they give a first answer and patterns the linear programme would not ask for."""

SECONDS = 2.0
"""Most that looking for a better answer takes, once there is one."""

GROUPS = 12
"""Groups of emptiest sheets that are cut anew at most, of each size."""

LARGEST = 2000
"""Blanks in all that are planned."""


@dataclass(frozen=True)
class Cutting:
    """What is cut from what.

    Attributes:
        sheets: how every sheet is cut, off-cuts first.
        blanks, stock, shear: what was asked.
        least: sheets below which no cutting whatever gets, off-cuts not counted.
        proved: no cutting by rips and crosscuts needs less metal.
        deep: every cutting from edge to edge, of any depth, was looked at.
    """

    sheets: tuple[Pattern | Nested, ...]
    blanks: tuple[Blank, ...]
    stock: tuple[Stock, ...]
    shear: Shear
    least: int
    proved: bool
    deep: bool = False

    @property
    def bought(self) -> int:
        """Whole sheets that are cut."""
        return sum(not self.stock[p.stock].offcut for p in self.sheets)

    @property
    def yielded(self) -> float:
        """Share of the metal cut up that ends in blanks."""
        used = sum(self.stock[p.stock].area for p in self.sheets)
        wanted = sum(b.area * b.count for b in self.blanks)
        return wanted / used if used else 1.0

    @property
    def at_most(self) -> float:
        """Share of the metal that can end in blanks at most: with as few sheets as any cutting could do with, off-cuts as they are used."""
        bought = [self.stock[p.stock].area for p in self.sheets if not self.stock[p.stock].offcut]
        offcuts = sum(self.stock[p.stock].area for p in self.sheets if self.stock[p.stock].offcut)
        fewest = self.bought if self.deep else min(self.least, self.bought)
        used = offcuts + sum(sorted(bought)[:fewest])
        wanted = sum(b.area * b.count for b in self.blanks)
        return min(1.0, max(self.yielded, wanted / used if used else 1.0))

    def sentence(self) -> str:
        """How many sheets, whether fewer are possible, and what comes of the metal."""
        whole, pieces = self.bought, len(self.sheets) - self.bought
        said = tr("{whole} sheets").format(whole=whole) if whole != 1 else tr("1 sheet")
        if pieces:
            said += tr(" and {pieces} off-cuts").format(pieces=pieces) if pieces > 1 else tr(" and 1 off-cut")
        if whole <= self.least:
            said += tr("; fewer is impossible")
        elif self.deep:
            said += tr("; fewer is not possible with cuts from edge to edge")
        elif self.proved:
            said += tr("; fewer is not possible with rips and crosscuts")
        else:
            said += tr("; {least} at the very least").format(least=self.least)
        share, most = 100 * self.yielded, 100 * self.at_most
        if most - share < 0.5:
            return tr("{said}; {share:.0f} % of the metal is used, and more is not possible.").format(said=said, share=share)
        return tr("{said}; {share:.0f} % of the metal is used, at most {most:.0f} % can be.").format(
            said=said, share=share, most=most
        )


def plan_cutting(
    blanks: Sequence[Blank], stock: Sequence[Stock], shear: Shear, units: Units = Units.MM, seconds: float = SECONDS
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
    # What is left over is used where a blank fits on it, the tightest first.
    left = [b.count for b in blanks]
    chosen: list[Pattern] = []
    for number in sorted((i for i, s in enumerate(stock) if s.offcut), key=lambda i: stock[i].area):
        for _ in range(stock[number].count or 1):
            areas = np.array([b.area for b in blanks])
            _, pattern = patterns.best(number, areas, left)
            if pattern is not None:
                chosen.append(pattern)
                left = [n - pattern.counts.get(i, 0) for i, n in enumerate(left)]
    sheets = [i for i, s in enumerate(stock) if not s.offcut]
    if not any(left):
        return Cutting(tuple(chosen), blanks, stock, shear, 0, True)
    search, least = _Search(patterns, sheets, left, seconds), _least(patterns, sheets, left)
    better: list[Pattern | Nested] = [*search.found()]
    proved = search.alike and 0 < len(better) <= least
    deep = False
    if len(sheets) == 1 and better and not proved:
        better, deep = _deeper(patterns, sheets, left, better, least, seconds)
    if not deep and not proved and (not better or len(better) > least):
        further, proved = search.further()
        if further and (not better or search.cost(further) < search.cost(better) - 1e-6):
            better = [*further]
    if not better:
        raise CutError(
            tr("There is not enough stock: {count} blanks are left over when every sheet is cut.").format(count=sum(left))
        )
    return Cutting((*chosen, *better), blanks, stock, shear, least, proved, deep)


def _deeper(
    patterns: Patterns,
    sheets: Sequence[int],
    wanted: Sequence[int],
    found: Sequence[Pattern | Nested],
    least: int,
    seconds: float,
) -> tuple[list[Pattern | Nested], bool]:
    """Fewer sheets by cuts of any depth, where the metal would allow fewer; and whether every way was looked at."""
    best: list[Pattern | Nested] = list(found)
    number, shear = sheets[0], patterns.shear
    limit = patterns.stock[number].count
    if len(best) <= least:
        return best, False
    pieces = [(i, blank) for i, (blank, n) in enumerate(zip(patterns.blanks, wanted, strict=True)) for _ in range(n)]
    room = patterns.room(number)
    if len(pieces) <= MOST:
        exact = fewest(pieces, number, room, shear.kerf, shear.length)
        return (list(exact), True) if exact is not None and len(exact) < len(best) else (best, exact is not None)
    until = time.monotonic() + seconds
    for packed in packings(pieces, number, room, shear.kerf, shear.length):
        if len(packed) < len(best) and (limit is None or len(packed) <= limit):
            best = list(packed)
        if len(best) <= least:
            return best, False
        if time.monotonic() > until:
            break
    return _repacked(patterns, number, best, least), False


def _repacked(patterns: Patterns, number: int, best: list[Pattern | Nested], least: int) -> list[Pattern | Nested]:
    """The emptiest sheets cut anew, two and three at a time, as long as that saves one."""
    room, shear = patterns.room(number), patterns.shear
    again = True
    while again and len(best) > least:
        again = False
        ranked = sorted(best, key=lambda p: sum(patterns.blanks[i].area * n for i, n in p.counts.items()))
        for count in (2, 3):
            for group in itertools.islice(itertools.combinations(ranked[:6], count), GROUPS):
                pieces = [(i, patterns.blanks[i]) for p in group for i, n in p.counts.items() for _ in range(n)]
                if len(pieces) > MOST or sum(b.area for _, b in pieces) > (count - 1) * room[0] * room[1]:
                    continue
                fewer = fewest(pieces, number, room, shear.kerf, shear.length)
                if fewer is not None and len(fewer) < count:
                    kept = list(best)
                    for p in group:
                        kept.remove(p)
                    best, again = [*kept, *fewer], True
                    break
            if again:
                break
    return best


def _checked(blanks: tuple[Blank, ...], stock: tuple[Stock, ...], shear: Shear, units: Units) -> None:
    if shear.kerf < 0 or shear.squaring < 0:
        raise CutError(tr("Kerf and squaring cut cannot be less than nothing."))
    if not stock:
        raise CutError(tr("There is no stock: say which sheets there are."))
    if sum(b.count for b in blanks) > LARGEST:
        raise CutError(
            tr("{count} blanks are more than are planned at once ({most}); plan them in lots.").format(
                count=sum(b.count for b in blanks), most=LARGEST
            )
        )
    patterns = Patterns(blanks, stock, shear)
    for i, blank in enumerate(blanks):
        if min(blank.length, blank.width) < shear.least_strip - 1e-9:
            raise CutError(
                tr("{name} is {width} wide and the hold-down needs {least}: cut it with snips or a saw.").format(
                    name=blank.name, width=show_length(min(blank.length, blank.width), units), least=show_length(shear.least_strip, units)
                )
            )  # fmt: skip
        one = np.zeros(len(blanks))
        one[i] = 1.0
        wanted = [1 if k == i else 0 for k in range(len(blanks))]
        if not any(patterns.best(k, one, wanted)[1] for k in range(len(stock))):
            largest = max(stock, key=lambda s: s.area)
            raise CutError(
                tr(
                    "{name}, {length} × {width}, comes from none of the sheets: the largest is {sheet_length} × {sheet_width}, the shear"
                    " cuts {cut}."
                ).format(
                    name=blank.name, length=show_length(blank.length, units), width=show_length(blank.width, units),
                    sheet_length=show_length(largest.length, units), sheet_width=show_length(largest.width, units),
                    cut=show_length(shear.length, units),
                )
            )  # fmt: skip


def _least(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int]) -> int:
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


def _greedy(
    patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], prices: Array, limits: Sequence[int | None]
) -> list[Pattern] | None:
    """Sheet after sheet, each with what is worth most of what is left; None when the stock does not reach."""
    left, used, found = list(wanted), [0] * len(sheets), []
    while any(left):
        best: tuple[float, Pattern | None, int] = (0.0, None, 0)
        for k, number in enumerate(sheets):
            limit = limits[k]
            if limit is not None and used[k] >= limit:
                continue
            worth, pattern = patterns.best(number, prices, left)
            share = worth / patterns.stock[number].area
            if pattern is not None and share > best[0]:
                best = share, pattern, k
        if best[1] is None:
            return None
        # The same again as often as it is still of full use.
        again = min(left[i] // n for i, n in best[1].counts.items())
        limit = limits[best[2]]
        again = max(1, again if limit is None else min(again, limit - used[best[2]]))
        found += [best[1]] * again
        used[best[2]] += again
        left = [n - again * best[1].counts.get(i, 0) for i, n in enumerate(left)]
    return found


class _Search:
    """Looks for the whole sheets that give what is wanted.

    Args:
        patterns: ways to cut a sheet.
        sheets: numbers of those that may be cut.
        wanted: how many of each blank.
        seconds: most that looking for better takes.
    """

    def __init__(self, patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], seconds: float) -> None:
        self.patterns, self.sheets, self.wanted, self.seconds = patterns, sheets, wanted, seconds
        self.costs = np.array([patterns.stock[i].area for i in sheets])
        self.limits = [patterns.stock[i].count for i in sheets]
        self.areas = np.array([b.area for b in patterns.blanks])
        self.best: list[Pattern] | None = None
        self.columns: dict[Pattern, None] = {}
        self.alike = len(set(self.costs.tolist())) == 1

    def cost(self, found: Sequence[Pattern | Nested]) -> float:
        """Metal cut up, mm²."""
        return float(sum(self.patterns.stock[p.stock].area for p in found))

    def _worse(self, one: list[Pattern]) -> tuple[float, int]:
        """What speaks against a plan: metal, then how often the gauge is set."""
        return round(self.cost(one), 3), sum(_settings(p) for p in dict.fromkeys(one))

    def _take(self, found: list[Pattern] | None) -> None:
        if found is not None and (self.best is None or self._worse(found) < self._worse(self.best)):
            self.best = found

    def _tried(self, prices: Array, of: Patterns | None = None) -> None:
        found = _greedy(of or self.patterns, self.sheets, self.wanted, prices, self.limits)
        for pattern in found or ():
            self.columns[pattern] = None
        self._take(found)

    def found(self) -> list[Pattern]:
        """The least metal found with strips as high as one piece; nothing where the stock does not reach."""
        self._begin()
        if not self.columns:
            return []
        if not self._enough():
            self._looked(stacked=False)
        return _trimmed(self.best, self.wanted) if self.best is not None else []

    def further(self) -> tuple[list[Pattern], bool]:
        """The same with strips as high as several pieces, several times the work; and whether no rips and crosscuts need less metal."""
        if not self.columns:
            return [], False
        prices, value, left = self._looked(stacked=True)
        if self.best is None:
            return [], False
        if len(self.sheets) == 1 and not self._enough():
            self._take(ripped(self.patterns, self.sheets[0], self.wanted, list(self.columns), len(self.best) - 1, left))
        # All sheets alike: the bound goes up to the next whole sheet.
        one, bound = float(self.costs.min()), self._bound(prices, value)
        up = math.ceil(bound / one - 1e-6) * one if self.alike else bound
        return _trimmed(self.best, self.wanted), self.cost(self.best) <= up + 1e-6

    def _enough(self) -> bool:
        """True where the metal itself allows no sheet less."""
        least = _least(self.patterns, self.sheets, self.wanted)
        return self.best is not None and self.alike and len(self.best) <= least

    def _looked(self, *, stacked: bool) -> tuple[Array, float, float]:
        """Patterns by price, in whole numbers: the last prices, what the metal costs at them, and seconds that are left."""
        until, rng = time.monotonic() + self.seconds, random.Random(1)
        prices, value = self._generated(until, stacked=stacked)
        for _ in range(GREEDY):
            if self.best is not None and time.monotonic() > until:
                break
            shaken = np.array([rng.uniform(0.7, 1.4) for _ in self.areas])
            self._tried(np.maximum(prices, 0.02 * self.areas) * shaken)
        left = max(0.3, until - time.monotonic())
        self._take(_in_whole_numbers(list(self.columns), self.sheets, self.wanted, self.costs, self.limits, left))
        return prices, value, max(0.3, until - time.monotonic())

    def _begin(self) -> None:
        """First answers, sheet after sheet by what is worth most at several prices; all lying the same way takes fewer settings."""
        for power in (1.0, 1.05, 1.15, 1.3):
            self._tried(self.areas**power)
        straight = tuple(replace(blank, turns=False) for blank in self.patterns.blanks)
        self._tried(self.areas, Patterns(straight, self.patterns.stock, self.patterns.shear))
        if not self.columns:
            # Greedily there is not enough: what there is is laid out as far as it goes, so that whole numbers may do better.
            for prices in (self.areas, np.ones(len(self.areas))):
                for number in self.sheets:
                    _, pattern = self.patterns.best(number, prices, self.wanted)
                    if pattern is not None:
                        self.columns[pattern] = None

    def _generated(self, until: float, *, stacked: bool) -> tuple[Array, float]:
        """Columns that help, until none does or time is up: the last prices of the blanks, and what the metal costs at them."""
        count, prices, value = len(self.areas), self.areas, 0.0
        for _ in range(ROUNDS):
            if self.best is not None and value and time.monotonic() > until:
                break
            found, cost = _prices(list(self.columns), self.sheets, self.wanted, self.costs, self.limits)
            if found is None:
                break
            prices, value, fresh = found[:count], cost, False
            for k, number in enumerate(self.sheets):
                worth, pattern = self.patterns.best(number, prices, self.wanted, stacked=stacked)
                price = float(self.costs[k]) - (float(found[count + k]) if self.limits[k] is not None else 0.0)
                if pattern is not None and worth > price * (1 + 1e-6) and pattern not in self.columns:
                    self.columns[pattern] = None
                    fresh = True
            if not fresh:
                break
        return prices, value

    def _bound(self, prices: Array, value: float) -> float:
        """Farley's bound on the metal from below: what it costs at these prices, shrunk until no pattern is worth more than its sheet."""
        if any(limit is not None for limit in self.limits):
            return 0.0
        above = [self.patterns.most_worth(number, prices, self.wanted) for number in self.sheets]
        return value * min([1.0, *(float(c) / a for c, a in zip(self.costs, above, strict=True) if a > 0)])


def _settings(pattern: Pattern) -> int:
    """How often the gauge is set for a sheet: each height ripped, each length across, each trim."""
    rips = {round(s.height, 6) for s in pattern.strips}
    across = {(round(i.along, 6), round(s.height, 6)) for s in pattern.strips for i in s.items}
    trims = {
        (round(i.across, 6), round(i.along, 6))
        for s in pattern.strips
        for i in s.items
        if abs(i.across * i.stacked - s.height) > 1e-6
    }
    return len(rips) + len(across) + len(trims)


def _matrix(columns: Sequence[Pattern], count: int) -> Array:
    made = np.zeros((count, len(columns)))
    for j, pattern in enumerate(columns):
        for i, n in pattern.counts.items():
            made[i, j] = n
    return made


def _prices(
    columns: Sequence[Pattern], sheets: Sequence[int], wanted: Sequence[int], costs: Array, limits: Sequence[int | None]
) -> tuple[Array | None, float]:
    """Worth of one more of each blank, then of one more of each sheet there is a number of; and what the sheets cost at least."""
    from scipy.optimize import linprog  # loaded when something is cut: the window opens sooner

    place = {number: k for k, number in enumerate(sheets)}
    made = _matrix(columns, len(wanted))
    cost = np.array([costs[place[p.stock]] for p in columns])
    of_stock = np.array([[1.0 if place[p.stock] == k else 0.0 for p in columns] for k in range(len(sheets))])
    counted = [k for k, limit in enumerate(limits) if limit is not None]
    a = np.vstack([-made, of_stock[counted]]) if counted else -made
    b = np.concatenate([-np.array(wanted, dtype=float), np.array([float(limits[k] or 0) for k in counted])])
    found = linprog(cost, A_ub=a, b_ub=b, method="highs")
    if not found.success:
        return None, 0.0
    prices = np.zeros(len(wanted) + len(sheets))
    marginal = found.ineqlin.marginals
    prices[: len(wanted)] = -marginal[: len(wanted)]
    for row, k in enumerate(counted, start=len(wanted)):
        prices[len(wanted) + k] = marginal[row]
    return prices, float(found.fun)


def _in_whole_numbers(
    columns: Sequence[Pattern],
    sheets: Sequence[int],
    wanted: Sequence[int],
    costs: Array,
    limits: Sequence[int | None],
    seconds: float,
) -> list[Pattern] | None:
    """The cheapest whole numbers of the patterns at hand."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    place = {number: k for k, number in enumerate(sheets)}
    cost = np.array([costs[place[p.stock]] for p in columns])
    rules = [LinearConstraint(_matrix(columns, len(wanted)), lb=np.array(wanted, dtype=float))]
    for k, limit in enumerate(limits):
        if limit is not None:
            rules.append(LinearConstraint(np.array([[1.0 if place[p.stock] == k else 0.0 for p in columns]]), ub=float(limit)))
    found = milp(
        cost, constraints=rules, integrality=np.ones(len(columns)), bounds=Bounds(0, np.inf),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )  # fmt: skip
    if found.x is None:
        return None
    return [p for p, n in zip(columns, np.round(found.x).astype(int), strict=True) for _ in range(n)]


def _trimmed(found: list[Pattern], wanted: Sequence[int]) -> list[Pattern]:
    """The same sheets, without pieces nobody asked for."""
    left, kept = list(wanted), []
    for pattern in found:
        strips = []
        for strip in pattern.strips:
            items = []
            for item in strip.items:
                n = min(item.stacked, left[item.blank])
                if n:
                    left[item.blank] -= n
                    items.append(item if n == item.stacked else type(item)(item.blank, item.along, item.across, n, item.turned))
            if items:
                strips.append(type(strip)(strip.height, tuple(items)))
        if strips:
            kept.append(Pattern(pattern.stock, pattern.upright, tuple(strips)))
    return kept
