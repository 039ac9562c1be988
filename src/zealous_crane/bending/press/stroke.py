"""One punch over one die."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...brake.force import Bottoming, Load, least_leg, load
from ...brake.press_brake import PressBrake, PressTools, bend_radius, press_tools_for
from ...brake.tools import Die, Punch, SegmentKind, SegmentSet
from ...cache import cached
from ...flat.element import MadeBy
from ...i18n import Message, msg, the
from ...job.tools import ToolChoice
from ...kernel.back_end import geometry
from ...kernel.interval import Slab
from ...kernel.obstacle import Contact, Obstacle, Phase, Way, earliest
from ...kernel.outline import ToolOutline, apart, boxes_apart
from ...kernel.plane import turned
from ...kernel.solid import (
    FOLD,
    PART,
    Beyond,
    Body,
    BodyKind,
    OfTool,
    Solid,
    ToolPart,
    ToolSide,
    beyond,
)
from ...metal.sheet import Sheet
from ...metal.springback import Springback, overbend
from ...units.figures import Long
from ..drawing import OutlineKind, SceneOutline
from ..legs import outside_leg, reach_of
from ..passage import CLEAR, PartMove
from ..setting import Setting
from ..stroke import Stroke
from ..tooling import Tooling
from .passage import (
    DieRise,
    PressBatch,
    PressMovement,
    PressPassage,
    PressSwing,
    PunchRise,
    Rise,
    barred_along,
    first_met,
    met_along,
    phases_of,
)


@dataclass(frozen=True)
class PressTooling(Tooling):
    """One punch over one die. See :class:`Tooling`.

    Attributes:
        brake: the machine.
        punch: as it hangs, turned or not.
        die: under it.
        turned: the punch hangs the other way round.
        bottomed: the sheet is pressed against the die's sides, which takes more force and leaves
            less springback.
    """

    brake: PressBrake
    punch: Punch
    die: Die
    turned: bool = False
    bottomed: bool = False

    @property
    def says(self) -> Message:
        """``Gooseneck 86 turned round, on V 10``."""
        turned, bottomed = (
            msg(" reversed") if self.turned else "",
            msg(", bottomed") if self.bottomed else "",
        )
        return msg(
            "{name}{turned} on {name_2}{bottomed}",
            name=self.punch.name,
            turned=turned,
            name_2=self.die.name,
            bottomed=bottomed,
        )

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """See :attr:`Tooling.chosen`."""
        return {
            "punch": self.punch.name,
            "hung": "turned" if self.turned else "as it is",
            "die": self.die.name,
        }

    @cached_property
    def sections(self) -> SegmentSet:
        """Pieces of the punch."""
        return self.brake.sections(self.punch.pieces, SegmentKind.PUNCH)

    @cached_property
    def under(self) -> SegmentSet:
        """Pieces of the die."""
        return self.brake.sections(self.die.pieces, SegmentKind.DIE)

    @property
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees: until the metal lies in the V or against the
        punch's flanks."""
        return 180.0 - max(self.die.angle, self.punch.angle)

    @property
    def key(self) -> str:
        """See :attr:`Tooling.key`: punch and die by their names, and whether the bend is
        bottomed."""
        return f"{self.punch.name} / {self.die.name}"[:180] + (" bottomed" if self.bottomed else "")

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        if self.die.angle >= self.punch.angle:
            return Obstacle(Body(BodyKind.V), OfTool(ToolSide.SIDES, self.die.name), Phase.SWING)
        return Obstacle(Body(BodyKind.PUNCH), OfTool(ToolSide.TIP, self.punch.name), Phase.SWING)

    def springback(
        self,
        sheet: Sheet,
        target: float,
        radius: float,
        *,
        closing: bool,
        measured: float | None,
        whole: bool,
    ) -> Springback:
        """See :meth:`Tooling.springback`; a fold that is bottomed comes back by less, unless it was
        measured."""
        back = overbend(sheet, target, radius, closing=closing, measured=measured, press=True)
        return back.bottomed if self.bottomed and whole and measured is None else back

    def stands_beside(self, other: Tooling) -> bool:
        """See :meth:`Tooling.stands_beside`: punches and dies that are as high together."""
        if not isinstance(other, PressTooling):
            return False
        return (
            abs(self.punch.height + self.die.height - other.punch.height - other.die.height) < 0.01
        )


