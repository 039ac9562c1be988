"""A die: the V the metal is pushed into."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from ..measure import Angle, Length
from ..measure.input_error import InputError
from ..measure.line import ONE_LINE
from ..measure.words import tr
from ..measure.written import Written
from .outline import Outline
from .section import Section

LEVEL = 0.05
"""mm; corners this near the top of a die are at its top."""


class Die(Written):
    """One die in all its lengths.

    Attributes:
        name: as the shop calls it.
        angle: included angle of the V, degrees; the sharpest bend it makes.
        radius: of its shoulders, mm.
        outline: its section, top at z = 0, the V over y = 0.
        limit: force it stands, kN per metre of bend.
        pieces: lengths it comes in.
    """

    name: Annotated[str, Field(min_length=1, max_length=80), ONE_LINE]
    angle: Annotated[Angle, Field(ge=10, le=180)] = 85.0
    radius: Length = 1.0
    outline: Outline
    limit: Annotated[float, Field(gt=0, le=20_000)] = 1000.0
    pieces: tuple[Section, ...] = ()

    def __hash__(self) -> int:
        return hash((self.name, self.angle, self.radius))

    @model_validator(mode="after")
    def _has_a_v(self) -> Self:
        top = max(z for _, z in self.outline)
        if abs(top) > LEVEL:
            raise InputError(
                tr("{name}: the top of the die must be at height 0 (read {top:g})").format(name=self.name, top=top)
            )
        level = [y for y, z in self.outline if z > -LEVEL]
        if not any(y > LEVEL for y in level) or not any(y < -LEVEL for y in level):
            raise InputError(
                tr("{name}: the die needs a shoulder on either side of the fold, at height 0").format(name=self.name)
            )
        if self.radius < 0:
            raise InputError(tr("{name}: the radius of the shoulders must not be negative").format(name=self.name))
        if not any(abs(y) < self.opening / 2 and z < -LEVEL for y, z in self.outline):
            raise InputError(tr("{name}: there is no V between its shoulders").format(name=self.name))
        return self

    @property
    def opening(self) -> float:
        """V, mm: shoulder to shoulder."""
        level = [y for y, z in self.outline if z > -LEVEL]
        return min(y for y in level if y > LEVEL) - max(y for y in level if y < -LEVEL)

    @property
    def depth(self) -> float:
        """Depth of the V, mm."""
        return -min(z for y, z in self.outline if abs(y) < self.opening / 2)

    @property
    def height(self) -> float:
        """Table to the top of the die, mm."""
        return -min(z for _, z in self.outline)
