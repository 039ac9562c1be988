"""A punch: what comes down on the inside of the bend."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from ..measure import Angle, Length, PositiveLength
from ..measure.input_error import InputError
from ..measure.line import ONE_LINE
from ..measure.worded import Worded
from ..measure.words import tr
from ..measure.written import Written
from .outline import Outline, mirrored
from .section import Section

AT_TIP = 0.05
"""mm; how far the lowest corner may lie from the tip's place."""


class PunchStyle(Worded):
    """What a punch is for."""

    STRAIGHT = "straight"
    ACUTE = "acute"
    GOOSENECK = "gooseneck"
    HEMMING = "hemming"


class Punch(Written):
    """One punch in all its lengths.

    Attributes:
        name: as the shop calls it.
        style: what it is for; a hemming punch is flat and closes hems.
        angle: included angle of the tip, degrees; the sharpest bend it makes.
        radius: of the tip, mm.
        outline: its section, tip at (0, 0), the rest above; y to the back.
        limit: force it stands, kN per metre of bend.
        pieces: lengths it comes in.
    """

    name: Annotated[str, Field(min_length=1, max_length=80), ONE_LINE]
    style: PunchStyle = PunchStyle.STRAIGHT
    angle: Annotated[Angle, Field(ge=10, le=180)] = 85.0
    radius: Length = 0.8
    outline: Outline
    limit: Annotated[float, Field(gt=0, le=20_000)] = 1000.0
    pieces: tuple[Section, ...] = ()

    def __hash__(self) -> int:
        return hash((self.name, self.angle, self.radius))

    @model_validator(mode="after")
    def _tip_in_place(self) -> Self:
        low = min(z for _, z in self.outline)
        if abs(low) > AT_TIP:
            raise InputError(
                tr("{name}: the tip must be the lowest point of the outline, at height 0 (read {low:g})").format(
                    name=self.name, low=low
                )
            )
        ys = [y for y, z in self.outline if z < low + AT_TIP]
        if min(ys) > AT_TIP or max(ys) < -AT_TIP:
            raise InputError(tr("{name}: the tip must stand at y = 0, on the fold").format(name=self.name))
        if self.radius < 0:
            raise InputError(tr("{name}: the radius of the tip must not be negative").format(name=self.name))
        return self

    @property
    def height(self) -> PositiveLength:
        """Tip to the underside of the ram, mm."""
        return max(z for _, z in self.outline)

    @property
    def turned(self) -> Self:
        """The punch turned end for end in the ram."""
        return self.model_copy(update={"outline": mirrored(self.outline)})

    @property
    def even(self) -> bool:
        """True when turning it changes nothing."""
        one, other = sorted(self.outline), sorted(mirrored(self.outline))
        return all(abs(a[0] - b[0]) + abs(a[1] - b[1]) < 1e-6 for a, b in zip(one, other, strict=True))