CONFORMS = 2.5
"""Degrees by which a fold may differ from what its die makes and still be bottomed in it. Common
practice, no source."""

TOOLS = (ToolPart.RAM, ToolPart.TABLE, ToolPart.PUNCH, ToolPart.DIE)
"""What a part may strike on its way, those that are there all along the press first."""

BESIDE, OVER = (
    tuple((name, TOOLS.index(name)) for name in names)
    for names in ((ToolPart.RAM, ToolPart.TABLE), (ToolPart.PUNCH, ToolPart.DIE))
)
"""Those that are there all along the press, and those whose pieces have places; each with its place
among :data:`TOOLS`."""

SAMPLES = 49
"""Angles at which the room left is measured."""


class PressStroke(Stroke):
    """One stroke of a press brake. See :class:`Stroke`."""

    tooling: PressTooling

    def __init__(
        self,
        setting: Setting,
        tooling: PressTooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> None:
        super().__init__(setting, tooling, keep, until, stop)
        self.brake = tooling.brake
        self.tools, self._still = _outlines(tooling, setting.blank.thickness, 0.0)
        self._tool = (
            _outlines(tooling, setting.blank.thickness, keep)[1] if keep > 0 else self._still
        )
        self._begin = math.radians(setting.start) / 2
        self._limit = math.radians(self.until) / 2
        self._known_forwards: dict[float, float] = {}
        self._known_lifts: dict[float, float] = {}
        self._known_phases: dict[tuple[float, str], tuple[PressMovement, list[Sequence[int]]]] = {}

    @property
    def in_front(self) -> float:
        """Both sides come up alike."""
        return 0.5

    @property
    def tall_tools(self) -> bool:
        """See :attr:`Stroke.tall_tools`."""
        return True

    def tools_at(self, degrees: float) -> Iterator[SceneOutline]:
        """See :meth:`Stroke.tools_at`."""
        half = math.radians(degrees) / 2
        up, rise = np.array([0.0, self.punch_shift(half)]), np.array([0.0, self.die_shift(half)])
        yield SceneOutline(OutlineKind.TOOL, self.tools.table.outline + rise)
        yield SceneOutline(OutlineKind.TOOL, self.tools.die.outline + rise)
        yield SceneOutline(OutlineKind.TOOL, self.tools.ram.outline + up, rises=True)
        yield SceneOutline(OutlineKind.SECTION, self.tools.punch.outline + up, rises=True)

    @property
    def ways(self) -> tuple[Way, ...]:
        """From the front; lifted over the die first; drawn forward before it is tipped; from the
        end of the press where nothing stands there."""
        ways = [Way.FRONT]
        if any(solid.box[0][2] < -1e-6 for solid in (*self._resting, *self._swinging)):
            ways.append(Way.LIFTED)
        ways.append(Way.DRAWN)
        return (*ways, Way.SIDE, Way.ALONG) if self.brake.open_ends else tuple(ways)

    def refused(self, wanted: float) -> Message | None:
        """See :meth:`Stroke.refused`."""
        setting, tooling = self.setting, self.tooling
        low, high = setting.span if self.brake.open_ends else setting.x_range
        if high - low > self.brake.bed_length:
            fold = msg("the fold is {length} along the press and its bed is {bed} long")
            part = msg("the part is {length} along the press and its bed is {bed} long")
            return (fold if self.brake.open_ends else part).filled(
                length=Long(high - low),
                bed=Long(self.brake.bed_length),
            )
        if self.tools.opening <= setting.blank.thickness:
            return msg(
                "{says} leaves no room to put the sheet in",
                says=tooling.says,
            )
        forced = self.force
        if forced.says is not None:
            return (
                msg("bottomed, {why}", why=forced.says)
                if self.bottoming is Bottoming.BOTTOMED
                else forced.says
            )
        made = 180.0 - tooling.die.angle
        if self.bottoming is Bottoming.BOTTOMED and abs(made - wanted) > CONFORMS:
            return msg(
                "bottomed, {name} makes {made:.0f}°, and this fold needs {wanted:.1f}° there; "
                "bend it in air",
                name=tooling.die.name,
                made=made,
                wanted=wanted,
            )
        for panel in (*setting.folding_panels, *setting.clamped_panels):
            leg = self.leg(panel)
            if leg < self.least_leg - 1e-6:
                name = setting.blank.panels[panel].name
                return msg(
                    "{name} is {leg} outside and {die} needs {least} to carry it",
                    name=the(name),
                    leg=Long(leg),
                    die=tooling.die.name,
                    least=Long(self.least_leg),
                )
        return None

    @cached_property
    def force(self) -> Load:
        """The force against what press, punch and die stand."""
        setting, tooling = self.setting, self.tooling
        length = sum(setting.blank.folds[i].length for i in setting.folds)
        return load(
            self.brake, tooling.punch, tooling.die, setting.blank.sheet, length, self.bottoming
        )

    @property
    def strain(self) -> float:
        return self.force.share

    @property
    def least_leg(self) -> float:
        """Least outside leg (mm) the die carries to the fold's own angle, or to where it is taken
        now."""
        return least_leg(self.tooling.die.opening, min(self.stop, abs(self.setting.line.angle)))

    @property
    def bottoming(self) -> Bottoming:
        """How far the punch goes; a fold that is only begun, and one that is flattened afterwards,
        is bent in air."""
        line = self.setting.line
        whole = line.made_by is MadeBy.BRAKE and self.until >= abs(line.angle)
        return Bottoming.BOTTOMED if self.tooling.bottomed and whole else Bottoming.AIR

    def leg(self, panel: int) -> float:
        """Outside leg (mm) of a panel beside the fold, with what goes on flat from it."""
        line = self.setting.line
        return outside_leg(
            line.bend, reach_of(self.setting.blank, line, panel, self.setting.angles)
        )

    def travel(self, degrees: float) -> float:
        """How far (mm) the punch goes down from where it touches the flat sheet until the fold
        stands at an angle, degrees.

        Seen from the pole the die rises by its own shift and the punch by its: the punch sinks into
        the V by the difference.
        """
        half = math.radians(degrees) / 2
        return self.die_shift(half) - self.punch_shift(half)

    @property
    def made_radius(self) -> float:
        """Inside radius (mm) the bend takes between this punch and this die."""
        tooling, bottomed = self.tooling, self.bottoming is Bottoming.BOTTOMED
        return bend_radius(self.setting.blank.sheet, tooling.punch, tooling.die, bottomed=bottomed)

    # --- how the tools shift, seen from the pole -------------------------------------------------

    @cached_property
    def _rises(self) -> dict[str, Rise]:
        bend, height = self.setting.line.bend, float(self.setting.pole[1])
        punch = PunchRise(bend.allowance / 2, self.tooling.punch.radius, height - bend.thickness)
        die = DieRise(self.tools.shoulder, height)
        return {"punch": punch, "ram": punch, "die": die, "table": die}

    def punch_shift(self, half: float) -> float:
        """How far (mm) the punch stands higher with each wing up by ``half`` radians; see
        :class:`PunchRise`."""
        return self._rises["punch"].at(half)

    def die_shift(self, half: float) -> float:
        """How far (mm) the die stands higher; see :class:`DieRise`."""
        return self._rises["die"].at(half)

    @cached_property
    def _moving(self) -> tuple[tuple[Solid, PressSwing], ...]:
        """Every solid with how it turns: what comes up in front, and what comes up behind."""
        y, z = self.setting.pole.tolist()
        result: list[tuple[Solid, PressSwing]] = []
        for solid in self._swinging:
            offset = self.setting.offset(solid)
            result.append(
                (solid, PressSwing((y + offset, z), 1.0, offset, self._begin, self._limit))
            )
        result += [
            (solid, PressSwing((y, z), -1.0, 0.0, self._begin, self._limit))
            for solid in self._resting
        ]
        return tuple(result)

    @cached_property
    def _turning_up(self) -> frozenset[Solid]:
        """Bent strips that turn up from the panels beside the fold."""
        setting = self.setting
        own = (
            solid for solid, _ in self._moving if solid.panel < 0 and solid.panel in setting.level
        )
        return frozenset(solid for solid in own if setting.angles[-1 - solid.panel] != 0)

    @cached_property
    def _folded(self) -> frozenset[Solid]:
        """The panels beside the fold and what goes on flat from them, which are meant to lie in the
        tools on their own side of the line."""
        return (
            frozenset(solid for solid, _ in self._moving if solid.panel in self.setting.level)
            - self._turning_up
        )

    @cached_property
    def _on_die(self) -> frozenset[Solid]:
        """What is meant to lie on the die: the panels beside the fold, and strips that turn up from
        them."""
        return self._folded | self._turning_up

    @cached_property
    def _across(self) -> tuple[tuple[Solid, PressSwing], ...]:
        """What of those lies across the line: it is pressed into the die, or against the punch,
        with the wrong side."""
        result: list[tuple[Solid, PressSwing]] = []
        for solid, swing in self._moving:
            if solid in self._folded:
                line = swing.offset if swing.sense > 0 else self.setting.own_line(solid.panel)
                piece = beyond(solid, line, swing.sense)
                if piece is not None:
                    result.append((piece, swing))
        return tuple(result)

    @property
    def beyond(self) -> tuple[Solid, ...]:
        """See :attr:`Stroke.beyond`."""
        return tuple(solid for solid, _ in self._across)

    def _meets(
        self, name: str, clips: Iterable[tuple[float, float] | None] = (None,)
    ) -> list[Contact | None]:
        """First contact of every solid, or of what of it lies in any of some intervals, with a
        tool."""
        tool, rise, every = self._tool[name], self._rises[name], tuple(clips)
        level = [(solid, swing) for solid, swing in self._moving if solid in self._folded]
        # What turns up from the panels beside the fold lies on the die with them; against the punch
        # it counts.
        meant = self._on_die if name == "die" else self._folded
        others = [(solid, swing) for solid, swing in self._moving if solid not in meant]
        result = first_met(
            [(solid, clip, swing) for solid, swing in others for clip in every], tool, rise
        )
        # What lies across the line touches punch and die to begin with: no margin is asked of it.
        across = [(solid, clip, swing) for solid, swing in self._across for clip in every]
        result += first_met(across, self._still[name], rise)
        if name != "die":
            # The sides are meant to come up close to the punch: they are not asked to keep their
            # distance.
            tool = self._still["punch"].bare if name == "punch" else tool
            result += first_met(
                [(solid, clip, swing) for solid, swing in level for clip in every], tool, rise
            )
        return result

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """See :meth:`Stroke.fixed_contact`: ram, table, the V's bottom, the part itself."""
        return self._meets_itself(
            earliest(self._bottom, *self._meets("ram"), *self._meets("table"))
        )

    @cached_property
    def _bottom(self) -> Contact | None:
        """Where the outside of the bend comes to lie on the bottom of the V."""

        def room(half: float) -> float:
            return self.tools.depth + self.punch_shift(half) - self.die_shift(half)

        if room(self._limit) >= 0:
            return None
        low, high = self._begin, self._limit
        for _ in range(60):
            middle = (low + high) / 2
            low, high = (middle, high) if room(middle) >= 0 else (low, middle)
        return Contact(math.degrees(2 * low), Obstacle(FOLD, ToolPart.BOTTOM_OF_V, Phase.SWING))

    # --- getting in, clamping, getting out -------------------------------------------------------

    def _lift(self, angle: float) -> float:
        """How far (mm) the part is lifted so that what hangs down passes over the die."""
        if angle not in self._known_lifts:
            self._known_lifts[angle] = self._lifted(angle)
        return self._known_lifts[angle]

    def _lifted(self, angle: float) -> float:
        low = 0.0
        for solid, swing in self._moving:
            # Level at the back, the front side stands at the whole angle.
            level = (
                turned(solid.shadow, np.array(swing.pole), angle)
                if swing.sense > 0 and angle
                else solid.shadow
            )
            low = min(low, float(level[:, 1].min()))
        return 1.0 - low if low < -1e-6 else 0.0

    def forward(self, angle: float) -> float:
        """How far (mm) the part is drawn forward as it stands, the ram up, before it is tipped:
        until its back side comes near punch or ram."""
        if angle not in self._known_forwards:
            self._known_forwards[angle] = self._forward(angle)
        return self._known_forwards[angle]

    def _forward(self, angle: float) -> float:
        up = np.array([0.0, -self.tools.opening])
        behind = [
            swing.stood(solid.shadow, angle / 2) + up
            for solid, swing in self._moving
            if swing.sense < 0 and solid in self._folded
        ]
        tools = [self._still[name] for name in ("punch", "ram")]

        def meets(by: float) -> bool:
            path = np.array([(0.0, 0.0), (-by, 0.0)])
            return any(
                geometry.leg(points, path, tool.outline) != 0 for points in behind for tool in tools
            )

        low, high = 0.0, max((float(points[:, 0].max()) for points in behind), default=0.0)
        if meets(low) or not meets(high):
            return 0.0
        while high - low > 0.5:
            middle = (low + high) / 2
            low, high = (low, middle) if meets(middle) else (middle, high)
        return max(0.0, low - CLEAR)

    @cached_property
    def _pieces(self) -> tuple[tuple[Solid, PressSwing, bool], ...]:
        """Every piece with how it turns, and whether it is meant to lie in the tools; metal across
        the line by itself."""
        return tuple(
            (solid, swing, solid in self._on_die) for solid, swing in (*self._moving, *self._across)
        )

    @cached_property
    def _batch(self) -> PressBatch:
        return PressBatch.between(self._pieces)

    def _movement(self, after: float, way: Way) -> PressMovement:
        """How the part goes in (``after`` of 0) or out at ``after`` degrees."""
        angle = math.radians(after) if after > 0 else 2 * self._begin
        y, z = self.setting.pole.tolist()
        lift = self._lift(angle) if way is Way.LIFTED else 0.0
        punch, die = self.punch_shift(angle / 2), self.die_shift(angle / 2)
        forward = self.forward(angle) if way is Way.DRAWN else 0.0
        return PressMovement(
            "out" if after > 0 else "in",
            way,
            angle / 2,
            (y, z),
            self.tools.opening,
            punch,
            die,
            lift,
            forward,
        )

    def way_out(self, after: float, way: Way) -> tuple[PartMove, ...]:
        """See :meth:`Stroke.way_out`."""
        return self._movement(after, way).moves

    def _phases(self, after: float, way: Way) -> tuple[PressMovement, list[Sequence[int]]]:
        """How the part goes in or out, and for each piece what it strikes each of the tools on; see
        :func:`phases_of`."""
        if (after, way) not in self._known_phases:
            movement, tools = self._movement(after, way), [self._still[name] for name in TOOLS]
            self._known_phases[after, way] = (
                movement,
                phases_of(self._batch, tools, movement),
            )
        return self._known_phases[after, way]

    def barred(self, after: float, way: Way = Way.FRONT) -> Obstacle | None:
        """See :meth:`Stroke.barred`."""
        if (
            way is Way.LIFTED
            and self._lift(math.radians(max(after, self.setting.start))) > self.tools.opening - 1.0
        ):
            return Obstacle(PART, ToolPart.PUNCH, Phase.SLIDING_IN)
        for angle in (0.0, after) if after > 0 else (0.0,):
            movement, phases = self._phases(angle, way)
            for (solid, _, _), struck in zip(self._pieces, phases, strict=True):
                for name, at in BESIDE:
                    if struck[at]:
                        return Obstacle(solid.body, name, movement.phase(struck[at]))
        return None

    # --- where a punch and die piece may stand ---------------------------------------------------

    def _met(self, wanted: float) -> Iterator[Slab]:
        for name in ("punch", "die"):
            by_tool: dict[ToolOutline, list[tuple[Solid, PressSwing]]] = {}
            for solid, swing, on_die in self._pieces:
                if name == "die" and on_die:
                    continue
                tool = self._tool[name]
                if isinstance(solid, Beyond):
                    tool = self._still[name]
                elif solid in self._folded:
                    tool = self._still["punch"].bare
                by_tool.setdefault(tool, []).append((solid, swing))
            for tool, asked in by_tool.items():
                yield from met_along(asked, tool, self._rises[name], wanted)

    def _of(self, spans: Sequence[Slab], under: bool | None) -> Sequence[Slab]:
        return spans if under is None else [span for span in spans if _of_die(span) is under]

    def _barring(self, after: float, way: Way) -> Iterator[Slab]:
        movement, phases = self._phases(after, way)
        for (solid, swing, folded), struck in zip(self._pieces, phases, strict=True):
            for name, at in OVER:
                if struck[at]:
                    yield barred_along(
                        solid, self._still[name], PressPassage(movement, swing, folded), struck[at]
                    )

    def contact(
        self, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()
    ) -> Contact | None:
        """See :meth:`Stroke.contact`."""
        every, dies = tuple(intervals), tuple(under)
        return earliest(
            self.fixed_contact, *self._meets("punch", every), *self._meets("die", dies or every)
        )

    # --- room left -------------------------------------------------------------------------------

    def clearance(
        self,
        degrees: float,
        intervals: Iterable[tuple[float, float]],
        under: Iterable[tuple[float, float]] = (),
    ) -> float:
        """See :meth:`Stroke.clearance`: least of what is measured at ``SAMPLES`` angles.

        The panels beside the fold are not measured: they are meant to lie on punch and die.
        """
        half = math.radians(degrees) / 2
        sections, dies = tuple(intervals), tuple(under)
        least = math.inf
        for solid, swing in self._moving:
            for name, tool in self._still.items():
                if (name == "die" and solid in self._on_die) or (
                    name == "punch" and solid in self._folded
                ):
                    continue
                over = dies if name == "die" and dies else sections
                clips = (
                    [solid.shadow]
                    if name in ("ram", "table")
                    else [solid.clipped(a, b) for a, b in over]
                )
                angles = np.linspace(self._begin, max(half, self._begin), SAMPLES)
                rises = np.stack([np.zeros(SAMPLES), self._rises[name].rise(angles)], axis=1)[
                    :, None
                ]
                for clip in clips:
                    if len(clip) < 3:
                        continue
                    places = swing.stood_at(clip, angles) - rises
                    # What passes farther off than something else does decides nothing.
                    if boxes_apart(places, tool.box) < least:
                        least = min(least, apart(places, tool.outlines))
                    if solid.uniform:
                        break
        return least


def _of_die(span: Slab) -> bool:
    met = span.blocked or (span.contact.obstacle if span.contact is not None else None)
    return met is not None and met.tool is ToolPart.DIE


@cached(128, lasts=True)
def _outlines(
    tooling: PressTooling, thickness: float, keep: float
) -> tuple[PressTools, dict[str, ToolOutline]]:
    tools = press_tools_for(tooling.brake, tooling.punch, tooling.die, thickness)
    return tools, {
        p.name: ToolOutline.of(p, keep) for p in (tools.punch, tools.ram, tools.die, tools.table)
    }
