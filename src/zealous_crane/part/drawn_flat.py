"""A flat drawn elsewhere: outline, holes and fold lines."""

import math
from typing import Annotated, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import tr
from ..schema.model import Angle, InputModel, Length, TextLine

MOST_CORNERS = 3000
"""Corners of one outline or hole; a flat drawn with more is a picture."""

Corner3 = tuple[Length, Length, Annotated[float, Field(ge=-1e6, le=1e6)]]


class DrawnFold(InputModel):
    """A fold line as drawn.

    Attributes:
        start, end: mm.
        angle: degrees turned from flat, negative away from the face that is drawn.
        radius: inside radius, mm; None takes the job's.
        name: as written beside it.
        crease: closes a ring of panels, as at a folded corner; creased by hand.
        ear: of a folded corner: creased sharp by hand, and uses no metal.
    """

    start: tuple[Length, Length]
    end: tuple[Length, Length]
    angle: Annotated[Angle, Field(ge=-300, le=300)] = 90.0
    radius: Length | None = Field(default=None, json_schema_extra={"empty": "the job's"})
    name: TextLine | None = None
    crease: bool = False
    ear: bool = False

    @model_validator(mode="after")
    def _checked(self) -> Self:
        if math.dist(self.start, self.end) < 1e-3:
            raise InputError(tr("a fold line needs some length"))
        if abs(self.angle) < 1:
            raise InputError(tr("a fold must turn by at least 1°"))
        if self.radius is not None and self.radius < 0:
            raise InputError(tr("the inside radius must not be negative"))
        return self


class DrawnFlat(InputModel):
    """A flat pattern from a drawing.

    Attributes:
        outline: corners (x, y, bulge) in order, mm; bulge is tan(sweep/4) of the arc to the next
            corner.
        holes: the same for every hole.
        holes_later: those that are cut when the part is bent.
        folds: fold lines; each stands in the middle of its bend allowance.
        marks: lines that are neither cut nor folded, (x, y, x, y); where both ends are one, a spot
            weld.
    """

    outline: Annotated[tuple[Corner3, ...], Field(min_length=2, max_length=MOST_CORNERS)]
    holes: tuple[
        Annotated[tuple[Corner3, ...], Field(min_length=2, max_length=MOST_CORNERS)], ...
    ] = Field(default=(), max_length=6000)
    holes_later: tuple[
        Annotated[tuple[Corner3, ...], Field(min_length=2, max_length=MOST_CORNERS)], ...
    ] = Field(default=(), max_length=6000)
    folds: tuple[DrawnFold, ...] = Field(default=(), max_length=200)
    marks: tuple[tuple[Length, Length, Length, Length], ...] = Field(default=(), max_length=6000)
