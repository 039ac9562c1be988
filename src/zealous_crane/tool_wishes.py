"""What a person wants of the tools: this punch, that die, the leaf's angle off, a finger that is not there today."""

from collections.abc import Mapping
from typing import Annotated, Literal

from pydantic import Field

from .measure import PositiveLength
from .measure.line import ONE_LINE
from .measure.written import Written

ToolChoice = Literal["punch", "hung", "die", "angle", "place"]
"""What there is to choose about a set-up: the punch, which way round it hangs, the die; the leaf's angle, where on the bed."""

Name = Annotated[str, Field(max_length=200), ONE_LINE]


class Today(Written):
    """How many pieces of one width are there today.

    Attributes:
        rack: the field of the brake they stand in, or the name of the tool they are pieces of.
        width: along the bed, mm.
        there: how many; nought when none is.
    """

    rack: Name
    width: PositiveLength
    there: Annotated[int, Field(ge=0, le=200)]


class ToolWishes(Written):
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

    def choosing(self, brake: str, choice: ToolChoice, value: str | None, fold: str | None = None) -> "ToolWishes":
        """The wishes with one more choice on a brake, of every bend or of one; None leaves it to the program."""
        mine = self.of(brake)
        before = mine.every if fold is None else mine.at.get(fold, {})
        after = {k: v for k, v in before.items() if k != choice} | ({} if value is None else {choice: value})
        if fold is None:
            return mine.model_copy(update={"brake": brake, "every": after})
        at = {k: v for k, v in mine.at.items() if k != fold} | ({fold: after} if after else {})
        return mine.model_copy(update={"brake": brake, "at": at})

    def there(self, brake: str, rack: str, width: float, count: int | None) -> "ToolWishes":
        """The wishes with so many pieces of a width there today; None when all are."""
        mine = self.of(brake)
        others = tuple(t for t in mine.today if (t.rack, t.width) != (rack, width))
        now = () if count is None else (Today(rack=rack, width=width, there=count),)
        return mine.model_copy(update={"brake": brake, "today": others + now})
