"""What is cut from what."""

from __future__ import annotations

from ..measure.dataclass import dataclass
from ..measure.words import tr
from .nested import Nested
from .pattern import Pattern
from .piece import Blank, Shear, Stock


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
