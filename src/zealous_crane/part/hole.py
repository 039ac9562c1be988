"""Holes, cut-outs and marks on a panel."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import LabelledEnum, tr
from ..schema.model import ONE_LINE, Angle, InputModel, Length, PositiveLength, TextLine
from .corner import RIVET_EDGE, SPOT_EDGE
from .edge import EdgeName, Measured


class HolePlace(InputModel):
    """A distance from one edge of a panel, or from its middle.

    Attributes:
        value: mm.
        edge: left or right, front or back (on a flange ``front`` is its fold), or the middle.
        face: where an edge carries a fold: from the inside or outside face of what stands there
            once it is bent; ``flat`` measures from the outermost edge of the flat on that side.
    """

    value: Length = 0.0
    edge: Literal["left", "right", "front", "back", "middle"] = "middle"
    face: Measured = Measured.INSIDE


class HoleShape(LabelledEnum):
    """Shape of a cut-out."""

    ROUND = "round"
    SLOT = "slot"
    RECTANGLE = "rectangle"


class Cutout(InputModel):
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

    panel: TextLine = "base"
    shape: HoleShape = HoleShape.ROUND
    length: PositiveLength
    width: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "round"})
    turn: Annotated[Angle, Field(ge=-180, le=180)] = 0.0
    x: HolePlace = HolePlace()
    y: HolePlace = HolePlace()
    name: TextLine | None = None
    after_bending: bool = False

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A new shape takes a width that goes with it: none for a round hole, half the length for a
        slot, square for a rectangle."""
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


class MarkForm(LabelledEnum):
    """What stiffens a flat panel."""

    CROSS_BREAK = "cross-break"
    BEAD = "bead"


class Stiffener(InputModel):
    """A line that stiffens a flat panel, made before trimming and bending.

    Attributes:
        panel: name of the panel.
        form: cross-break (both diagonals, slightly folded) or a rolled bead along the longer size.
        inset: kept from the panel's edges, mm.
    """

    panel: TextLine = "base"
    form: MarkForm = MarkForm.CROSS_BREAK
    inset: Annotated[Length, Field(ge=0)] = 0.0


class Joined(LabelledEnum):
    """What a row is made of."""

    RIVET = "rivet"
    SPOT = "spot"
    SCREW = "screw"
    TACK = "tack"


class Drilled(LabelledEnum):
    """When the holes of the panel behind are made."""

    THROUGH = "through"
    FLAT = "flat"


class FastenerRow(InputModel):
    """A row along one edge of a panel, spread from the middle of the edge.

    Attributes:
        panel: name of the panel.
        edge: the edge it runs along; ``front`` of a flange is its fold.
        by: rivets, spot welds, screws, or tacks at the very edge that hold a seam for welding.
        size: diameter of rivet, screw or spot, length of a tack, mm.
        inset: of the row from that edge, mm; None takes the least distance from an edge.
        pitch: farthest apart two of them may sit, mm.
        length: of the joint, mm, about the middle of the edge; None takes all of the edge. Equal
            lengths and pitches in two parts give equal places.
        through: name of the panel of this part that lies behind it; empty where it is another
            part's.
        drilled: holes of the panel behind are drilled through the first when all is bent, or made
            while it is flat.
        other: metal behind it in all, mm; None takes one more thickness of this sheet.
        under: it lies behind the other part, so that screws bite in it.
        joint: number of the joint of the work it follows from, from 0; None where it is the part's
            own.
    """

    panel: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    edge: EdgeName = "back"
    by: Joined = Joined.RIVET
    size: PositiveLength = 3.2
    inset: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "the least distance"}
    )
    pitch: Annotated[PositiveLength, Field(ge=5.0)] = 40.0
    length: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "all of the edge"}
    )
    through: Annotated[str, Field(max_length=120), ONE_LINE] = ""
    drilled: Drilled = Drilled.THROUGH
    other: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "one more thickness"}
    )
    under: bool = False
    joint: Annotated[int, Field(ge=0)] | None = None

    @property
    def edge_distance(self) -> float:
        """Least distance (mm) of a place from an edge of the metal: two diameters of a rivet or
        screw, 6 mm of a spot."""
        if self.by is Joined.TACK:
            return 0.0
        return SPOT_EDGE if self.by is Joined.SPOT else RIVET_EDGE * self.size

    @property
    def set_in(self) -> float:
        """Distance of the row from its edge in force, mm."""
        if self.by is Joined.TACK:
            return 0.0
        return self.edge_distance if self.inset is None else self.inset
