"""A hand folder: a straight edge, bars clamped on the sheet by hand, the flange lifted with a
board. No beam, no leaf."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import Message, Phrase, msg, tr
from ..job.tools import ToolChoice
from ..metal.bend import Bend, ToolRadius
from ..metal.sheet import Sheet, SteelRating
from ..schema.model import Angle, PositiveLength
from .brake import NONE_ASKED, Brake
from .cross_section import Profile, nose_chain
from .tools import Segment, SegmentKind, SegmentSet


class HandFolder(Brake):
    """A straight edge with loose bars. All lengths mm; ``y`` runs from the operator to the back,
    ``z`` up.

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
        lifted: how high a bar is lifted off; it is loose, so nothing but the room above the bench
            limits it.
        side_clearance: room between a bar and a wall beside it.
        largest_gap: largest gap left between two bars.
        unsupported_end: longest end of a fold with no bar over it.
        open_ends: the ends of the bench are free: a part may reach past them.
        gauge_reach: how far behind the edge a stop goes; None when lines are sighted.
        gauge_height: how high the stop's face stands above the sheet's underside.
        tool_units: what the bars are marked in; None finds out from their lengths.
    """

    pieces: ClassVar[Mapping[str, Message]] = {"bars": msg("Bars")}

    kind: Literal["hand"] = "hand"
    rated: SteelRating
    bars: tuple[Segment, ...] = ()
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
            raise InputError(
                tr("the bar's front leans back through its back: less rake, or a deeper bar")
            )
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
    def sections(self) -> SegmentSet:
        """The bars and how they may be set."""
        return SegmentSet(
            self.bars,
            self.bed_length,
            self.side_clearance,
            self.largest_gap,
            self.unsupported_end,
            SegmentKind.BAR,
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
        return ToolRadius(
            radius, False, msg("The radius of the bar's edge, or what the metal stands.")
        )

    def with_one_more(self, width: float) -> Self:
        """See :meth:`Brake.with_one_more`."""
        return self.model_copy(update={"bars": (*self.bars, Segment(width=width))})

    def least_flange(self, bend: Bend) -> tuple[float, Phrase]:
        """Least outside leg of a flange, mm, and why. Common practice, no source."""
        return bend.outside_setback + self.least_edge, msg(
            "what a board gets hold of, beyond the bend"
        )


@dataclass(frozen=True)
class HandTools:
    """Bar and bench set for one fold, in the stroke's frame: fold line on x, bench top at z = 0.

    Attributes:
        bar, bed: cross-sections with the bar clamped.
        nose: (2,) mm, foremost point of the nose's level: where the nose stands over the sheet.
    """

    bar: Profile
    bed: Profile
    nose: NDArray[np.float64]


def hand_tools_for(
    folder: HandFolder, bend: Bend, lowered: float = 0.0, doubled: float = 0.0
) -> HandTools:
    """Set bar and bench up for a fold.

    The bar's nose stands where the rounder of nose and fold begins to curve, as on a leaf brake;
    the bench's edge stands in the plane of the folded side's outside at 90°, so that a board lies
    against both. The bench lies ``lowered`` mm below a sheet that lies on a strip; the bar stands
    back by ``doubled`` mm where what is folded is doubled beside the line.

    Args:
        folder: the hand folder.
        bend: the bend.
        lowered: how far the bed is lowered, mm.
        doubled: thickness of what lies closed flat under the nose, mm.
    """
    t = bend.thickness
    nose_y = bend.allowance / 2 - min(bend.radius, folder.nose_radius) + doubled
    outline, parts, nose = _bar(folder, t)
    edge, drop = bend.allowance / 2 - t - bend.radius, folder.bed_depth
    lean = drop * math.tan(math.radians(folder.bed_lean))
    bed = Profile(
        "bed",
        np.array(
            [
                (edge, 0.0),
                (edge + lean, -drop),
                (edge + lean + drop, -drop),
                (edge + lean + drop, 0.0),
            ]
        )
        - np.array([0.0, lowered]),
        ("front", "underside", "back", "top"),
    )
    return HandTools(
        Profile("bar", outline + np.array([nose_y, t]), parts, nose), bed, np.array([nose_y, t])
    )


def _bar(
    folder: HandFolder, thickness: float
) -> tuple[NDArray[np.float64], tuple[str, ...], tuple[int, ...]]:
    """Outline of a bar with its nose at y = 0 and its underside at z = 0, mm, its sides and its
    nose corners."""
    chain = nose_chain(folder.nose_radius, folder.rake)
    (y, z), lean = chain[-1], math.tan(math.radians(folder.rake))
    top = (y + (folder.bar_height - z) * lean, folder.bar_height)
    zone = min(3 * (folder.nose_radius + thickness), folder.bar_height)
    # Walked clockwise from the back of the foot, nose first and up the front; turned round at the
    # end.
    corners, named = [(folder.bar_depth, 0.0), *chain], ["foot", *["nose"] * (len(chain) - 1)]
    on_nose = set(range(1, 1 + len(chain)))
    if z < zone < folder.bar_height and folder.rake > 0:
        corners.append((y + (zone - z) * lean, zone))
        named.append("nose")
    elif folder.rake <= 0:
        # Where the front rises straight from the nose, the zone ends with the nose: that corner
        # counts.
        on_nose.discard(len(chain))
    corners += [top, (folder.bar_depth, folder.bar_height)]
    named += ["face", "top", "heel"]
    n = len(corners)
    # Side i of the reversed outline runs from corner i to i+1, which was side n-2-i before.
    parts = tuple(named[(n - 2 - i) % n] for i in range(n))
    return np.array(corners)[::-1], parts, tuple(sorted(n - 1 - i for i in on_nose))
