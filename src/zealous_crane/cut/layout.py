"""Where every blank lies on its sheet, every cut in the order a hand makes it, and what falls off."""

from __future__ import annotations

import itertools
from collections import Counter
from dataclasses import replace

from ..measure.dataclass import dataclass
from ..measure.words import tr
from .cutting import Cutting
from .nested import Leaf, Nested, Tree, trims
from .pattern import Pattern, Strip
from .piece import Blank, Stock, squared

LEVEL = 1e-6
"""mm within which two gauge settings are one."""


@dataclass(frozen=True)
class Placed:
    """A blank, or an off-cut, on a sheet.

    Attributes:
        name: of the blank; of an off-cut what it is.
        blank: number of the blank; −1 for what is left over.
        x, y: its corner nearest the datum corner, mm from the squared edges.
        length, width: along the sheet's length and across it, mm.
    """

    name: str
    blank: int
    x: float
    y: float
    length: float
    width: float


WITH_ARM = {
    "square": tr("the mill's straight edge against the arm, then the edge just cut"),
    "rip": tr("the squared short edge against the arm, the long edge cut last to the stop"),
    "across": tr("the long edge against the arm, the edge cut last to the stop"),
    "trim": tr("the edge cut across against the arm, the long edge to the stop"),
}
WITHOUT_ARM = {
    "square": tr(
        "struck square to the mill's straight edge with a large square, the blade on the line; then from the edge just cut"
    ),
    "rip": tr("the long edge cut last to the stop; the square laid to the short edge before the blade comes down"),
    "across": tr("the edge cut last to the stop; the square laid to the long edge before the blade comes down"),
    "trim": tr("the long edge to the stop; the square laid to the edge cut across before the blade comes down"),
}
"""How the sheet lies for each kind of cut, on a shear with a squaring arm and on one without."""


@dataclass(frozen=True)
class Cut:
    """One setting of the gauge, and how often it is used.

    Attributes:
        what: ``square``, ``rip``, ``across`` or ``trim``.
        gauge: mm from the edge against the stop to the blade.
        length: of each cut, mm.
        times: cuts with this setting.
        of: what is cut, in words.
        gives: what each cut gives, in words.
        marked: the stop does not reach so far: dots on both edges, the blade on the dots.
        arm: the shear has a squaring arm; without one what must be square is struck with a square.
        after: numbers of the cuts of the same sheet that free its piece, and come before it.
    """

    what: str
    gauge: float
    length: float
    times: int
    of: str
    gives: str
    marked: bool = False
    arm: bool = True
    after: tuple[int, ...] = ()

    @property
    def against(self) -> str:
        """The edge that lies against the squaring arm, square to the blade; the one the gauge is set from is its neighbour, cut last."""
        edges = (WITH_ARM if self.arm else WITHOUT_ARM)[self.what]
        return (
            edges
            if not self.marked
            else tr("{edges}; beyond the stop: dots on both edges, the blade on the dots").format(edges=edges)
        )


@dataclass(frozen=True)
class SheetCut:
    """One sheet, or several cut alike.

    Attributes:
        stock: the sheet.
        alike: how many are cut so.
        placed: the blanks on it.
        offcuts: what is worth keeping.
        cuts: in order.
    """

    stock: Stock
    alike: int
    placed: tuple[Placed, ...]
    offcuts: tuple[Placed, ...]
    cuts: tuple[Cut, ...]

    @property
    def settings(self) -> int:
        """How often the gauge is set."""
        return len(self.cuts)

    @property
    def kept(self) -> tuple[tuple[int, float, float], ...]:
        """What is worth keeping, alike pieces together, the largest first: how many, length and width in mm."""
        sizes = Counter((round(left.length, 2), round(left.width, 2)) for left in self.offcuts)
        return tuple((n, length, width) for (length, width), n in sorted(sizes.items(), key=lambda one: -one[0][0] * one[0][1]))


def lay_out(cutting: Cutting) -> tuple[SheetCut, ...]:
    """Every sheet that is cut, those that are cut alike together."""
    found: list[SheetCut] = []
    plain = sorted((p for p in cutting.sheets if isinstance(p, Pattern)), key=_key)
    for pattern, alike in itertools.groupby(plain):
        found.append(_sheet(cutting, pattern, len(list(alike))))
    found += [_nested(cutting, nested) for nested in cutting.sheets if isinstance(nested, Nested)]
    shear = cutting.shear

    def at_this_shear(cut: Cut) -> Cut:
        return replace(cut, marked=cut.what != "square" and cut.gauge > shear.reach + LEVEL, arm=shear.arm)

    return tuple(replace(sheet, cuts=tuple(at_this_shear(cut) for cut in sheet.cuts)) for sheet in found)


