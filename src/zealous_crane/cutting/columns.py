"""What no cutting whatever gets below."""

from __future__ import annotations

import math
import random
import time
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from .._typing import Array
from .guillotine import Nested
from .pattern import Pattern, Patterns, RippedStrip


def least_sheets(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int]) -> int:
    """Sheets below which nothing gets: by area, and by blanks no two of which fit on one sheet.

    Args:
        patterns: ways to cut a sheet.
        sheets: the sheets there are.
        wanted: how many of each blank.
    """
    return max(
        _by_area(patterns, sheets, wanted, 0.0), sum(wanted[k] for k in _alone(patterns, sheets)), 1
    )


def least_with_offcuts(patterns: Patterns) -> int:
    """Whole sheets below which nothing gets, whatever is cut from the off-cuts: by the metal they
    do not hold, by the blanks that come from none of them, and by blanks no two of which fit on one
    sheet."""
    stock, blanks = patterns.stock, patterns.blanks
    sheets = [i for i, s in enumerate(stock) if not s.offcut]
    if not sheets:
        return 0
    wanted, every = [b.count for b in blanks], range(len(blanks))
    offcuts = [
        (i, s.count or 1)
        for i, s in enumerate(stock)
        if s.offcut and any(_fits(patterns, i, k) for k in every)
    ]
    held = sum(count * _room(patterns, i) for i, count in offcuts)
    beyond = [
        0 if any(_fits(patterns, i, k) for i, _ in offcuts) else n for k, n in enumerate(wanted)
    ]
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
    return any(
        _fits(patterns, i, k)
        for i, s in enumerate(patterns.stock)
        if s.offcut
        for k in range(len(patterns.blanks))
    )


def _room(patterns: Patterns, number: int) -> float:
    """Metal (mm²) of a piece of stock once it is squared."""
    length, width = patterns.room(number)
    return length * width


def _by_area(patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], held: float) -> int:
    """Sheets for what is wanted beyond the metal (mm²) that is held elsewhere."""
    total = sum(b.area * n for b, n in zip(patterns.blanks, wanted, strict=True))
    return math.ceil((total - held) / max(_room(patterns, i) for i in sheets) - 1e-9)


def _alone(patterns: Patterns, sheets: Sequence[int]) -> list[int]:
    """Numbers of the blanks that cover the middle of every sheet, whichever way they lie and go in
    at all: no two of these share one."""
    rooms = [patterns.room(i) for i in sheets]
    length, width = max(a for a, _ in rooms), max(b for _, b in rooms)
    side, other = max(length, width), min(length, width)
    result = []
    for number, blank in enumerate(patterns.blanks):
        low, high = sorted((blank.length, blank.width))
        along = high > side / 2 and low > other / 2
        upright = high > other or (low > side / 2 and high > other / 2)
        if along and upright:
            result.append(number)
    return result


def _fits(patterns: Patterns, stock: int, blank: int) -> bool:
    """True where a blank comes from a piece of stock by its size, either way it may lie."""
    length, width = patterns.room(stock)
    one = patterns.blanks[blank]
    ways = [(one.length, one.width)] + ([(one.width, one.length)] if one.turns else [])
    return any(a <= length + 1e-6 and b <= width + 1e-6 for a, b in ways)


SHARING_ROUNDS = 25
"""Rounds of asking for better strips."""

MOST_SHEETS = 6
"""Sheets among which strips are shared out at most; beyond, the question is too large to be worth
the time."""

MOST_STRIPS = 160
"""Different strips that are shared out at most."""


