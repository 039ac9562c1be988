"""What every brake has, whatever its kind: the measures the plan asks any machine for."""

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from ..i18n import Message
from ..job.tools import ToolChoice
from ..metal.bend import ToolRadius
from ..metal.sheet import Sheet
from ..schema.model import ONE_LINE, InputModel, LengthOrZero, PositiveLength
from ..units.length import Units
from .tools import Die, Punch, Segment, SegmentSet, marked_in

NONE_ASKED: Mapping[ToolChoice, str] = {}
"""No tool is asked for."""


class Brake(InputModel, ABC):
    """A machine that folds sheet. All lengths mm; ``y`` runs from the operator to the back, ``z``
    up.

    Attributes:
        kind: the kind of machine, the word that stands in its file.
        key: word that stands in job files.
        name: as the shop calls it.
        bed_length: length of the bed, which is also the longest fold.
        open_ends: a part may reach past the ends of the bed, and may be slid in and out there.
        gauge_reach: how far behind the fold the stop gauge goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what its pieces are marked in; None finds out from their widths.
        side_clearance: room between a piece of tool and a wall beside it.
        largest_gap: largest gap left between two pieces.
        unsupported_end: longest end of a fold with no piece over it.
    """

    pieces: ClassVar[Mapping[str, Message]] = {}
    """Fields that hold pieces set side by side, and what the shop calls them together."""

    tools: ClassVar[Mapping[str, Message]] = {}
    """Fields that hold tools with an outline and pieces of their own, and what one of them is
    called."""

    plain_tools: ClassVar[Mapping[Message, tuple[str, Callable[[str], Punch | Die]]]] = {}
    """Tools to begin from: the field they go into, and what makes one of a name."""

    format: Literal["zealous-crane-brake"] = "zealous-crane-brake"
    version: Literal[1] = 1
    kind: str
    key: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,60}$")]
    name: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    bed_length: PositiveLength
    open_ends: bool = False
    gauge_reach: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "lines are sighted"}
    )
    gauge_height: PositiveLength = 10.0
    tool_units: Units | None = Field(
        default=None, json_schema_extra={"empty": "as their widths are"}
    )
    side_clearance: LengthOrZero = 0.5
    largest_gap: LengthOrZero = 8.0
    unsupported_end: LengthOrZero = 12.0

    def __hash__(self) -> int:
        """Machines are told apart by what they are called: every piece of every rack would be gone
        through each time."""
        return hash((self.key, self.name, self.bed_length))

    @property
    @abstractmethod
    def racks(self) -> tuple[SegmentSet, ...]:
        """Everything there is to set up with, one rack for each set of pieces that may stand
        together."""

    @abstractmethod
    def radius(
        self, sheet: Sheet, asked: Mapping[ToolChoice, str] = NONE_ASKED, *, bottomed: bool = False
    ) -> ToolRadius | None:
        """Inside radius the brake gives a fold in this sheet; None where no tool of it suits the
        sheet.

        Args:
            sheet: the metal.
            asked: tools a person asked for, by choice (``punch``, ``die``); the rest are those the
                plan begins with.
            bottomed: on a press, the bend is bottomed in the V.
        """

    @property
    def marked_in(self) -> Units:
        """Units the pieces are marked in."""
        return self.tool_units or marked_in(
            piece.width for rack in self.racks for piece in rack.pieces
        )

    def with_pieces(self, there: Callable[[str, float], int | None]) -> Self:
        """This brake with fewer pieces.

        Args:
            there: how many of a rack, by its field or its tool's name, and of a width (mm) there
                are; None when all are.
        """

        def left(rack: str, pieces: tuple[Segment, ...]) -> tuple[Segment, ...]:
            counts = [(piece, there(rack, piece.width)) for piece in pieces]
            return tuple(
                piece
                if count is None or count >= piece.count
                else piece.model_copy(update={"count": count})
                for piece, count in counts
                if count != 0
            )

        fields: dict[str, object] = {
            field: left(field, getattr(self, field)) for field in self.pieces
        }
        for field in self.tools:
            fields[field] = tuple(
                tool.model_copy(update={"pieces": left(tool.name, tool.pieces)})
                for tool in getattr(self, field)
            )
        return self.model_copy(update=fields)

    def with_one_more(self, width: float) -> Self | None:
        """This brake with one more piece of a width, mm; None where its pieces do not come one by
        one."""
        return None