def _nested(cutting: Cutting, nested: Nested) -> SheetCut:
    """A sheet that is cut in any order from edge to edge."""
    shear, stock = cutting.shear, cutting.stock[nested.stock]
    off = squared(stock, shear)
    made = _Nest(cutting, _squaring(stock, off))
    made.cut(nested.tree, 0.0, 0.0, stock.length - off[0], stock.width - off[1], tr("the sheet"), len(made.cuts) - 1)
    kept = tuple(p for p in made.left if min(p.length, p.width) >= shear.keep - LEVEL)
    return SheetCut(stock, 1, tuple(made.placed), kept, tuple(made.cuts))


class _Nest:
    """Places and cuts of a tree, worked out cut by cut."""

    def __init__(self, cutting: Cutting, cuts: list[Cut]) -> None:
        self.cutting, self.cuts = cutting, cuts
        self.placed: list[Placed] = []
        self.left: list[Placed] = []

    def cut(self, tree: Tree, x: float, y: float, length: float, width: float, of: str, freed: int) -> None:
        """Cut a piece in hand (its corner and sizes, mm), which the cut of that number freed, down to a tree."""
        kerf, shear = self.cutting.shear.kerf, self.cutting.shear
        # What is over is taken off first, the shorter cut last; or later, where the shear is too short for it now.
        for across in trims(tree, length, width, shear.length) or ():
            if across:
                freed = self._add("across", tree.length, width, of, self._words(tree), freed)
                self._keep(x + tree.length + kerf, y, length - tree.length - kerf, width)
                length = tree.length
            else:
                freed = self._add("rip" if of == tr("the sheet") else "trim", tree.width, length, of, self._words(tree), freed)
                self._keep(x, y + tree.width + kerf, length, width - tree.width - kerf)
                width = tree.width
        if isinstance(tree, Leaf):
            self.placed.append(Placed(self.cutting.blanks[tree.blank].name, tree.blank, x, y, tree.length, tree.width))
            return
        rest, words = tr("what is left"), self._words(tree.one)
        if tree.beside:
            freed = self._add("across", tree.one.length, width, of, words, freed)
            self.cut(tree.one, x, y, tree.one.length, width, words, freed)
            self.cut(tree.other, x + tree.one.length + kerf, y, length - tree.one.length - kerf, width, rest, freed)
        else:
            freed = self._add("rip", tree.one.width, length, of, words, freed)
            self.cut(tree.one, x, y, length, tree.one.width, words, freed)
            self.cut(tree.other, x, y + tree.one.width + kerf, length, width - tree.one.width - kerf, rest, freed)

    def _words(self, tree: Tree) -> str:
        return self.cutting.blanks[tree.blank].name if isinstance(tree, Leaf) else tr("a piece for several blanks")

    def _add(self, what: str, gauge: float, length: float, of: str, gives: str, freed: int) -> int:
        """Note a cut of the piece that the cut of number ``freed`` gave; −1 is the sheet as it comes. Returns its own number."""
        last = self.cuts[-1] if self.cuts else None
        alike = last is not None and (last.what, last.of, last.gives) == (what, of, gives) and abs(last.gauge - gauge) < LEVEL
        if last is not None and alike and freed in (len(self.cuts) - 1, *last.after):
            self.cuts[-1] = replace(last, times=last.times + 1)
        else:
            self.cuts.append(Cut(what, gauge, length, 1, of, gives, after=() if freed < 0 else (freed,)))
        return len(self.cuts) - 1

    def _keep(self, x: float, y: float, length: float, width: float) -> None:
        if length > LEVEL and width > LEVEL:
            self.left.append(Placed(tr("off-cut"), -1, x, y, length, width))


def _key(pattern: Pattern) -> tuple[object, ...]:
    return (
        pattern.stock,
        pattern.upright,
        tuple((s.height, tuple((i.blank, i.turned, i.stacked) for i in s.items)) for s in pattern.strips),
    )


