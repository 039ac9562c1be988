"""A leaf brake set up: as it is, with the leaf's angle off, the fold anywhere on the bed or at one
of its ends."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import ClassVar

import numpy as np

from ..._typing import Array
from ...brake.cross_section import Tools, tools_for
from ...brake.leaf_brake import LeafBrake
from ...brake.tools import SegmentSet
from ...cache import cached
from ...i18n import JoinedText, Message, Phrase, msg
from ...job.job import Avoided
from ...job.tools import ToolChoice
from ...kernel.contact import Touch, first_touches, hull, least_distance
from ...kernel.obstacle import Clip, Contact, Obstacle, Phase, met, ring_of
from ...kernel.outline import ToolOutline, apart, boxes_apart
from ...kernel.plane import turned
from ...kernel.solid import Body, BodyKind, Solid, ToolPart
from ...metal.bend import Bend
from ...metal.sheet import Sheet
from ...units.figures import Long
from ..drawing import OutlineKind, SceneOutline
from ..legs import outside_leg, reach_of
from ..nose_stroke import Swing, TurningStroke
from ..passage import NoseBatch
from ..setting import Setting, pose
from ..tooling import LOW, NONE, Packing, Tooling

PAST_THE_END = 6.0
"""mm of the fold that stand past the bed's end, where it is set there: what hangs beside the fold
often reaches back a little. Less than may stand without a finger on any brake. Common practice, no
source."""


@dataclass(frozen=True)
class LeafTooling(Tooling):
    """A leaf brake as it is, or out of the ordinary. See :class:`Tooling`.

    Attributes:
        brake: the machine as set up.
        bare: the leaf's removable angle is off.
        sprung: thin flanges that meet the bar are let past it, and spring back.
        end: −1 or 1 when the fold begins at the left or right end of the bed, so that what lies
            beyond it hangs free.
    """

    brake: LeafBrake
    bare: bool = False
    end: int = 0
    sprung: bool = False

    @property
    def says(self) -> Phrase:
        """What is out of the ordinary about it; empty when nothing is."""
        phrases: list[Phrase] = [msg("the leaf's angle off")] if self.bare else []
        if self.end:
            which = msg("left") if self.end < 0 else msg("right")
            phrases.append(msg("the fold at the {which} end of the bed", which=which))
        if self.sprung:
            phrases.append(msg("thin sheet sprung past the bar"))
        return JoinedText(tuple(phrases), ", ") if phrases else ""

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """See :attr:`Tooling.chosen`; the leaf's angle only where it comes off, the place only
        where a part may reach past the end."""
        place: dict[ToolChoice, str] = {
            "place": {-1: "left end", 0: "on the bed", 1: "right end"}[self.end]
        }
        angle: dict[ToolChoice, str] = {"angle": "off" if self.bare else "on"}
        own = self.bare or self.brake.bare is not None
        return (angle if own else {}) | (place if self.brake.open_ends else {})

    @property
    def past(self) -> float:
        """How much of the fold (mm) stands past the bed's end where it is set there."""
        return min(PAST_THE_END, self.brake.unsupported_end / 2)

    @cached_property
    def sections(self) -> SegmentSet:
        """The fingers."""
        return self.brake.sections

    @property
    def greatest_angle(self) -> float:
        """How far the leaf swings, degrees."""
        return self.brake.greatest_angle

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        return Obstacle(Body(BodyKind.LEAF), ToolPart.STOP, Phase.SWING)

    @property
    def unusual(self) -> frozenset[Avoided]:
        """See :attr:`Tooling.unusual`."""
        result: set[Avoided] = set()
        if self.bare:
            result.add("angle-off")
        if self.end:
            result.add("bed-end")
        if self.sprung:
            result.add("sprung")
        return frozenset(result)

    @property
    def mirrored(self) -> LeafTooling:
        """A fold at one end of the bed is at the other."""
        return replace(self, end=-self.end) if self.end else self

    @property
    def standing(self) -> LeafTooling:
        """See :attr:`Tooling.standing`."""
        return replace(self, sprung=False) if self.sprung else self

    @property
    def head(self) -> float:
        """How far the finger's clamp hangs below the beam, mm."""
        return self.brake.head_drop

    def stands_beside(self, other: Tooling) -> bool:
        """See :meth:`Tooling.stands_beside`: with the same leaf, and neither at an end of the
        bed."""
        return self == other and not self.end


