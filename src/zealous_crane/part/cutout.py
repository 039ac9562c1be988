"""Holes, cut-outs and marks on a panel."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from ..measure import Angle, Length, PositiveLength
from ..measure.input_error import InputError
from ..measure.line import Line
from ..measure.worded import Worded
from ..measure.words import tr
from ..measure.written import Written
from .edge import Measured


class Place(Written):
    """A distance from one edge of a panel, or from its middle.

    Attributes:
        value: mm.
        edge: left or right, front or back (on a flange ``front`` is its fold), or the middle.
        face: where an edge carries a fold: from the inside or outside face of what stands there once it is bent; ``flat``
            measures from the outermost edge of the flat on that side.
    """

    value: Length = 0.0
    edge: Literal["left", "right", "front", "back", "middle"] = "middle"
    face: Measured = Measured.INSIDE


class HoleShape(Worded):
    """Shape of a cut-out."""

    ROUND = "round"
    SLOT = "slot"
    RECTANGLE = "rectangle"


class Cutout(Written):
    """A hole in a panel.

    Attributes:
        panel: name of the panel.
        shape: round, slot (rounded ends) or rectangle.
        length: diameter, or the longer size over all, mm.
        width: the other size, mm; a round hole has none.
        turn: degrees the longer size is turned from left–right.
        x: place of the centre from left or right.
        y: place of the centre from front or back.
        name: what the shop calls it.
        after_bending: cut when the part is bent, because bending would pull it.
    """

    panel: Line = "base"
    shape: HoleShape = HoleShape.ROUND
    length: PositiveLength
    width: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "round"})
    turn: Annotated[Angle, Field(ge=-180, le=180)] = 0.0
    x: Place = Place()
    y: Place = Place()
    name: Line | None = None
    after_bending: bool = False

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A new shape takes a width that goes with it: none for a round hole, half the length for a slot, square for a rectangle."""
        if changed != "shape":
            return record
        length, width = record["length"], record["width"]
        proposed = {
            HoleShape.ROUND: None,
            HoleShape.SLOT: min(width or length / 2, length),
            HoleShape.RECTANGLE: width or length,
        }
        return {**record, "width": proposed[HoleShape(record["shape"])]}

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if self.x.edge in ("front", "back"):
            raise InputError(tr("x runs from left or right"))
        if self.y.edge in ("left", "right"):
            raise InputError(tr("y runs from front or back"))
        if self.shape is HoleShape.ROUND:
            if self.width is not None:
                raise InputError(tr("a round hole has a diameter and no width"))
        elif self.width is None:
            raise InputError(tr("a {shape} needs a width").format(shape=self.shape.words))
        elif self.shape is HoleShape.SLOT and self.width > self.length:
            raise InputError(tr("a slot is at least as long as it is wide"))
        return self


class MarkForm(Worded):
    """What stiffens a flat panel."""

    CROSS_BREAK = "cross-break"
    BEAD = "bead"


class Mark(Written):
    """A line that stiffens a flat panel, made before trimming and bending.

    Attributes:
        panel: name of the panel.
        form: cross-break (both diagonals, slightly folded) or a rolled bead along the longer size.
        inset: kept from the panel's edges, mm.
    """

    panel: Line = "base"
    form: MarkForm = MarkForm.CROSS_BREAK
    inset: Annotated[Length, Field(ge=0)] = 0.0
