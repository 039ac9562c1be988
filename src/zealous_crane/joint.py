"""A joint of two parts of a work: one row of fastenings, alike in both."""

from typing import Annotated, Self

from pydantic import Field

from .blank import edge_length, uncut
from .job import Job
from .measure import Length, PositiveLength
from .measure.line import ONE_LINE
from .measure.words import tr
from .measure.written import Written
from .part import Joined, Row
from .part.edge import EdgeName


class Side(Written):
    """One of the two parts.

    Attributes:
        part: number of the part, from 0.
        panel: name of the panel.
        edge: the edge of it the row runs along.
        inset: of the row from that edge, mm; None takes the least distance from an edge.
    """

    part: Annotated[int, Field(ge=0)]
    panel: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    edge: EdgeName = "back"
    inset: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "the least distance"})


JOINED_WORDS = {
    Joined.RIVET: tr("rivets: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.SPOT: tr("spots: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.SCREW: tr("screws: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.TACK: tr("tacks: {panel} of {name} to {panel_2} of {name_2}"),
}
"""A joint in a line, by what it is made of."""


class Joint(Written):
    """A row that holds two parts together: same pitch and same places in both, counted from the middle of the two edges.

    Attributes:
        near: the part that lies in front: screws pass through it.
        far: the part behind: screws bite in it.
        by: rivets, spots, screws or tacks.
        size: diameter, or length of a tack, mm.
        pitch: farthest apart, mm.
        length: of the joint, mm; None takes the shorter of both edges.
    """

    near: Side
    far: Side
    by: Joined = Joined.RIVET
    size: PositiveLength = 3.2
    pitch: Annotated[Length, Field(ge=5.0)] = 40.0
    length: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "the shorter edge"})

    def rows(self, number: int, near: Job, far: Job) -> tuple[Row, Row]:
        """The row of either part.

        Args:
            number: of the joint in its work.
            near, far: the two parts.

        Raises:
            DevelopmentError: a panel neither has, or a row beyond it.
        """
        sides = ((self.near, near, far, False), (self.far, far, near, True))
        bare = [
            Row(
                panel=side.panel, edge=side.edge, by=self.by, size=self.size, inset=side.inset, pitch=self.pitch,
                other=other.sheet.thickness, under=under, joint=number,
            )
            for side, _, other, under in sides
        ]  # fmt: skip
        length = self.length or min(edge_length(uncut(own), row) for row, (_, own, _, _) in zip(bare, sides, strict=True))
        one, two = (row.model_copy(update={"length": length}) for row in bare)
        return one, two

    def of(self, near: int, far: int) -> Self:
        """The same joint with its parts numbered anew."""
        sides = {"near": self.near.model_copy(update={"part": near}), "far": self.far.model_copy(update={"part": far})}
        return self.model_copy(update=sides)

    def says(self, parts: tuple[Job, ...]) -> str:
        """``rivets: front flange of the lid to the left wall of the box``."""
        return JOINED_WORDS[self.by].format(
            panel=self.near.panel, name=parts[self.near.part].name, panel_2=self.far.panel,
            name_2=parts[self.far.part].name,
        )  # fmt: skip