# Saves 20 to 27 % of planning, least where remedies are tried.
@cached(128, lasts=True)
def outlines_for(  # noqa: PLR0913
    brake: LeafBrake,
    bend: Bend,
    keep: float,
    stop: float = 90.0,
    front: float = 0.0,
    packing: Packing = NONE,
    doubled: float = 0.0,
) -> tuple[Tools, dict[str, ToolOutline]]:
    """The tools set for a bend that is taken to ``stop`` degrees on a strip, grown by the clearance
    to keep.

    Args:
        brake: the machine.
        bend: the bend.
        keep: clearance to keep, mm.
        stop: degrees the machine is set to stop at.
        front: how far the foremost line of the stroke lies before the one under the nose, mm.
        packing: the strip under the line.
        doubled: thickness of what lies closed flat under the nose, mm.
    """
    tools = tools_for(brake, bend, stop, front, packing.thickness, packing.loaded, doubled)
    return tools, {
        p.name: ToolOutline.of(p, keep) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)
    }


THIN = 0.5
"""mm; thicker sheet is not sprung past a bar by hand. Common practice, no source."""

SHARE = 0.8
"""Of what the metal stands before it yields."""

STANDS = 45.0
"""Degrees from which a flange stands off its panel, and has a root it can give about."""


def give(sheet: Sheet, height: float) -> float:
    """How far (mm) the edge of a flange ``height`` mm high may be pushed aside and still springs
    back."""
    metal = sheet.metal
    return SHARE * 2.0 * metal.yield_strength * height**2 / (3.0 * metal.modulus * sheet.thickness)


def sprung_flanges(setting: Setting) -> dict[int, float]:
    """Flanges that may give on the swing, by panel: how far (mm) the edge of each."""
    blank, held = setting.blank, setting.held
    if blank.thickness > THIN:
        return {}
    carries = {fold.parent for fold in blank.folds}
    result: dict[int, float] = {}
    for i, fold in enumerate(blank.folds):
        panel = fold.child
        if (
            panel in carries
            or panel not in setting.swinging
            or panel in setting.folding_panels
            or i in held.folds
        ):
            continue
        if abs(setting.angles[i]) < STANDS:
            continue
        height = _height(setting, i)
        along = pose(held, panel, setting.angles_to(panel)).turn @ np.array(
            [*(fold.end - fold.start), 0.0]
        )
        if abs(along[0]) > 0.9999 * fold.length and height > 0:
            result[panel] = give(blank.sheet, height)
    return result


def _height(setting: Setting, fold: int) -> float:
    line = setting.blank.folds[fold]
    corners = np.array(setting.blank.panels[line.child].polygon)
    away = (corners - line.start) @ line.outward
    return float(away.max() - away.min())


def given_way(setting: Setting, solids: tuple[Solid, ...], *, swept: bool) -> tuple[Solid, ...]:
    """The swinging pieces with every flange that may give pushed back against the turn as far as it
    may be.

    Args:
        setting: how the part is held.
        solids: what swings.
        swept: with every place on the way there, as the part itself and the leaf meet it.
    """
    flanges = sprung_flanges(setting)
    if not flanges:
        return solids
    roots = {fold.child: fold for fold in setting.blank.folds}
    made = []
    for solid in solids:
        by = flanges.get(solid.panel)
        if by is None:
            made.append(solid)
            continue
        line = roots[solid.panel]
        at = pose(setting.held, solid.panel, setting.angles_to(solid.panel))
        y, z = at.apply(np.array([[*line.start, 0.0]]))[0, 1:].tolist()
        out_y, out_z = (at.turn @ np.array([*line.outward, 0.0]))[1:].tolist()
        made.append(_bent(solid, (y, z), (out_y, out_z), by, swept))
    return tuple(made)


# Gains nothing by itself: one object for one question, by which others are kept.
@cached(4096)
def _bent(
    solid: Solid, root: tuple[float, float], out: tuple[float, float], by: float, swept: bool
) -> Solid:
    """A flange pushed back by ``by`` mm at its edge, as a prism along the fold that holds it."""
    along = np.array(out)
    points = solid.corners[:, 1:]
    away = (points - np.array(root)) @ along
    near, far = float(away.min()), float(away.max())
    foot, edge = points[away < near + 1e-6], points[away > far - 1e-6]
    middle = foot + along * (far - near) / 2
    # The swing turns the front up and over to the back; what is pushed back turns the other way.
    back = np.array([-along[1], along[0]]) * by
    ring = hull(np.concatenate([foot, middle, edge + back, *([edge] if swept else [])]))
    low, high = solid.x_range
    corners = np.concatenate([np.column_stack([np.full(len(ring), x), ring]) for x in (low, high)])
    return Solid(solid.name, solid.panel, corners)


Asked = tuple[Solid, Clip, Swing | None]


