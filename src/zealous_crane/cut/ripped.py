"""A few sheets less: strips shared out among the sheets, whatever pattern that makes of each.

Whole patterns answer to prices, and the pattern that fills the last sheet is often worth least at any price. Strips are few; which of
them lie on which sheet is asked in whole numbers.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from .pattern import Pattern, Patterns, Strip

Array = NDArray[np.float64]

ROUNDS = 25
"""Rounds of asking for better strips."""

MOST_SHEETS = 6
"""Sheets among which strips are shared out at most; beyond, the question is too large to be worth the time."""

MOST_STRIPS = 160
"""Different strips that are shared out at most."""


def ripped(
    patterns: Patterns, number: int, wanted: Sequence[int], known: Sequence[Pattern], sheets: int, seconds: float
) -> list[Pattern] | None:
    """What is wanted on so many sheets of one size, all ripped the same way; None where that was not found.

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
        strips = dict.fromkeys(s for p in known if p.stock == number and p.upright is upright for s in p.strips)
        _asked_for(patterns, run, depth, wanted, upright, strips)
        if not strips or len(strips) > MOST_STRIPS:
            continue
        shared = _shared_out(list(strips), depth, patterns.shear.kerf, wanted, sheets, seconds)
        if shared is not None:
            return [Pattern(number, upright, on) for on in shared if on]
    return None


def _counts(strips: Sequence[Strip], kinds: int) -> Array:
    """(kinds, strips) how many of each blank a strip gives."""
    made = np.zeros((kinds, len(strips)))
    for j, strip in enumerate(strips):
        for item in strip.items:
            made[item.blank, j] += item.stacked
    return made


def _asked_for(
    patterns: Patterns, run: float, depth: float, wanted: Sequence[int], upright: bool, strips: dict[Strip, None]
) -> None:
    """Strips that cost the least metal for what they give, added until no price asks for another."""
    from scipy.optimize import linprog  # loaded when something is cut: the window opens sooner

    kerf, prices = patterns.shear.kerf, np.array([b.area for b in patterns.blanks])
    for _ in range(ROUNDS):
        before = len(strips)
        for worth, strip in patterns.strips(run, depth, prices, wanted, upright, stacked=True):
            if before == 0 or worth > (strip.height + kerf) * (1 + 1e-6):
                strips[strip] = None
        if len(strips) == before or len(strips) > MOST_STRIPS:
            return
        cost = np.array([s.height + kerf for s in strips])
        found = linprog(cost, A_ub=-_counts(list(strips), len(wanted)), b_ub=-np.array(wanted, dtype=float), method="highs")
        if not found.success:
            return
        prices = -found.ineqlin.marginals


def _shared_out(
    strips: list[Strip], depth: float, kerf: float, wanted: Sequence[int], sheets: int, seconds: float
) -> list[tuple[Strip, ...]] | None:
    """The strips of every sheet, highest first; None where the strips at hand do not go."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    count = len(strips)
    heights = np.array([s.height + kerf for s in strips])
    rules = [LinearConstraint(np.tile(_counts(strips, len(wanted)), sheets), lb=np.array(wanted, dtype=float))]
    on_each = np.zeros((sheets, sheets * count))
    for k in range(sheets):
        on_each[k, k * count : (k + 1) * count] = heights
    rules.append(LinearConstraint(on_each, ub=depth + kerf + 1e-6))
    found = milp(
        np.tile(heights, sheets), constraints=rules, integrality=np.ones(sheets * count), bounds=Bounds(0, np.inf),
        options={"time_limit": seconds, "mip_rel_gap": 0.5},
    )  # fmt: skip
    if found.x is None:
        return None
    taken = np.round(found.x).astype(int).reshape(sheets, count)
    ranked = sorted(range(count), key=lambda j: -strips[j].height)
    return [tuple(strips[j] for j in ranked for _ in range(row[j])) for row in taken]
