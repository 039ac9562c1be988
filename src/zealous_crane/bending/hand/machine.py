"""A hand folder set up: bars clamped over the fold."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from ...brake.hand_folder import HandFolder, HandTools, hand_tools_for
from ...brake.tools import SegmentSet
from ...cache import cached
from ...flat.blank import Blank
from ...flat.features import Finding
from ...i18n import Message, Phrase, counted_msg, msg, the, tr
from ...kernel.obstacle import Obstacle, Phase, Way
from ...kernel.outline import ToolOutline
from ...kernel.solid import Body, BodyKind, ToolPart
from ...metal.bend import Bend
from ...units.figures import Long
from ...units.length import Units, show_length
from ..drawing import Drawn, OutlineKind, SceneOutline, line_place, profile_record
from ..legs import short_legs, too_thick
from ..machine import (
    CardFields,
    Doing,
    Fact,
    FactKey,
    Machine,
    MachineSettings,
    Words,
    packing_facts,
)
from ..nose_stroke import TurningStroke
from ..setting import Setting
from ..stroke import Stroke
from ..tooling import NONE, Packing, Tooling, packing_text


@dataclass(frozen=True)
class HandTooling(Tooling):
    """A hand folder as it is. See :class:`Tooling`.

    Attributes:
        brake: the machine.
    """

    brake: HandFolder

    @property
    def says(self) -> Phrase:
        """There is only one way to set it up."""
        return ""

    @cached_property
    def sections(self) -> SegmentSet:
        """The bars."""
        return self.brake.sections

    @property
    def greatest_angle(self) -> float:
        """How far a fold is lifted, degrees."""
        return self.brake.greatest_angle

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        return Obstacle(Body(BodyKind.BOARD), ToolPart.END_OF_REACH, Phase.SWING)

    def stands_beside(self, other: Tooling) -> bool:
        """Bars are loose: the next ones are clamped where the fold is."""
        return False


SHEET = 1.0
"""mm of the sheet it is drawn with."""

FIRST = (
    "name",
    "bed_length",
    "rated",
    "bar_height",
    "bar_depth",
    "rake",
    "nose_radius",
    "bed_depth",
    "least_edge",
)
"""The bar decides what may stand behind it."""


def hand_drawn(folder: HandFolder) -> Drawn:
    """Bar and bench with a sheet 1 mm thick between them."""
    tools = hand_tools_for(folder, Bend(angle=90.0, radius=0.0, thickness=SHEET, allowance=0.0))
    nose, edge, top = (
        float(tools.nose[0]),
        float(tools.bed.outline[:, 0].min()),
        SHEET + folder.bar_height,
    )
    beside = nose + folder.bar_depth + 5.0
    sizes = {
        "bar_height": ((beside, SHEET), (beside, top)),
        "bar_depth": ((nose, top + 4.0), (nose + folder.bar_depth, top + 4.0)),
        "nose_radius": (
            (nose, SHEET + folder.nose_radius),
            (nose + folder.nose_radius, SHEET + folder.nose_radius),
        ),
        "bed_depth": ((edge, -6.0), (edge + folder.bed_depth, -6.0)),
        "least_edge": ((edge - folder.least_edge, SHEET / 2), (edge, SHEET / 2)),
    }
    return Drawn((("bed", tools.bed.outline), ("bar", tools.bar.outline)), sizes, FIRST)


@dataclass(frozen=True)
class HandSettings(MachineSettings):
    """What is set on a hand folder. See :class:`MachineSettings`.

    Attributes:
        line_behind_nose: fold line behind the bar's front edge, mm; below zero in front of it.
        edge: bench's edge before the bar's front, mm.
        allowed: thickest sheet of this metal a person still lifts, mm.
        bar_height: height of a bar, mm.
        packing: the strip under the line.
    """

    line_behind_nose: float
    edge: float
    allowed: float
    bar_height: float
    packing: Packing = NONE

    def record(self) -> dict[str, Any]:
        """See :meth:`MachineSettings.record`."""
        return {
            "line_behind_nose": self.line_behind_nose,
            "edge": self.edge,
            "allowed_thickness": self.allowed,
            "packing": self.packing.thickness,
        }

    def facts(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.facts`."""
        fine = card.units.fine
        return [
            Fact(FactKey.HELD, tr("Clamp"), card.held),
            Fact(FactKey.PIECES, tr("Bars, left to right"), card.pieces),
            Fact(FactKey.LINE, tr("Fold line sits"), line_place(self.line_behind_nose, card.units)),
            Fact(
                FactKey.SETBACK,
                tr("Bar behind the bench's edge"),
                tr("{edge}, both ends alike").format(edge=show_length(self.edge, fine)),
            ),
            *packing_facts(self.packing, card.units),
            Fact(FactKey.STOP, tr("Lift the board to"), card.stop),
        ]

    def more(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.more`."""
        fine = card.units.fine
        rated = tr("{allowed};  the sheet is {thickness}").format(
            allowed=show_length(self.allowed, fine), thickness=show_length(card.thickness, fine)
        )
        return [
            Fact(FactKey.RATED, tr("A hand lifts of this metal"), rated),
            Fact(
                FactKey.HEIGHT,
                tr("Bar height"),
                show_length(self.bar_height, card.units, pretty=True),
            ),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`MachineSettings.hold`."""
        text = tr("Clamp {held}, a bar on top. Line {line_behind_nose}.").format(
            held=the(held), line_behind_nose=line_place(self.line_behind_nose, units)
        )
        return (
            text
            if not self.packing.thickness
            else text + tr(" Lay {strip}.").format(strip=packing_text(self.packing, units))
        )


class HandStroke(TurningStroke):
    """One stroke of a hand folder. See :class:`TurningStroke`."""

    tooling: HandTooling
    section: ClassVar[ToolPart] = ToolPart.BAR

    @cached_property
    def tools(self) -> HandTools:
        """Bar and bench as set up."""
        return _outlines(
            self.tooling.brake, self.setting.line.bend, 0.0, self.packing.thickness, self.doubled
        )[0]

    def _outlines(self, keep: float, packing: Packing) -> dict[str, ToolOutline]:
        return _outlines(
            self.tooling.brake, self.setting.line.bend, keep, packing.thickness, self.doubled
        )[1]

    @property
    def nose(self) -> NDArray[np.float64]:
        """See :attr:`TurningStroke.nose`."""
        return self.tools.nose

    @property
    def opening(self) -> float:
        """See :attr:`TurningStroke.opening`."""
        return self.tooling.brake.lifted

    def refused(self, wanted: float) -> Message | None:
        """See :meth:`Stroke.refused`."""
        low, high = self.setting.span
        length = self.tooling.brake.bed_length
        if high - low > length:
            return msg(
                "the fold is {fold} long and the edge is {edge} long",
                fold=Long(high - low),
                edge=Long(length),
            )
        return None

    def tools_at(self, degrees: float) -> Iterator[SceneOutline]:
        """See :meth:`Stroke.tools_at`."""
        yield SceneOutline(OutlineKind.TOOL, self.tools.bed.outline)
        yield from self._strip()
        yield SceneOutline(OutlineKind.SECTION, self.tools.bar.outline, rises=True)


@cached(128, lasts=True)
def _outlines(
    folder: HandFolder, bend: Bend, keep: float, lowered: float, doubled: float
) -> tuple[HandTools, dict[str, ToolOutline]]:
    tools = hand_tools_for(folder, bend, lowered, doubled)
    return tools, {p.name: ToolOutline.of(p, keep) for p in (tools.bar, tools.bed)}


class HandFolding(Machine[HandFolder, HandTooling]):
    """A straight edge, loose bars and a board. See :class:`Machine`."""

    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted_msg("{count} bar set-up", "{count} bar set-ups", count),
        held=msg("{panel} clamped"),
        tried=msg("with either side clamped"),
        other_side=msg("Clamp the other side"),
        line_under=msg("bar's edge"),
        line_over=msg("bench"),
    )
    cautions: ClassVar[tuple[tuple[Doing, Message], ...]] = (
        (
            Doing.ADJUSTING,
            msg(
                "Clamp both ends of the bar down tight before the edge is lifted; a bar that "
                "slips takes the hand along."
            ),
        ),
        (Doing.ADJUSTING, msg("Screw the edge to a bench that does not move.")),
        (
            Doing.BENDING,
            msg(
                "Lift the whole edge evenly with a board, a little at a time from end to end; "
                "gloves on, fingers off the fold."
            ),
        ),
    )

    def toolings(
        self, brake: HandFolder, blank: Blank, *, bottomed: bool, every: bool = False
    ) -> tuple[HandTooling, ...]:
        """See :meth:`Machine.toolings`."""
        return (HandTooling(brake),)

    def plain(self, toolings: Sequence[HandTooling]) -> list[HandTooling]:
        """See :meth:`Machine.plain`."""
        return list(toolings)

    def stroke(
        self,
        setting: Setting,
        tooling: HandTooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> HandStroke:
        """See :meth:`Machine.stroke`."""
        return HandStroke(setting, tooling, keep, until, stop)

    def refused(
        self, blank: Blank, brake: HandFolder, units: Units
    ) -> tuple[Phrase, tuple[Phrase, ...]] | None:
        """See :meth:`Machine.refused`."""
        return too_thick(blank, brake.rated, units) or (
            None if brake.bars else (msg("there is no bar"), ())
        )

    def unheld(self, blank: Blank, brake: HandFolder, units: Units) -> list[Finding]:
        """See :meth:`Machine.unheld`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def drawn(self, brake: HandFolder) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return hand_drawn(brake)

    def narrow_flanges(self, blank: Blank, brake: HandFolder, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def set_up(self, stroke: Stroke, reach: float) -> HandSettings:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, HandStroke)
        brake, nose = stroke.tooling.brake, float(stroke.nose[0])
        edge = nose - float(stroke.tools.bed.outline[0, 0])
        allowed = stroke.setting.blank.sheet.allowed_by(brake.rated)
        return HandSettings(-nose, edge, allowed, brake.bar_height, stroke.packing)

    def record(self, stroke: Stroke, under: Sequence[tuple[float, float]]) -> dict[str, Any]:
        """See :meth:`Machine.record`."""
        assert isinstance(stroke, HandStroke)
        tools = stroke.tools
        return {
            "opening": stroke.raised,
            "lift": stroke.lift,
            "tip": stroke.tip.record(),
            "tools": {p.name: profile_record(p) for p in (tools.bar, tools.bed)},
        }

    def lifted(self, stroke: Stroke) -> float:
        """See :meth:`Machine.lifted`."""
        assert isinstance(stroke, HandStroke)
        return stroke.lift

    def drawn_off(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """See :meth:`Machine.drawn_off`."""
        assert isinstance(stroke, HandStroke)
        return stroke.ease(released, way)

    def most_drawn(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """See :meth:`Machine.most_drawn`."""
        assert isinstance(stroke, HandStroke)
        return stroke.most_drawn(released, way)
