"""One stroke of a press brake.

Seen from the pole both sides of the sheet turn by half the angle, the punch rises by (BA/2)·tan(θ/4) and the die by a known
function of the angle (docs/theory.md). A tool swept over its whole shift is looked at first, in closed form; only what meets
that is followed step by step.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from ..blank.folding import arc_radius
from ..brake import air_radius, least_leg, load
from ..brake.press_profile import PressTools, press_tools_for
from ..brake.profile import Profile
from .advance import Shift, apart, first_advance
from .contact import TOUCH, Outlines, Touch, drawn_in, first_touches, hull, turned
from .obstacle import Contact, Obstacle, earliest, met
from .outline import ToolOutline
from .passage import AWAY
from .pose import Setting
from .slab import Slab, laid_over, where
from .solid import Solid
from .stroke import Stroke
from .tooling import PressTooling

Array = NDArray[np.float64]

IN_AND_OUT = {"in": ("clamping", "sliding in"), "out": ("opening", "taking out")}
"""What closing or opening the press is called, and moving the part, on the way in and out."""

EASED = 1.0
"""mm the ram rises to let a part go that is slid off along the punch."""

SAMPLES = 49
"""Angles at which the room left is measured."""


class PressStroke(Stroke):
    """One stroke of a press brake. See :class:`Stroke`."""

    tooling: PressTooling

    def __init__(self, setting: Setting, tooling: PressTooling, keep: float = 0.0, until: float | None = None) -> None:
        super().__init__(setting, tooling, keep, until)
        self._touches: dict[tuple[Solid, str, bytes], Contact | None] = {}
        self.brake = tooling.brake
        self.tools, self._still = _outlines(tooling, setting.blank.thickness, 0.0)
        self._tool = _outlines(tooling, setting.blank.thickness, keep)[1] if keep > 0 else self._still
        bend = setting.line.bend
        self._half_allowance = bend.allowance / 2
        self._pole_height = float(setting.pole[1])
        self._begin = math.radians(setting.start) / 2
        self._limit = math.radians(self.until) / 2

    @property
    def ways(self) -> tuple[str, ...]:
        """From the front; lifted over the die first; from the end of the press where nothing stands there."""
        ways = ["front"]
        if any(solid.corners[:, 2].min() < -1e-6 for solid in (*self._resting, *self._swinging)):
            ways.append("lifted")
        return (*ways, "side", "along") if self.brake.open_ends else tuple(ways)

    def refused(self, wanted: float) -> str | None:
        """See :meth:`Stroke.refused`."""
        setting, tooling = self.setting, self.tooling
        low, high = setting.span if self.brake.open_ends else setting.x_range
        if high - low > self.brake.bed_length:
            what = "the fold" if self.brake.open_ends else "the part"
            return f"{what} is {high - low:.0f} mm along the press and its bed is {self.brake.bed_length:.0f} mm long"
        if self.tools.opening <= setting.blank.thickness:
            return f"{tooling.says} leaves no room to put the sheet in"
        length = sum(setting.blank.folds[i].length for i in setting.folds)
        forced = load(self.brake, tooling.punch, tooling.die, setting.blank.sheet, length)
        if forced.says is not None:
            return forced.says
        least = least_leg(tooling.die.opening, wanted)
        for panel in (*setting.folding_panels, *setting.clamped_panels):
            leg = self._leg(panel)
            if leg < least - 1e-6:
                name = setting.blank.panels[panel].name
                return f"the {name} reaches {leg:.1f} mm from the fold and {tooling.die.name} needs {least:.1f} mm to carry it"
        return None

    def _leg(self, panel: int) -> float:
        """How far a panel beside the fold, and what goes on flat with it, reaches from the line, mm."""
        setting, group = self.setting, {panel}
        for i, fold in enumerate(setting.blank.folds):
            if i not in setting.folds and setting.angles[i] == 0 and (fold.parent in group or fold.child in group):
                group |= {fold.parent, fold.child}
        line = setting.line
        away = [abs((setting.blank.panels[k].polygon - line.start) @ line.outward).max() for k in group]
        return float(max(away))

    @property
    def air_radius(self) -> float:
        """Inside radius (mm) the bend takes by itself in this V."""
        return air_radius(self.setting.blank.sheet, self.tooling.die.opening)

    # --- how the tools shift, seen from the pole ------------------------------------------------------------------

    def punch_shift(self, half: float) -> float:
        """How far (mm) the punch stands higher with each wing up by ``half`` radians.

        (BA/2)·tan(φ/2) on the inside of the arc; where the tip is rounder than the arc, it rides (ρ − r)(1/cos φ − 1) higher
        between the two faces.
        """
        arc = self._half_allowance * math.tan(half / 2)
        if half < 1e-9:
            return arc
        rounder = self.tooling.punch.radius - arc_radius(self.setting.line.bend, math.degrees(2 * half))
        return arc + max(0.0, rounder) * (1 / math.cos(half) - 1)

    def die_shift(self, half: float) -> float:
        """How far (mm) the die stands higher; see :meth:`PressTools.rise`."""
        return self.tools.rise(half, self._pole_height)

    def _shift(self, name: str, offset: float) -> Shift:
        amount = self.punch_shift if name in ("punch", "ram") else self.die_shift

        def shift(half: float) -> Array:
            # A second line of the same stroke wanders with the side it hangs on; the tool is shifted back by as much.
            slip = np.array([offset * (1 - math.cos(half)), -offset * math.sin(half)]) if offset else np.zeros(2)
            moved: Array = np.array([0.0, amount(half)]) + slip
            return moved

        return shift

    @cached_property
    def _moving(self) -> tuple[tuple[Solid, float], ...]:
        """Every solid with the sense it turns in: 1 what comes up in front, −1 what comes up behind."""
        return (*((s, 1.0) for s in self._swinging), *((s, -1.0) for s in self._resting))

    def _folded(self, solid: Solid) -> bool:
        """True for the panels beside the fold and what goes on flat from them, which are meant to lie in the tools."""
        return solid.panel in self.setting.level

    def _pole_of(self, solid: Solid, sense: float) -> tuple[Array, float]:
        offset = self.setting.offset(solid) if sense > 0 else 0.0
        return (self.setting.pole + np.array([offset, 0.0]) if offset else self.setting.pole), offset

    def _touch(self, solid: Solid, sense: float, shadow: Array, tool: ToolOutline) -> Contact | None:
        """First contact of a shadow (given with the fold flat) with a tool during the stroke; asked once."""
        key = solid, tool.name, shadow.tobytes()
        if key not in self._touches:
            self._touches[key] = self._first_touch(solid, sense, shadow, tool)
        return self._touches[key]

    def _first_touch(self, solid: Solid, sense: float, shadow: Array, tool: ToolOutline) -> Contact | None:
        if len(shadow) < 3:
            return None
        folded = self._folded(solid)
        if folded and tool.name == "die":
            return None
        if folded and tool.name == "punch":
            # The sides are meant to come up close to the punch: they are not asked to keep their distance.
            tool = self._still["punch"].bare
        pole, offset = self._pole_of(solid, sense)
        if not offset and not self._meets_swept(shadow, pole, sense, tool):
            return None
        shift = self._shift(tool.name, offset)
        touch = first_advance(shadow, pole, tool.outline, shift, self._begin, self._limit, sense=sense)
        return None if touch is None else self._said(touch, solid, tool)

    def _said(self, touch: Touch, solid: Solid, tool: ToolOutline) -> Contact:
        contact = met(touch, solid.name, tool.name)
        return Contact(2 * contact.angle, contact.obstacle)

    def _meets_swept(self, shadow: Array, pole: Array, sense: float, tool: ToolOutline) -> bool:
        """True when a shadow meets a tool, or the room it passes through, at any angle of the stroke."""
        far = float(np.hypot(*(shadow - pole).T).max())
        by = self.punch_shift(self._limit) if tool.name in ("punch", "ram") else self.die_shift(self._limit)
        swept = _swept_up(tool, math.ceil(max(by, 0.0) * 4) / 4)
        if far < swept.distance(*pole.tolist()):
            return False
        if self._begin:
            shadow = turned(shadow, pole, sense * self._begin)
        if swept.polygon.intersects(shapely.Polygon(shadow)):
            return True
        limit = self._limit - self._begin
        touch = first_touches(Outlines.of([shadow]), swept.outlines, limit, about=pole, backwards=sense < 0)[0]
        return touch is not None

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """See :meth:`Stroke.fixed_contact`: ram, table, the V's bottom, the part itself."""
        best = self._bottom
        for solid, sense in self._moving:
            for name in ("ram", "table"):
                best = earliest(best, self._touch(solid, sense, solid.shadow, self._tool[name]))
        return self._meets_itself(best)

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
        return Contact(math.degrees(2 * low), Obstacle("fold", "bottom of the V", "swing"))

    # --- getting in, clamping, getting out ------------------------------------------------------------------------

    def _passes(self, points: Array, solid: Solid, sense: float, tool: ToolOutline, angle: float, way: str) -> str | None:
        """``close`` or ``move`` when points (n, 2), the fold flat, strike a tool while the press opens about a part that stands
        at ``angle`` radians or while the part is moved out; None when all is clear.

        The ram rises straight. The part is lifted off the V, tipped until its back side lies level, lifted over the die where
        that is the way, and drawn out to the front; or it is slid out along the press as it stands, with the ram up (``side``) or
        only just let go (``along``). In is the same backwards.
        """
        half, opening = angle / 2, self.tools.opening
        above = tool.name in ("punch", "ram")
        pole, offset = self._pole_of(solid, sense)
        stood = turned(points, pole, sense * half) + (self._slip(offset, half) if offset else 0.0)
        folded = self._folded(solid)
        if above:
            # Seen from the part, which sinks into the V with the die, the ram goes higher than its opening and back.
            begun = self.punch_shift(half)
            if way == "along":
                # Slid along the punch, which only just lets go.
                return "move" if self._strikes(stood - np.array([0.0, begun + EASED]), np.zeros(2), tool, folded) else None
            rise = np.array([0.0, begun - opening - max(self.die_shift(half), 0.0)])
            if self._strikes(stood - np.array([0.0, begun]), rise, tool, folded):
                return "close"
            raised = np.array([0.0, -opening])
        else:
            sunk = np.array([0.0, self.die_shift(half)])
            if way == "along":
                return "move" if not folded and self._strikes(stood - sunk, np.zeros(2), tool) else None
            if not folded and self._strikes(stood - sunk, sunk, tool):
                return "close"
            raised = np.zeros(2)
        out = stood + raised
        about = self.setting.pole + raised
        if folded and not above:
            return None
        if way == "side":
            return "move" if self._strikes(out, np.zeros(2), tool) else None
        if half > 0:
            if tool.polygon.intersects(shapely.convex_hull(shapely.linestrings(out))):
                return "move"
            if float(np.hypot(*(out - about).T).max()) > tool.distance(*about.tolist()):
                touch = first_touches(Outlines.of([hull(out)]), tool.outlines, half, about=about)[0]
                if touch is not None:
                    return "move"
            out = turned(out, about, half)
        if way == "lifted":
            lift = np.array([0.0, self._lift(angle)])
            if self._strikes(out, lift, tool):
                return "move"
            out = out + lift
        return "move" if self._strikes(out, np.array([-AWAY, 0.0]), tool) else None

    def _slip(self, offset: float, half: float) -> Array:
        return np.array([offset * (math.cos(half) - 1), offset * math.sin(half)])

    def _lift(self, angle: float) -> float:
        """How far (mm) the part is lifted so that what hangs down passes over the die."""
        low = 0.0
        for solid, sense in self._moving:
            pole, _ = self._pole_of(solid, sense)
            # Level at the back, the front side stands at the whole angle.
            level = turned(solid.shadow, pole, angle) if sense > 0 and angle else solid.shadow
            low = min(low, float(level[:, 1].min()))
        return 1.0 - low if low < -1e-6 else 0.0

    def _strikes(self, points: Array, move: Array, tool: ToolOutline, folded: bool = False) -> bool:
        """True when the hull of points, moved along a straight line, strikes a tool where it stands."""
        low, high = tool.box
        first, last = points.min(axis=0), points.max(axis=0)
        if (
            last[1] + max(move[1], 0) <= low[1]
            or first[1] + min(move[1], 0) >= high[1]
            or last[0] + max(move[0], 0) <= low[0]
            or first[0] + min(move[0], 0) >= high[0]
        ):
            return False
        swept = shapely.convex_hull(shapely.linestrings(np.concatenate([points, points + move])))
        return bool((tool.without_nose if folded else tool.polygon).intersects(swept))

    def _barred(self, solid: Solid, sense: float, points: Array, tool: ToolOutline, after: float, way: str) -> Obstacle | None:
        for word, angle in (("in", math.radians(self.setting.start)), ("out", math.radians(after))):
            if word == "out" and after <= 0:
                continue
            struck = self._passes(points, solid, sense, tool, angle, way)
            if struck is not None:
                return Obstacle(solid.name, tool.name, IN_AND_OUT[word][struck == "move"])
        return None

    def barred(self, after: float, way: str = "front") -> Obstacle | None:
        """See :meth:`Stroke.barred`."""
        if way == "lifted" and self._lift(math.radians(max(after, self.setting.start))) > self.tools.opening - 1.0:
            return Obstacle("part", "punch", "sliding in")
        for solid, sense in self._moving:
            for name in ("ram", "table"):
                obstacle = self._barred(solid, sense, solid.corners[:, 1:], self._still[name], after, way)
                if obstacle is not None:
                    return obstacle
        return None

    # --- where a punch and die piece may stand ----------------------------------------------------------------------

    def slabs(self, after: float, wanted: float, way: str = "front") -> tuple[Slab, ...]:
        """See :meth:`Stroke.slabs`; punch and die are made up alike."""
        spans: list[Slab] = []
        for solid, sense in self._moving:
            for name in ("punch", "die"):
                still = self._still[name]

                def bars(
                    a: float, b: float, solid: Solid = solid, sense: float = sense, still: ToolOutline = still
                ) -> Obstacle | None:
                    points = solid.within(a, b)
                    return self._barred(solid, sense, points, still, after, way) if len(points) >= 3 else None

                inside = where(solid, lambda a, b, bars=bars: bars(a, b) is not None)  # type: ignore[misc]
                if inside is not None:
                    obstacle = bars(*inside)
                    if obstacle is not None:
                        past = way in ("side", "along") and obstacle.phase in ("sliding in", "taking out")
                        spans.append(Slab(*((-AWAY, AWAY) if past else inside), obstacle, None))
                    continue
                swing = self._tool[name]
                contact = self._touch(solid, sense, solid.shadow, swing)
                if contact is None or contact.angle >= wanted:
                    if contact is not None:
                        spans.append(Slab(*solid.x_range, None, contact))
                    continue

                def early(a: float, b: float, solid: Solid = solid, sense: float = sense, swing: ToolOutline = swing) -> bool:
                    first = self._touch(solid, sense, solid.clipped(a, b), swing)
                    return first is not None and first.angle < wanted

                within = where(solid, early)
                if within is not None:
                    spans.append(Slab(*within, None, contact))
        return laid_over(spans, self.brake.bed_length)

    def contact(self, intervals: Iterable[tuple[float, float]]) -> Contact | None:
        """See :meth:`Stroke.contact`."""
        best = self.fixed_contact
        for low, high in intervals:
            for solid, sense in self._moving:
                for name in ("punch", "die"):
                    best = earliest(best, self._touch(solid, sense, solid.clipped(low, high), self._tool[name]))
        return best

    # --- room left --------------------------------------------------------------------------------------------------

    def clearance(self, degrees: float, intervals: Iterable[tuple[float, float]]) -> float:
        """See :meth:`Stroke.clearance`: least of what is measured at ``SAMPLES`` angles.

        The panels beside the fold are not measured: they are meant to lie on punch and die.
        """
        half = math.radians(degrees) / 2
        sections = tuple(intervals)
        least = math.inf
        for solid, sense in self._moving:
            pole, offset = self._pole_of(solid, sense)
            for name, tool in self._still.items():
                if self._folded(solid) and name in ("punch", "die"):
                    continue
                clips = [solid.shadow] if name in ("ram", "table") else [solid.clipped(a, b) for a, b in sections]
                shift = self._shift(name, offset)
                for clip in clips:
                    if len(clip) < 3:
                        continue
                    for angle in np.linspace(self._begin, max(half, self._begin), SAMPLES).tolist():
                        least = min(least, apart(turned(clip, pole, sense * angle), tool.outlines, shift(angle)))
                    if solid.uniform:
                        break
        return least


