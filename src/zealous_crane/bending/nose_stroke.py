"""A piece of the part that turns past a resting tool: first contact, and where along the fold it is
met.

What is asked of one piece depends on the piece, the tool and the turn, not on the rest of the part:
while an order is searched the same piece is asked for again and again. Answers are kept.
"""

from __future__ import annotations

import dataclasses
import math
from abc import abstractmethod
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from typing import ClassVar, NamedTuple

import numpy as np

from .._typing import Array
from ..cache import BatchCache, cached
from ..flat.element import MadeBy
from ..kernel.back_end import geometry
from ..kernel.contact import Touch, first_touches, least_distance
from ..kernel.interval import Slab, where
from ..kernel.obstacle import (
    AWAY,
    Clip,
    Contact,
    Obstacle,
    Phase,
    Way,
    earliest,
    may_meet,
    met,
    narrowed,
    ring_of,
    tool_ring,
)
from ..kernel.outline import ToolOutline
from ..kernel.plane import turned
from ..kernel.solid import FOLD, PART, Solid, ToolPart, beyond
from .drawing import OutlineKind, SceneOutline
from .passage import (
    CLEAR,
    CLOSE_EASE,
    EASE,
    NOT_TIPPED,
    SLACK,
    Movement,
    NoseBatch,
    PartMove,
    Passage,
    TippedExit,
    barred_along,
    legs_of,
    steps_struck,
    struck,
)
from .setting import Setting
from .stroke import Stroke
from .tooling import DEEPEST, LOW, NONE, STRIP, Packing, Tooling, packing_for


class Swing(NamedTuple):
    """A turn.

    Attributes:
        pole: (y, z) mm, what is turned about.
        begin: where it begins, radians; the piece is given at angle 0.
        limit: where it ends, radians.
        folded: the piece belongs to the panel that is folded, which is meant to lie on the nose.
    """

    pole: tuple[float, float]
    begin: float
    limit: float
    folded: bool


# Saves 4 to 6 % of planning, least where remedies are tried.
_met: BatchCache[tuple[Solid, Clip, ToolOutline, Swing], Contact | None] = BatchCache()


def first_met(
    asked: Sequence[tuple[Solid, Clip, Swing]], tool: ToolOutline
) -> list[Contact | None]:
    """First contact of each piece, or of what of it lies in its interval, with a resting tool."""
    keys = [(solid, narrowed(solid, clip), tool, swing) for solid, clip, swing in asked]
    return _met.ask(keys, _look)


def _look(keys: Sequence[tuple[Solid, Clip, ToolOutline, Swing]]) -> list[Contact | None]:
    result: list[Contact | None] = [None] * len(keys)
    groups: dict[tuple[ToolOutline, Swing], list[tuple[int, Array]]] = {}
    for k, (solid, clip, tool, swing) in enumerate(keys):
        if not may_meet(
            ring_of(solid, *swing.pole), tool_ring(tool, *swing.pole), 0.01, swing.limit
        ):
            continue
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if len(shadow) >= 3:
            groups.setdefault((tool, swing), []).append((k, shadow))
    for (tool, swing), members in groups.items():
        pole = np.array(swing.pole)
        moving = [
            turned(shadow, pole, swing.begin) if swing.begin else shadow for _, shadow in members
        ]
        sides = corners = None
        if tool.nose and swing.folded:
            sides, corners = tool.bare_sides, tool.bare_corners
        touches = first_touches(
            moving,
            tool.outlines,
            swing.limit - swing.begin,
            about=pole,
            sides=sides,
            corners=corners,
        )
        for (k, _), touch in zip(members, touches, strict=True):
            result[k] = _said(touch, keys[k][0], tool, swing)
    return result


def _said(touch: Touch | None, solid: Solid, tool: ToolOutline, swing: Swing) -> Contact | None:
    if touch is None:
        return None
    later = dataclasses.replace(touch, angle=touch.angle + swing.begin) if swing.begin else touch
    return met(later, solid.body, tool.part_met(tool.parts[touch.index]))


# Saves 2 % of planning.
@cached(16384)
def met_along(solid: Solid, tool: ToolOutline, swing: Swing, wanted: float) -> Slab | None:
    """Where along the fold a tool is met, and when; before ``wanted`` degrees only there, later
    over the whole piece.

    Args:
        solid: a convex piece of the part.
        tool: the tool.
        swing: how the piece turns.
        wanted: degrees up to which contacts count.
    """
    contact = first_met([(solid, None, swing)], tool)[0]
    inside: tuple[float, float] | None = solid.x_range
    if contact is not None and contact.angle < wanted:

        def early(a: float, b: float) -> bool:
            first = first_met([(solid, (a, b), swing)], tool)[0]
            return first is not None and first.angle < wanted

        inside = where(solid, early)
    return None if contact is None or inside is None else Slab(*inside, None, contact)


