"""Rows of rivets, spots, screws or tacks that hold a panel to what lies against it."""

from typing import Annotated

from pydantic import Field

from ..measure import PositiveLength
from ..measure.line import ONE_LINE
from ..measure.worded import Worded
from ..measure.written import Written
from .corner import RIVET_EDGE, SPOT_EDGE
from .edge import EdgeName


class Joined(Worded):
    """What a row is made of."""

    RIVET = "rivet"
    SPOT = "spot"
    SCREW = "screw"
    TACK = "tack"


class Drilled(Worded):
    """When the holes of the panel behind are made."""

    THROUGH = "through"
    FLAT = "flat"


class Row(Written):
    """A row along one edge of a panel, spread from the middle of the edge.

    Attributes:
        panel: name of the panel.
        edge: the edge it runs along; ``front`` of a flange is its fold.
        by: rivets, spot welds, screws, or tacks at the very edge that hold a seam for welding.
        size: diameter of rivet, screw or spot, length of a tack, mm.
        inset: of the row from that edge, mm; None takes the least distance from an edge.
        pitch: farthest apart two of them may sit, mm.
        length: of the joint, mm, about the middle of the edge; None takes all of the edge. Equal lengths and pitches in two parts
            give equal places.
        through: name of the panel of this part that lies behind it; empty where it is another part's.
        drilled: holes of the panel behind are drilled through the first when all is bent, or made while it is flat.
        other: metal behind it in all, mm; None takes one more thickness of this sheet.
        under: it lies behind the other part, so that screws bite in it.
        joint: number of the joint of the work it follows from, from 0; None where it is the part's own.
    """

    panel: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    edge: EdgeName = "back"
    by: Joined = Joined.RIVET
    size: PositiveLength = 3.2
    inset: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "the least distance"})
    pitch: Annotated[PositiveLength, Field(ge=5.0)] = 40.0
    length: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "all of the edge"})
    through: Annotated[str, Field(max_length=120), ONE_LINE] = ""
    drilled: Drilled = Drilled.THROUGH
    other: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "one more thickness"})
    under: bool = False
    joint: Annotated[int, Field(ge=0)] | None = None

    @property
    def edge_distance(self) -> float:
        """Least distance (mm) of a place from an edge of the metal: two diameters of a rivet or screw, 6 mm of a spot."""
        if self.by is Joined.TACK:
            return 0.0
        return SPOT_EDGE if self.by is Joined.SPOT else RIVET_EDGE * self.size

    @property
    def set_in(self) -> float:
        """Distance of the row from its edge in force, mm."""
        if self.by is Joined.TACK:
            return 0.0
        return self.edge_distance if self.inset is None else self.inset