def _sheet(cutting: Cutting, pattern: Pattern, alike: int) -> SheetCut:
    shear, stock = cutting.shear, cutting.stock[pattern.stock]
    off_length, off_width = squared(stock, shear)
    length, width = stock.length - off_length, stock.width - off_width
    run, depth = (width, length) if pattern.upright else (length, width)
    # Wide strips first, alike ones one after the other: the gauge is set once for them.
    strips = sorted(pattern.strips, key=lambda s: (-s.height, [(-i.across, -i.along) for i in s.items]))
    placed: list[Placed] = []
    left: list[tuple[float, float, float, float]] = []
    y = 0.0
    for strip in strips:
        x = 0.0
        for item in strip.items:
            for n in range(item.stacked):
                placed.append(
                    _turned(pattern, cutting.blanks, item.blank, x, y + n * (item.across + shear.kerf), item.along, item.across)
                )
            used = item.stacked * (item.across + shear.kerf)
            left.append((x, y + used, item.along, strip.height - used))
            x += item.along + shear.kerf
        left.append((x, y, run - x, strip.height))
        y += strip.height + shear.kerf
    left.append((0.0, y, run, depth - y))
    offcuts = [
        Placed(tr("off-cut"), -1, *((b, a, d, c) if pattern.upright else (a, b, c, d)))
        for a, b, c, d in left
        if min(c, d) >= shear.keep - LEVEL
    ]
    return SheetCut(
        stock, alike, tuple(placed), tuple(offcuts), _cuts(cutting, strips, stock, (off_length, off_width), run, depth)
    )


def _turned(pattern: Pattern, blanks: tuple[Blank, ...], blank: int, x: float, y: float, along: float, across: float) -> Placed:
    where = (y, x, across, along) if pattern.upright else (x, y, along, across)
    return Placed(blanks[blank].name, blank, *where)


def _squaring(stock: Stock, off: tuple[float, float]) -> list[Cut]:
    """The cuts that make two edges of a whole sheet true and square."""
    cuts: list[Cut] = []
    if off[1]:
        cuts.append(Cut("square", off[1], stock.length, 1, tr("the sheet"), tr("one long edge true: the datum for everything")))
    if off[0]:
        datum = tr("the cut edge") if off[1] else tr("the factory edge, which is the datum")
        said = tr("one short edge square to {datum}; check both diagonals").format(datum=datum)
        cuts.append(Cut("square", off[0], stock.width - off[1], 1, tr("the sheet"), said, after=tuple(range(len(cuts)))))
    return cuts


def _cuts(
    cutting: Cutting, strips: list[Strip], stock: Stock, off: tuple[float, float], run: float, depth: float
) -> tuple[Cut, ...]:
    """Squaring cuts, rips from the datum edge, then each strip across, then what is trimmed or parted in its columns."""
    cuts = _squaring(stock, off)
    square = tuple(range(len(cuts)))
    at = 0.0
    for height, alike in itertools.groupby(strips, key=lambda s: round(s.height, 6)):
        count = len(list(alike))
        at += count * (height + cutting.shear.kerf)
        # The last rip falls away where the strip ends with the sheet.
        times = count - (1 if depth - at < -cutting.shear.kerf + LEVEL or abs(depth - at + cutting.shear.kerf) < LEVEL else 0)
        if times > 0:
            cuts.append(Cut("rip", height, run, times, tr("the sheet"), tr("a strip"), after=square))
    crossed: dict[tuple[float, float, str], int] = {}
    trimmed: dict[tuple[float, float, str], int] = {}
    for strip in strips:
        x = 0.0
        for item in strip.items:
            name = cutting.blanks[item.blank].name
            x += item.along + cutting.shear.kerf
            if run - x > -cutting.shear.kerf + LEVEL:
                key = (item.along, strip.height, name)
                crossed[key] = crossed.get(key, 0) + 1
            used = item.stacked * (item.across + cutting.shear.kerf) - cutting.shear.kerf
            parts = item.stacked - 1 + (1 if strip.height - used > LEVEL else 0)
            if parts:
                key = (item.across, item.along, name)
                trimmed[key] = trimmed.get(key, 0) + parts
    ripped = tuple(range(len(cuts)))
    for (gauge, long, name), n in sorted(crossed.items(), key=lambda c: (-c[0][1], -c[0][0])):
        cuts.append(Cut("across", gauge, long, n, tr("the strips"), name, after=ripped))
    apart = tuple(range(len(cuts)))
    for (gauge, long, name), n in sorted(trimmed.items(), key=lambda c: (-c[0][0], -c[0][1])):
        cuts.append(Cut("trim", gauge, long, n, tr("what came off the strips"), name, after=apart))
    return tuple(cuts)
