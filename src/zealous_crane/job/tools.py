"""Small tools of the bench a part is laid out and finished at: what hangs on the wall, how far a
scribe is set, what cuts a notch."""

import math
from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field, field_validator

from ..i18n import tr
from ..metal.sheet import Sheet, SteelRating
from ..schema.model import ONE_LINE, InputModel, Length, LengthOrZero, PositiveLength
from ..units.length import INCH, Units, show_length

PUNCHES_INCH = (3 / 32, 1 / 8, 5 / 32, 3 / 16, 7 / 32, 1 / 4, 9 / 32)
"""in; the usual set of a hand punch. Common practice, from memory."""

PUNCHES_MM = (2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 5.5, 6.0, 7.0)
"""mm; the same for a shop that works in millimetres. Common practice, from memory."""

DRILLS_INCH, DRILLS_MM = 1 / 16, 1.0
"""Steps of the drills above the punches where a shop names none, in and mm."""

Rounds = Annotated[tuple[PositiveLength, ...], Field(max_length=60)]


class SmallTools(InputModel):
    """What a bench has besides its brake.

    Attributes:
        punches: hand punches on the wall, by diameter; none named stands for the usual set.
        drills: drills above these; none named stands for one every sixteenth, or millimetre.
        scribe_reach: to which a scribe is set; beyond it wanders, and rule and straight-edge are
            used.
        seamers: how deep the jaws of the hand seamers and folders reach; none named means there is
            none.
        snips: thickest mild steel the snips cut; other metals by their strength.
        notcher: longest side of a corner the notcher cuts out; none where there is no notcher.
        notcher_rated: thickest mild steel the notcher is rated for.
        kerf: lost by the saw or nibbler that cuts what is too thick for snips.
        vise: longest fold that is closed in the vise between bars; zero where there is none.

    What stands here before a shop says its own is common practice, no source.
    """

    punches: Rounds = Field(
        default=(), json_schema_extra={"empty": "the usual set; or sizes with semicolons"}
    )
    drills: Rounds = Field(
        default=(), json_schema_extra={"empty": "one every sixteenth or millimetre"}
    )
    scribe_reach: PositiveLength = 6 * INCH
    seamers: Annotated[tuple[PositiveLength, ...], Field(max_length=12)] = (
        0.5 * INCH,
        1 * INCH,
        3 * INCH,
    )
    snips: SteelRating = Field(default=1.25, title="Snips cut mild steel to")
    notcher: PositiveLength | None = Field(
        default=None, title="Notcher cuts up to", json_schema_extra={"empty": "no notcher"}
    )
    notcher_rated: SteelRating = Field(default=1.6, title="Notcher is rated for")
    kerf: LengthOrZero = Field(default=INCH / 8, title="Kerf of saw or nibbler")
    vise: LengthOrZero = Field(default=200.0, title="Bars in the vise")

    @field_validator("punches", "drills", "seamers")
    @classmethod
    def _rising(cls, value: tuple[float, ...]) -> tuple[float, ...]:
        return tuple(sorted(set(value)))

    def next_round(self, size: float, units: Units) -> float:
        """A diameter or side rounded up to the next punch, above these to the next drill, mm."""
        tools = self._tools(units)
        own = next((tool for tool in tools if tool >= size - 1e-7), None)
        return own if own is not None else _drilled(size, units, up=True)

    def last_round(self, size: float, units: Units) -> float:
        """A diameter or side rounded down to a punch, above these to a drill, mm; 0 where even the
        smallest is too large."""
        tools = self._tools(units)
        result = max((tool for tool in tools if tool <= size + 1e-7), default=0.0)
        return (
            result
            if self.drills or result < tools[-1]
            else max(result, _drilled(size, units, up=False))
        )

    def has(self, size: float, units: Units) -> bool:
        """True where a round tool of this diameter (mm) hangs on the wall, or no one has said what
        does."""
        return not (self.punches or self.drills) or any(
            abs(tool - size) < 0.02 for tool in self._tools(units)
        )

    def punched(self, size: float, units: Units) -> bool:
        """True where a hole of this diameter (mm) is punched by hand and not drilled."""
        return any(abs(tool - size) < 0.02 for tool in self._punches(units))

    def wall_words(self, units: Units) -> str:
        """The round tools a size is rounded up to, in a phrase."""
        shown = ", ".join(show_length(tool, units, pretty=True) for tool in self._tools(units))
        if self.drills:
            return tr("Punches and drills on the wall: {sizes}.").format(sizes=shown)
        step = show_length(DRILLS_INCH * INCH if units.is_inch else DRILLS_MM, units, pretty=True)
        return tr("Punches on the wall: {sizes}; above them a drill every {step}.").format(
            sizes=shown, step=step
        )

    def _punches(self, units: Units) -> tuple[Length, ...]:
        return self.punches or (
            tuple(INCH * p for p in PUNCHES_INCH) if units.is_inch else PUNCHES_MM
        )

    def _tools(self, units: Units) -> tuple[Length, ...]:
        return tuple(sorted({*self._punches(units), *self.drills}))

    def cuts_notches_with(self, sheet: Sheet, side: float | None) -> str:
        """What cuts a notch in a sheet, in a phrase.

        Args:
            sheet: metal and thickness.
            side: longest side (mm) of a square corner cut out; None for a notch of another shape.
        """
        if (
            self.notcher is not None
            and side is not None
            and side <= self.notcher + 1e-6
            and sheet.thickness <= sheet.allowed_by(self.notcher_rated) + 1e-9
        ):
            return tr("with the notcher")
        if sheet.thickness <= sheet.allowed_by(self.snips) + 1e-9:
            return tr("with snips")
        return tr("with saw or nibbler, its kerf in the waste")


