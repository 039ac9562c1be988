"""Strips with parallel folds: channels, hats, zeds, angles, skins."""

from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ...errors import InputError
from ...i18n import tr
from ...schema.model import Angle, PositiveLength
from ..design import Base, BendAngle, Design, Flange
from ..edge import FoldSlots, Measured
from ..template import PartTemplate


def strip(
    legs: tuple[float, ...],
    angles: tuple[float, ...],
    length: float,
    measured: Measured,
    radius: float | None,
) -> Design:
    """A strip with its widest leg as the base.

    Args:
        legs: mm, from left to right.
        angles: signed degrees between them.
        length: of the folds, mm.
        measured: how the legs are read.
        radius: inside radius, mm; None takes the job's.
    """
    at = max(range(len(legs)), key=lambda i: (legs[i], -abs(i - (len(legs) - 1) / 2)))

    def chain(edge: str, following: list[int], between: list[int]) -> tuple[Flange, ...]:
        if not following:
            return ()
        inner = chain("back", following[1:], between[1:])
        i, j = following[0], between[0]
        return (
            Flange(
                edge=edge,
                height=legs[i],
                measured=measured,
                angle=angles[j],
                radius=radius,
                name=f"leg {i + 1}",
                flanges=inner,
            ),
        )

    right = chain("right", list(range(at + 1, len(legs))), list(range(at, len(angles))))
    left = chain("left", list(range(at - 1, -1, -1)), list(range(at - 1, -1, -1)))
    return Design(base=Base(length=legs[at], width=length, measured=measured), flanges=right + left)


class Strip(PartTemplate):
    """A strip bent along parallel lines: channel, hat, Z or any row of angles.

    Attributes:
        legs: mm, from left to right.
        angles: degrees turned at each fold, negative to the other side; one fewer than legs.
        length: of the folds, mm.
        measured: how the legs are read.
    """

    label: ClassVar[str] = "Channel, hat, Z, strip"
    about: ClassVar[str] = "Parallel folds, some of them reversed and marked on the other face."

    kind: Literal["strip"] = "strip"
    legs: Annotated[tuple[PositiveLength, ...], Field(min_length=2, max_length=60)]
    angles: Annotated[tuple[BendAngle, ...], Field(min_length=1, max_length=59)]
    length: PositiveLength
    measured: Measured = Measured.OUTSIDE

    grows: ClassVar[tuple[str, ...]] = ("legs",)

    @classmethod
    def together(cls, record: dict[str, Any], changed: str) -> dict[str, Any]:
        """Add or remove a fold with a leg: a new fold turns the way the last one does."""
        if changed != "legs" or len(record["legs"]) < 2:
            return record
        angles, folds = tuple(record["angles"]), len(record["legs"]) - 1
        return {**record, "angles": (*angles, *angles[-1:] * (folds - len(angles)))[:folds]}

    @model_validator(mode="after")
    def _matches(self) -> Self:
        if len(self.angles) != len(self.legs) - 1:
            raise InputError(
                tr("{legs} legs have {legs_2} folds between them, not {angles}").format(
                    legs=len(self.legs), legs_2=len(self.legs) - 1, angles=len(self.angles)
                )
            )
        if any(abs(a) < 1 for a in self.angles):
            raise InputError(tr("a fold must turn by at least 1°"))
        return self

    def design(self, thickness: float) -> Design:
        return strip(self.legs, self.angles, self.length, self.measured, None)


class SingleBend(PartTemplate):
    """One bend in a plate.

    Attributes:
        first, second: legs, mm.
        length: of the bend, mm.
        angle: degrees turned from flat.
        measured: how the legs are read.
    """

    label: ClassVar[str] = "Single bend in plate"
    about: ClassVar[str] = (
        "An angle: one bend line, moved by what the bend gains. Bend a test strip first."
    )

    kind: Literal["single-bend"] = "single-bend"
    first: PositiveLength = Field(title="First leg")
    second: PositiveLength = Field(title="Second leg")
    length: PositiveLength = Field(title="Length of the bend")
    angle: Annotated[Angle, Field(ge=1, le=150)] = 90.0
    measured: Measured = Measured.OUTSIDE

    def design(self, thickness: float) -> Design:
        return strip((self.first, self.second), (self.angle,), self.length, self.measured, None)


class SlottedChannel(PartTemplate):
    """A channel whose folds are slotted, to be finished by hand in a vise.

    Attributes:
        web: between the legs, mm.
        leg: height of both legs, mm.
        length: of the folds, mm.
        measured: how web and legs are read.
        slots: how many slots lie along each fold.
        bridge: metal left between them, mm.
    """

    label: ClassVar[str] = "Slotted channel"
    about: ClassVar[str] = (
        "For plate no punch reaches into: slots along the folds leave bridges, bent by hand, then "
        "welded."
    )
    walled: ClassVar[frozenset[str]] = frozenset({"web"})

    kind: Literal["slotted-channel"] = "slotted-channel"
    web: PositiveLength
    leg: PositiveLength
    length: PositiveLength
    measured: Measured = Measured.OUTSIDE
    slots: Annotated[int, Field(ge=1, le=100, title="Slots on each fold")] = 4
    bridge: PositiveLength = Field(default=10.0, title="Bridge")

    def walls(self, size: str) -> tuple[str, str] | None:
        """Its two legs."""
        return "left leg", "right leg"

    def design(self, thickness: float) -> Design:
        slots = FoldSlots(count=self.slots, bridge=self.bridge)
        return Design(
            base=Base(length=self.web, width=self.length, measured=self.measured),
            flanges=tuple(
                Flange(
                    edge=e, height=self.leg, measured=self.measured, name=f"{e} leg", slots=slots
                )
                for e in ("left", "right")
            ),
        )


class LongSkin(PartTemplate):
    """A long skin: two faces, a sharp bend between them, a narrow flange on each long edge.

    Attributes:
        first, second: the faces, mm.
        flange: width of the narrow flanges, mm.
        sharp: degrees of the bend between the faces.
        length: of the skin, mm.
        measured: how the sizes across are read.
    """

    label: ClassVar[str] = "Long skin with narrow flanges"
    about: ClassVar[str] = (
        "Flanges narrower than the leaf is thick; slid in and out from the side until the sharp "
        "bend, made last."
    )

    kind: Literal["long-skin"] = "long-skin"
    first: PositiveLength = Field(title="First face")
    second: PositiveLength = Field(title="Second face")
    flange: PositiveLength = Field(title="Narrow flanges")
    sharp: Annotated[Angle, Field(ge=5, le=150, title="Sharp bend")] = 120.0
    length: PositiveLength
    measured: Measured = Measured.INSIDE

    def design(self, thickness: float) -> Design:
        legs = (self.flange, self.first, self.second, self.flange)
        return strip(legs, (90.0, self.sharp, 90.0), self.length, self.measured, None)


class Plate(PartTemplate):
    """A plain plate: an insert, a bottom.

    Attributes:
        length, width: from edge to edge, mm.
    """

    label: ClassVar[str] = "Plain plate"
    about: ClassVar[str] = (
        "No fold at all: an insert or a bottom, cut when the walls it goes between are bent and "
        "measured."
    )

    kind: Literal["plate"] = "plate"
    length: PositiveLength
    width: PositiveLength

    def design(self, thickness: float) -> Design:
        return Design(base=Base(length=self.length, width=self.width))
