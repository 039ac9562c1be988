"""The hand folder, as the program knows it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, ClassVar

from ....blank import Blank, Finding
from ....brake import HandFolder
from ....measure import Units
from ....measure.words import counted, tr
from ..drawn import Drawn
from ..flange import short_legs
from ..machine import Doing, Machine, Words
from ..rated import too_thick
from ..record import profile_record
from ..setting import Setting
from ..stroke import Stroke
from .drawn import hand_drawn
from .set_up import Lifted
from .stroke import HandStroke
from .tooling import HandTooling


class HandFolding(Machine[HandFolder, HandTooling]):
    """A straight edge, loose bars and a board. See :class:`Machine`."""

    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted("{count} bar set-up", "{count} bar set-ups", count),
        held=tr("{panel} clamped"),
        tried=tr("with either side clamped"),
        other_side=tr("Clamp the other side"),
        line_under=tr("bar's edge"),
        line_over=tr("bench"),
    )
    cautions: ClassVar[tuple[tuple[Doing, str], ...]] = (
        (
            Doing.ADJUSTING,
            tr("Clamp both ends of the bar down tight before the edge is lifted; a bar that slips takes the hand along."),
        ),
        (Doing.ADJUSTING, tr("Screw the edge to a bench that does not move.")),
        (
            Doing.BENDING,
            tr("Lift the whole edge evenly with a board, a little at a time from end to end; gloves on, fingers off the fold."),
        ),
    )

    def toolings(self, brake: HandFolder, blank: Blank, *, bottomed: bool, every: bool = False) -> tuple[HandTooling, ...]:
        """See :meth:`Machine.toolings`."""
        return (HandTooling(brake),)

    def plain(self, toolings: Sequence[HandTooling]) -> list[HandTooling]:
        """See :meth:`Machine.plain`."""
        return list(toolings)

    def stroke(
        self, setting: Setting, tooling: HandTooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
    ) -> HandStroke:
        """See :meth:`Machine.stroke`."""
        return HandStroke(setting, tooling, keep, until, stop)

    def refused(self, blank: Blank, brake: HandFolder, units: Units) -> tuple[str, tuple[str, ...]] | None:
        """See :meth:`Machine.refused`."""
        return too_thick(blank, brake.rated, units) or (None if brake.bars else (tr("there is no bar"), ()))

    def unheld(self, blank: Blank, brake: HandFolder, units: Units) -> list[Finding]:
        """See :meth:`Machine.unheld`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def drawn(self, brake: HandFolder) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return hand_drawn(brake)

    def narrow_flanges(self, blank: Blank, brake: HandFolder, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def set_up(self, stroke: Stroke, reach: float) -> Lifted:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, HandStroke)
        brake, nose = stroke.tooling.brake, float(stroke.nose[0])
        edge = nose - float(stroke.tools.bed.outline[0, 0])
        allowed = stroke.setting.blank.sheet.allowed_by(brake.rated)
        return Lifted(-nose, edge, allowed, brake.bar_height, stroke.packing)

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

    def drawn_off(self, stroke: Stroke, released: float, way: str) -> float | None:
        """See :meth:`Machine.drawn_off`."""
        assert isinstance(stroke, HandStroke)
        return stroke.ease(released, way)

    def most_drawn(self, stroke: Stroke, released: float, way: str) -> float | None:
        """See :meth:`Machine.most_drawn`."""
        assert isinstance(stroke, HandStroke)
        return stroke.most_drawn(released, way)
