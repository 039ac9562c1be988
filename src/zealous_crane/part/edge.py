"""Edges of a panel and how sizes are read."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import Field

from ..cache import cached
from ..errors import InputError
from ..i18n import LabelledEnum, Message, msg, tr
from ..schema.model import Angle, Checked, InputModel, Length, PositiveLength, TextLine


class Measured(LabelledEnum):
    """Which faces a size is read between; ``flat`` is from line to line, or to the edge, as a hand
    scribes them."""

    INSIDE = "inside"
    OUTSIDE = "outside"
    FLAT = "flat"


class Edge(LabelledEnum):
    """An edge of a four-sided panel, as it lies on the bench: length left to right, width away from
    you.

    On a flange's own panel, seen from its fold looking out, ``front`` is the fold, ``back`` the
    free edge, ``left`` and ``right`` its two ends.
    """

    FRONT = "front"
    RIGHT = "right"
    BACK = "back"
    LEFT = "left"

    @property
    def turn(self) -> int:
        """Quarter turns counter-clockwise from the front edge."""
        return _TURNS[self]


_TURNS = {edge: turn for turn, edge in enumerate(Edge)}


MIDDLE = "middle"
"""Between two edges."""

EDGE_WORDS: dict[str, Message] = {
    **{edge.value: msg(edge.value) for edge in Edge},
    MIDDLE: msg("middle"),
}
"""Edges of a four-sided panel, and the middle between two, in words."""


def edge_words(name: str) -> str:
    """An edge of any panel, in words."""
    return str(EDGE_WORDS.get(name) or msg("edge {number}", number=name.removeprefix("edge-")))


@cached(64, lasts=True)
def edge_names(count: int) -> tuple[str, ...]:
    """Names of the edges of a panel with ``count`` corners, counter-clockwise from corner 0."""
    if count == 4:
        return tuple(e.value for e in Edge)
    return tuple(f"edge-{i + 1}" for i in range(count))


def _known(value: str) -> str:
    text = str(value)
    if text in tuple(Edge):
        return text
    if not re.fullmatch(r"edge-[1-9]\d{0,2}", text):
        raise InputError(
            tr(
                "an edge is front, right, back or left, or edge-1, edge-2 … of a panel with other "
                "corners, not {text}"
            ).format(text=text)
        )
    return text


EdgeName = Annotated[str, Checked((_known,))]
"""An edge of any panel."""


class HemForm(LabelledEnum):
    """How a hem is folded."""

    CLOSED = "closed"
    OPEN = "open"
    TEARDROP = "teardrop"
    DOUBLE = "double"
    ROLLED = "rolled"


class Hem(InputModel, defer_build=False):
    """A hem or rolled safety edge.

    Attributes:
        edge: the edge it stands on.
        form: closed (flattened), open, teardrop, double, or rolled round.
        length: mm, from the folded edge to the raw edge. For a double hem and a rolled edge it is
            the flat metal they use beyond the folded edge, as the shop says it: a 3/8" safety edge,
            1" of double hem.
        gap: inside opening, mm; of an open hem None leaves room for one thickness, of a teardrop
            the eye is three thicknesses, of a rolled edge it is the wire or hole inside the roll,
            None fits the metal given.
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
    name: TextLine | None = Field(default=None, json_schema_extra={"empty": "after its edge"})


class Joggle(InputModel, defer_build=False):
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
    name: TextLine | None = Field(default=None, json_schema_extra={"empty": "after its edge"})


class SeamForm(LabelledEnum):
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
        return {"lap": 1.0, "pocket": 1.0, "plain": 0.25, "s": 1.0, "drive": 1.0, "standing": 0.5}[
            self.value
        ] * inch

    @property
    def words(self) -> str:
        """What the shop calls it."""
        return str(self.message)

    @property
    def message(self) -> Message:
        """The same, put into words where it is shown."""
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
    SeamForm.LAP: msg("lap"),
    SeamForm.POCKET: msg("lock pocket"),
    SeamForm.PLAIN: msg("lock edge"),
    SeamForm.S: msg("S edge"),
    SeamForm.DRIVE: msg("drive edge"),
    SeamForm.STANDING: msg("standing flange"),
}

HEM_WORDS = {
    HemForm.CLOSED: msg("closed hem"),
    HemForm.OPEN: msg("open hem"),
    HemForm.TEARDROP: msg("teardrop hem"),
    HemForm.DOUBLE: msg("double hem"),
    HemForm.ROLLED: msg("safety edge"),
}


class Seam(InputModel, defer_build=False):
    """One side of a seam: metal beyond the edge, formed or lapped.

    A lap and an S edge stay flat; the plain edge of a lock and a standing flange are folded square;
    the pocket of a lock and a drive edge are allowed for and formed afterwards on their own tool.

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
    allowance: PositiveLength | None = Field(
        default=None, json_schema_extra={"empty": "as is usual"}
    )
    inwards: bool = True
    notch: Annotated[Angle, Field(ge=0, le=75)] = 0.0
    name: TextLine | None = Field(default=None, json_schema_extra={"empty": "after its edge"})

    @property
    def width(self) -> float:
        """Allowance in force, mm."""
        return self.form.usual if self.allowance is None else self.allowance


class FoldSlots(InputModel, defer_build=False):
    """Slots cut along a fold line, leaving bridges, for folds finished by hand.

    Attributes:
        count: how many slots.
        bridge: metal left between two slots and at both ends, mm.
        width: of the slot, mm; None takes one thickness.
    """

    count: Annotated[int, Field(ge=1, le=200)]
    bridge: PositiveLength
    width: PositiveLength | None = Field(default=None, json_schema_extra={"empty": "one thickness"})


class End(InputModel, defer_build=False):
    """How one end of a flange is cut.

    Attributes:
        trim: mm it stops short of its edge's end; negative runs past it.
        taper: degrees it narrows going out from the inside corner of its fold; negative widens.
    """

    trim: Length = 0.0
    taper: Annotated[Angle, Field(ge=-75, le=75)] = 0.0
