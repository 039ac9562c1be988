"""Sheets cut by cuts of any depth: always from edge to edge of the piece in hand, but in any order.

Rips and crosscuts alone (``pattern.py``) are easy to make and nearly always enough; where they need
a sheet more than the metal asks for, these are looked at: every way for a few pieces, the usual
ways of packing for many.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from .piece import WantedBlank

MOST = 8
"""Pieces for which every way is looked at."""

FITS = 1e-6
"""mm within which a piece fits."""


@dataclass(frozen=True)
class Leaf:
    """One piece as it lies.

    Attributes:
        blank: number of the blank.
        length, width: along the sheet and across it, mm.
    """

    blank: int
    length: float
    width: float


@dataclass(frozen=True)
class Join:
    """Two pieces that one cut parts.

    Attributes:
        beside: they lie beside each other along the sheet, and the cut runs across it; otherwise
            one over the other.
        one, other: nearer the datum corner first.
        length, width: of both together, kerf included, mm.
    """

    beside: bool
    one: Tree
    other: Tree
    length: float
    width: float


Tree = Leaf | Join


def leaves(tree: Tree) -> Iterator[Leaf]:
    """Every piece of a tree."""
    if isinstance(tree, Leaf):
        yield tree
    else:
        yield from leaves(tree.one)
        yield from leaves(tree.other)


@dataclass(frozen=True)
class Nested:
    """A sheet cut so.

    Attributes:
        stock: number of the sheet.
        tree: its pieces.
    """

    stock: int
    tree: Tree

    @cached_property
    def counts(self) -> dict[int, int]:
        """How many of each blank it gives."""
        result: dict[int, int] = {}
        for leaf in leaves(self.tree):
            result[leaf.blank] = result.get(leaf.blank, 0) + 1
        return result


class _Shapes:
    """Every rectangle a group of pieces can be cut from, none larger both ways than another."""

    def __init__(
        self,
        pieces: Sequence[tuple[int, WantedBlank]],
        room: tuple[float, float],
        kerf: float,
        longest: float,
    ) -> None:
        self.pieces, self.room, self.kerf, self.longest = pieces, room, kerf, longest
        self.sizes: dict[int, Array] = {}
        self._made: dict[int, list[tuple[int, int, int, int, bool]]] = {}
        for group in range(1, 1 << len(pieces)):
            self._add(group)

    def _add(self, group: int) -> None:
        if group & (group - 1) == 0:
            _, blank = self.pieces[group.bit_length() - 1]
            lying = [(blank.length, blank.width)]
            if blank.turns and abs(blank.length - blank.width) > FITS:
                lying.append((blank.width, blank.length))
            sizes = np.array(lying)
            keep = self._fitting(sizes)
            self.sizes[group] = sizes[keep]
            self._made[group] = [(0, 0, 0, int(i), False) for i in np.nonzero(keep)[0]]
            return
        lowest = group & -group
        result: list[Array] = []
        made: list[tuple[int, int, int, int, bool]] = []
        part = (group - 1) & group
        while part:
            if part & lowest:
                rest = group ^ part
                a, b = self.sizes[part], self.sizes[rest]
                if len(a) and len(b):
                    for beside in (True, False):
                        sizes = self._joined(a, b, beside=beside).reshape(-1, 2)
                        keep = self._fitting(sizes) & self._cuttable(sizes, beside=beside)
                        for k in np.nonzero(keep)[0].tolist():
                            result.append(sizes[k])
                            made.append((part, k // len(b), rest, k % len(b), beside))
            part = (part - 1) & group
        self.sizes[group], self._made[group] = _least(result, made)

    def _joined(self, a: Array, b: Array, *, beside: bool) -> Array:
        along, across = (0, 1) if beside else (1, 0)
        sizes = np.empty((len(a), len(b), 2))
        sizes[..., along] = a[:, None, along] + b[None, :, along] + self.kerf
        sizes[..., across] = np.maximum(a[:, None, across], b[None, :, across])
        return sizes

    def _fitting(self, sizes: Array) -> NDArray[np.bool_]:
        fits: NDArray[np.bool_] = (sizes[:, 0] <= self.room[0] + FITS) & (
            sizes[:, 1] <= self.room[1] + FITS
        )
        return fits

    def _cuttable(self, sizes: Array, *, beside: bool) -> NDArray[np.bool_]:
        cut: NDArray[np.bool_] = sizes[:, 1 if beside else 0] <= self.longest + FITS
        return cut

    def tree(self, group: int, k: int) -> Tree:
        """How one of a group's rectangles is cut."""
        length, width = (float(x) for x in self.sizes[group][k])
        one, i, other, j, beside = self._made[group][k]
        if not other:
            return Leaf(self.pieces[group.bit_length() - 1][0], length, width)
        return Join(beside, self.tree(one, i), self.tree(other, j), length, width)


