"""What a work is cut from: the sheet that is bought, what is left over of others, and what cuts."""

from typing import Annotated, Self

from pydantic import Field

from ..measure import INCH, LengthOrZero, PositiveLength, Units
from ..measure.line import ONE_LINE, Line
from ..measure.words import tr
from ..measure.written import Written
from ..metal import SteelRating
from .piece import Shear, Stock

SAME_SHEET = 0.04
"""Of a thickness: sheets that differ by less are one."""


class OffCut(Written, defer_build=False):
    """A piece left over from other work.

    Attributes:
        length, width: mm.
        count: how many there are.
        name: as the shop calls it; empty where it has none.
        metal, thickness: key of its metal, and mm; None where it is of whatever is cut.
    """

    length: PositiveLength
    width: PositiveLength
    count: Annotated[int, Field(ge=1, le=1000)] = 1
    name: Annotated[str, Field(max_length=80), ONE_LINE] = ""
    metal: Line | None = Field(default=None, json_schema_extra={"empty": "whatever is cut"})
    thickness: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "whatever is cut"})

    def is_of(self, metal: str, thickness: float) -> bool:
        """True where it may be cut up for this metal and thickness (mm)."""
        alike = self.thickness is None or abs(self.thickness - thickness) <= SAME_SHEET * thickness
        return self.metal in (None, metal) and alike


class CutFrom(Written, defer_build=False):
    """Sheets, off-cuts and the shear of a work.

    Attributes:
        sheet_length, sheet_width: of the sheet that is bought, mm.
        offcuts: what is left over, used first.
        shear_length: longest cut of the shear, mm.
        kerf: lost in every cut, mm; nothing on a shear.
        squaring: trimmed off two edges of a whole sheet, to make them true and square, mm.
        least_strip: narrowest piece the hold-down holds, mm.
        keep: an off-cut is kept when both its sides are as long as this, mm.
        rated: thickest mild steel the shear is rated for over its length, mm; None where that is not known.
        stop_reach: farthest the shear's stop is set, mm; what is farther is marked.
        arm: the shear has a squaring arm; without one what must be square is struck with a square.
        price: of metal, by the kilogram, in whatever money the shop counts; None leaves it out.
        helper: from this length on a piece is carried and held by two, mm.
    """

    sheet_length: PositiveLength = 96 * INCH
    sheet_width: PositiveLength = 48 * INCH
    offcuts: tuple[OffCut, ...] = ()
    shear_length: PositiveLength = Field(default=52 * INCH, title="Longest cut")
    kerf: LengthOrZero = Field(default=0.0, title="Lost in a cut (saw)")
    squaring: LengthOrZero = Field(default=INCH / 8, title="Squaring cut")
    least_strip: PositiveLength = Field(default=INCH, title="Narrowest strip held")
    keep: PositiveLength = Field(default=4 * INCH, title="Keep off-cuts from")
    rated: SteelRating | None = Field(default=None, title="Rated for mild steel of", json_schema_extra={"empty": "not known"})
    stop_reach: PositiveLength = Field(default=24 * INCH, title="Stop is set up to")
    arm: bool = Field(default=True, title="It has a squaring arm")
    price: Annotated[float, Field(ge=0, le=1e6)] | None = Field(
        default=None, title="Price of a kilogram", json_schema_extra={"empty": "not counted"}
    )
    helper: PositiveLength = Field(default=48 * INCH, title="Two to carry from")

    def told_in(self, units: Units) -> Self:
        """The same, the usual squaring cut a round size of a rule in these units: 1/8", or 3 mm."""
        usual = abs(self.squaring - INCH / 8) < 1e-6
        return self if units.is_inch or not usual else self.model_copy(update={"squaring": 3.0})

    def stock_of(self, metal: str, thickness: float) -> tuple[Stock, ...]:
        """The off-cuts and sheets a metal of a thickness (mm) is cut from."""
        left = tuple(
            Stock(o.name or tr("off-cut {n}").format(n=n), o.length, o.width, o.count, True)
            for n, o in enumerate(self.offcuts, start=1)
            if o.is_of(metal, thickness)
        )
        return (*left, Stock(tr("sheet"), self.sheet_length, self.sheet_width))

    @property
    def shear(self) -> Shear:
        """What cuts."""
        return Shear(self.shear_length, self.kerf, self.squaring, self.least_strip, self.keep, self.stop_reach, self.arm)
