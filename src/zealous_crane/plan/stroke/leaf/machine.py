"""The leaf brake, as the program knows it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, ClassVar

from ....allowance import OnTheLine, default_school
from ....blank import Blank, Finding
from ....brake import LeafBrake
from ....job import Avoided
from ....measure import Units
from ....measure.words import counted, tr
from ....metal import Sheet
from ...geometry.body import Body, BodyKind
from ...geometry.obstacle import Phase
from ...memory import kept
from ..drawn import Drawn
from ..flange import short_legs
from ..machine import Doing, Least, Machine, Words
from ..rated import too_thick
from ..record import profile_record
from ..setting import Setting
from ..stroke import Stroke
from ..verdict import Verdict
from .drawn import leaf_drawn
from .flange import narrow_flanges
from .set_up import Folded
from .sprung import THIN, sprung_flanges
from .stroke import LeafStroke
from .tooling import LeafTooling

ANGLE_OFF, AT_THE_END, SPRUNG = 0.5, 2.0, 1.0
"""What is to be said against taking the leaf's angle off, folding at an end of the bed, and springing thin sheet past the bar."""


@kept(256, lasts=True)
def _every(brake: LeafBrake) -> tuple[LeafTooling, ...]:
    ends = (0, -1, 1) if brake.open_ends else (0,)
    found = [LeafTooling(brake, end=end) for end in ends]
    if brake.bare is not None:
        found += [LeafTooling(brake.bare, True, end) for end in ends]
    return tuple(found + [replace(t, sprung=True) for t in found])


