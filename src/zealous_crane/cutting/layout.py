"""What is cut from what."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..i18n import JoinedText, Message, Phrase, msg, tr
from .guillotine import Leaf, Nested, Tree, trims
from .pattern import Pattern, RippedStrip
from .piece import Shear, Stock, WantedBlank, squared


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
    blanks: tuple[WantedBlank, ...]
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
        """Share of the metal that can end in blanks at most: with as few sheets as any cutting
        could do with, off-cuts as they are used."""
        bought = [self.stock[p.stock].area for p in self.sheets if not self.stock[p.stock].offcut]
        offcuts = sum(self.stock[p.stock].area for p in self.sheets if self.stock[p.stock].offcut)
        fewest = self.bought if self.deep else min(self.least, self.bought)
        used = offcuts + sum(sorted(bought)[:fewest])
        wanted = sum(b.area * b.count for b in self.blanks)
        return min(1.0, max(self.yielded, wanted / used if used else 1.0))

    def message(self) -> Message:
        """How many sheets, whether fewer are possible, and what comes of the metal."""
        whole, pieces = self.bought, len(self.sheets) - self.bought
        text: Message | JoinedText = (
            msg("{whole} sheets", whole=whole) if whole != 1 else msg("1 sheet")
        )
        if pieces:
            text += (
                msg(" and {pieces} off-cuts", pieces=pieces)
                if pieces > 1
                else msg(" and 1 off-cut")
            )
        if whole <= self.least:
            text += msg(", the minimum")
        elif self.deep:
            text += msg(", the minimum with cuts from edge to edge")
        elif self.proved:
            text += msg(", the minimum with rips and crosscuts")
        else:
            text += msg("; at least {least}", least=self.least)
        share, most = 100 * self.yielded, 100 * self.at_most
        if most - share < 0.5:
            return msg(
                "{said}; {share:.0f} % of the metal used, the most possible.",
                said=text,
                share=share,
            )
        return msg(
            "{said}; {share:.0f} % of the metal used, at most {most:.0f} % possible.",
            said=text,
            share=share,
            most=most,
        )


LEVEL = 1e-6
"""mm within which two gauge settings are one."""


@dataclass(frozen=True)
class PlacedBlank:
    """A blank, or an off-cut, on a sheet.

    Attributes:
        name: of the blank; of an off-cut what it is.
        blank: number of the blank; −1 for what is left over.
        x, y: its corner nearest the datum corner, mm from the squared edges.
        length, width: along the sheet's length and across it, mm.
    """

    name: Phrase
    blank: int
    x: float
    y: float
    length: float
    width: float


WITH_ARM = {
    "square": msg("the mill's straight edge against the arm, then the edge just cut"),
    "rip": msg("the squared short edge against the arm, last-cut long edge against the stop"),
    "across": msg("the long edge against the arm, last-cut edge against the stop"),
    "trim": msg("the crosscut edge against the arm, the long edge against the stop"),
}
WITHOUT_ARM = {
    "square": msg(
        "struck square to the mill's straight edge with a large square, the blade on the line; "
        "then from the edge just cut"
    ),
    "rip": msg(
        "last-cut long edge against the stop; check the short edge with a square before the "
        "blade comes down"
    ),
    "across": msg(
        "last-cut edge against the stop; check the long edge with a square before the blade "
        "comes down"
    ),
    "trim": msg(
        "the long edge against the stop; check the crosscut edge with a square before the "
        "blade comes down"
    ),
}
"""How the sheet lies for each kind of cut, on a shear with a squaring arm and on one without."""


CutLine = tuple[float, float, float, float]
"""Both ends of a cut on its sheet, x and y of either, mm from the squared edges."""


@dataclass(frozen=True)
class ShearCut:
    """One setting of the gauge, and how often it is used.

    Attributes:
        what: ``square``, ``rip``, ``across`` or ``trim``.
        gauge: mm from the edge against the stop to the blade.
        length: of each cut, mm.
        times: cuts with this setting.
        of: what is cut.
        gives: what each cut gives.
        marked: the stop does not reach so far: dots on both edges, the blade on the dots.
        arm: the shear has a squaring arm; without one what must be square is struck with a square.
        after: numbers of the cuts of the same sheet that free its piece, and come before it.
        lines: where each of them runs.
    """

    what: str
    gauge: float
    length: float
    times: int
    of: Phrase
    gives: Phrase
    marked: bool = False
    arm: bool = True
    after: tuple[int, ...] = ()
    lines: tuple[CutLine, ...] = ()

    @property
    def against(self) -> str:
        """The edge that lies against the squaring arm, square to the blade; the one the gauge is
        set from is its neighbour, cut last."""
        edges = (WITH_ARM if self.arm else WITHOUT_ARM)[self.what]
        return str(
            edges
            if not self.marked
            else tr("{edges}; beyond the stop: dots on both edges, the blade on the dots").format(
                edges=edges
            )
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
    placed: tuple[PlacedBlank, ...]
    offcuts: tuple[PlacedBlank, ...]
    cuts: tuple[ShearCut, ...]

    @property
    def settings(self) -> int:
        """How often the gauge is set."""
        return len(self.cuts)

    @property
    def kept(self) -> tuple[tuple[int, float, float], ...]:
        """What is worth keeping, alike pieces together, the largest first: how many, length and
        width in mm."""
        sizes = Counter((round(left.length, 2), round(left.width, 2)) for left in self.offcuts)
        return tuple(
            (n, length, width)
            for (length, width), n in sorted(sizes.items(), key=lambda one: -one[0][0] * one[0][1])
        )


def lay_out(cutting: Cutting) -> tuple[SheetCut, ...]:
    """Every sheet that is cut, those that are cut alike together."""
    sheet_cuts: list[SheetCut] = []
    plain = sorted((p for p in cutting.sheets if isinstance(p, Pattern)), key=_key)
    for pattern, alike in itertools.groupby(plain):
        sheet_cuts.append(_sheet(cutting, pattern, len(list(alike))))
    sheet_cuts += [
        _nested(cutting, nested) for nested in cutting.sheets if isinstance(nested, Nested)
    ]
    shear = cutting.shear

    def at_this_shear(cut: ShearCut) -> ShearCut:
        return replace(
            cut, marked=cut.what != "square" and cut.gauge > shear.reach + LEVEL, arm=shear.arm
        )

    return tuple(
        replace(sheet, cuts=tuple(at_this_shear(cut) for cut in sheet.cuts)) for sheet in sheet_cuts
    )


def _nested(cutting: Cutting, nested: Nested) -> SheetCut:
    """A sheet that is cut in any order from edge to edge."""
    shear, stock = cutting.shear, cutting.stock[nested.stock]
    off = squared(stock, shear)
    made = _Nest(cutting, _squaring(stock, off))
    made.cut(
        nested.tree,
        0.0,
        0.0,
        stock.length - off[0],
        stock.width - off[1],
        msg("the sheet"),
        len(made.cuts) - 1,
    )
    kept = tuple(p for p in made.left if min(p.length, p.width) >= shear.keep - LEVEL)
    return SheetCut(stock, 1, tuple(made.placed), kept, tuple(made.cuts))


class _Nest:
    """Places and cuts of a tree, worked out cut by cut."""

    def __init__(self, cutting: Cutting, cuts: list[ShearCut]) -> None:
        self.cutting, self.cuts = cutting, cuts
        self.placed: list[PlacedBlank] = []
        self.left: list[PlacedBlank] = []

    def cut(  # noqa: PLR0913
        self, tree: Tree, x: float, y: float, length: float, width: float, of: Phrase, freed: int
    ) -> None:
        """Cut a piece in hand (its corner and sizes, mm), which the cut of that number freed, down
        to a tree."""
        kerf, shear = self.cutting.shear.kerf, self.cutting.shear
        # What is over is taken off first, the shorter cut last; or later, where the shear is too
        # short for it now.
        for across in trims(tree, length, width, shear.length) or ():
            if across:
                line = (x + tree.length, y, x + tree.length, y + width)
                freed = self._add(
                    ShearCut("across", tree.length, width, 1, of, self._words(tree), lines=(line,)),
                    freed,
                )
                self._keep(x + tree.length + kerf, y, length - tree.length - kerf, width)
                length = tree.length
            else:
                what = "rip" if of == msg("the sheet") else "trim"
                line = (x, y + tree.width, x + length, y + tree.width)
                freed = self._add(
                    ShearCut(what, tree.width, length, 1, of, self._words(tree), lines=(line,)),
                    freed,
                )
                self._keep(x, y + tree.width + kerf, length, width - tree.width - kerf)
                width = tree.width
        if isinstance(tree, Leaf):
            self.placed.append(
                PlacedBlank(
                    self.cutting.blanks[tree.blank].name, tree.blank, x, y, tree.length, tree.width
                )
            )
            return
        rest, words = msg("what is left"), self._words(tree.one)
        if tree.beside:
            line = (x + tree.one.length, y, x + tree.one.length, y + width)
            freed = self._add(
                ShearCut("across", tree.one.length, width, 1, of, words, lines=(line,)), freed
            )
            self.cut(tree.one, x, y, tree.one.length, width, words, freed)
            self.cut(
                tree.other,
                x + tree.one.length + kerf,
                y,
                length - tree.one.length - kerf,
                width,
                rest,
                freed,
            )
        else:
            line = (x, y + tree.one.width, x + length, y + tree.one.width)
            freed = self._add(
                ShearCut("rip", tree.one.width, length, 1, of, words, lines=(line,)), freed
            )
            self.cut(tree.one, x, y, length, tree.one.width, words, freed)
            self.cut(
                tree.other,
                x,
                y + tree.one.width + kerf,
                length,
                width - tree.one.width - kerf,
                rest,
                freed,
            )

    def _words(self, tree: Tree) -> Phrase:
        return (
            self.cutting.blanks[tree.blank].name
            if isinstance(tree, Leaf)
            else msg("a piece for several blanks")
        )

    def _add(self, cut: ShearCut, freed: int) -> int:
        """Note a cut of the piece that the cut of number ``freed`` gave; −1 is the sheet as it
        comes. Returns its own number."""
        last = self.cuts[-1] if self.cuts else None
        alike = (
            last is not None
            and (last.what, last.of, last.gives) == (cut.what, cut.of, cut.gives)
            and abs(last.gauge - cut.gauge) < LEVEL
        )
        if last is not None and alike and freed in (len(self.cuts) - 1, *last.after):
            self.cuts[-1] = replace(last, times=last.times + 1, lines=last.lines + cut.lines)
        else:
            self.cuts.append(replace(cut, after=() if freed < 0 else (freed,)))
        return len(self.cuts) - 1

    def _keep(self, x: float, y: float, length: float, width: float) -> None:
        if length > LEVEL and width > LEVEL:
            self.left.append(PlacedBlank(msg("off-cut"), -1, x, y, length, width))


def _key(pattern: Pattern) -> tuple[object, ...]:
    return (
        pattern.stock,
        pattern.upright,
        tuple(
            (s.height, tuple((i.blank, i.turned, i.stacked) for i in s.items))
            for s in pattern.strips
        ),
    )


def _sheet(cutting: Cutting, pattern: Pattern, alike: int) -> SheetCut:
    shear, stock = cutting.shear, cutting.stock[pattern.stock]
    off_length, off_width = squared(stock, shear)
    length, width = stock.length - off_length, stock.width - off_width
    run, depth = (width, length) if pattern.upright else (length, width)
    # Wide strips first, alike ones one after the other: the gauge is set once for them.
    strips = sorted(
        pattern.strips, key=lambda s: (-s.height, [(-i.across, -i.along) for i in s.items])
    )
    placed: list[PlacedBlank] = []
    left: list[tuple[float, float, float, float]] = []
    y = 0.0
    for strip in strips:
        x = 0.0
        for item in strip.items:
            for n in range(item.stacked):
                placed.append(
                    _turned(
                        pattern,
                        cutting.blanks,
                        item.blank,
                        x,
                        y + n * (item.across + shear.kerf),
                        item.along,
                        item.across,
                    )
                )
            used = item.stacked * (item.across + shear.kerf)
            left.append((x, y + used, item.along, strip.height - used))
            x += item.along + shear.kerf
        left.append((x, y, run - x, strip.height))
        y += strip.height + shear.kerf
    left.append((0.0, y, run, depth - y))
    offcuts = [
        PlacedBlank(msg("off-cut"), -1, *((b, a, d, c) if pattern.upright else (a, b, c, d)))
        for a, b, c, d in left
        if min(c, d) >= shear.keep - LEVEL
    ]
    return SheetCut(
        stock,
        alike,
        tuple(placed),
        tuple(offcuts),
        _cuts(cutting, pattern.upright, strips, stock, (off_length, off_width)),
    )


def _turned(  # noqa: PLR0913
    pattern: Pattern,
    blanks: tuple[WantedBlank, ...],
    blank: int,
    x: float,
    y: float,
    along: float,
    across: float,
) -> PlacedBlank:
    where = (y, x, across, along) if pattern.upright else (x, y, along, across)
    return PlacedBlank(blanks[blank].name, blank, *where)


def _squaring(stock: Stock, off: tuple[float, float]) -> list[ShearCut]:
    """The cuts that make two edges of a whole sheet true and square."""
    cuts: list[ShearCut] = []
    if off[1]:
        cuts.append(
            ShearCut(
                "square",
                off[1],
                stock.length,
                1,
                msg("the sheet"),
                msg("one long edge true: the datum for everything"),
                lines=((0.0, 0.0, stock.length, 0.0),),
            )
        )
    if off[0]:
        datum = msg("the cut edge") if off[1] else msg("the factory edge, which is the datum")
        message = msg("one short edge square to {datum}; check both diagonals", datum=datum)
        cuts.append(
            ShearCut(
                "square",
                off[0],
                stock.width - off[1],
                1,
                msg("the sheet"),
                message,
                after=tuple(range(len(cuts))),
                lines=((0.0, 0.0, 0.0, stock.width),),
            )
        )
    return cuts


Turned = Callable[[CutLine], CutLine]
"""Brings a line of strips as they are ripped to its place on the sheet."""


def _rips(
    strips: list[RippedStrip],
    run: float,
    depth: float,
    kerf: float,
    turned: Turned,
    after: tuple[int, ...],
) -> list[ShearCut]:
    """The rips, strips alike at one setting."""
    cuts: list[ShearCut] = []
    at = 0.0
    for height, alike in itertools.groupby(strips, key=lambda s: round(s.height, 6)):
        rips = []
        for _ in alike:
            rips.append(turned((0.0, at + height, run, at + height)))
            at += height + kerf
        # The last rip falls away where the strip ends with the sheet.
        if depth - at < -kerf + LEVEL or abs(depth - at + kerf) < LEVEL:
            rips.pop()
        if rips:
            of, gives = msg("the sheet"), msg("a strip")
            cuts.append(
                ShearCut("rip", height, run, len(rips), of, gives, after=after, lines=tuple(rips))
            )
    return cuts


def _cuts(
    cutting: Cutting,
    upright: bool,
    strips: list[RippedStrip],
    stock: Stock,
    off: tuple[float, float],
) -> tuple[ShearCut, ...]:
    """Squaring cuts, rips from the datum edge, then each strip across, then what is trimmed or
    parted in its columns; ``upright`` strips run across the sheet."""
    cuts, kerf = _squaring(stock, off), cutting.shear.kerf
    length, width = stock.length - off[0], stock.width - off[1]
    run, depth = (width, length) if upright else (length, width)

    def turned(line: CutLine) -> CutLine:
        a, b, c, d = line
        return (b, a, d, c) if upright else line

    cuts += _rips(strips, run, depth, kerf, turned, tuple(range(len(cuts))))
    crossed: dict[tuple[float, float, Phrase], list[CutLine]] = {}
    trimmed: dict[tuple[float, float, Phrase], list[CutLine]] = {}
    y = 0.0
    for strip in strips:
        x = 0.0
        for item in strip.items:
            name, end = cutting.blanks[item.blank].name, x + item.along
            if run - end - kerf > -kerf + LEVEL:
                crossed.setdefault((item.along, strip.height, name), []).append(
                    turned((end, y, end, y + strip.height))
                )
            used = item.stacked * (item.across + kerf) - kerf
            parts = item.stacked - 1 + (1 if strip.height - used > LEVEL else 0)
            for n in range(parts):
                at = y + n * (item.across + kerf) + item.across
                trimmed.setdefault((item.across, item.along, name), []).append(
                    turned((x, at, end, at))
                )
            x = end + kerf
        y += strip.height + kerf
    ripped = tuple(range(len(cuts)))
    for (gauge, long, name), lines in sorted(crossed.items(), key=lambda c: (-c[0][1], -c[0][0])):
        cuts.append(
            ShearCut(
                "across",
                gauge,
                long,
                len(lines),
                msg("the strips"),
                name,
                after=ripped,
                lines=tuple(lines),
            )
        )
    apart = tuple(range(len(cuts)))
    for (gauge, long, name), lines in sorted(trimmed.items(), key=lambda c: (-c[0][0], -c[0][1])):
        cuts.append(
            ShearCut(
                "trim",
                gauge,
                long,
                len(lines),
                msg("what came off the strips"),
                name,
                after=apart,
                lines=tuple(lines),
            )
        )
    return tuple(cuts)


STAGES = ("square", "rip", "across", "trim")
"""Kinds of cuts as they commonly follow each other."""


@dataclass(frozen=True)
class At:
    """Cuts of one sheet, or of several cut alike, at one setting.

    Attributes:
        sheet: number of the sheet among those of the lot.
        cut: the cut.
        times: in all, over all sheets cut alike.
    """

    sheet: int
    cut: ShearCut
    times: int


@dataclass(frozen=True)
class StopSetting:
    """One setting of the stop.

    Attributes:
        what: kind of cut, one of :data:`STAGES`.
        gauge: mm from the edge against the stop to the blade.
        against: how the sheet lies.
        cuts: what is cut at it, sheet by sheet.
    """

    what: str
    gauge: float
    against: str
    cuts: tuple[At, ...]

    @property
    def times(self) -> int:
        """Cuts in all."""
        return sum(one.times for one in self.cuts)


def running_order(sheets: Sequence[SheetCut]) -> tuple[StopSetting, ...]:
    """Every cut of a lot in as few settings as are found: a setting waits until all that is cut at
    it is there.

    A cut comes after those that free its piece (:attr:`ShearCut.after`); among what is there, kinds
    follow each other as in :data:`STAGES`, and wide comes before narrow.
    """
    left = {
        (number, k): cut for number, sheet in enumerate(sheets) for k, cut in enumerate(sheet.cuts)
    }
    stop_settings: list[StopSetting] = []
    while left:
        groups: dict[tuple[str, float, bool], list[tuple[int, int]]] = {}
        for key, cut in left.items():
            groups.setdefault((cut.what, round(cut.gauge, 4), cut.marked), []).append(key)
        ready = {group: _ready(members, left) for group, members in groups.items()}

        # Those wait that cannot be made whole yet.
        ranks = {
            group: (len(ready[group]) < len(members), STAGES.index(group[0]), -group[1])
            for group, members in groups.items()
            if ready[group]
        }
        first = min(ranks, key=ranks.__getitem__)
        cuts = [(key, left.pop(key)) for key in ready[first]]
        stop_settings.append(
            StopSetting(
                first[0],
                cuts[0][1].gauge,
                cuts[0][1].against,
                tuple(
                    At(number, cut, cut.times * sheets[number].alike) for (number, _), cut in cuts
                ),
            )
        )
    return tuple(stop_settings)


def _ready(
    members: Sequence[tuple[int, int]], left: dict[tuple[int, int], ShearCut]
) -> list[tuple[int, int]]:
    """Those of one setting whose pieces are there, or are freed by others of the same setting."""
    ready: list[tuple[int, int]] = []
    for number, k in sorted(members):
        if all(
            (number, before) not in left or (number, before) in ready
            for before in left[number, k].after
        ):
            ready.append((number, k))
    return ready
