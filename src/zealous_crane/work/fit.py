"""A fit: sizes of one part that follow from another part's, as data."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..flat.bend_lines import uncut
from ..flat.joining import edge_length
from ..i18n import LabelledEnum, msg, tr
from ..job.job import Job
from ..part.edge import EdgeName
from ..part.hole import FastenerRow, Joined
from ..schema.model import ONE_LINE, InputModel, Length, PositiveLength


class FitRule(LabelledEnum):
    """How one part sits with another."""

    INSIDE = "inside"
    OVER = "over"

    @property
    def words(self) -> str:
        """Where one is of the other."""
        return tr("inside") if self is FitRule.INSIDE else tr("over")


class FitError(InputError):
    """A fit that cannot hold; the message says which parts and sizes."""


class Faces(InputModel):
    """Two panels of a folded part between which it is measured.

    Attributes:
        one, other: names of two panels that face each other.
        bare: what they carry is not counted: the edge of a cap rests on the other part.
    """

    one: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    other: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    bare: bool = False


class Pairing(InputModel):
    """Two sizes that go together: one of the follower, one of the part it follows.

    Attributes:
        follower: the size that is changed: that of a ready kind by its name, any other by its place
            in the part, ``tree.base.length``.
        master: size it follows; empty where two faces are named.
        measured: what was measured on the part that is followed, once it was made, mm; it wins over
            what its drawing says.
        waits: the follower is cut only once that was measured.
        follower_faces, master_faces: between which faces either is measured; None takes the walls
            the size stands between.
    """

    follower: Annotated[str, Field(min_length=1, max_length=200), ONE_LINE]
    master: Annotated[str, Field(max_length=200), ONE_LINE] = ""
    measured: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "not measured"}
    )
    waits: bool = False
    follower_faces: Faces | None = None
    master_faces: Faces | None = None

    @model_validator(mode="after")
    def _measured_somewhere(self) -> Self:
        if not self.master and self.master_faces is None:
            raise InputError(tr("a fit names a size of the part it follows, or two of its faces"))
        return self


class Fit(InputModel):
    """A part whose sizes follow from another part's.

    Attributes:
        follower: number of the part that follows, from 0.
        master: number of the part it follows.
        rule: ``inside``: the follower's outside is the master's inside less the clearance.
            ``over``: its inside is the master's outside and the clearance.
        sizes: which sizes go together.
        clearance: in all, over the whole size, mm.
        rests: where lips of the master stand into its opening: the follower lies on them, between
            the walls, or not: it goes between the lips. None where nobody has said; it is then
                asked.
    """

    follower: Annotated[int, Field(ge=0)]
    master: Annotated[int, Field(ge=0)]
    rule: FitRule
    sizes: Annotated[tuple[Pairing, ...], Field(min_length=1)]
    clearance: Annotated[Length, Field()] = 1.0
    rests: bool | None = Field(
        default=None, title="Lies on the lips", json_schema_extra={"empty": "not said"}
    )

    @model_validator(mode="after")
    def _sensible(self) -> Self:
        if self.clearance < 0:
            raise InputError(
                tr(
                    "the clearance must not be negative; a part larger than its place does not go "
                    "in"
                )
            )
        if self.follower == self.master:
            raise InputError(tr("a part cannot follow itself"))
        return self


class JointSide(InputModel):
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
    inset: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "the least distance"}
    )


JOINED_WORDS = {
    Joined.RIVET: msg("rivets: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.SPOT: msg("spots: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.SCREW: msg("screws: {panel} of {name} to {panel_2} of {name_2}"),
    Joined.TACK: msg("tacks: {panel} of {name} to {panel_2} of {name_2}"),
}
"""A joint in a line, by what it is made of."""


class Joint(InputModel):
    """A row that holds two parts together: same pitch and same places in both, counted from the
    middle of the two edges.

    Attributes:
        near: the part that lies in front: screws pass through it.
        far: the part behind: screws bite in it.
        by: rivets, spots, screws or tacks.
        size: diameter, or length of a tack, mm.
        pitch: farthest apart, mm.
        length: of the joint, mm; None takes the shorter of both edges.
    """

    near: JointSide
    far: JointSide
    by: Joined = Joined.RIVET
    size: PositiveLength = 3.2
    pitch: Annotated[Length, Field(ge=5.0)] = 40.0
    length: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "the shorter edge"}
    )

    def rows(self, number: int, near: Job, far: Job) -> tuple[FastenerRow, FastenerRow]:
        """The row of either part.

        Args:
            number: of the joint in its work.
            near, far: the two parts.

        Raises:
            DevelopmentError: a panel neither has, or a row beyond it.
        """
        sides = ((self.near, near, far, False), (self.far, far, near, True))
        bare = [
            FastenerRow(
                panel=side.panel,
                edge=side.edge,
                by=self.by,
                size=self.size,
                inset=side.inset,
                pitch=self.pitch,
                other=other.sheet.thickness,
                under=under,
                joint=number,
            )
            for side, _, other, under in sides
        ]
        length = self.length or min(
            edge_length(uncut(own), row) for row, (_, own, _, _) in zip(bare, sides, strict=True)
        )
        one, two = (row.model_copy(update={"length": length}) for row in bare)
        return one, two

    def of(self, near: int, far: int) -> Self:
        """The same joint with its parts numbered anew."""
        sides = {
            "near": self.near.model_copy(update={"part": near}),
            "far": self.far.model_copy(update={"part": far}),
        }
        return self.model_copy(update=sides)

    def says(self, parts: tuple[Job, ...]) -> str:
        """``rivets: front flange of the lid to the left wall of the box``."""
        return JOINED_WORDS[self.by].format(
            panel=self.near.panel,
            name=parts[self.near.part].name,
            panel_2=self.far.panel,
            name_2=parts[self.far.part].name,
        )