def _drilled(size: float, units: Units, *, up: bool) -> float:
    unit, step = (INCH, DRILLS_INCH) if units.is_inch else (1.0, DRILLS_MM)
    return (
        unit
        * (math.ceil(size / unit / step - 1e-9) if up else math.floor(size / unit / step + 1e-9))
        * step
    )


ToolChoice = Literal["punch", "hung", "die", "angle", "place"]
"""What there is to choose about a set-up: the punch, which way round it hangs, the die; the leaf's
angle, where on the bed."""

Name = Annotated[str, Field(max_length=200), ONE_LINE]


class Today(InputModel):
    """How many pieces of one width are there today.

    Attributes:
        rack: the field of the brake they stand in, or the name of the tool they are pieces of.
        width: along the bed, mm.
        there: how many; nought when none is.
    """

    rack: Name
    width: PositiveLength
    there: Annotated[int, Field(ge=0, le=200)]


class ToolWishes(InputModel):
    """What is wanted of the tools of one brake; on another brake none of it counts.

    Attributes:
        brake: key of the brake.
        every: what every bend is to be set up with, by choice.
        at: the same for single bends, by the fold's name; it goes before ``every``.
        today: pieces of which fewer are there today than the brake has.
    """

    brake: Annotated[str, Field(max_length=61), ONE_LINE] = ""
    every: dict[ToolChoice, Name] = Field(default_factory=dict)
    at: dict[Name, dict[ToolChoice, Name]] = Field(default_factory=dict)
    today: Annotated[tuple[Today, ...], Field(max_length=200)] = ()

    @property
    def any(self) -> bool:
        """True when anything is asked for."""
        return bool(self.every or self.at or self.today)

    def of(self, brake: str) -> "ToolWishes":
        """What is asked for on a brake, given by its key."""
        return self if self.brake == brake else ToolWishes()

    def asked(self, fold: str) -> Mapping[ToolChoice, str]:
        """What a bend is to be set up with, by choice."""
        return {**self.every, **self.at.get(fold, {})}

    def choosing(
        self, brake: str, choice: ToolChoice, value: str | None, fold: str | None = None
    ) -> "ToolWishes":
        """The wishes with one more choice on a brake, of every bend or of one; None leaves it to
        the program.

        Args:
            brake: the machine.
            choice: which tool is chosen.
            value: name of the tool; None leaves the choice to the program.
            fold: name of the bend; None is all of them.
        """
        mine = self.of(brake)
        before = mine.every if fold is None else mine.at.get(fold, {})
        after = {k: v for k, v in before.items() if k != choice} | (
            {} if value is None else {choice: value}
        )
        if fold is None:
            return mine.model_copy(update={"brake": brake, "every": after})
        at = {k: v for k, v in mine.at.items() if k != fold} | ({fold: after} if after else {})
        return mine.model_copy(update={"brake": brake, "at": at})

    def there(self, brake: str, rack: str, width: float, count: int | None) -> "ToolWishes":
        """The wishes with so many pieces of a width there today; None when all are.

        Args:
            brake: the machine.
            rack: name of the rack of pieces.
            width: of the pieces, mm.
            count: pieces there today; None when all are.
        """
        mine = self.of(brake)
        others = tuple(t for t in mine.today if (t.rack, t.width) != (rack, width))
        now = () if count is None else (Today(rack=rack, width=width, there=count),)
        return mine.model_copy(update={"brake": brake, "today": others + now})
