"""A press brake: ram, table, and the punches and dies of the shop."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..measure import Length, LengthOrZero, PositiveLength, Units
from ..part.model import Written
from .die import Die
from .punch import Punch, PunchStyle
from .section import Section, Sections, marked_in


class PressBrake(Written):
    """A press brake. All lengths mm; ``y`` runs from the operator to the back, 0 under the ram's middle; ``z`` up.

    Attributes:
        key: word that stands in job files.
        name: as the shop calls it.
        bed_length: length of ram and table, which is also the longest fold.
        force: greatest force of the ram, kN.
        open_height: ram to table with the ram up and no tools in.
        shut_height: ram to table at the bottom of the stroke.
        ram_front, ram_back: the ram's faces before and behind the punch.
        ram_height: how far up the ram's section goes.
        table_front, table_back: the table's faces before and behind the die.
        table_height: how far down the table's section goes.
        punches, dies: the tools.
        side_clearance: room between a piece of tool and a wall beside it.
        largest_gap: largest gap left between two pieces.
        unsupported_end: longest end of a fold with no tool over it.
        open_ends: no side frames in the way: a part may reach past the ends, and be slid in and out there.
        gauge_reach: how far behind the fold the back gauge goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what its pieces are marked in; None finds out from their widths.
    """

    format: Literal["zealous-crane-brake"] = "zealous-crane-brake"
    version: Literal[1] = 1
    kind: Literal["press"] = "press"
    key: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,60}$")]
    name: Annotated[str, Field(min_length=1, max_length=120)]
    bed_length: PositiveLength
    force: Annotated[float, Field(gt=0, le=100_000)]
    open_height: PositiveLength
    shut_height: PositiveLength
    ram_front: Length = -30.0
    ram_back: Length = 30.0
    ram_height: PositiveLength = 300.0
    table_front: Length = -60.0
    table_back: Length = 60.0
    table_height: PositiveLength = 300.0
    punches: Annotated[tuple[Punch, ...], Field(max_length=60)] = ()
    dies: Annotated[tuple[Die, ...], Field(max_length=60)] = ()
    side_clearance: LengthOrZero = 0.5
    largest_gap: LengthOrZero = 6.0
    unsupported_end: LengthOrZero = 10.0
    open_ends: bool = False
    gauge_reach: PositiveLength | None = 500.0
    gauge_height: PositiveLength = 10.0
    tool_units: Units | None = None

    @model_validator(mode="after")
    def _stands_up(self) -> PressBrake:
        if self.ram_front >= self.ram_back:
            raise ValueError("the ram's front must lie before its back")
        if self.table_front >= self.table_back:
            raise ValueError("the table's front must lie before its back")
        if self.shut_height >= self.open_height:
            raise ValueError("the press is shut higher than it is open")
        tools: tuple[Punch | Die, ...] = (*self.punches, *self.dies)
        for tool in tools:
            for piece in tool.pieces:
                if piece.width > self.bed_length:
                    raise ValueError(
                        f"{tool.name}: a piece of {piece.width:g} mm is longer than the bed of {self.bed_length:g} mm"
                    )
        for noun, names in (("punch", [p.name for p in self.punches]), ("die", [d.name for d in self.dies])):
            for name in names:
                if names.count(name) > 1:
                    raise ValueError(f"two are called {name!r}; every {noun} needs its own name")
        return self

    @property
    def bending_punches(self) -> tuple[Punch, ...]:
        """The punches that make bends."""
        return tuple(p for p in self.punches if p.style is not PunchStyle.HEMMING)

    @property
    def marked_in(self) -> Units:
        """Units the pieces of punches and dies are marked in."""
        tools: tuple[Punch | Die, ...] = (*self.punches, *self.dies)
        return self.tool_units or marked_in(piece.width for tool in tools for piece in tool.pieces)

    @property
    def closes_hems(self) -> bool:
        """True when a flat punch to close hems is there."""
        return any(p.style is PunchStyle.HEMMING for p in self.punches)

    def sections(self, pieces: tuple[Section, ...], noun: str) -> Sections:
        """The pieces of one tool and how they may be set."""
        return Sections(pieces, self.bed_length, self.side_clearance, self.largest_gap, self.unsupported_end, noun)

    def daylight(self, punch: Punch, die: Die) -> float:
        """Punch tip above the die's top with the ram up, mm."""
        return self.open_height - punch.height - die.height

    def closes(self, punch: Punch, die: Die, thickness: float) -> bool:
        """True when ram and tools reach the metal: the shut height lies below the stack of tools and metal."""
        return self.shut_height <= punch.height + die.height + thickness - die.depth / 2