def ripped(
    patterns: Patterns,
    number: int,
    wanted: Sequence[int],
    known: Sequence[Pattern],
    sheets: int,
    seconds: float,
) -> list[Pattern] | None:
    """What is wanted on so many sheets of one size, all ripped the same way; None where that was
    not found.

    Args:
        patterns: ways to cut a sheet.
        number: of the sheet.
        wanted: how many of each blank.
        known: patterns found so far; their strips are used too.
        sheets: on how many.
        seconds: most that whole numbers take, of each way to rip.
    """
    limit = patterns.stock[number].count
    if not 1 <= sheets <= MOST_SHEETS or (limit is not None and sheets > limit):
        return None
    length, width = patterns.room(number)
    for upright in (False, True):
        run, depth = (width, length) if upright else (length, width)
        if run > patterns.shear.length + 1e-6:
            continue
        strips = dict.fromkeys(
            s for p in known if p.stock == number and p.upright is upright for s in p.strips
        )
        _asked_for(patterns, run, depth, wanted, upright, strips)
        if not strips or len(strips) > MOST_STRIPS:
            continue
        shared = _shared_out(list(strips), depth, patterns.shear.kerf, wanted, sheets, seconds)
        if shared is not None:
            return [Pattern(number, upright, on) for on in shared if on]
    return None


def _counts(strips: Sequence[RippedStrip], kinds: int) -> Array:
    """(kinds, strips) how many of each blank a strip gives."""
    made = np.zeros((kinds, len(strips)))
    for j, strip in enumerate(strips):
        for item in strip.items:
            made[item.blank, j] += item.stacked
    return made


def _asked_for(
    patterns: Patterns,
    run: float,
    depth: float,
    wanted: Sequence[int],
    upright: bool,
    strips: dict[RippedStrip, None],
) -> None:
    """Strips that cost the least metal for what they give, added until no price asks for
    another."""
    from scipy.optimize import linprog  # loaded when something is cut: the window opens sooner

    kerf, prices = patterns.shear.kerf, np.array([b.area for b in patterns.blanks])
    for _ in range(SHARING_ROUNDS):
        before = len(strips)
        for worth, strip in patterns.strips(run, depth, prices, wanted, upright, stacked=True):
            if before == 0 or worth > (strip.height + kerf) * (1 + 1e-6):
                strips[strip] = None
        if len(strips) == before or len(strips) > MOST_STRIPS:
            return
        cost = np.array([s.height + kerf for s in strips])
        solution = linprog(
            cost,
            A_ub=-_counts(list(strips), len(wanted)),
            b_ub=-np.array(wanted, dtype=float),
            method="highs",
        )
        if not solution.success:
            return
        prices = -solution.ineqlin.marginals