def _least(
    found: list[Array], made: list[tuple[int, int, int, int, bool]]
) -> tuple[Array, list[tuple[int, int, int, int, bool]]]:
    """Those sizes that no other is smaller than both ways, the shortest first."""
    if not found:
        return np.zeros((0, 2)), []
    sizes = np.array(found)
    order = np.lexsort((sizes[:, 1], sizes[:, 0]))
    kept: list[int] = []
    lowest = np.inf
    for k in order.tolist():
        if sizes[k, 1] < lowest - FITS:
            kept.append(k)
            lowest = float(sizes[k, 1])
    return sizes[kept], [made[k] for k in kept]


def fewest(
    pieces: Sequence[tuple[int, WantedBlank]],
    stock: int,
    room: tuple[float, float],
    kerf: float,
    longest: float,
) -> tuple[list[Nested], bool] | None:
    """The fewest sheets of one size for a few pieces, by cuts of any depth: every way is looked at.

    Args:
        pieces: number of the blank, and the blank, once for every piece; at most :data:`MOST`.
        stock: number of the sheet.
        room: its length and width, squared, mm.
        kerf: lost in a cut, mm.
        longest: cut of the shear, mm.

    Returns:
        a tree for every sheet, and whether fewer are certainly not possible: of the shapes that a
        shear too short for the sheet cannot trim, a larger one might do. None where a piece fits on
        none.
    """
    shapes = _Shapes(pieces, room, kerf, longest)
    relaxed = _parted(len(pieces), lambda part: bool(len(shapes.sizes[part])))
    if relaxed is None:
        return None
    chosen: dict[int, Tree] = {}

    def goes(part: int) -> bool:
        if part not in chosen:
            for k in np.argsort(shapes.sizes[part].prod(axis=1)).tolist():
                tree = shapes.tree(part, k)
                if can_be_cut(tree, *room, longest, kerf):
                    chosen[part] = tree
                    break
        return part in chosen

    parts = _parted(len(pieces), goes)
    if parts is None:
        return None
    return [Nested(stock, chosen[part]) for part in parts], len(parts) == len(relaxed)


def _parted(count: int, goes: Callable[[int], bool]) -> list[int] | None:
    """The fewest groups that so many pieces can be parted into, a bit for each piece, where only
    some groups go; None where none do."""
    whole = (1 << count) - 1
    known: dict[int, bool] = {}
    best: dict[int, tuple[int, int]] = {0: (0, 0)}
    for group in range(1, whole + 1):
        lowest, choice = group & -group, None
        part = group
        while part:
            if part & lowest:
                rest = best.get(group ^ part)
                if rest is not None and (choice is None or rest[0] + 1 < choice[0]):
                    if part not in known:
                        known[part] = goes(part)
                    if known[part]:
                        choice = rest[0] + 1, part
            part = (part - 1) & group
        if choice is not None:
            best[group] = choice
    if whole not in best:
        return None
    result, group = [], whole
    while group:
        result.append(best[group][1])
        group ^= best[group][1]
    return result


# --- many pieces --------------------------------------------------------------------------------

Rect = tuple[float, float, float, float]
"""x, y, length, width, mm."""

ORDERS = ("area", "longest", "shortest", "difference")
MOST_FREE = 80
"""Pieces up to which the best of all that are left is looked for."""

CHOICES = ("area", "short", "long")
SPLITS = ("short", "long", "more", "less", "flat", "tall", "greater", "smaller")
"""Orders of the pieces, choices of the free rectangle, and ways to split what is left: the usual
ones of packing by cuts from edge to edge."""


def packings(
    pieces: Sequence[tuple[int, WantedBlank]],
    stock: int,
    room: tuple[float, float],
    kerf: float,
    longest: float,
) -> Iterator[list[Nested]]:
    """Many pieces packed one after the other into free rectangles, in every usual manner.

    Args:
        pieces: the pieces there are.
        stock: the sheet's length and width, mm.
        room: mm of the sheet.
        kerf: mm lost in a cut.
        longest: longest cut, mm.
    """
    manners = [
        (choice, split, everywhere)
        for choice in CHOICES
        for split in SPLITS
        for everywhere in (False, True)
    ]
    for choice, split, everywhere in manners:
        for order in ORDERS:
            ranked = sorted(pieces, key=lambda p: _rank(p[1], order), reverse=True)
            yield from _Packing(stock, room, kerf, choice, split).packed(
                [[p] for p in ranked], longest, everywhere=everywhere
            )
        # Whichever of all pieces left fits best comes next.
        if everywhere and len(pieces) <= MOST_FREE:
            yield from _Packing(stock, room, kerf, choice, split).packed(
                [list(pieces)], longest, everywhere=True
            )