def leaf_met(
    asked: Sequence[Asked], leaf: ToolOutline, hinge: tuple[float, float], limit: float
) -> list[Contact | None]:
    """First contact of the leaf, turning about its hinge by up to ``limit`` radians, with what
    rests.

    A piece given with a swing stands where that begins.

    Args:
        asked: the pieces of the part, with the intervals asked about.
        leaf: the leaf's outline.
        hinge: (2,) mm, where the leaf turns.
        limit: radians beyond which nothing is looked for.
    """
    return _leaf_look([(each, leaf, hinge, limit) for each in asked]) if asked else []


def _leaf_look(
    keys: Sequence[tuple[Asked, ToolOutline, tuple[float, float], float]],
) -> list[Contact | None]:
    _, leaf, hinge, limit = keys[0]
    result: list[Contact | None] = [None] * len(keys)
    reach, about = leaf.farthest(*hinge), np.array(hinge)
    near: list[tuple[int, Array]] = []
    for k, ((solid, clip, swing), *_) in enumerate(keys):
        if swing is None and ring_of(solid, *hinge)[0] > reach:
            continue
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if swing is not None:
            shadow = turned(shadow, np.array(swing.pole), swing.begin)
        if len(shadow) >= 3:
            near.append((k, shadow))
    if near:
        # Seen from the leaf, the part turns backwards about the hinge.
        parts = [shadow for _, shadow in near]
        for (k, _), touch in zip(
            near,
            first_touches(parts, leaf.outlines, limit, about=about, backwards=True),
            strict=True,
        ):
            result[k] = None if touch is None else met(touch, keys[k][0][0].body, ToolPart.LEAF)
    return result


def taken_along(
    asked: Sequence[tuple[Solid, Clip, Swing]], leaf: ToolOutline, hinge: tuple[float, float]
) -> list[Contact | None]:
    """First contact of the leaf, turning about its hinge, with what swings with it.

    Seen from the leaf the part hardly moves: it shifts along a small circle, because leaf and part
    turn about axes that lie apart: x ↦ x + (R(−φ) − 1)·apart. Every corner turns backwards about
    itself less ``apart``; the leaf's corners, seen from the part, run on the mirrored circle. A
    fold that is begun is taken along from where it stands.

    Args:
        asked: the pieces of the part, with the intervals asked about.
        leaf: the leaf's outline.
        hinge: (2,) mm, where the leaf turns.
    """
    return _along_look([(each, leaf, hinge) for each in asked]) if asked else []


def _along_look(
    keys: Sequence[tuple[tuple[Solid, Clip, Swing], ToolOutline, tuple[float, float]]],
) -> list[Contact | None]:
    result: list[Contact | None] = [None] * len(keys)
    groups: dict[Swing, list[tuple[int, Array]]] = {}
    for k, ((solid, clip, swing), *_) in enumerate(keys):
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if len(shadow) >= 3:
            groups.setdefault(swing, []).append((k, shadow))
    for swing, members in groups.items():
        (_, leaf, hinge), begin = keys[members[0][0]], swing.begin
        apart = np.array(swing.pole) - np.array(hinge)
        shift = turned(apart[None], np.zeros(2), -begin)[0] - apart
        begun = [(k, shadow + shift) for k, shadow in members]
        for k, shadow in begun:
            if begin and leaf.meets(shadow):
                result[k] = met(
                    Touch(begin, (float(shadow[0, 0]), float(shadow[0, 1])), 0, False),
                    keys[k][0][0].body,
                    ToolPart.LEAF,
                )
        begun = [(k, shadow) for k, shadow in begun if result[k] is None]
        if not begun:
            continue
        parts, apart = [shadow for _, shadow in begun], apart + shift
        touches = first_touches(
            parts,
            leaf.outlines,
            swing.limit - begin,
            about=np.concatenate(parts) - apart,
            back_about=leaf.outline + apart,
            backwards=True,
        )
        for (k, _), touch in zip(begun, touches, strict=True):
            if touch is not None:
                later = dataclasses.replace(touch, angle=touch.angle + begin)
                result[k] = met(later, keys[k][0][0].body, ToolPart.LEAF)
    return result


SAMPLES = 49
"""Angles at which the room to what hangs beside the leaf is measured."""


LAYERS = 4
"""Thicknesses up to which metal lies flat: a double hem on its panel."""


