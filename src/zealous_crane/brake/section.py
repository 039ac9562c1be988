"""Pieces of a tool that slide together along the bed: fingers, punch pieces, die pieces."""

from collections.abc import Iterable
from enum import StrEnum
from typing import Annotated

from pydantic import Field

from ..measure import INCH, PositiveLength, Units
from ..measure.dataclass import dataclass
from ..measure.words import tr
from ..measure.written import Written


class Section(Written):
    """Pieces of one width.

    Attributes:
        width: along the bed, mm.
        count: how many there are.
    """

    width: PositiveLength
    count: Annotated[int, Field(ge=1, le=200)] = 1


def marked_in(widths: Iterable[float]) -> Units:
    """What pieces are marked in, by their widths (mm): inches where most are whole sixteenths and no whole millimetres."""
    inch = mm = 0
    for width in widths:
        sixteenths = width / INCH * 16
        inch += abs(sixteenths - round(sixteenths)) < 0.02
        mm += abs(width - round(width)) < 0.005
    return Units.FRACTIONS if inch > mm else Units.MM


class PieceKind(StrEnum):
    """What pieces of a rack are."""

    FINGER = "finger"
    BAR = "bar"
    PUNCH = "punch"
    DIE = "die"

    @property
    def one(self) -> str:
        """What one piece is called."""
        return PIECE_WORDS[self][0]

    @property
    def many(self) -> str:
        """What several are called."""
        return PIECE_WORDS[self][1]


PIECE_WORDS = {
    PieceKind.FINGER: (tr("finger"), tr("fingers")), PieceKind.BAR: (tr("bar"), tr("bars")),
    PieceKind.PUNCH: (tr("punch piece"), tr("punch pieces")), PieceKind.DIE: (tr("die piece"), tr("die pieces")),
}  # fmt: skip


@dataclass(frozen=True)
class Sections:
    """What there is to make up a block of pieces from, and how it may be made up.

    Attributes:
        pieces: what stands in the rack.
        longest: length of the bed, mm.
        side_clearance: room between a piece and a wall beside it, mm.
        largest_gap: largest gap left between two pieces, mm.
        unsupported_end: longest end of a fold with no piece over it, mm.
        kind: what the pieces are.
    """

    pieces: tuple[Section, ...]
    longest: float
    side_clearance: float
    largest_gap: float
    unsupported_end: float
    kind: PieceKind = PieceKind.FINGER
