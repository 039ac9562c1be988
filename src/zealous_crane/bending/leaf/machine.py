"""A leaf brake's section with its sizes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, ClassVar

from ...brake.cross_section import tools_for
from ...brake.leaf_brake import LeafBrake
from ...cache import cached
from ...flat.blank import Blank
from ...flat.element import MadeBy
from ...flat.features import Finding
from ...i18n import Message, Phrase, counted_msg, msg, the, the_first, tr
from ...job.job import Avoided
from ...kernel.obstacle import Phase, Way
from ...kernel.solid import Body, BodyKind, ToolPart
from ...metal.allowance import OnTheLine, default_school
from ...metal.bend import Bend
from ...metal.sheet import Sheet
from ...units.length import Units, show_length
from ..drawing import Drawn, line_place, profile_record
from ..legs import short_legs, too_thick
from ..machine import (
    CardFields,
    Doing,
    Fact,
    FactKey,
    Least,
    Machine,
    MachineSettings,
    Words,
    packing_facts,
)
from ..setting import Setting
from ..stroke import Stroke, Verdict
from ..tooling import NONE, Packing, packing_text
from .stroke import THIN, LeafStroke, LeafTooling, sprung_flanges

SHEET = 1.0
"""mm of the sheet it is drawn with."""

FIRST = (
    "name",
    "bed_length",
    "rated",
    "finger_height",
    "leaf_bar",
    "bare_bar",
    "nose_radius",
    "rake",
    "throat",
    "foot",
    "beam_front",
    "opening",
    "bed_depth",
    "leaf_depth",
    "greatest_angle",
)
"""The depth limit, the leaf's bar and the nose decide most; the rest is seldom far from what is
usual."""


def leaf_drawn(brake: LeafBrake) -> Drawn:
    """The brake clamped on a sheet 1 mm thick, its leaf down."""
    tools = tools_for(brake, Bend(angle=90.0, radius=0.0, thickness=SHEET, allowance=0.0))
    edge, nose = float(tools.bed.outline[:, 0].min()), float(tools.nose[0])
    low, top = SHEET, SHEET + brake.finger_height
    front = nose + brake.beam_front
    bar = (edge - brake.leaf_bar, edge)
    right, beside = nose + max(brake.foot, brake.throat) + 8.0, front + brake.beam_depth + 8.0
    sizes = {
        "finger_height": ((right, low), (right, top)),
        "nose_radius": (
            (nose, low + brake.nose_radius),
            (nose + brake.nose_radius, low + brake.nose_radius),
        ),
        "throat": ((nose, low + brake.face_height), (nose + brake.throat, low + brake.face_height)),
        "foot": ((nose, low + 4.0), (nose + brake.foot, low + 4.0)),
        "head_drop": (
            (nose + brake.head_front - 6.0, top - brake.head_drop),
            (nose + brake.head_front - 6.0, top),
        ),
        "head_front": ((nose, top - 3.0), (nose + brake.head_front, top - 3.0)),
        "beam_front": ((nose, top + 8.0), (front, top + 8.0)),
        "beam_depth": (
            (front, top + brake.beam_height / 2),
            (front + brake.beam_depth, top + brake.beam_height / 2),
        ),
        "beam_height": ((beside, top), (beside, top + brake.beam_height)),
        "bed_depth": ((edge, -10.0), (edge + brake.bed_depth, -10.0)),
        "leaf_bar": ((bar[0], -brake.leaf_depth / 2), (bar[1], -brake.leaf_depth / 2)),
        "leaf_depth": ((bar[0] - 8.0, -brake.leaf_depth), (bar[0] - 8.0, 0.0)),
        "opening": ((bar[0] - 26.0, 0.0), (bar[0] - 26.0, brake.opening)),
        "extra_setback": ((edge, 0.5), (nose, 0.5)),
    }
    if brake.bare_bar is not None:
        z = -0.8 * brake.leaf_depth
        sizes["bare_bar"] = ((edge - brake.bare_bar, z), (edge, z))
    outlines = tuple((p.name, p.outline) for p in (tools.bed, tools.leaf, tools.beam, tools.finger))
    return Drawn(outlines, sizes, FIRST)


def narrow_flanges(blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
    """Short legs, and reversed folds too near the last one. Common practice, no source.

    Args:
        blank: the flat.
        brake: the machine.
        units: what lengths are shown in.
    """
    result = short_legs(blank, brake, units, brake.least_flange)
    for fold in blank.folds:
        if fold.made_by is not MadeBy.BRAKE:
            continue
        for other in blank.folds:
            if (
                other.parent != fold.child
                or other.made_by is not MadeBy.BRAKE
                or other.angle * fold.angle > 0
            ):
                continue
            if abs(float(other.outward @ fold.outward)) < 0.99:
                continue
            apart = abs(float((other.start - fold.start) @ fold.outward))
            least, why = brake.least_between(fold.bend)
            if apart < least - 1e-6:
                result.append(
                    Finding(
                        msg(
                            "{name} and {name_2} turn opposite ways {apart} apart; the {name_3} "
                            "needs {least}: {why}."
                            " Take the leaf's angle off, or fold one of them on another brake.",
                            name=the_first(fold.name),
                            name_2=the(other.name),
                            apart=show_length(apart, units),
                            name_3=brake.name,
                            least=show_length(least, units),
                            why=why,
                        ),
                        (fold.start + fold.end) / 2,
                        "flange",
                    )
                )
    return result


def sprung_text(name: str, by: float, units: Units) -> str:
    """Which flange gives, and how far it may.

    Args:
        name: as it is called.
        by: mm by which it gives.
        units: what lengths are shown in.
    """
    return tr("{flange}, by hand, its edge no farther than {by}; it springs back").format(
        flange=name, by=show_length(by, units)
    )


@dataclass(frozen=True)
class LeafSettings(MachineSettings):
    """What is set on a leaf brake. See :class:`MachineSettings`.

    Attributes:
        setback: nose behind the bed's edge, mm, both ends alike.
        line_behind_nose: fold line behind the nose, mm; below zero in front of it.
        allowed: thickest sheet of this metal the brake may fold, mm.
        finger_height: nose to the underside of the beam, mm.
        packing: the strip under the line.
        sprung: flanges that are let past the bar, and how far (mm) the edge of each may be pushed
            aside.
    """

    setback: float
    line_behind_nose: float
    allowed: float
    finger_height: float
    packing: Packing = NONE
    sprung: tuple[tuple[str, float], ...] = ()

    def record(self) -> dict[str, Any]:
        """See :meth:`MachineSettings.record`."""
        return {
            "setback": self.setback,
            "line_behind_nose": self.line_behind_nose,
            "allowed_thickness": self.allowed,
            "packing": self.packing.thickness,
        }

    def facts(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.facts`."""
        fine = card.units.fine
        return [
            Fact(FactKey.HELD, tr("Clamp"), card.held),
            *([Fact(FactKey.TOOLS, tr("Set up with"), card.tooling)] if card.tooling else []),
            Fact(FactKey.PIECES, tr("Fingers, left to right"), card.pieces),
            Fact(FactKey.LINE, tr("Fold line sits"), line_place(self.line_behind_nose, card.units)),
            Fact(
                FactKey.SETBACK,
                tr("Nose behind the bed's edge"),
                tr("{setback}, both ends alike").format(setback=show_length(self.setback, fine)),
            ),
            *packing_facts(self.packing, card.units),
            Fact(FactKey.STOP, tr("Stop the leaf at"), card.stop),
            *(
                Fact(FactKey.SPRUNG, tr("Spring past the bar"), sprung_text(name, by, card.units))
                for name, by in self.sprung
            ),
        ]

    def more(self, card: CardFields) -> list[Fact]:
        """See :meth:`MachineSettings.more`."""
        fine = card.units.fine
        rated = tr("{allowed};  the sheet is {thickness}").format(
            allowed=show_length(self.allowed, fine), thickness=show_length(card.thickness, fine)
        )
        return [
            Fact(FactKey.RATED, tr("Rated for this metal"), rated),
            Fact(
                FactKey.HEIGHT,
                tr("Finger height"),
                tr("{finger_height} under the beam").format(
                    finger_height=show_length(self.finger_height, card.units, pretty=True)
                ),
            ),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`MachineSettings.hold`."""
        text = tr("Clamp {held}. Line {line_behind_nose}.").format(
            held=the(held), line_behind_nose=line_place(self.line_behind_nose, units)
        )
        for name, by in self.sprung:
            text += tr(" Spring past the bar: {sprung}.").format(
                sprung=sprung_text(name, by, units)
            )
        return (
            text
            if not self.packing.thickness
            else text + tr(" Lay {strip}.").format(strip=packing_text(self.packing, units))
        )


ANGLE_OFF, AT_THE_END, SPRUNG = 0.5, 2.0, 1.0
"""What is to be said against taking the leaf's angle off, folding at an end of the bed, and
springing thin sheet past the bar."""


@cached(256, lasts=True)
def _every(brake: LeafBrake) -> tuple[LeafTooling, ...]:
    ends = (0, -1, 1) if brake.open_ends else (0,)
    result = [LeafTooling(brake, end=end) for end in ends]
    if brake.bare is not None:
        result += [LeafTooling(brake.bare, True, end) for end in ends]
    return tuple(result + [replace(t, sprung=True) for t in result])


class LeafFolding(Machine[LeafBrake, LeafTooling]):
    """A leaf brake with fingers. See :class:`Machine`."""

    words: ClassVar[Words] = Words(
        set_ups=lambda count: counted_msg("{count} finger set-up", "{count} finger set-ups", count),
        held=msg("{panel} clamped"),
        tried=msg("with either side clamped"),
        other_side=msg("Clamp the other side"),
        line_under=msg("nose"),
        line_over=msg("bed"),
    )
    cautions: ClassVar[tuple[tuple[Doing, Message], ...]] = (
        (
            Doing.BENDING,
            msg(
                "Pinch points at clamp and leaf: hands off the sheet's edge before the clamp "
                "comes down."
            ),
        ),
        (Doing.COUNTERWEIGHT, msg("Keep helpers clear of the leaf and its counterweight.")),
        (Doing.CHANGING_PIECES, msg("Hold each finger while you loosen it; it drops.")),
        (
            Doing.ADJUSTING,
            msg("Set both ends of the leaf alike, or one end bends farther than the other."),
        ),
    )
    folds_boxes: ClassVar[bool] = True
    avoidable: ClassVar[frozenset[Avoided]] = frozenset({"angle-off", "bed-end", "sprung"})

    def toolings(
        self, brake: LeafBrake, blank: Blank, *, bottomed: bool, every: bool = False
    ) -> tuple[LeafTooling, ...]:
        """See :meth:`Machine.toolings`."""
        allowed = blank.sheet.allowed_by
        return tuple(
            t
            for t in _every(brake)
            if blank.thickness <= allowed(t.brake.rated) + 1e-6
            and (not t.sprung or blank.thickness <= THIN)
        )

    def plain(self, toolings: Sequence[LeafTooling]) -> list[LeafTooling]:
        """See :meth:`Machine.plain`: the leaf's angle on, the fold anywhere on the bed."""
        return [t for t in toolings if not t.unusual]

    def instead(
        self,
        now: LeafTooling,
        verdict: Verdict,
        toolings: Sequence[LeafTooling],
        *,
        plain: bool,
        turned: bool,
    ) -> list[tuple[LeafTooling, float]]:
        """See :meth:`Machine.instead`: one change at a time, each where it changes what is met;
        both at once only where one of them was not enough."""
        met = verdict.limit.obstacle.tool if verdict.limit is not None else ""
        if met not in (ToolPart.LEAF, ToolPart.BED, ToolPart.BEAM, ToolPart.FINGER):
            return []
        result: list[tuple[LeafTooling, float]] = []
        for other in toolings:
            angle_off, to_the_end = (
                other.bare and not now.bare and other.end == now.end,
                other.end and not now.end,
            )
            if other.sprung is not now.sprung:
                # Only a flange that gives is cleared by giving.
                if (
                    met in (ToolPart.BEAM, ToolPart.FINGER)
                    and other.sprung
                    and other == replace(now, sprung=True)
                    and _gives(verdict)
                ):
                    result.append((other, SPRUNG))
            elif angle_off and met is ToolPart.LEAF:
                result.append((other, 0.0 if now.end else ANGLE_OFF))
            # At an end of the bed only what hangs past that end is clear of it.
            elif (
                to_the_end
                and met is not ToolPart.FINGER
                and other.bare == now.bare
                and _hangs_past(verdict, -other.end if turned else other.end)
            ):
                result.append((other, AT_THE_END - ANGLE_OFF if now.bare else AT_THE_END))
        return result

    def stroke(
        self,
        setting: Setting,
        tooling: LeafTooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> LeafStroke:
        """See :meth:`Machine.stroke`."""
        return LeafStroke(setting, tooling, keep, until, stop)

    def refused(
        self, blank: Blank, brake: LeafBrake, units: Units
    ) -> tuple[Phrase, tuple[Phrase, ...]] | None:
        """See :meth:`Machine.refused`."""
        thick = too_thick(blank, brake.rated, units)
        return thick or (None if brake.fingers else (msg("there are no fingers in the rack"), ()))

    def least_sizes(self, brake: LeafBrake, sheet: Sheet) -> tuple[Least, ...]:
        """See :meth:`Machine.least_sizes`."""
        school, t = default_school(sheet.thickness), sheet.thickness
        # Folded on the line it is folded sharp, as a job's own flat has it.
        radius = 0.0 if isinstance(school, OnTheLine) else brake.radius(sheet).radius
        bend, hem = school.bend(90, radius, t), school.bend(180, 0.0, t)
        flange, why = brake.least_flange(bend)
        closed, _ = brake.least_flange(hem)
        result = [
            Least(msg("flange"), flange, why),
            Least(msg("hem, to its folded edge"), closed, why),
        ]
        for angle_off, set_up in (
            (msg("two bends turned opposite ways, apart"), brake),
            (msg("the same with the leaf's angle off"), brake.bare),
        ):
            if set_up is not None:
                between, reason = set_up.least_between(bend)
                result.append(Least(angle_off, between, reason))
        return tuple(result)

    def unheld(self, blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.unheld`."""
        return short_legs(blank, brake, units, brake.least_flange)

    def drawn(self, brake: LeafBrake) -> Drawn:
        """See :meth:`Machine.drawn`."""
        return leaf_drawn(brake)

    def narrow_flanges(self, blank: Blank, brake: LeafBrake, units: Units) -> list[Finding]:
        """See :meth:`Machine.narrow_flanges`."""
        return narrow_flanges(blank, brake, units)

    def set_up(self, stroke: Stroke, reach: float) -> LeafSettings:
        """See :meth:`Machine.set_up`."""
        assert isinstance(stroke, LeafStroke)
        brake = stroke.tooling.brake
        allowed = stroke.setting.blank.sheet.allowed_by(brake.rated)
        panels = stroke.setting.blank.panels
        sprung = tuple((panels[panel].name, by) for panel, by in stroke.sprung.items())
        return LeafSettings(
            stroke.setback,
            -float(stroke.nose[0]),
            allowed,
            brake.finger_height,
            stroke.packing,
            sprung,
        )

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
            "tools": {
                p.name: profile_record(p) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)
            },
        }

    def lifted(self, stroke: Stroke) -> float:
        """See :meth:`Machine.lifted`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.lift

    def drawn_off(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """See :meth:`Machine.drawn_off`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.ease(released, way)

    def most_drawn(self, stroke: Stroke, released: float, way: Way) -> float | None:
        """See :meth:`Machine.most_drawn`."""
        assert isinstance(stroke, LeafStroke)
        return stroke.most_drawn(released, way)


def _gives(verdict: Verdict) -> bool:
    """True when what a stroke met on its swing is a flange that may be sprung."""
    setting = verdict.stroke.setting
    assert verdict.limit is not None
    if verdict.limit.obstacle.phase is not Phase.SWING:
        return False
    flanges = {
        Body(BodyKind.PANEL, setting.blank.panels[panel].name) for panel in sprung_flanges(setting)
    }
    return verdict.limit.obstacle.body in flanges


def _hangs_past(verdict: Verdict, end: int) -> bool:
    """True when what a stroke met, or some of it, would lie beyond an end of the bed with the fold
    set there."""
    setting = verdict.stroke.setting
    assert verdict.limit is not None
    body, (low, high) = verdict.limit.obstacle.body, setting.span
    tooling = verdict.stroke.tooling
    past = tooling.past if isinstance(tooling, LeafTooling) else 0.0
    for solid in verdict.stroke.pieces:
        if solid.body != body:
            continue
        near, far = (
            (high - solid.x_range[1], high - solid.x_range[0])
            if end > 0
            else (solid.x_range[0] - low, solid.x_range[1] - low)
        )
        # A piece that does not change along the fold meets the bed wherever any of it lies over it.
        if (far if solid.uniform else near) < past + 0.01:
            return True
    return False