def _shared_out(
    strips: list[RippedStrip],
    depth: float,
    kerf: float,
    wanted: Sequence[int],
    sheets: int,
    seconds: float,
) -> list[tuple[RippedStrip, ...]] | None:
    """The strips of every sheet, highest first; None where the strips at hand do not go."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    count = len(strips)
    heights = np.array([s.height + kerf for s in strips])
    rules = [
        LinearConstraint(
            np.tile(_counts(strips, len(wanted)), sheets), lb=np.array(wanted, dtype=float)
        )
    ]
    on_each = np.zeros((sheets, sheets * count))
    for k in range(sheets):
        on_each[k, k * count : (k + 1) * count] = heights
    rules.append(LinearConstraint(on_each, ub=depth + kerf + 1e-6))
    solution = milp(
        np.tile(heights, sheets),
        constraints=rules,
        integrality=np.ones(sheets * count, dtype=int),
        bounds=Bounds(0, np.inf),
        options={"time_limit": seconds, "mip_rel_gap": 0.5},
    )
    if solution.x is None:
        return None
    taken = np.round(solution.x).astype(int).reshape(sheets, count)
    ranked = sorted(range(count), key=lambda j: -strips[j].height)
    return [tuple(strips[j] for j in ranked for _ in range(row[j])) for row in taken]


ROUNDS = 40
"""Rounds of asking for a better pattern."""

GREEDY = 12
"""Greedy plans tried, each with prices of its own: they give a first answer and patterns the linear
programme would not ask for."""


def _greedy(
    patterns: Patterns,
    sheets: Sequence[int],
    wanted: Sequence[int],
    prices: Array,
    limits: Sequence[int | None],
) -> list[Pattern] | None:
    """Sheet after sheet, each with what is worth most of what is left; None when the stock does not
    reach."""
    left, used, result = list(wanted), [0] * len(sheets), []
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
        result += [best[1]] * again
        used[best[2]] += again
        left = [n - again * best[1].counts.get(i, 0) for i, n in enumerate(left)]
    return result


class PatternSearch:
    """Looks for the whole sheets that give what is wanted.

    Args:
        patterns: ways to cut a sheet.
        sheets: numbers of those that may be cut.
        wanted: how many of each blank.
        seconds: most that looking for better takes.
    """

    def __init__(
        self, patterns: Patterns, sheets: Sequence[int], wanted: Sequence[int], seconds: float
    ) -> None:
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
        result = _greedy(of or self.patterns, self.sheets, self.wanted, prices, self.limits)
        for pattern in result or ():
            self.columns[pattern] = None
        self._take(result)

    def found(self) -> list[Pattern]:
        """The least metal found with strips as high as one piece; nothing where the stock does not
        reach."""
        self._begin()
        if not self.columns:
            return []
        if not self._enough():
            self._looked(stacked=False)
        return _trimmed(self.best, self.wanted) if self.best is not None else []

    def further(self) -> tuple[list[Pattern], bool]:
        """The same with strips as high as several pieces, several times the work; and whether no
        rips and crosscuts need less metal."""
        if not self.columns:
            return [], False
        prices, value, left = self._looked(stacked=True)
        if self.best is None:
            return [], False
        if len(self.sheets) == 1 and not self._enough():
            self._take(
                ripped(
                    self.patterns,
                    self.sheets[0],
                    self.wanted,
                    list(self.columns),
                    len(self.best) - 1,
                    left,
                )
            )
        # All sheets alike: the bound goes up to the next whole sheet.
        one, bound = float(self.costs.min()), self._bound(prices, value)
        up = math.ceil(bound / one - 1e-6) * one if self.alike else bound
        return _trimmed(self.best, self.wanted), self.cost(self.best) <= up + 1e-6

    def _enough(self) -> bool:
        """True where the metal itself allows no sheet less."""
        least = least_sheets(self.patterns, self.sheets, self.wanted)
        return self.best is not None and self.alike and len(self.best) <= least

    def _looked(self, *, stacked: bool) -> tuple[Array, float, float]:
        """Patterns by price, in whole numbers: the last prices, what the metal costs at them, and
        seconds that are left."""
        until, rng = time.monotonic() + self.seconds, random.Random(1)
        prices, value = self._generated(until, stacked=stacked)
        for _ in range(GREEDY):
            if self.best is not None and time.monotonic() > until:
                break
            shaken = np.array([rng.uniform(0.7, 1.4) for _ in self.areas])
            self._tried(np.maximum(prices, 0.02 * self.areas) * shaken)
        left = max(0.3, until - time.monotonic())
        self._take(
            _in_whole_numbers(
                list(self.columns), self.sheets, self.wanted, self.costs, self.limits, left
            )
        )
        return prices, value, max(0.3, until - time.monotonic())

    def _begin(self) -> None:
        """First answers, sheet after sheet by what is worth most at several prices; all lying the
        same way takes fewer settings."""
        for power in (1.0, 1.05, 1.15, 1.3):
            self._tried(self.areas**power)
        straight = tuple(replace(blank, turns=False) for blank in self.patterns.blanks)
        self._tried(self.areas, Patterns(straight, self.patterns.stock, self.patterns.shear))
        if not self.columns:
            # Greedily there is not enough: what there is is laid out as far as it goes, so that
            # whole numbers may do better.
            for prices in (self.areas, np.ones(len(self.areas))):
                for number in self.sheets:
                    _, pattern = self.patterns.best(number, prices, self.wanted)
                    if pattern is not None:
                        self.columns[pattern] = None

    def _generated(self, until: float, *, stacked: bool) -> tuple[Array, float]:
        """Columns that help, until none does or time is up: the last prices of the blanks, and what
        the metal costs at them."""
        count, prices, value = len(self.areas), self.areas, 0.0
        for _ in range(ROUNDS):
            if self.best is not None and value and time.monotonic() > until:
                break
            result, cost = _prices(
                list(self.columns), self.sheets, self.wanted, self.costs, self.limits
            )
            if result is None:
                break
            prices, value, fresh = result[:count], cost, False
            for k, number in enumerate(self.sheets):
                worth, pattern = self.patterns.best(number, prices, self.wanted, stacked=stacked)
                price = float(self.costs[k]) - (
                    float(result[count + k]) if self.limits[k] is not None else 0.0
                )
                if (
                    pattern is not None
                    and worth > price * (1 + 1e-6)
                    and pattern not in self.columns
                ):
                    self.columns[pattern] = None
                    fresh = True
            if not fresh:
                break
        return prices, value

    def _bound(self, prices: Array, value: float) -> float:
        """Farley's bound on the metal from below: what it costs at these prices, shrunk until no
        pattern is worth more than its sheet."""
        if any(limit is not None for limit in self.limits):
            return 0.0
        above = [self.patterns.most_worth(number, prices, self.wanted) for number in self.sheets]
        return value * min(
            [1.0, *(float(c) / a for c, a in zip(self.costs, above, strict=True) if a > 0)]
        )


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
    columns: Sequence[Pattern],
    sheets: Sequence[int],
    wanted: Sequence[int],
    costs: Array,
    limits: Sequence[int | None],
) -> tuple[Array | None, float]:
    """Worth of one more of each blank, then of one more of each sheet there is a number of; and
    what the sheets cost at least."""
    from scipy.optimize import linprog  # loaded when something is cut: the window opens sooner

    place = {number: k for k, number in enumerate(sheets)}
    made = _matrix(columns, len(wanted))
    cost = np.array([costs[place[p.stock]] for p in columns])
    of_stock = np.array(
        [[1.0 if place[p.stock] == k else 0.0 for p in columns] for k in range(len(sheets))]
    )
    counted = [k for k, limit in enumerate(limits) if limit is not None]
    a = np.vstack([-made, of_stock[counted]]) if counted else -made
    b = np.concatenate(
        [-np.array(wanted, dtype=float), np.array([float(limits[k] or 0) for k in counted])]
    )
    solution = linprog(cost, A_ub=a, b_ub=b, method="highs")
    if not solution.success or solution.fun is None:
        return None, 0.0
    prices = np.zeros(len(wanted) + len(sheets))
    marginal = solution.ineqlin.marginals
    prices[: len(wanted)] = -marginal[: len(wanted)]
    for row, k in enumerate(counted, start=len(wanted)):
        prices[len(wanted) + k] = marginal[row]
    return prices, solution.fun


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
            rules.append(
                LinearConstraint(
                    np.array([[1.0 if place[p.stock] == k else 0.0 for p in columns]]),
                    ub=float(limit),
                )
            )
    solution = milp(
        cost,
        constraints=rules,
        integrality=np.ones(len(columns), dtype=int),
        bounds=Bounds(0, np.inf),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )
    if solution.x is None:
        return None
    return [
        p for p, n in zip(columns, np.round(solution.x).astype(int), strict=True) for _ in range(n)
    ]


def _trimmed(patterns: list[Pattern], wanted: Sequence[int]) -> list[Pattern]:
    """The same sheets, without pieces nobody asked for."""
    left, kept = list(wanted), []
    for pattern in patterns:
        strips = []
        for strip in pattern.strips:
            items = []
            for item in strip.items:
                n = min(item.stacked, left[item.blank])
                if n:
                    left[item.blank] -= n
                    items.append(
                        item
                        if n == item.stacked
                        else type(item)(item.blank, item.along, item.across, n, item.turned)
                    )
            if items:
                strips.append(type(strip)(strip.height, tuple(items)))
        if strips:
            kept.append(Pattern(pattern.stock, pattern.upright, tuple(strips)))
    return kept