@lru_cache(maxsize=128)
def _outlines(tooling: PressTooling, thickness: float, keep: float) -> tuple[PressTools, dict[str, ToolOutline]]:
    tools = press_tools_for(tooling.brake, tooling.punch, tooling.die, thickness)

    def grown(profile: Profile) -> ToolOutline:
        return ToolOutline(profile.name, drawn_in(profile.outline, TOUCH - keep), profile.parts, frozenset(profile.nose))

    return tools, {p.name: grown(p) for p in (tools.punch, tools.ram, tools.die, tools.table)}


@lru_cache(maxsize=512)
def _swept_up(tool: ToolOutline, by: float) -> ToolOutline:
    """The room a tool passes through when it rises by ``by`` mm, a little more at its rounded corners."""
    if by <= 0:
        return tool
    ring = tool.outline
    lifted = ring + np.array([0.0, by])
    pieces = [shapely.Polygon(ring), shapely.Polygon(lifted)]
    for i in range(len(ring)):
        k = (i + 1) % len(ring)
        side = shapely.Polygon([ring[i], ring[k], lifted[k], lifted[i]])
        if side.area > 1e-9:
            pieces.append(side if side.is_valid else side.buffer(0))
    whole = shapely.union_all(pieces)
    outline = np.array(shapely.geometry.polygon.orient(shapely.Polygon(whole.exterior)).exterior.coords)[:-1]
    return ToolOutline(tool.name, outline, ("side",) * len(outline), frozenset())
