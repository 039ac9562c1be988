"""What is done where two flanges of one panel meet: who runs past whom, tabs, ears, and the relief
between them."""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import LabelledEnum, tr
from ..schema.model import Angle, InputModel, Length, PositiveLength


class ReliefShape(LabelledEnum):
    """Shape of the cut at the inner point of a corner notch."""

    NONE = "none"
    ROUND = "round"
    SQUARE = "square"
    SLOT = "slot"


class ReliefRule(InputModel):
    """The relief cut at the inner point of a notch.

    Attributes:
        shape: none, round (a drilled or punched hole), square, or a slot on the line that halves
            the corner.
        size: diameter, side or width, mm; None lets the rule choose.
    """

    shape: ReliefShape = ReliefShape.ROUND
    size: Length | None = None


class CornerRule(LabelledEnum):
    """How two walls close their corner."""

    OPEN = "open"
    BUTT = "butt"
    TAB = "tab"
    GUSSET = "gusset"
    MITRE = "mitre"


class Walls(LabelledEnum):
    """Which two walls of a rectangular base are meant."""

    ENDS = "left-right"
    SIDES = "front-back"

    @property
    def words(self) -> str:
        """As it is read."""
        return {
            Walls.ENDS: tr("left and right walls"),
            Walls.SIDES: tr("front and back walls"),
        }[self]


class Fastening(LabelledEnum):
    """How a tab is held."""

    NONE = "none"
    SPOT = "spot"
    RIVET = "rivet"


RIVET_EDGE = 2.0
"""Diameters from a rivet's centre to an edge: FAA AC 43.13-1B, 4-57 (two diameters; pitch at least
three). From memory."""

SPOT_EDGE = 6.0
"""mm from a spot to an edge. Common practice, no source."""


SPOT = 4.0
"""mm across a spot of a small machine. Common practice, no source."""


class Tab(InputModel, defer_build=False):
    """A tab on the end of one wall that lies against the next.

    Attributes:
        length: along the neighbour, mm, from the fold's inside corner.
        inside: lies inside the neighbour; otherwise outside it.
        taper: degrees its two sides narrow.
        clearance: room between tab and neighbour, mm.
        foot: kept clear of the base, mm; None takes what the fold below needs.
        top: kept below the wall's upper edge, mm.
        fastening: nothing, spot welds or rivets.
        pitch: farthest apart two fastenings may sit, mm.
        margin: least distance of a fastening from the tab's ends, mm; None takes two diameters of a
            rivet, 6 mm of a spot.
        rivet: diameter of the rivets, mm; the hole is drilled for it.
    """

    length: PositiveLength
    inside: bool = True
    taper: Annotated[Angle, Field(ge=0, le=60)] = 15.0
    clearance: Annotated[Length, Field(ge=0)] = 0.0
    foot: Annotated[Length, Field(ge=0)] | None = None
    top: Annotated[Length, Field(ge=0)] = 0.0
    fastening: Fastening = Fastening.NONE
    pitch: Annotated[PositiveLength, Field(ge=5.0)] = 40.0
    margin: PositiveLength | None = None
    rivet: PositiveLength = 3.2

    @property
    def edge_distance(self) -> float:
        """Distance of a fastening from the tab's ends in force, mm."""
        if self.margin is not None:
            return self.margin
        return RIVET_EDGE * self.rivet if self.fastening is Fastening.RIVET else SPOT_EDGE


class Corner(InputModel):
    """How a corner closes.

    Attributes:
        rule: ``open``: both walls end at the other's inside face, less the gap. ``butt``: the walls
            named in ``by`` run over the ends of the others. ``tab``: the walls named in ``by``
                carry tabs. ``gusset``: nothing is cut; the corner
            is folded into an ear laid against the walls named in ``by``. ``mitre``: like open, and
            lips on the walls are cut to meet on the line where they cross.
        by: which walls cover, carry the tab, or take the ear.
        gap: how far each wall's end stays short of its neighbour's inside face, mm. None takes one
            thickness rounded up to what a rule can set. The gap is not only for burrs: at the
            over-bend of the last wall the leaf leans past the ends of the standing walls, and the
            gap lets it.
        relief: the cut at the inner point.
        tab: the tab's sizes; used by the rule that has one.
        ear_outside: the ear of a folded corner lies outside the wall; otherwise inside.
    """

    rule: CornerRule = CornerRule.OPEN
    by: Walls = Field(default=Walls.ENDS, title="Corner lap on")
    gap: Length | None = Field(
        default=None,
        title="Gap at the ends",
        json_schema_extra={"empty": "one thickness, rounded up"},
    )
    relief: ReliefRule = ReliefRule()
    tab: Tab | None = None
    ear_outside: bool = Field(default=True, title="Folded ears lie outside the wall")

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """A corner that is to be closed by a tab begins with one."""
        if changed == "rule" and record["rule"] == CornerRule.TAB and record["tab"] is None:
            return {**record, "tab": Tab(length=15.0)}
        return record

    @model_validator(mode="after")
    def _whole(self) -> Self:
        if self.rule is CornerRule.TAB and self.tab is None:
            raise InputError(
                tr("a corner closed by a tab needs the tab's length; give the tab first")
            )
        return self


CornerPlace = Literal["front-right", "right-back", "back-left", "left-front"]
"""A corner of the base, by the walls that meet there."""


class CornerAt(InputModel):
    """A corner of the base that differs from the others."""

    at: CornerPlace
    corner: Corner