def _rank(blank: WantedBlank, order: str) -> tuple[float, float]:
    low, high = sorted((blank.length, blank.width))
    return {
        "area": (blank.area, high),
        "longest": (high, low),
        "shortest": (low, high),
        "difference": (high - low, high),
    }[order]


def trims(tree: Tree, length: float, width: float, longest: float) -> tuple[bool, ...] | None:
    """Cuts that bring a piece in hand down to a tree's size: True across it, False along it, in an
    order in which the shear makes them.

    Args:
        tree: what is wanted of the piece.
        length, width: of the piece, mm.
        longest: cut of the shear, mm.

    Returns:
        None where some cut is longer than the shear, whichever comes first.
    """
    across, along = length - tree.length > FITS, width - tree.width > FITS
    for order in ((True, False), (False, True)):
        asked = tuple(one for one in order if (across if one else along))
        first = asked[0] if asked else None
        # The first runs over the whole piece, the second over what the first left.
        runs = [
            (width if one is first else tree.width)
            if one
            else (length if one is first else tree.length)
            for one in asked
        ]
        if all(run <= longest + FITS for run in runs):
            return asked
    return None


def can_be_cut(tree: Tree, length: float, width: float, longest: float, kerf: float) -> bool:
    """True where every cut of a tree, what is trimmed off included, is one the shear makes. What
    cannot be trimmed first is trimmed later, when it is smaller.

    Args:
        tree: what is wanted of the piece.
        length, width: of the piece, mm.
        longest: cut of the shear, mm.
        kerf: lost in a cut, mm.
    """
    if trims(tree, length, width, longest) is not None:
        length, width = min(length, tree.length), min(width, tree.width)
    elif isinstance(tree, Leaf):
        return False
    if isinstance(tree, Leaf):
        return True
    if tree.beside:
        one, other = (tree.one.length, width), (length - tree.one.length - kerf, width)
    else:
        one, other = (length, tree.one.width), (length, width - tree.one.width - kerf)
    return (
        (width if tree.beside else length) <= longest + FITS
        and can_be_cut(tree.one, *one, longest, kerf)
        and can_be_cut(tree.other, *other, longest, kerf)
    )


Place = tuple[tuple[float, ...], int, int, float, float]
"""How good a place is (less is better), the sheet and the free rectangle, and how the piece lies
there, mm."""


class _Packing:
    """One packing, made piece by piece."""

    def __init__(
        self, stock: int, room: tuple[float, float], kerf: float, choice: str, split: str
    ) -> None:
        self.stock, self.room, self.kerf, self.choice, self.split = stock, room, kerf, choice, split
        self.free: list[list[Rect]] = []
        self.put: list[list[tuple[Rect, int]]] = []

    def packed(
        self, groups: list[list[tuple[int, WantedBlank]]], longest: float, *, everywhere: bool
    ) -> Iterator[list[Nested]]:
        """The packing; nothing where a piece goes nowhere or a cut is too long.

        Args:
            groups: pieces of one group come in the order they fit best, the groups one after the
                other.
            longest: cut of the shear, mm.
            everywhere: look through all sheets begun for the best place, not the first sheet that
                has one.
        """
        for group in groups:
            left = list(group)
            while left:
                placed = [
                    (self._place(blank, everywhere=everywhere), k)
                    for k, (_, blank) in _firsts(left)
                ]
                result = [(place, k) for place, k in placed if place is not None]
                if not result:
                    self.free.append([(0.0, 0.0, *self.room)])
                    self.put.append([])
                    fresh = [
                        (self._place(blank, everywhere=True, only=len(self.free) - 1), k)
                        for k, (_, blank) in _firsts(left)
                    ]
                    result = [(place, k) for place, k in fresh if place is not None]
                    if not result:
                        return
                place, k = min(result, key=lambda f: f[0][0])
                self._put(left.pop(k)[0], place)
        trees = [tree_of(one) for one in self.put]
        whole = [
            Nested(self.stock, tree)
            for tree in trees
            if tree is not None and can_be_cut(tree, *self.room, longest, self.kerf)
        ]
        if len(whole) == len(self.put):
            yield whole

    def _place(
        self, blank: WantedBlank, *, everywhere: bool, only: int | None = None
    ) -> Place | None:
        """The best place for a piece; on one sheet only where that is named."""
        lying = [
            (blank.length, blank.width),
            *([(blank.width, blank.length)] if blank.turns else []),
        ]
        best: Place | None = None
        for sheet, rects in enumerate(self.free):
            if only is not None and sheet != only:
                continue
            for k, (_, _, length, width) in enumerate(rects):
                for a, b in lying:
                    if a <= length + FITS and b <= width + FITS:
                        low, high = sorted((length - a, width - b))
                        score = {
                            "area": (length * width - a * b, low),
                            "short": (low, high),
                            "long": (high, low),
                        }[self.choice]
                        if best is None or score < best[0]:
                            best = score, sheet, k, a, b
            if best is not None and not everywhere:
                break
        return best

    def _put(self, number: int, place: Place) -> None:
        _, sheet, k, a, b = place
        x, y, length, width = self.free[sheet].pop(k)
        self.put[sheet].append(((x, y, a, b), number))
        left = _left(x, y, length, width, a + self.kerf, b + self.kerf, self.split)
        self.free[sheet] = _merged([*self.free[sheet], *left])


