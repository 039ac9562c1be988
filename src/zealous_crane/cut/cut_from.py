"""What a work is cut from: the sheet that is bought, what is left over of others, and what cuts."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..measure import INCH, LengthOrZero, PositiveLength
from ..measure.words import tr
from ..part.model import Written
from .piece import Shear, Stock


class OffCut(Written):
    """A piece left over from other work.

    Attributes:
        length, width: mm.
        count: how many there are.
    """

    length: PositiveLength
    width: PositiveLength
    count: Annotated[int, Field(ge=1, le=1000)] = 1


class CutFrom(Written):
    """Sheets, off-cuts and the shear of a work.

    Attributes:
        sheet_length, sheet_width: of the sheet that is bought, mm.
        offcuts: what is left over, used first.
        shear_length: longest cut of the shear, mm.
        kerf: lost in every cut, mm; nothing on a shear.
        squaring: trimmed off two edges of a whole sheet, to make them true and square, mm.
        least_strip: narrowest piece the hold-down holds, mm.
        keep: an off-cut is kept when both its sides are as long as this, mm.
    """

    sheet_length: PositiveLength = 96 * INCH
    sheet_width: PositiveLength = 48 * INCH
    offcuts: tuple[OffCut, ...] = ()
    shear_length: PositiveLength = Field(default=52 * INCH, title="Longest cut of the shear")
    kerf: LengthOrZero = Field(default=0.0, title="Lost in a cut (saw)")
    squaring: LengthOrZero = Field(default=INCH / 8, title="Squaring cut")
    least_strip: PositiveLength = Field(default=INCH, title="Narrowest strip held")
    keep: PositiveLength = Field(default=4 * INCH, title="Keep off-cuts from")

    @property
    def stock(self) -> tuple[Stock, ...]:
        """The sheets."""
        left = tuple(
            Stock(tr("off-cut {n}").format(n=n), o.length, o.width, o.count, True) for n, o in enumerate(self.offcuts, start=1)
        )
        return (*left, Stock(tr("sheet"), self.sheet_length, self.sheet_width))

    @property
    def shear(self) -> Shear:
        """What cuts."""
        return Shear(self.shear_length, self.kerf, self.squaring, self.least_strip, self.keep)
