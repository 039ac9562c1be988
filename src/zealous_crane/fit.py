"""A fit: sizes of one part that follow from another part's, as data."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from .measure import Length, PositiveLength
from .measure.input_error import InputError
from .measure.line import ONE_LINE
from .measure.worded import Worded
from .measure.words import tr
from .measure.written import Written


class FitRule(Worded):
    """How one part sits with another."""

    INSIDE = "inside"
    OVER = "over"

    @property
    def words(self) -> str:
        """Where one is of the other."""
        return tr("inside") if self is FitRule.INSIDE else tr("over")


class FitError(InputError):
    """A fit that cannot hold; the message says which parts and sizes."""


class Faces(Written):
    """Two panels of a folded part between which it is measured.

    Attributes:
        one, other: names of two panels that face each other.
        bare: what they carry is not counted: the edge of a cap rests on the other part.
    """

    one: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    other: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE]
    bare: bool = False


class Pairing(Written):
    """Two sizes that go together: one of the follower, one of the part it follows.

    Attributes:
        follower: the size that is changed: that of a ready kind by its name, any other by its place in the part, ``tree.base.length``.
        master: size it follows; empty where two faces are named.
        measured: what was measured on the part that is followed, once it was made, mm; it wins over what its drawing says.
        waits: the follower is cut only once that was measured.
        follower_faces, master_faces: between which faces either is measured; None takes the walls the size stands between.
    """

    follower: Annotated[str, Field(min_length=1, max_length=200), ONE_LINE]
    master: Annotated[str, Field(max_length=200), ONE_LINE] = ""
    measured: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "not measured"})
    waits: bool = False
    follower_faces: Faces | None = None
    master_faces: Faces | None = None

    @model_validator(mode="after")
    def _measured_somewhere(self) -> Self:
        if not self.master and self.master_faces is None:
            raise InputError(tr("a fit names a size of the part it follows, or two of its faces"))
        return self


class Fit(Written):
    """A part whose sizes follow from another part's.

    Attributes:
        follower: number of the part that follows, from 0.
        master: number of the part it follows.
        rule: ``inside``: the follower's outside is the master's inside less the clearance. ``over``: its inside is the
            master's outside and the clearance.
        sizes: which sizes go together.
        clearance: in all, over the whole size, mm.
        rests: where lips of the master stand into its opening: the follower lies on them, between the walls, or not: it goes between the
            lips. None where nobody has said; it is then asked.
    """

    follower: Annotated[int, Field(ge=0)]
    master: Annotated[int, Field(ge=0)]
    rule: FitRule
    sizes: Annotated[tuple[Pairing, ...], Field(min_length=1)]
    clearance: Annotated[Length, Field()] = 1.0
    rests: bool | None = Field(default=None, title="Lies on the lips", json_schema_extra={"empty": "not said"})

    @model_validator(mode="after")
    def _sensible(self) -> Self:
        if self.clearance < 0:
            raise InputError(tr("the clearance must not be negative; a part larger than its place does not go in"))
        if self.follower == self.master:
            raise InputError(tr("a part cannot follow itself"))
        return self