STILL = np.zeros((2, 2))
"""A path that leads nowhere: what is asked is whether a piece is in the way where it lies."""

AWAY_TO_THE_FRONT = np.array([(0.0, 0.0), (-AWAY, 0.0)])

LOOKED = 10.0
"""mm off the nose within which something behind the tool is looked for as the part is drawn to the
front: nobody draws by less."""

TIPS = np.arange(1.0, 76.0)
"""Degrees a part may be tipped by; the least that does is taken."""


class TurningStroke(Stroke):
    """One stroke about a resting nose. See :class:`Stroke`.

    A machine of this family says what its tools are: the pieces over the fold (``section``), the
    bed under it, what is there along the whole fold above (``overhead``), and what stands before
    the bed's front (``before``).
    """

    section: ClassVar[ToolPart]
    overhead: ClassVar[tuple[ToolPart, ...]] = ()
    before: ClassVar[tuple[ToolPart, ...]] = ()

    def __init__(
        self,
        setting: Setting,
        tooling: Tooling,
        keep: float = 0.0,
        until: float | None = None,
        stop: float | None = None,
    ) -> None:
        super().__init__(setting, tooling, keep, until, stop)
        self.doubled = self._doubled()
        self._unpacked = self._outlines(0.0, NONE)
        if self._batch.lowest < -LOW:
            bed, leaf = self._unpacked["bed"], self._unpacked.get("leaf")
            self.packing = packing_for(self._batch.solids, bed, leaf, self.over, setting.span)
        packed = self.packing.thickness > 0
        self._still = self._outlines(0.0, self.packing) if packed else self._unpacked
        # What rests against what rests keeps no margin; what swings past it does.
        self._tool = self._outlines(keep, self.packing) if keep > 0 else self._still
        self._limit = math.radians(self.until)
        self._begin = math.radians(setting.start)
        self._movements: dict[tuple[float, str], Movement] = {}
        self._known_overhead: dict[tuple[str, float, str], Obstacle | None] = {}
        self._known_hanging: dict[tuple[str, float], Obstacle | None] = {}
        self._known_eases: dict[float, float] = {}
        self._known_swings: dict[Solid, Swing] = {}
        self._swings = frozenset(self._swinging)

    @abstractmethod
    def _outlines(self, keep: float, packing: Packing) -> dict[str, ToolOutline]:
        """The tools by name, with a strip laid under the line, grown by the clearance (mm) to
        keep."""

    @property
    @abstractmethod
    def nose(self) -> Array:
        """(2,) mm, foremost point of the nose's level: where the nose stands over the sheet."""

    @property
    def nose_place(self) -> float:
        """See :attr:`Stroke.nose_place`."""
        return float(self.nose[0])

    @property
    @abstractmethod
    def opening(self) -> float:
        """How far what stands over the fold rises, mm."""

    @property
    def raised(self) -> float:
        """How far it rises from where it clamps: less by the strip, mm."""
        return self.opening - self.packing.thickness

    def _hangs(self, solid: Solid) -> bool:
        """True for what lies under the sheet and is packed for."""
        return self.packing.thickness > 0 and -DEEPEST <= solid.box[0][2] < -LOW

    def _rides(self, solid: Solid) -> bool:
        """True for what lies closed on the folded panel: that panel lies between it and the bed,
        however the metal bends, so that no margin is asked of it."""
        return solid.box[0][2] > -LOW and solid.box[1][1] < self._beside

    @cached_property
    def _beside(self) -> float:
        """How far back (mm) the folded panels reach, the fold flat."""
        return max(
            (s.box[1][1] for s in self._swinging if s.panel in self.setting.folding_panels),
            default=0.0,
        )

    def _doubled(self) -> float:
        """mm by which the nose stands farther back where what is hemmed is doubled already."""
        if self.setting.line.made_by is not MadeBy.HEM:
            return 0.0
        thickness = self.setting.line.bend.thickness
        tops = [s.box[1][2] for s in self._swinging if s.panel >= 0 and self._rides(s)]
        return max([top - thickness for top in tops if top - thickness < DEEPEST], default=0.0)

    def _section_for(self, solid: Solid) -> ToolOutline:
        """A section as a piece meets it: what lies on the panel being hemmed is flattened with it,
        and the nose stands back for it."""
        return (
            self._still[self.section]
            if self.doubled and self._rides(solid)
            else self._tool[self.section]
        )

    def _strip(self) -> Iterator[SceneOutline]:
        """The strip under the line, to be drawn."""
        if self.packing.thickness > 0:
            y, z = float(self._still["bed"].outline[:, 0].min()), -self.packing.thickness
            ring = np.array([(y, z), (y + STRIP, z), (y + STRIP, 0.0), (y, 0.0)])
            yield SceneOutline(OutlineKind.TOOL, ring, along=self.setting.span)

    @property
    def ways(self) -> tuple[Way, ...]:
        """From the front; lifted over the bed where something hangs below the sheet; from the end
        of the bed where the frame leaves room; tipped where what stands at the back is higher than
        the tool rises."""
        lifted = (Way.LIFTED,) if self._hanging else (Way.TIPPED,) if self.tip.angle else ()
        return (Way.FRONT, *lifted, *((Way.SIDE,) if self.tooling.brake.open_ends else ()))

    @cached_property
    def tip(self) -> TippedExit:
        """How the part is tipped so that what stands behind the tool leans back and passes under
        it; not at all where nothing is too high, or where no tipping would do."""
        tops = self._batch.tops(self._begin)[: len(self._resting)]
        tall = [
            solid
            for solid, (_, high, _) in zip(self._resting, tops.tolist(), strict=True)
            if high > self.raised
        ]
        if not tall or float(tops[:, 2].min()) < -1e-6:
            return NOT_TIPPED
        corners = np.concatenate([solid.corners[:, 1:] for solid in self._resting])
        about = np.array([float(corners[corners[:, 1] < CLEAR, 0].max(initial=-AWAY)), 0.0])
        high = np.concatenate([solid.corners[:, 1:] for solid in tall])
        # Up to behind whatever hangs as low as it stands high, so that the front rises clear of the
        # nose.
        tools = (self._still[self.section], *(self._still[name] for name in self.overhead))
        top = float(high[:, 1].max())
        back = max(
            (tool.box[1][0] for tool in tools if tool.box[0][1] + self.raised < top), default=0.0
        )
        forward = max(0.0, float(high[:, 0].min()) - back - CLEAR)
        turn = np.radians(TIPS)[:, None]
        # The height of a corner (y, z) past the rear edge after the turn: z·cos − y·sin.
        lean = high[:, 1] * np.cos(turn) - (high[:, 0] - about[0]) * np.sin(turn)
        under = corners[:, 1] * np.cos(turn) - (corners[:, 0] - about[0]) * np.sin(turn)
        goes = (lean.max(axis=1) < self.raised - CLEAR) & (under.min(axis=1) > -1e-6)
        if goes.any():
            return TippedExit(float(turn[np.argmax(goes), 0]), (float(about[0]), 0.0), forward)
        return NOT_TIPPED

    def _shadow(self, solid: Solid) -> Array:
        """Shadow of what of a solid lies over the bed; empty when it hangs beyond its end."""
        return solid.shadow if self.over is None else solid.clipped(*self.over)

    # --- the swing -------------------------------------------------------------------------------

    def _swing(self, solid: Solid) -> Swing:
        swing = self._known_swings.get(solid)
        if swing is None:
            pole, folded = self.setting.held.turning[solid.panel]
            swing = self._known_swings[solid] = Swing(pole, self._begin, self._limit, folded)
        return swing

    @cached_property
    def _clamped_across(self) -> tuple[Solid, ...]:
        """What of the clamped panels lies before the line, where the leaf lifts it."""
        result = [
            beyond(s, self.setting.own_line(s.panel), -1.0)
            for s in self._resting
            if s.panel in self.setting.clamped_panels
        ]
        return tuple(s for s in result if s is not None)

    @cached_property
    def _folding_across(self) -> tuple[tuple[Solid, Swing], ...]:
        """What of the folded panels lies behind the line, where it is driven down as the rest comes
        up."""
        result: list[tuple[Solid, Swing]] = []
        for solid in self._swinging:
            if solid.panel in self.setting.folding_panels:
                piece = beyond(solid, self.setting.offset(solid), 1.0)
                if piece is not None:
                    result.append((piece, self._swing(solid)._replace(folded=False)))
        return tuple(result)

    @property
    def beyond(self) -> tuple[Solid, ...]:
        """See :attr:`Stroke.beyond`."""
        return (*self._clamped_across, *(solid for solid, _ in self._folding_across))

    def _fixed(self) -> list[Contact | None]:
        """First contacts with what is there whichever sections are used, the part itself aside."""
        every = [(s, self.over, self._swing(s)) for s in self._swinging]
        others = [asked for asked in every if asked[0].panel not in self.setting.folding_panels]
        result = [
            contact for name in self.overhead for contact in first_met(every, self._tool[name])
        ]
        for rides, tool in ((True, self._still["bed"]), (False, self._tool["bed"])):
            result += first_met([asked for asked in others if self._rides(asked[0]) is rides], tool)
        # It lies on the bed to begin with, or on the strip: no margin is asked of it.
        result += first_met(
            [(s, self.over, swing) for s, swing in self._folding_across], self._unpacked["bed"]
        )
        return result

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever sections are used, and of the part with
        itself."""
        return self._meets_itself(earliest(*self._fixed()))

    # --- getting in, clamping, getting out -------------------------------------------------------

    @cached_property
    def _batch(self) -> NoseBatch:
        """Every piece, resting ones first, as it goes in and swings."""
        own = self._swinging is self.setting.solids[1]
        return self.setting.batch if own else self.setting.batch_of(self._resting, self._swinging)

    @cached_property
    def _hanging(self) -> list[int]:
        """Which pieces hang below the sheet as the stroke begins."""
        return self._batch.hanging(self._begin, -LOW)

    @property
    def _leaving(self) -> NoseBatch:
        """Every piece, resting ones first, as it is taken out."""
        return self._batch

    def _movement(self, after: float, way: Way) -> Movement:
        """How the part goes in (``after`` of 0) or out at ``after`` degrees."""
        if (after, way) not in self._movements:
            self._movements[after, way] = Movement(
                way,
                self.raised,
                self.ease(after, way) if after > 0 else None,
                self.lift if way is Way.LIFTED else 0.0,
                self.tip if way is Way.TIPPED else NOT_TIPPED,
            )
        return self._movements[after, way]

    def way_out(self, after: float, way: Way) -> tuple[PartMove, ...]:
        """See :meth:`Stroke.way_out`."""
        return self._movement(after, way).moves

    def _striking(
        self, tool: ToolOutline, after: float, way: Way
    ) -> Iterator[tuple[Solid, Passage, int]]:
        """The pieces that strike a tool on the way in (``after`` of 0) or out, each with how it
        moves and on which leg."""
        movement = self._movement(after, way)
        batch, angle = (
            (self._leaving, math.radians(after)) if after > 0 else (self._batch, self._begin)
        )
        for k, leg in enumerate(legs_of(batch, tool, movement, angle)):
            if leg and k < len(self._resting):
                yield batch.solids[k], Passage(movement), leg
            elif leg:
                swing = self._swing(batch.solids[k])
                yield batch.solids[k], Passage(movement, swing.pole, angle, swing.folded), leg

    @cached_property
    def lift(self) -> float:
        """How far (mm) the part is lifted so that what hangs below the sheet passes over the
        bed."""
        return (
            -float(self._batch.tops(self._begin)[: len(self._resting), 2].min())
            - self.packing.thickness
            + CLEAR
        )

    def ease(self, after: float, way: Way = Way.FRONT) -> float:
        """How far (mm) the part is drawn to the operator before what holds it rises, so that the
        fold leaves the nose."""
        if way is Way.LIFTED:
            # It rises by little: what stands over it farther up may stay there.
            return EASE + (self.lift + CLEAR) * math.tan(
                math.radians(max(0.0, min(after, 150.0) - 90.0))
            )
        if after not in self._known_eases:
            self._known_eases[after] = self._eased(after)
        return self._known_eases[after]

    def _eased(self, after: float) -> float:
        off = self._off_the_nose(after)
        if self._drawn_into(after, off + EASE) <= self._drawn_into(after, off + CLOSE_EASE):
            return off + EASE
        room = self._room_to_draw(after, EASE) - off
        # Half way between the nose and what stands behind the heel.
        return off + (room / 2 if room >= 2 * CLOSE_EASE else EASE)

    def _off_the_nose(self, after: float) -> float:
        """How far (mm) the part must be drawn to the front for what is folded to stand before the
        nose."""
        back = float(self._leaving.tops(math.radians(after))[len(self._resting) :, 0].max())
        return max(0.0, back - float(self.nose[0]))

    def _drawn_into(self, after: float, by: float) -> frozenset[int]:
        """Which resting pieces strike a section as the part is drawn to the front."""
        path = np.array([(0.0, 0.0), (0.0, -SLACK), (-by, 0.0)])
        result = steps_struck(self._leaving, self._still[self.section], path, math.radians(after))
        return frozenset(k for k in range(len(self._resting)) if result[k])

    def _room_to_draw(self, after: float, more: float) -> float:
        """How far (mm) the part may be drawn to the front before anything else meets a section; no
        farther than ``more`` mm off the nose is looked."""
        off = self._off_the_nose(after)
        low, high = CLOSE_EASE, more
        near = self._drawn_into(after, off + low)
        if self._drawn_into(after, off + high) <= near:
            return off + high
        while high - low > 0.01:
            middle = (low + high) / 2
            low, high = (
                (middle, high) if self._drawn_into(after, off + middle) <= near else (low, middle)
            )
        return off + low

    def most_drawn(self, after: float, way: Way) -> float | None:
        """How far (mm) the part may be drawn to the front at most before it is let go; None where
        any distance does."""
        if way not in (Way.FRONT, Way.SIDE):
            return None
        most = self._room_to_draw(after, LOOKED)
        return most if most < self._off_the_nose(after) + LOOKED else None

    def barred(self, after: float, way: Way = Way.FRONT) -> Obstacle | None:
        """See :meth:`Stroke.barred`."""
        if way is Way.LIFTED and self.lift > self.raised - CLEAR:
            return Obstacle(PART, self.section, Phase.SLIDING_IN)
        # Only over the bed it matters how far the part is drawn off before that.
        drawn = self.ease(after, way) if way is Way.LIFTED and after > 0 else 0.0
        if (way, drawn) not in self._known_hanging:
            self._known_hanging[way, drawn] = self._hanging_in_the_way(drawn, way)
        hanging = self._known_hanging[way, drawn]
        if hanging is not None:
            return hanging
        for name in self.overhead:
            for angle in (0.0, after) if after > 0 else (0.0,):
                if (name, angle, way) not in self._known_overhead:
                    self._known_overhead[name, angle, way] = self._under(name, angle, way)
                result = self._known_overhead[name, angle, way]
                if result is not None:
                    return result
        return None

    def _under(self, name: ToolPart, after: float, way: Way) -> Obstacle | None:
        """What strikes a tool that stands along the whole fold on the way in (``after`` of 0) or
        out."""
        tool = self._still[name]
        for solid, passage, leg in self._striking(tool, after, way):
            phase = (
                passage.path.phase(leg)
                if self.over is None
                else struck(solid, self.over, tool, passage)
            )
            if phase is not None:
                return Obstacle(solid.body, name, phase)
        return None

    def _hanging_in_the_way(self, drawn: float, way: Way) -> Obstacle | None:
        """What of the part hangs below the sheet and is in the way of clamping, or of moving past
        the bed's front or along it; it is drawn to the front by ``drawn`` mm before it is let
        go."""
        if not self._hanging:
            return None
        paths = [(name, Phase.CLAMPING, STILL) for name in self.before]
        paths.append((ToolPart.BED, Phase.SLIDING_IN, self._past_the_bed(drawn, way)))
        asked = [
            steps_struck(self._batch, self._still[name], path, self._begin)
            for name, _, path in paths
        ]
        for k in self._hanging:
            solid = self._batch.solids[k]
            for (name, phase, path), struck_on in zip(paths, asked, strict=True):
                if struck_on[k] and (
                    self.over is None or self._strikes_over_the_bed(solid, self._still[name], path)
                ):
                    return Obstacle(solid.body, name, phase)
        return None

    def _strikes_over_the_bed(self, solid: Solid, tool: ToolOutline, path: Array) -> bool:
        """True where what of a piece lies over the bed strikes a tool, too, as the part goes along
        a path."""
        shadow = self._shadow(solid)
        if self._begin and solid in self._swings:
            shadow = turned(shadow, self.pole(solid), self._begin)
        return (
            len(shadow) >= 3
            and shadow[:, 1].min() < -LOW
            and geometry.leg(shadow, path, tool.outline) != 0
        )

    def _past_the_bed(self, drawn: float, way: Way) -> Array:
        """(n, 2) mm: where the part begins and how it goes past the bed, a line after the other."""
        if way is not Way.LIFTED:
            return AWAY_TO_THE_FRONT if way is Way.FRONT else STILL
        # Drawn to the front and lifted, and lifted where it lies and drawn off: whichever comes
        # first.
        lines = (
            (0.0, 0.0),
            (-drawn, 0.0),
            (0.0, self.lift),
            (drawn, 0.0),
            (0.0, -self.lift),
            (0.0, self.lift),
            (-AWAY, 0.0),
        )
        return np.array(lines)

    # --- where a section may stand ---------------------------------------------------------------

    def _met(self, wanted: float) -> Iterator[Slab]:
        section = self._tool[self.section]
        first_met(
            [(solid, None, self._swing(solid)) for solid in self._swinging], section
        )  # all in one go
        met = [
            met_along(solid, self._section_for(solid), self._swing(solid), wanted)
            for solid in self._swinging
        ]
        met += [
            met_along(solid, self._still[self.section], turn, wanted)
            for solid, turn in self._folding_across
        ]
        yield from (slab for slab in met if slab is not None)

    def _barring(self, after: float, way: Way) -> Iterator[Slab]:
        section = self._still[self.section]
        for solid, passage, leg in self._striking(section, after, way):
            yield barred_along(solid, section, passage, leg)

    def _laid_over(self, spans: Sequence[Slab]) -> tuple[Slab, ...]:
        edges: tuple[Slab, ...] = ()
        if self.over is not None:
            (low, high), length = self.over, self.tooling.brake.bed_length
            edge = Obstacle(FOLD, ToolPart.END_OF_BED, Phase.CLAMPING)
            edges = Slab(-length, low, edge, None), Slab(high, length, edge, None)
        return super()._laid_over([s for s in (*spans, *edges) if s.high > s.low])

    def contact(
        self, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()
    ) -> Contact | None:
        """First contact of the swing with anything at all, with sections in ``intervals``."""
        sections = tuple(intervals)
        asked = [
            (solid, interval, self._swing(solid))
            for interval in sections
            for solid in self._swinging
        ]
        across = [
            (solid, interval, swing)
            for interval in sections
            for solid, swing in self._folding_across
        ]
        eased = [one for one in asked if self._section_for(one[0]) is not self._tool[self.section]]
        kept = [one for one in asked if self._section_for(one[0]) is self._tool[self.section]]
        met = (
            *first_met(kept, self._tool[self.section]),
            *first_met([*eased, *across], self._still[self.section]),
        )
        return earliest(self.fixed_contact, *met)

    # --- room left -------------------------------------------------------------------------------

    def clearance(
        self,
        degrees: float,
        intervals: Iterable[tuple[float, float]],
        under: Iterable[tuple[float, float]] = (),
    ) -> float:
        """Least distance (mm) between what swings and bed, sections in ``intervals`` and what is
        overhead, up to ``degrees``.

        The folded panel is not measured against nose, raked face, foot, bed and leaf: it is meant
        to come close to them.

        Args:
            degrees: the angle the bend stands at.
            intervals: where segments stand, intervals of x in mm.
            under: what the die's segments leave free, intervals of x in mm.
        """
        limit = math.radians(degrees)
        least = math.inf
        sections = tuple(intervals)
        for solid in self._swinging:
            pole = self.pole(solid)
            folded = solid.panel in self.setting.folding_panels
            near: list[tuple[ToolOutline, Array]] = [
                (self._still[name], self._shadow(solid)) for name in self.overhead
            ]
            if not folded:
                near.append((self._still["bed"], self._shadow(solid)))
            clips = [solid.clipped(low, high) for low, high in sections]
            if solid.uniform:
                clips = [clip for clip in clips if len(clip)][:1]
            near += [(self._still[self.section], clip) for clip in clips if len(clip) >= 3]
            for tool, shadow in near:
                if len(shadow) < 3:
                    continue
                if self._begin:
                    shadow = turned(shadow, pole, self._begin)  # noqa: PLW2901 - the same shadow, where the stroke begins
                sides = corners = None
                if folded and tool.name == self.section:
                    sides = np.array([part not in ("nose", "face", "foot") for part in tool.parts])
                    # A corner counts when both its sides do.
                    corners = sides & np.roll(sides, 1)
                least = min(
                    least,
                    least_distance(shadow, pole, tool.outline, limit - self._begin, sides=sides),
                    least_distance(
                        tool.outline,
                        pole,
                        shadow,
                        limit - self._begin,
                        backwards=True,
                        counted=corners,
                    ),
                )
        return least
