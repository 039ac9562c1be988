"""What is cut, and what from."""

from __future__ import annotations

from ..measure.dataclass import dataclass
from ..measure.input_error import InputError


@dataclass(frozen=True)
class Blank:
    """A rectangle that is wanted.

    Attributes:
        name: of the part.
        length, width: mm.
        count: how many.
        turns: it may lie either way on the sheet; not where grain, film or a pattern says which way.
    """

    name: str
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

    name: str
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
        squaring: trimmed off two edges of a whole sheet that meet, to make them true and square, mm.
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

    An off-cut is square already. An edge that is longer than the shear stays as the mill left it: the factory edge is the datum then.
    """
    if stock.offcut:
        return 0.0, 0.0
    off_length = shear.squaring if stock.width <= shear.length + 1e-6 else 0.0
    off_width = shear.squaring if stock.length <= shear.length + 1e-6 else 0.0
    return off_length, off_width


class CutError(InputError):
    """Work that cannot be cut; the message says what stands in the way."""
