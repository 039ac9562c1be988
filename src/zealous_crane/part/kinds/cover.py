"""Covers and enclosures."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from ...schema.model import Angle, Length, PositiveLength
from ..corner import Corner, ReliefRule
from ..design import Base, Design, Flange
from ..edge import End, Measured
from ..hole import Cutout, HolePlace
from ..template import PartTemplate


class JawCover(PartTemplate):
    """A cover for a vise jaw, or a tray bent in the middle: side tabs first, the middle bend last.

    Attributes:
        length: along the middle bend, mm.
        first, second: the two faces, mm.
        angle: of the middle bend, degrees.
        tab: height of the side tabs, mm.
        measured: how length and faces are read.
        gap: between the tabs at the middle bend, mm; None takes the corner's.
        relief: hole on the centre line.
    """

    label: ClassVar[str] = "Jaw cover"
    about: ClassVar[str] = (
        "Side tabs, a middle bend between fingers that just fit, a V notch to a hole on the "
        "centre line."
    )

    kind: Literal["jaw-cover"] = "jaw-cover"
    length: PositiveLength
    first: PositiveLength = Field(title="First face")
    second: PositiveLength = Field(title="Second face")
    angle: Annotated[Angle, Field(ge=5, le=150, title="Middle bend")] = 90.0
    tab: PositiveLength = Field(title="Side tabs")
    measured: Measured = Measured.INSIDE
    gap: Length | None = Field(default=None, json_schema_extra={"empty": "the corner's"})
    relief: ReliefRule = ReliefRule()

    def design(self, thickness: float) -> Design:
        def tabs() -> tuple[Flange, ...]:
            return tuple(Flange(edge=e, height=self.tab) for e in ("left", "right"))

        face = Flange(
            edge="back",
            height=self.second,
            measured=self.measured,
            angle=self.angle,
            name="second face",
            flanges=tabs(),
        )
        return Design(
            base=Base(length=self.length, width=self.first, measured=self.measured),
            flanges=(*tabs(), face),
            corner=Corner(gap=self.gap, relief=self.relief),
        )


class EnclosureBase(PartTemplate):
    """The lower half of a two-piece enclosure: a U with lips the lid is screwed to.

    Attributes:
        length, width, height: outside the U, mm.
        lip: width of the lips on the ends of the two walls, mm.
        top_lip: width of the lips on top, mm; none without.
        screw: diameter of the screw holes in the lips, mm; none without. They lie half the lip's
            width from the outside of the walls, at half their height.
    """

    label: ClassVar[str] = "Enclosure, base"
    about: ClassVar[str] = (
        "A U with lips turned in; holes are given from the finished faces and marked on the flat."
    )
    walled: ClassVar[frozenset[str]] = frozenset({"length", "width"})
    measured: ClassVar[Measured] = Measured.OUTSIDE

    kind: Literal["enclosure-base"] = "enclosure-base"
    length: PositiveLength
    width: PositiveLength
    height: PositiveLength
    lip: PositiveLength = Field(default=12.0, title="Lips on the wall ends")
    top_lip: PositiveLength | None = Field(
        default=12.0, title="Lips on top", json_schema_extra={"empty": "none"}
    )
    screw: PositiveLength | None = Field(
        default=3.2, title="Screw holes", json_schema_extra={"empty": "no holes"}
    )

    def walls(self, size: str) -> tuple[str, str] | None:
        """Across, its two walls; along, the lips on the ends of one of them."""
        return (
            ("left wall", "right wall")
            if size == "length"
            else ("left wall, left lip", "left wall, right lip")
        )

    def design(self, thickness: float) -> Design:
        def wall(edge: Literal["left", "right"]) -> Flange:
            ends = tuple(
                Flange(edge=e, height=self.lip, name=f"{edge} wall, {e} lip")
                for e in ("left", "right")
            )
            top = (
                ()
                if self.top_lip is None
                else (Flange(edge="back", height=self.top_lip, name=f"{edge} wall, top lip"),)
            )
            # The lips' outer faces lie flush with the base's edges, so the wall ends a thickness
            # short of them.
            end = End(trim=thickness)
            return Flange(
                edge=edge,
                height=self.height,
                measured=Measured.OUTSIDE,
                name=f"{edge} wall",
                left=end,
                right=end,
                flanges=(*ends, *top),
            )

        holes: tuple[Cutout, ...] = ()
        if self.screw is not None:
            holes = tuple(
                Cutout(
                    panel=f"{wall} wall, {end} lip",
                    length=self.screw,
                    # Half way up the wall, which is half a thickness off the lip's own middle where
                    # the wall ends bare.
                    x=HolePlace(
                        value=0.0
                        if self.top_lip is not None
                        else thickness / 2 * (-1 if end == "left" else 1)
                    ),
                    y=HolePlace(edge="front", value=self.lip / 2, face=Measured.OUTSIDE),
                    name=f"screw hole, {wall} wall, {end} lip",
                )
                for wall in ("left", "right")
                for end in ("left", "right")
            )
        return Design(
            base=Base(length=self.length, width=self.width, measured=Measured.OUTSIDE),
            flanges=(wall("left"), wall("right")),
            cutouts=holes,
        )


class EnclosureLid(PartTemplate):
    """The upper half: a U that goes over the base, turned a quarter.

    Attributes:
        length: along its folds, mm.
        width: inside, between its walls, mm: the base's outside and a clearance.
        height: of its walls inside, mm.
        screw: diameter of the screw holes, mm; none without.
        screw_from: holes from the lid's ends, mm; the usual is the middle of the base's usual lips.
    """

    label: ClassVar[str] = "Enclosure, lid"
    about: ClassVar[str] = "A U over the base: wider by two thicknesses and a clearance."
    walled: ClassVar[frozenset[str]] = frozenset({"width"})

    kind: Literal["enclosure-lid"] = "enclosure-lid"
    length: PositiveLength
    width: PositiveLength
    height: PositiveLength
    screw: PositiveLength | None = Field(
        default=3.6, title="Screw holes", json_schema_extra={"empty": "no holes"}
    )
    screw_from: PositiveLength = Field(default=6.0, title="Holes from the ends")

    def design(self, thickness: float) -> Design:
        holes: tuple[Cutout, ...] = ()
        if self.screw is not None:
            holes = tuple(
                Cutout(
                    panel=f"{wall} wall",
                    length=self.screw,
                    x=HolePlace(edge=end, value=self.screw_from),
                    y=HolePlace(edge="front", value=self.height / 2),
                    name=f"screw hole, {wall} wall, {end}",
                )
                for wall in ("front", "back")
                for end in ("left", "right")
            )
        return Design(
            base=Base(length=self.length, width=self.width, measured=Measured.INSIDE),
            flanges=tuple(
                Flange(edge=e, height=self.height, name=f"{e} wall") for e in ("front", "back")
            ),
            cutouts=holes,
        )
