"""What an edge is finished with: hems, joggles and seams."""

from typing import Annotated, Literal

from pydantic import Field

from ..measure import Angle, Length, PositiveLength
from ..measure.line import Line
from ..measure.worded import Worded
from ..measure.words import tr
from ..measure.written import Written
from .edge import EdgeName


class HemForm(Worded):
    """How a hem is folded."""

    CLOSED = "closed"
    OPEN = "open"
    TEARDROP = "teardrop"
    DOUBLE = "double"
    ROLLED = "rolled"


class Hem(Written, defer_build=False):
    """A hem or rolled safety edge.

    Attributes:
        edge: the edge it stands on.
        form: closed (flattened), open, teardrop, double, or rolled round.
        length: mm, from the folded edge to the raw edge. For a double hem and a rolled edge it is the flat metal they
            use beyond the folded edge, as the shop says it: a 3/8" safety edge, 1" of double hem.
        gap: inside opening, mm; of an open hem None leaves room for one thickness, of a teardrop the eye is
            three thicknesses, of a rolled edge it is the wire or hole inside the roll, None fits the metal given.
        inwards: folded to the inside face; otherwise to the outside.
        notch: degrees its ends are cut back, so that it does not bunch; 60 gives a 120° opening.
        name: what the shop calls it.
    """

    kind: Literal["hem"] = "hem"
    edge: EdgeName
    form: HemForm = HemForm.CLOSED
    length: PositiveLength
    gap: PositiveLength | None = None
    inwards: bool = True
    notch: Annotated[Angle, Field(ge=0, le=75)] = 45.0
    name: Line | None = Field(default=None, json_schema_extra={"empty": "after its edge"})


class Joggle(Written, defer_build=False):
    """An edge that steps out, so that the next sheet lies flush behind it.

    Attributes:
        edge: the edge it stands on.
        lap: mm of flat beyond the step.
        step: how far it steps, mm; None takes one thickness.
        inwards: steps to the inside face; otherwise to the outside.
        slope: degrees of the step.
        name: what the shop calls it.
    """

    kind: Literal["joggle"] = "joggle"
    edge: EdgeName
    lap: PositiveLength
    step: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "one thickness"})
    inwards: bool = False
    slope: Annotated[Angle, Field(ge=20, le=75)] = 45.0
    name: Line | None = Field(default=None, json_schema_extra={"empty": "after its edge"})


class SeamForm(Worded):
    """One side of a seam."""

    LAP = "lap"
    POCKET = "pocket"
    PLAIN = "plain"
    S = "s"
    DRIVE = "drive"
    STANDING = "standing"

    @property
    def usual(self) -> float:
        """Allowance the trade takes, mm. Common practice, no source."""
        inch = 25.4
        return {"lap": 1.0, "pocket": 1.0, "plain": 0.25, "s": 1.0, "drive": 1.0, "standing": 0.5}[self.value] * inch

    @property
    def words(self) -> str:
        """What the shop calls it."""
        return SEAM_WORDS[self]

    @property
    def stem(self) -> str:
        """What a seam is named after where nobody names it: data, the same in every language."""
        return {
            "lap": "lap",
            "pocket": "lock pocket",
            "plain": "lock edge",
            "s": "S edge",
            "drive": "drive edge",
            "standing": "standing flange",
        }[self.value]


SEAM_WORDS = {
    SeamForm.LAP: tr("lap"), SeamForm.POCKET: tr("lock pocket"), SeamForm.PLAIN: tr("lock edge"), SeamForm.S: tr("S edge"),
    SeamForm.DRIVE: tr("drive edge"), SeamForm.STANDING: tr("standing flange"),
}  # fmt: skip

HEM_WORDS = {
    HemForm.CLOSED: tr("closed hem"), HemForm.OPEN: tr("open hem"), HemForm.TEARDROP: tr("teardrop hem"),
    HemForm.DOUBLE: tr("double hem"), HemForm.ROLLED: tr("safety edge"),
}  # fmt: skip


class Seam(Written, defer_build=False):
    """One side of a seam: metal beyond the edge, formed or lapped.

    A lap and an S edge stay flat; the plain edge of a lock and a standing flange are folded square; the pocket of a lock and a
    drive edge are allowed for and formed afterwards on their own tool.

    Attributes:
        edge: the edge it stands on.
        form: which side of which seam.
        allowance: mm; None takes the trade's.
        inwards: a folded side turns to the inside face.
        notch: degrees its ends are cut back.
        name: what the shop calls it.
    """

    kind: Literal["seam"] = "seam"
    edge: EdgeName
    form: SeamForm
    allowance: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "as is usual"})
    inwards: bool = True
    notch: Annotated[Angle, Field(ge=0, le=75)] = 0.0
    name: Line | None = Field(default=None, json_schema_extra={"empty": "after its edge"})

    @property
    def width(self) -> float:
        """Allowance in force, mm."""
        return self.form.usual if self.allowance is None else self.allowance


class FoldSlots(Written, defer_build=False):
    """Slots cut along a fold line, leaving bridges, for folds finished by hand.

    Attributes:
        count: how many slots.
        bridge: metal left between two slots and at both ends, mm.
        width: of the slot, mm; None takes one thickness.
    """

    count: Annotated[int, Field(ge=1, le=200)]
    bridge: PositiveLength
    width: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "one thickness"})


class End(Written, defer_build=False):
    """How one end of a flange is cut.

    Attributes:
        trim: mm it stops short of its edge's end; negative runs past it.
        taper: degrees it narrows going out from the inside corner of its fold; negative widens.
    """

    trim: Length = 0.0
    taper: Annotated[Angle, Field(ge=-75, le=75)] = 0.0
