"""How one sheet is cut: ripped edge to edge into strips, strips cut across, pieces lower than their
strip trimmed or stacked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from ..units.length import INCH
from .piece import Shear, Stock, WantedBlank, squared

GRID = 0.5
"""mm in which lengths are counted: pieces are rounded up and sheets down, so that what fits on
paper fits."""


GRIDS = (1.0, 0.5, INCH / 64, 0.1)
"""mm; the first in which everything is a whole number is taken: then what fits exactly is counted
exactly."""


def grid_of(lengths: Sequence[float]) -> float:
    """The grid (mm) lengths are counted in: one that holds all of them, else :data:`GRID`."""
    for grid in GRIDS:
        if all(abs(length / grid - round(length / grid)) < 1e-4 for length in lengths):
            return grid
    return GRID


@dataclass(frozen=True)
class Item:
    """Blanks of one kind beside each other in a strip.

    Attributes:
        blank: number of the blank.
        along, across: mm along the strip and across it.
        stacked: how many lie one over the other across the strip.
        turned: it lies turned by a quarter.
    """

    blank: int
    along: float
    across: float
    stacked: int
    turned: bool


@dataclass(frozen=True)
class RippedStrip:
    """A strip as it is ripped, and what is cut from it, left to right.

    Attributes:
        height: mm across.
        items: columns of pieces.
    """

    height: float
    items: tuple[Item, ...]


@dataclass(frozen=True)
class Pattern:
    """One way to cut a sheet.

    Attributes:
        stock: number of the sheet in the stock.
        upright: strips run across the sheet's length instead of along it.
        strips: from the datum edge on.
    """

    stock: int
    upright: bool
    strips: tuple[RippedStrip, ...]

    @cached_property
    def counts(self) -> dict[int, int]:
        """How many of each blank it gives."""
        result: dict[int, int] = {}
        for strip in self.strips:
            for item in strip.items:
                result[item.blank] = result.get(item.blank, 0) + item.stacked
        return result


@dataclass(frozen=True)
class Lying:
    """A blank as it may lie in a strip: mm along and across, and whether it is turned."""

    blank: int
    along: float
    across: float
    turned: bool


class Patterns:
    """Finds the pattern of a sheet that is worth most at given prices.

    Args:
        blanks: what is wanted.
        stock: the sheets.
        shear: what cuts.
    """

    def __init__(self, blanks: Sequence[WantedBlank], stock: Sequence[Stock], shear: Shear) -> None:
        self.blanks, self.stock, self.shear = tuple(blanks), tuple(stock), shear
        rooms = [side for number in range(len(stock)) for side in self.room(number)]
        self.grid = grid_of(
            [*rooms, *(side for b in blanks for side in (b.length, b.width)), shear.kerf]
        )

    def room(self, number: int) -> tuple[float, float]:
        """Length and width (mm) of a sheet once it is squared."""
        sheet = self.stock[number]
        off_length, off_width = squared(sheet, self.shear)
        return sheet.length - off_length, sheet.width - off_width

    def lying(self, upright: bool) -> list[Lying]:
        """Every way a blank may lie in strips that run along the sheet, or across it."""
        result = []
        for i, blank in enumerate(self.blanks):
            along, across = (blank.width, blank.length) if upright else (blank.length, blank.width)
            result.append(Lying(i, along, across, False))
            if blank.turns and abs(blank.length - blank.width) > 1e-9:
                result.append(Lying(i, across, along, True))
        return result

    def best(
        self,
        number: int,
        prices: Array,
        most: Sequence[int],
        *,
        stacked: bool = False,
        ways: Sequence[bool] = (False, True),
    ) -> tuple[float, Pattern | None]:
        """The pattern of a sheet that is worth most, and its worth.

        Args:
            number: of the sheet.
            prices: (k,) worth of one of each blank.
            most: at most so many of each blank are of use.
            stacked: strips as high as several pieces one over the other are tried too; several
                times the work.
            ways: strips along the sheet, False, and across its length, True.
        """
        best: tuple[float, Pattern | None] = (0.0, None)
        length, width = self.room(number)
        for upright in ways:
            run, depth = (width, length) if upright else (length, width)
            if run > self.shear.length + 1e-6:
                continue  # a rip runs the whole strip
            result = self._ripped(run, depth, prices, list(most), upright, stacked)
            if result is not None and result[0] > best[0] + 1e-9:
                best = result[0], Pattern(number, upright, result[1])
        return best

    def most_worth(self, number: int, prices: Array, most: Sequence[int]) -> float:
        """A bound from above on what any pattern of rips and crosscuts of a sheet is worth: every
        strip filled as well as one can be, and rounding in the pieces' favour.

        Args:
            number: of the sheet, from 0.
            prices: what each blank is worth.
            most: most of each blank.
        """
        length, width = self.room(number)
        best = 0.0
        for upright in (False, True):
            run, depth = (width, length) if upright else (length, width)
            if run > self.shear.length + 1e-6:
                continue
            lying = self._going(run, depth, most, upright)
            heights = self._heights(lying, depth, most, stacked=True)
            worths = [
                self._filled(run, h, self._in_strip(lying, run, h), prices, most, kindly=True)[0]
                for h in heights
            ]
            steps = [max(1, self._down(h + self.shear.kerf)) for h in heights]
            room = self._up(depth + self.shear.kerf)
            chosen = knapsack(room, steps, worths, [room // s for s in steps])
            best = max(best, sum(worths[k] * n for k, n in chosen.items()))
        return best

    def _ripped(
        self, run: float, depth: float, prices: Array, most: list[int], upright: bool, stacked: bool
    ) -> tuple[float, tuple[RippedStrip, ...]] | None:
        """Strips of a sheet that are worth most together; each is filled as well as it can be, then
        they share the sheet."""
        filled = self.strips(run, depth, prices, most, upright, stacked)
        if not filled:
            return None
        steps = [self._up(strip.height + self.shear.kerf) for _, strip in filled]
        counts = [
            min(int(depth // strip.height), *(most[b] // n for b, n in _counted(strip).items()))
            or 1
            for _, strip in filled
        ]
        chosen = knapsack(
            self._down(depth + self.shear.kerf), steps, [w for w, _ in filled], counts
        )
        strips: list[RippedStrip] = []
        left = list(most)
        # No more is cut of anything than is wanted: what is too much falls away, the largest strips
        # first.
        for k in sorted(
            (k for k, n in chosen.items() for _ in range(n)), key=lambda k: -filled[k][1].height
        ):
            kept = []
            for item in filled[k][1].items:
                of_use = min(item.stacked, left[item.blank])
                if of_use:
                    left[item.blank] -= of_use
                    kept.append(Item(item.blank, item.along, item.across, of_use, item.turned))
            if kept:
                strips.append(RippedStrip(filled[k][1].height, tuple(kept)))
        worth = sum(prices[item.blank] * item.stacked for strip in strips for item in strip.items)
        return float(worth), tuple(strips)

    def strips(
        self,
        run: float,
        depth: float,
        prices: Array,
        most: Sequence[int],
        upright: bool,
        stacked: bool,
    ) -> list[tuple[float, RippedStrip]]:
        """A strip of every height worth ripping, filled as well as it can be, with its worth.

        Args:
            run, depth: along the strips and across them, mm.
            prices, most: worth of one of each blank, and how many are of use.
            upright: the strips run across the sheet's length.
            stacked: also as high as several pieces one over the other.
        """
        lying = self._going(run, depth, most, upright)
        filled: list[tuple[float, RippedStrip]] = []
        for height in self._heights(lying, depth, most, stacked=stacked):
            worth, items = self._filled(
                run, height, self._in_strip(lying, run, height), prices, most
            )
            if items:
                filled.append((worth, RippedStrip(height, items)))
        return filled

    def _going(self, run: float, depth: float, most: Sequence[int], upright: bool) -> list[Lying]:
        """Ways of lying in which a blank that is wanted goes into the room."""
        return [
            o
            for o in self.lying(upright)
            if o.along <= run + 1e-9 and o.across <= depth + 1e-9 and most[o.blank]
        ]

    def _in_strip(self, lying: list[Lying], run: float, height: float) -> list[Lying]:
        """What goes into a strip of a height (mm). One that is higher than the shear is long is not
        cut across: what lies in it is as long as it is."""
        short = height <= self.shear.length + 1e-6
        return [o for o in lying if o.across <= height + 1e-9 and (short or o.along >= run - 1e-6)]

    def _heights(
        self, lying: list[Lying], depth: float, most: Sequence[int], *, stacked: bool
    ) -> list[float]:
        """Heights (mm) of strips: of one piece, and of several one over the other with the saw's
        kerf between."""
        if not stacked:
            return sorted({one.across for one in lying})
        kerf = self.shear.kerf
        return sorted(
            {
                n * one.across + (n - 1) * kerf
                for one in lying
                for n in range(
                    1, 1 + min(most[one.blank], int((depth + kerf + 1e-9) // (one.across + kerf)))
                )
            }
        )

    def _filled(
        self,
        run: float,
        height: float,
        lying: list[Lying],
        prices: Array,
        most: Sequence[int],
        kindly: bool = False,
    ) -> tuple[float, tuple[Item, ...]]:
        """What fills a strip of a height best; ``kindly`` rounds in the pieces' favour, so that
        nothing is worth more."""
        kerf = self.shear.kerf
        stacks = [
            min(int((height + kerf + 1e-9) // (one.across + kerf)), most[one.blank])
            for one in lying
        ]
        up, down = (self._down, self._up) if kindly else (self._up, self._down)
        steps = [max(1, up(one.along + kerf)) for one in lying]
        worths = [float(prices[one.blank]) * n for one, n in zip(lying, stacks, strict=True)]
        counts = [
            -(-most[one.blank] // n) if n else 0 for one, n in zip(lying, stacks, strict=True)
        ]
        chosen = knapsack(down(run + kerf), steps, worths, counts)
        items = [
            Item(lying[k].blank, lying[k].along, lying[k].across, stacks[k], lying[k].turned)
            for k in sorted(chosen, key=lambda k: (-lying[k].across, -lying[k].along))
            for _ in range(chosen[k])
        ]
        return sum(worths[k] * n for k, n in chosen.items()), tuple(items)

    def _up(self, value: float) -> int:
        return int(np.ceil(value / self.grid - 1e-4))

    def _down(self, value: float) -> int:
        return int(np.floor(value / self.grid + 1e-4))


def _counted(strip: RippedStrip) -> dict[int, int]:
    result: dict[int, int] = {}
    for item in strip.items:
        result[item.blank] = result.get(item.blank, 0) + item.stacked
    return result


def knapsack(
    room: int, sizes: Sequence[int], worths: Sequence[float], counts: Sequence[int]
) -> dict[int, int]:
    """How many of each to take, up to ``counts``, so that they fit into ``room`` and are worth
    most: exact.

    Each kind is taken in parcels of 1, 2, 4 … so that any number up to its count can be made, every
    parcel laid over all rooms at once.

    Args:
        room: mm of the strip.
        sizes: mm, of each blank.
        worths: what each blank is worth.
        counts: how many of each blank.
    """
    if room <= 0:
        return {}
    best = np.zeros(room + 1)
    # (kind, how many of it, where in the rooms that hold them they were taken)
    parcels: list[tuple[int, int, NDArray[np.bool_]]] = []
    for k, (size, worth, count) in enumerate(zip(sizes, worths, counts, strict=True)):
        left, parcel = min(count, room // size if size else 0), 1
        if worth <= 0:
            continue
        while left > 0:
            n = min(parcel, left)
            left, parcel = left - n, parcel * 2
            if n * size > room:
                break
            with_it, without = best[: room + 1 - n * size] + n * worth, best[n * size :]
            taken = with_it > without + 1e-12
            np.copyto(without, with_it, where=taken)
            parcels.append((k, n, taken))
    result: dict[int, int] = {}
    at = room
    for k, n, taken in reversed(parcels):
        before = at - n * sizes[k]
        if before >= 0 and taken[before]:
            result[k] = result.get(k, 0) + n
            at = before
    return result