class LeafStroke(TurningStroke):
    """One stroke of a leaf brake. See :class:`TurningStroke`."""

    tooling: LeafTooling
    section: ClassVar[ToolPart] = ToolPart.FINGER
    overhead: ClassVar[tuple[ToolPart, ...]] = (ToolPart.BEAM,)
    before: ClassVar[tuple[ToolPart, ...]] = (ToolPart.LEAF,)

    def __init__(
        self,
        setting: Setting,
        tooling: LeafTooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> None:
        super().__init__(setting, tooling, keep, until, stop)
        self._rigid = self._swept = self._swinging
        self.sprung = sprung_flanges(setting) if tooling.sprung else {}
        if self.sprung:
            self._swept = given_way(setting, self._rigid, swept=True)
            self._swinging = given_way(setting, self._rigid, swept=False)
        self._let_out = (
            setting.batch_of(self._resting, self._swinging) if self.sprung else self._batch
        )

    @property
    def _past_itself(self) -> tuple[Solid, ...]:
        return self._swept

    @property
    def _leaving(self) -> NoseBatch:
        return self._let_out

    @cached_property
    def tools(self) -> Tools:
        """The brake's sections as set up."""
        return self._set(0.0, self.packing)[0]

    def _outlines(self, keep: float, packing: Packing) -> dict[str, ToolOutline]:
        return self._set(keep, packing)[1]

    def _set(self, keep: float, packing: Packing) -> tuple[Tools, dict[str, ToolOutline]]:
        # A strip is as thick as what it makes up for: what it is called is no matter of the tools.
        plain = Packing(packing.thickness, packing.loaded)
        line = self.setting.line.bend
        return outlines_for(
            self.tooling.brake, line, keep, self.stop, self.setting.front, plain, self.doubled
        )

    @property
    def nose(self) -> Array:
        """See :attr:`TurningStroke.nose`."""
        return self.tools.nose

    @property
    def opening(self) -> float:
        """See :attr:`TurningStroke.opening`."""
        return self.tools.opening

    @property
    def setback(self) -> float:
        """Nose behind the bed's edge, mm."""
        return self.tools.setback

    @cached_property
    def _rest(self) -> float:
        """How far (mm) from the hinge, along the leaf's face, the sheet rests on it: at the bar's
        outer edge, or at its own end where it is shorter."""
        setting = self.setting
        legs = [
            outside_leg(
                setting.line.bend, reach_of(setting.blank, setting.line, panel, setting.angles)
            )
            for panel in setting.folding_panels
        ]
        return max(1.0, min(self.tooling.brake.leaf_bar, min(legs, default=math.inf)))

    def lag(self, degrees: float) -> float:
        """Degrees the leaf stands ahead of the sheet: hinge and setback leave a gap between its
        face and the sheet's outside, and the sheet rests on the outer edge of its bar.

        With n the outward normal of the sheet's outside at an angle ψ, the leaf's hinge H lies the
        gap g = (H − P)·n − h beyond that face, P the pole and h its height over the face. The bar's
        edge, t from the hinge along the leaf, is on the face where t·sin δ = g. By rigid geometry
        (docs/theory.md).
        """
        angle, (y, z) = math.radians(degrees), self.setting.pole.tolist()
        hinge_y, hinge_z = self.tools.hinge.tolist()
        gap = -(hinge_y - y) * math.sin(angle) - (hinge_z - z) * math.cos(angle) - z
        return math.degrees(math.asin(min(1.0, max(0.0, gap) / self._rest)))

    def refused(self, wanted: float) -> Message | None:
        """See :meth:`Stroke.refused`."""
        brake = self.tooling.brake
        low, high = self.setting.span if brake.open_ends else self.setting.x_range
        if high - low > brake.bed_length:
            fold = msg("the fold is {length} along the bed and the bed is {bed} long")
            part = msg("the part is {length} along the bed and the bed is {bed} long")
            return (fold if brake.open_ends else part).filled(
                length=Long(high - low),
                bed=Long(brake.bed_length),
            )
        return None

    @cached_property
    def over(self) -> tuple[float, float] | None:
        """Interval of x (mm) in which bed, beam and leaf are; None when they go on past the
        part."""
        (low, high), past = self.setting.span, self.tooling.past
        low, high = low + past, high - past
        if self.tooling.end < 0:
            return low, low + self.tooling.brake.bed_length
        return (high - self.tooling.brake.bed_length, high) if self.tooling.end > 0 else None

    def tools_at(self, degrees: float) -> Iterator[SceneOutline]:
        """See :meth:`Stroke.tools_at`."""
        tools = self.tools
        yield SceneOutline(OutlineKind.TOOL, tools.bed.outline)
        yield from self._strip()
        yield SceneOutline(OutlineKind.TOOL, tools.beam.outline, rises=True)
        yield SceneOutline(OutlineKind.SECTION, tools.finger.outline, rises=True)
        yield SceneOutline(
            OutlineKind.TOOL, turned(tools.leaf.outline, tools.hinge, np.radians(degrees))
        )

    # --- the leaf --------------------------------------------------------------------------------

    def _leaf_meets_resting(self) -> list[Contact | None]:
        """First contact of the rising leaf with what rests, and with what stands part way and waits
        for the leaf."""
        leaf, (y, z) = self._still["leaf"], self.tools.hinge.tolist()
        rest = [s for s in self._resting if s.panel not in self.setting.clamped_panels]
        rest += self._clamped_across
        result = leaf_met([(s, self.over, None) for s in rest], leaf, (y, z), self._limit)
        if self._begin:
            # What stands part way waits for the leaf, which takes it along from there.
            waits = [s for s in self._swinging if s.panel not in self.setting.folding_panels]
            result += leaf_met(
                [(s, self.over, self._swing(s)) for s in waits], leaf, (y, z), self._begin
            )
        return result

    def _leaf_meets_swinging(self, solids: Sequence[Solid]) -> list[Contact | None]:
        """First contact of the leaf with what swings with it."""
        y, z = self.tools.hinge.tolist()
        result: list[Contact | None] = []
        # What lies on the leaf to begin with keeps no margin, nor does what lies on the panel that
        # lies on it.
        for lies, tool in ((True, self._still["leaf"]), (False, self._tool["leaf"])):
            asked = [
                (s, self.over, self._swing(s))
                for s in solids
                if (self._hangs(s) or self._rides(s)) is lies
            ]
            result += taken_along(asked, tool, (y, z))
        return result

    # --- room left -------------------------------------------------------------------------------

    def clearance(
        self,
        degrees: float,
        intervals: Iterable[tuple[float, float]],
        under: Iterable[tuple[float, float]] = (),
    ) -> float:
        """See :meth:`TurningStroke.clearance`; and between the leaf and what rests, and what hangs
        down beside it as it goes up."""
        return min(
            super().clearance(degrees, intervals, under),
            self._leaf_to_resting(degrees),
            self._leaf_to_hanging(degrees),
        )

    def _leaf_to_resting(self, degrees: float) -> float:
        """Least distance (mm) of the rising leaf to what stands beside or before it; the clamped
        panel lies against it by intention."""
        leaf, hinge, turn = (
            self._still["leaf"].outline,
            self.tools.hinge,
            math.radians(self.set_for(degrees)),
        )
        least = math.inf
        for solid in self._resting:
            shadow = self._shadow(solid)
            # What lies flat on the bed, in a layer or in a closed hem, is as near to the hinge as
            # the sheet itself.
            flat = (
                solid.box[1][2] <= LAYERS * self.setting.blank.thickness + LOW
                and solid.box[0][2] >= -LOW
            )
            if (
                solid.panel in self.setting.clamped_panels
                or solid.panel < 0
                or flat
                or len(shadow) < 3
            ):
                continue
            least = min(
                least,
                least_distance(leaf, hinge, shadow, turn),
                least_distance(shadow, hinge, leaf, turn, backwards=True),
            )
        return least

    def _leaf_to_hanging(self, degrees: float) -> float:
        """Least distance (mm) of the leaf to what hangs below the folded panel, at ``SAMPLES``
        angles; what lies on the leaf, or on the panel that lies on it, is not measured."""
        hanging = [
            solid
            for solid in self._swept
            if solid.panel not in self.setting.folding_panels
            and solid.panel not in self.setting.flush
            and not (self._hangs(solid) or self._rides(solid))
            and len(self._shadow(solid)) >= 3
        ]
        if not hanging:
            return math.inf
        leaf, hinge = self._still["leaf"], self.tools.hinge
        angles = np.linspace(self._begin, max(self._begin, math.radians(degrees)), SAMPLES)
        least = math.inf
        for solid in hanging:
            shadow, pole = self._shadow(solid), self.pole(solid)
            # Seen from the leaf, which goes ahead of the sheet.
            places = np.array(
                [
                    turned(
                        turned(shadow, pole, angle),
                        hinge,
                        -math.radians(self.set_for(math.degrees(angle))),
                    )
                    for angle in angles.tolist()
                ]
            )
            if boxes_apart(places, leaf.box) < least:
                least = min(least, apart(places, leaf.outlines))
        return least

    def _fixed(self) -> list[Contact | None]:
        """Besides what any nose has: the leaf."""
        others = [s for s in self._swept if s.panel not in self.setting.folding_panels]
        return [
            *super()._fixed(),
            *self._leaf_meets_swinging([s for s in others if s.panel not in self.setting.flush]),
            *self._leaf_meets_resting(),
        ]