class LeafFolding(Machine[LeafBrake, LeafTooling]):
    """A leaf brake with fingers. See :class:`Machine`."""

    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted("{count} finger set-up", "{count} finger set-ups", count),
        held=tr("{panel} clamped"),
        tried=tr("with either side clamped"),
        other_side=tr("Clamp the other side"),
        line_under=tr("nose"),
        line_over=tr("bed"),
    )
    cautions: ClassVar[tuple[tuple[Doing, str], ...]] = (
        (Doing.BENDING, tr("Pinch points at clamp and leaf: hands off the sheet's edge before the clamp comes down.")),
        (Doing.COUNTERWEIGHT, tr("Keep helpers clear of the leaf and its counterweight.")),
        (Doing.CHANGING_PIECES, tr("Hold each finger while you loosen it; it drops.")),
        (Doing.ADJUSTING, tr("Set both ends of the leaf alike, or one end bends farther than the other.")),
    )
    folds_boxes: ClassVar[bool] = True
    avoidable: ClassVar[frozenset[Avoided]] = frozenset({"angle-off", "bed-end", "sprung"})

    def toolings(self, brake: LeafBrake, blank: Blank, *, bottomed: bool, every: bool = False) -> tuple[LeafTooling, ...]:
        """See :meth:`Machine.toolings`."""
        allowed = blank.sheet.allowed_by
        return tuple(
            t
            for t in _every(brake)
            if blank.thickness <= allowed(t.brake.rated) + 1e-6 and (not t.sprung or blank.thickness <= THIN)
        )

    def plain(self, toolings: Sequence[LeafTooling]) -> list[LeafTooling]:
        """See :meth:`Machine.plain`: the leaf's angle on, the fold anywhere on the bed."""
        return [t for t in toolings if not t.unusual]

    def instead(
        self, now: LeafTooling, verdict: Verdict, toolings: Sequence[LeafTooling], *, plain: bool, turned: bool
    ) -> list[tuple[LeafTooling, float]]:
        """See :meth:`Machine.instead`: one change at a time, each where it changes what is met; both at once only where one of
        them was not enough."""
        met = verdict.limit.obstacle.tool if verdict.limit is not None else ""
        if met not in ("leaf", "bed", "beam", "finger"):
            return []
        found: list[tuple[LeafTooling, float]] = []
        for other in toolings:
            angle_off, to_the_end = other.bare and not now.bare and other.end == now.end, other.end and not now.end
            if other.sprung is not now.sprung:
                # Only a flange that gives is cleared by giving.
                if met in ("beam", "finger") and other.sprung and other == replace(now, sprung=True) and _gives(verdict):
                    found.append((other, SPRUNG))
            elif angle_off and met == "leaf":
                found.append((other, 0.0 if now.end else ANGLE_OFF))
            # At an end of the bed only what hangs past that end is clear of it.
            elif (
                to_the_end
                and met != "finger"
                and other.bare == now.bare
                and _hangs_past(verdict, -other.end if turned else other.end)
            ):
                found.append((other, AT_THE_END - ANGLE_OFF if now.bare else AT_THE_END))
        return found

    def stroke(
        self, setting: Setting, tooling: LeafTooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
    ) -> LeafStroke:
        """See :meth:`Machine.stroke`."""
        return LeafStroke(setting, tooling, keep, until, stop)

    def refused(self, blank: Blank, brake: LeafBrake, units: Units) -> tuple[str, tuple[str, ...]] | None:
        """See :meth:`Machine.refused`."""
        thick = too_thick(blank, brake.rated, units)
        return thick or (None if brake.fingers else (tr("there are no fingers in the rack"), ()))

    def least_sizes(self, brake: LeafBrake, sheet: Sheet) -> tuple[Least, ...]:
        """See :meth:`Machine.least_sizes`."""
        school, t = default_school(sheet.thickness), sheet.thickness
        # Folded on the line it is folded sharp, as a job's own flat has it.
        radius = 0.0 if isinstance(school, OnTheLine) else brake.radius(sheet).radius
        bend, hem = school.bend(90, radius, t), school.bend(180, 0.0, t)
        flange, why = brake.least_flange(bend)
        closed, _ = brake.least_flange(hem)
        found = [Least(tr("flange"), flange, why), Least(tr("hem, to its folded edge"), closed, why)]
        for angle_off, set_up in (
            (tr("two bends turned opposite ways, apart"), brake),
            (tr("the same with the leaf's angle off"), brake.bare),
        ):
            if set_up is not None:
                between, reason = set_up.least_between(bend)
                found.append(Least(angle_off, between, reason))
        return tuple(found)

    def unheld(self, blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.unheld`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def drawn(self, brake: LeafBrake) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return leaf_drawn(brake)

    def narrow_flanges(self, blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return narrow_flanges(blank, brake, units)

    def set_up(self, stroke: Stroke, reach: float) -> Folded:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, LeafStroke)
        brake = stroke.tooling.brake
        allowed = stroke.setting.blank.sheet.allowed_by(brake.rated)
        panels = stroke.setting.blank.panels
        sprung = tuple((panels[panel].name, by) for panel, by in stroke.sprung.items())
        return Folded(stroke.setback, -float(stroke.nose[0]), allowed, brake.finger_height, stroke.packing, sprung)

    def record(self, stroke: Stroke, under: Sequence[tuple[float, float]]) -> dict[str, Any]:
        """See :meth:`Machine.record`."""
        assert isinstance(stroke, LeafStroke)
        tools = stroke.tools
        return {
            "hinge": [float(v) for v in tools.hinge],
            "setback": tools.setback,
            "opening": stroke.raised,
            "lift": stroke.lift,
            "tip": stroke.tip.record(),
            "sprung": {str(panel): by for panel, by in stroke.sprung.items()},
            "bed": None if stroke.over is None else list(stroke.over),
            "tools": {p.name: profile_record(p) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)},
        }

    def lifted(self, stroke: Stroke) -> float:
        """See :meth:`Machine.lifted`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.lift

    def drawn_off(self, stroke: Stroke, released: float, way: str) -> float | None:
        """See :meth:`Machine.drawn_off`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.ease(released, way)

    def most_drawn(self, stroke: Stroke, released: float, way: str) -> float | None:
        """See :meth:`Machine.most_drawn`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.most_drawn(released, way)


def _gives(verdict: Verdict) -> bool:
    """True when what a stroke met on its swing is a flange that may be sprung."""
    setting = verdict.stroke.setting
    assert verdict.limit is not None
    if verdict.limit.obstacle.phase is not Phase.SWING:
        return False
    flanges = {Body(BodyKind.PANEL, setting.blank.panels[panel].name) for panel in sprung_flanges(setting)}
    return verdict.limit.obstacle.body in flanges


def _hangs_past(verdict: Verdict, end: int) -> bool:
    """True when what a stroke met, or some of it, would lie beyond an end of the bed with the fold set there."""
    setting = verdict.stroke.setting
    assert verdict.limit is not None
    body, (low, high) = verdict.limit.obstacle.body, setting.span
    tooling = verdict.stroke.tooling
    past = tooling.past if isinstance(tooling, LeafTooling) else 0.0
    for solid in verdict.stroke.pieces:
        if solid.body != body:
            continue
        near, far = (
            (high - solid.x_range[1], high - solid.x_range[0]) if end > 0 else (solid.x_range[0] - low, solid.x_range[1] - low)
        )
        # A piece that does not change along the fold meets the bed wherever any of it lies over it.
        if (far if solid.uniform else near) < past + 0.01:
            return True
    return False
