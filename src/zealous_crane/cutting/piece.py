"""What is cut, and what from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Self

from pydantic import Field

from ..errors import InputError
from ..i18n import Phrase, msg
from ..metal.sheet import SteelRating
from ..schema.model import ONE_LINE, InputModel, LengthOrZero, PositiveLength, TextLine
from ..units.length import INCH, Units


@dataclass(frozen=True)
class WantedBlank:
    """A rectangle that is wanted.

    Attributes:
        name: of the part.
        length, width: mm.
        count: how many.
        turns: it may lie either way on the sheet; not where grain, film or a pattern says which
            way.
    """

    name: Phrase
    length: float
    width: float
    count: int
    turns: bool = True

    @property
    def area(self) -> float:
        """Of one, mm²."""
        return self.length * self.width


@dataclass(frozen=True)
class Stock:
    """A sheet or an off-cut there is.

    Attributes:
        name: as the shop calls it.
        length, width: mm.
        count: how many there are; None when more can be bought.
        offcut: it is left over from other work, and used first.
    """

    name: Phrase
    length: float
    width: float
    count: int | None = None
    offcut: bool = False

    @property
    def area(self) -> float:
        """mm²."""
        return self.length * self.width


@dataclass(frozen=True)
class Shear:
    """What cuts, and what it asks for.

    Attributes:
        length: longest cut, mm.
        kerf: metal lost in a cut, mm: nothing on a shear, the blade's width on a saw.
        squaring: trimmed off two edges of a whole sheet that meet, to make them true and square,
            mm.
        least_strip: narrowest piece the hold-down can hold, mm.
        keep: an off-cut is kept when both its sides are as long as this, mm.
        reach: farthest its stop is set, mm; beyond it a cut is marked with dots on both edges.
        arm: it has a squaring arm.
    """

    length: float = 3050.0
    kerf: float = 0.0
    squaring: float = 3.0
    least_strip: float = 25.0
    keep: float = 100.0
    reach: float = 610.0
    arm: bool = True


def squared(stock: Stock, shear: Shear) -> tuple[float, float]:
    """Metal (mm) trimmed off a sheet's length and off its width to make two edges true and square.

    An off-cut is square already. An edge that is longer than the shear stays as the mill left it:
    the factory edge is the datum then.
    """
    if stock.offcut:
        return 0.0, 0.0
    off_length = shear.squaring if stock.width <= shear.length + 1e-6 else 0.0
    off_width = shear.squaring if stock.length <= shear.length + 1e-6 else 0.0
    return off_length, off_width


class CutError(InputError):
    """Work that cannot be cut; the message says what stands in the way."""


SAME_SHEET = 0.04
"""Of a thickness: sheets that differ by less are one."""


class OffCut(InputModel, defer_build=False):
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
    metal: TextLine | None = Field(default=None, json_schema_extra={"empty": "whatever is cut"})
    thickness: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "whatever is cut"}
    )

    def is_of(self, metal: str, thickness: float) -> bool:
        """True where it may be cut up for this metal and thickness (mm)."""
        alike = self.thickness is None or abs(self.thickness - thickness) <= SAME_SHEET * thickness
        return self.metal in (None, metal) and alike


class CutFrom(InputModel, defer_build=False):
    """Sheets, off-cuts and the shear of a work.

    Attributes:
        sheet_length, sheet_width: of the sheet that is bought, mm.
        offcuts: what is left over, used first.
        shear_length: longest cut of the shear, mm.
        kerf: lost in every cut, mm; nothing on a shear.
        squaring: trimmed off two edges of a whole sheet, to make them true and square, mm.
        least_strip: narrowest piece the hold-down holds, mm.
        keep: an off-cut is kept when both its sides are as long as this, mm.
        rated: thickest mild steel the shear is rated for over its length, mm; None where that is
            not known.
        stop_reach: farthest the shear's stop is set, mm; what is farther is marked.
        arm: the shear has a squaring arm; without one what must be square is struck with a square.
        price: of metal, by the kilogram, in whatever money the shop counts; None leaves it out.
        helper: from this length on a piece is carried and held by two, mm.
    """

    sheet_length: PositiveLength = 96 * INCH
    sheet_width: PositiveLength = 48 * INCH
    offcuts: tuple[OffCut, ...] = ()
    shear_length: PositiveLength = Field(default=52 * INCH, title="Longest cut")
    kerf: LengthOrZero = Field(default=0.0, title="Kerf (saw)")
    squaring: LengthOrZero = Field(default=INCH / 8, title="Squaring cut")
    least_strip: PositiveLength = Field(default=INCH, title="Narrowest strip held")
    keep: PositiveLength = Field(default=4 * INCH, title="Keep off-cuts of at least")
    rated: SteelRating | None = Field(
        default=None, title="Rated for mild steel of", json_schema_extra={"empty": "not known"}
    )
    stop_reach: PositiveLength = Field(default=24 * INCH, title="Shear stop reaches")
    arm: bool = Field(default=True, title="It has a squaring arm")
    price: Annotated[float, Field(ge=0, le=1e6)] | None = Field(
        default=None, title="Price per kilogram", json_schema_extra={"empty": "not counted"}
    )
    helper: PositiveLength = Field(default=48 * INCH, title="Two people above")

    def told_in(self, units: Units) -> Self:
        """The same, the usual squaring cut a round size of a rule in these units: 1/8", or 3 mm."""
        usual = abs(self.squaring - INCH / 8) < 1e-6
        return self if units.is_inch or not usual else self.model_copy(update={"squaring": 3.0})

    def stock_of(self, metal: str, thickness: float) -> tuple[Stock, ...]:
        """The off-cuts and sheets a metal of a thickness (mm) is cut from."""
        left = tuple(
            Stock(o.name or msg("off-cut {n}", n=n), o.length, o.width, o.count, True)
            for n, o in enumerate(self.offcuts, start=1)
            if o.is_of(metal, thickness)
        )
        return (*left, Stock(msg("sheet"), self.sheet_length, self.sheet_width))

    @property
    def shear(self) -> Shear:
        """What cuts."""
        return Shear(
            self.shear_length,
            self.kerf,
            self.squaring,
            self.least_strip,
            self.keep,
            self.stop_reach,
            self.arm,
        )
