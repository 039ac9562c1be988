"""A leaf brake with fingers, in the measures a person can take from the machine with a rule."""

import math
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import Message, Phrase, msg, tr
from ..job.tools import ToolChoice
from ..metal.bend import Bend, ToolRadius
from ..metal.sheet import Sheet, SteelRating
from ..schema.model import Angle, Length, LengthOrZero, PositiveLength
from .brake import NONE_ASKED, Brake
from .tools import Segment, SegmentSet


class LeafBrake(Brake):
    """A finger brake. All lengths mm; ``y`` runs from the operator to the back, ``z`` up.

    Attributes:
        key: word that stands in job files.
        name: as the shop calls it.
        bed_length: length of the bed, which is also the longest fold.
        rated: thickness of mild steel it may fold over its full length.
        fingers: what stands in the rack.
        finger_height: nose to the underside of the beam; the deepest box.
        nose_radius: radius of the finger's nose.
        rake: how far the finger's front face leans back from upright, degrees.
        throat: how far behind the nose the raked face ends and runs straight up.
        foot: depth of the finger on the sheet, nose to heel.
        head_drop: how far the finger's clamp hangs below the beam; 0 when it has none.
        head_front: clamp front behind the nose (negative: in front of it).
        beam_front: front of the beam behind the nose.
        beam_depth, beam_height: size of the beam's section.
        bed_depth: bed top, front edge to back.
        bed_lean: how far the bed's front face leans back below its edge, degrees.
        leaf_bar: thickness of the leaf's bar: how far a flange pointing down must stay from the
            fold.
        bare_bar: thickness of the bar with its removable angle taken off; None when nothing comes
            off.
        bare_rated: thickness of mild steel the bare bar still folds; None takes half of ``rated``.
        open_ends: the frame drops away beside the bed: a part may reach past its ends, and may be
            slid in and out there.
        gauge_reach: how far behind the nose the stop gauge goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what its pieces are marked in; None finds out from their widths.
        counterweight: the leaf is balanced by a weight that swings with it.
        leaf_depth: depth of the leaf below its working face.
        greatest_angle: farthest the leaf swings, degrees.
        opening: nose above the bed with the clamp open.
        extra_setback: added to the setback the rule gives.
        side_clearance: room between a finger and a wall beside it.
        largest_gap: largest gap left between two fingers.
        unsupported_end: longest end of a fold with no finger over it.
    """

    pieces: ClassVar[Mapping[str, Message]] = {"fingers": msg("Fingers")}

    kind: Literal["leaf"] = "leaf"
    rated: SteelRating
    fingers: tuple[Segment, ...] = ()
    finger_height: PositiveLength
    nose_radius: PositiveLength = 0.4
    rake: Annotated[Angle, Field(ge=0, le=75)] = 30.0
    throat: LengthOrZero = 12.0
    foot: PositiveLength = 45.0
    head_drop: LengthOrZero = 0.0
    head_front: Length = 0.0
    beam_front: Length = 3.0
    beam_depth: PositiveLength = 110.0
    beam_height: PositiveLength = 120.0
    bed_depth: PositiveLength = 160.0
    bed_lean: Annotated[Angle, Field(ge=0, le=60)] = 20.0
    leaf_bar: PositiveLength = 12.0
    bare_bar: PositiveLength | None = Field(
        default=None,
        title="Leaf bar, angle off",
        json_schema_extra={"empty": "nothing comes off"},
    )
    bare_rated: SteelRating | None = Field(
        default=None, title="Rating, angle off", json_schema_extra={"empty": "half of rated"}
    )
    counterweight: bool = False
    leaf_depth: PositiveLength = 70.0
    greatest_angle: Annotated[Angle, Field(ge=10, le=170)] = 135.0
    opening: PositiveLength = 110.0
    extra_setback: LengthOrZero = 0.0

    @model_validator(mode="after")
    def _stands_up(self) -> Self:
        if self.face_height >= self.finger_height - self.head_drop:
            raise InputError(
                tr("the raked face of the finger ends above its clamp: less throat, or more rake")
            )
        if self.throat + self.nose_radius >= self.foot:
            raise InputError(
                tr("the finger's throat cuts through its foot: less throat, or a longer foot")
            )
        if self.head_drop > 0 and self.head_front >= self.foot:
            raise InputError(tr("the finger's clamp lies behind the whole finger"))
        if self.bare_bar is not None and self.bare_bar >= self.leaf_bar:
            raise InputError(
                tr("the leaf's bar with the angle off must be thinner than with it on")
            )
        for finger in self.fingers:
            if finger.width > self.bed_length:
                raise InputError(
                    tr(
                        "a finger of {width:g} mm is wider than the bed of {bed_length:g} mm"
                    ).format(width=finger.width, bed_length=self.bed_length)
                )
        return self

    @property
    def sections(self) -> SegmentSet:
        """The fingers and how they may be set."""
        return SegmentSet(
            self.fingers,
            self.bed_length,
            self.side_clearance,
            self.largest_gap,
            self.unsupported_end,
        )

    @property
    def racks(self) -> tuple[SegmentSet, ...]:
        """See :attr:`Brake.racks`."""
        return (self.sections,)

    def radius(
        self, sheet: Sheet, asked: Mapping[ToolChoice, str] = NONE_ASKED, *, bottomed: bool = False
    ) -> ToolRadius:
        """See :meth:`Brake.radius`."""
        radius = max(self.nose_radius, sheet.least_radius)
        return ToolRadius(radius, False, msg("The radius of the nose, or what the metal stands."))

    def with_one_more(self, width: float) -> Self:
        """See :meth:`Brake.with_one_more`."""
        return self.model_copy(update={"fingers": (*self.fingers, Segment(width=width))})

    @property
    def bare(self) -> Self | None:
        """This brake with the leaf's removable angle off: thinner, and weaker; None when nothing
        comes off."""
        if self.bare_bar is None:
            return None
        rated = self.rated / 2 if self.bare_rated is None else self.bare_rated
        return self.model_copy(
            update={"leaf_bar": self.bare_bar, "rated": rated, "bare_bar": None, "bare_rated": None}
        )

    @property
    def face_height(self) -> float:
        """Height at which the raked face meets the throat, mm."""
        a = math.radians(self.rake)
        if self.throat <= self.nose_radius * (1 - math.cos(a)) + 1e-9 or a < 1e-6:
            return self.nose_radius
        return self.nose_radius * (1 + math.sin(a)) + (
            self.throat - self.nose_radius * (1 - math.cos(a))
        ) / math.tan(a)

    def setback(self, thickness: float, radius: float) -> float:
        """Nose behind the bed's front edge, mm: the thickness, and more where the fold is rounder
        than the nose.

        T + r − min(r, nose radius) puts the leaf's face on the outside of the finished 90° fold.
        The plain thickness for a sharp fold is common practice; the rest is geometry
        (docs/theory.md).
        """
        return thickness + radius - min(radius, self.nose_radius) + self.extra_setback

    def least_flange(self, bend: Bend) -> tuple[float, Phrase]:
        """Least outside leg of a flange, mm, and why: what the leaf can carry round, taken as three
        thicknesses beyond the bend.

        Common practice, no source.
        """
        return bend.outside_setback + 3 * bend.thickness, msg(
            "three thicknesses beyond the bend, which the leaf must hold"
        )

    def least_between(self, bend: Bend) -> tuple[float, Phrase]:
        """Least panel between a fold and the last one, which was bent the other way and hangs down
        beside the leaf: the leaf's bar and the setback, mm, and why. Common practice, no source."""
        return self.leaf_bar + self.setback(bend.thickness, bend.radius), msg(
            "the leaf's bar and the setback"
        )
