"""A hand folder: a straight edge, bars clamped on the sheet by hand, the flange lifted with a board. No beam, no leaf."""

import math
from collections.abc import Mapping
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..allowance import Bend, ToolRadius
from ..measure import Angle, PositiveLength
from ..measure.input_error import InputError
from ..measure.words import tr
from ..metal import Sheet, SteelRating
from ..tool_wishes import ToolChoice
from .brake import NONE_ASKED, Brake
from .section import PieceKind, Section, Sections


class HandFolder(Brake):
    """A straight edge with loose bars. All lengths mm; ``y`` runs from the operator to the back, ``z`` up.

    Attributes:
        key: word that stands in job files.
        name: as the shop calls it.
        bed_length: length of the straight edge, which is also the longest fold.
        rated: thickness of mild steel a person still lifts over the full length.
        bars: the straight bars there are.
        bar_height: height of a bar, which the folded side rises past.
        bar_depth: depth of a bar, front to back.
        nose_radius: radius of the bar's front edge.
        rake: how far the bar's front face leans back from upright, degrees.
        bed_depth: top of the bench, edge to back.
        bed_lean: how far its front leans back below the edge, degrees.
        least_edge: narrowest edge, outside, that a board gets hold of.
        greatest_angle: farthest a fold is lifted, degrees.
        lifted: how high a bar is lifted off; it is loose, so nothing but the room above the bench limits it.
        side_clearance: room between a bar and a wall beside it.
        largest_gap: largest gap left between two bars.
        unsupported_end: longest end of a fold with no bar over it.
        open_ends: the ends of the bench are free: a part may reach past them.
        gauge_reach: how far behind the edge a stop goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what the bars are marked in; None finds out from their lengths.
    """

    pieces: ClassVar[Mapping[str, str]] = {"bars": tr("Bars")}

    kind: Literal["hand"] = "hand"
    rated: SteelRating
    bars: tuple[Section, ...] = ()
    bar_height: PositiveLength = 20.0
    bar_depth: PositiveLength = 40.0
    nose_radius: PositiveLength = 0.5
    rake: Annotated[Angle, Field(ge=0, le=75)] = 30.0
    bed_depth: PositiveLength = 300.0
    bed_lean: Annotated[Angle, Field(ge=0, le=60)] = 10.0
    least_edge: PositiveLength = 6.0
    greatest_angle: Annotated[Angle, Field(ge=10, le=150)] = 120.0
    lifted: PositiveLength = 400.0
    open_ends: bool = True

    @model_validator(mode="after")
    def _stands_up(self) -> Self:
        if self.bar_height * math.tan(math.radians(self.rake)) >= self.bar_depth:
            raise InputError(tr("the bar's front leans back through its back: less rake, or a deeper bar"))
        if self.nose_radius * 2 >= min(self.bar_height, self.bar_depth):
            raise InputError(tr("the bar's front edge is rounder than the bar is thick"))
        for bar in self.bars:
            if bar.width > self.bed_length:
                raise InputError(
                    tr("a bar of {width:g} mm is longer than the edge of {bed_length:g} mm").format(
                        width=bar.width, bed_length=self.bed_length
                    )
                )
        return self

    @property
    def sections(self) -> Sections:
        """The bars and how they may be set."""
        return Sections(self.bars, self.bed_length, self.side_clearance, self.largest_gap, self.unsupported_end, PieceKind.BAR)

    @property
    def racks(self) -> tuple[Sections, ...]:
        """See :attr:`Brake.racks`."""
        return (self.sections,)

    def radius(self, sheet: Sheet, asked: Mapping[ToolChoice, str] = NONE_ASKED, *, bottomed: bool = False) -> ToolRadius:
        """See :meth:`Brake.radius`."""
        radius = max(self.nose_radius, sheet.least_radius)
        return ToolRadius(radius, False, tr("The radius of the bar's edge, or what the metal stands."))

    def with_one_more(self, width: float) -> Self:
        """See :meth:`Brake.with_one_more`."""
        return self.model_copy(update={"bars": (*self.bars, Section(width=width))})

    def least_flange(self, bend: Bend) -> tuple[float, str]:
        """Least outside leg of a flange, mm, and why. Common practice, no source."""
        return bend.outside_setback + self.least_edge, tr("what a board gets hold of, beyond the bend")