def _firsts(left: list[tuple[int, WantedBlank]]) -> list[tuple[int, tuple[int, WantedBlank]]]:
    """The first of every kind of piece, with its place in the list."""
    result: dict[int, tuple[int, tuple[int, WantedBlank]]] = {}
    for k, piece in enumerate(left):
        result.setdefault(piece[0], (k, piece))
    return list(result.values())


def _left(  # noqa: PLR0913
    x: float, y: float, length: float, width: float, a: float, b: float, split: str
) -> list[Rect]:
    """What is left of a free rectangle beside a piece, kerf taken off, after one cut right through
    it."""
    right, above = max(0.0, length - a), max(0.0, width - b)
    # Cut across first: what is beside the piece keeps the whole width.
    across = {
        "short": length - a < width - b,
        "long": length - a >= width - b,
        "more": right * width >= above * length,
        "less": right * width < above * length,
        "flat": length < width,
        "tall": length >= width,
        "greater": right * b >= above * a,
        "smaller": right * b < above * a,
    }[split]
    rects = (
        [(x + a, y, right, width), (x, y + b, a, above)]
        if across
        else [(x, y + b, length, above), (x + a, y, right, b)]
    )
    return [r for r in rects if r[2] > FITS and r[3] > FITS]


def _merged(rects: list[Rect]) -> list[Rect]:
    """Free rectangles that share a whole side made one: a cut between them need not be made."""
    again = True
    while again:
        again = False
        for i, j in itertools.combinations(range(len(rects)), 2):
            one, other = sorted((rects[i], rects[j]))
            joined = None
            if (
                abs(one[1] - other[1]) < FITS
                and abs(one[3] - other[3]) < FITS
                and abs(one[0] + one[2] - other[0]) < FITS
            ):
                joined = one[0], one[1], one[2] + other[2], one[3]
            elif (
                abs(one[0] - other[0]) < FITS
                and abs(one[2] - other[2]) < FITS
                and abs(one[1] + one[3] - other[1]) < FITS
            ):
                joined = one[0], one[1], one[2], one[3] + other[3]
            if joined is not None:
                rects = [r for k, r in enumerate(rects) if k not in (i, j)] + [joined]
                again = True
                break
    return rects


def tree_of(put: Sequence[tuple[Rect, int]]) -> Tree | None:
    """The cuts that part rectangles from each other, one right through after the other; None where
    no cut does.

    Args:
        put: x, y, length, width of every piece, mm, and its number.
    """
    if len(put) == 1:
        (_, _, length, width), number = put[0]
        return Leaf(number, length, width)
    for axis in (0, 1):
        ranked = sorted(put, key=lambda p: p[0][axis])
        reach = ranked[0][0][axis] + ranked[0][0][axis + 2]
        for k in range(1, len(ranked)):
            if ranked[k][0][axis] >= reach - FITS:
                one, other = tree_of(ranked[:k]), tree_of(ranked[k:])
                if one is None or other is None:
                    return None
                low = [min(p[0][a] for p in put) for a in (0, 1)]
                high = [max(p[0][a] + p[0][a + 2] for p in put) for a in (0, 1)]
                return Join(axis == 0, one, other, high[0] - low[0], high[1] - low[1])
            reach = max(reach, ranked[k][0][axis] + ranked[k][0][axis + 2])
    return None
