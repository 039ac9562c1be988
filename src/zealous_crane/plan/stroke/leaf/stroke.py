"""One stroke of a leaf brake judged: how far it goes, what stops it, where a finger may stand."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from ....measure import Long, Said
from ...geometry.clip import AWAY
from ...geometry.contact import hull, least_distance, turned
from ...geometry.interval import Slab, laid_over
from ...geometry.obstacle import Contact, Obstacle, earliest
from ...geometry.outline import ToolOutline, outlines_for
from ...geometry.solid import Solid, beyond
from ..setting import Setting
from ..stroke import Stroke
from ..tooling import LeafTooling
from .passage import EASE, Passage, barred_along, struck
from .swing import Swing, first_met, leaf_met, met_along, taken_along

Array = NDArray[np.float64]


class LeafStroke(Stroke):
    """One stroke of a leaf brake. See :class:`Stroke`."""

    tooling: LeafTooling

    def __init__(
        self, setting: Setting, tooling: LeafTooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
    ) -> None:
        super().__init__(setting, tooling, keep, until, stop)
        self.brake = brake = tooling.brake
        self.tools, self._still = outlines_for(brake, setting.line.bend, 0.0, self.stop, setting.front)
        # What rests against what rests keeps no margin; what swings past it does.
        self._tool = outlines_for(brake, setting.line.bend, keep, self.stop, setting.front)[1] if keep > 0 else self._still
        self._limit = math.radians(self.until)
        self._begin = math.radians(setting.start)
        self._known_tops: dict[float, Array] = {}
        self._swings = frozenset(self._swinging)
        self._pole: tuple[float, float] = tuple(setting.pole.tolist())

    @property
    def setback(self) -> float:
        """Nose behind the bed's edge, mm."""
        return self.tools.setback

    @property
    def ways(self) -> tuple[str, ...]:
        """From the front, and from the end of the bed where the frame leaves room."""
        return ("front", "side") if self.brake.open_ends else ("front",)

    def refused(self, wanted: float) -> Said | None:
        """See :meth:`Stroke.refused`."""
        low, high = self.setting.span if self.brake.open_ends else self.setting.x_range
        if high - low > self.brake.bed_length:
            what = "the fold" if self.brake.open_ends else "the part"
            return Said.of(
                f"{what} is ", Long(high - low), " along the bed and the bed is ", Long(self.brake.bed_length), " long"
            )
        return None

    @cached_property
    def over(self) -> tuple[float, float] | None:
        """Interval of x (mm) in which bed, beam and leaf are; None when they go on past the part."""
        low, high = self.setting.span
        if self.tooling.end < 0:
            return low, low + self.brake.bed_length
        return (high - self.brake.bed_length, high) if self.tooling.end > 0 else None

    def _shadow(self, solid: Solid) -> Array:
        """Shadow of what of a solid lies over the bed; empty when it hangs beyond its end."""
        return solid.shadow if self.over is None else solid.clipped(*self.over)

    # --- the swing ------------------------------------------------------------------------------------------

    def _swing(self, solid: Solid) -> Swing:
        y, z = self._pole
        return Swing((y + self.setting.offset(solid), z), self._begin, self._limit, solid.panel in self.setting.folding_panels)

    @cached_property
    def _clamped_across(self) -> tuple[Solid, ...]:
        """What of the clamped panels lies before the line, where the leaf lifts it."""
        found = [
            beyond(s, self.setting.own_line(s.panel), -1.0) for s in self._resting if s.panel in self.setting.clamped_panels
        ]
        return tuple(s for s in found if s is not None)

    @cached_property
    def _folding_across(self) -> tuple[tuple[Solid, Swing], ...]:
        """What of the folded panels lies behind the line, where it is driven down as the rest comes up."""
        found: list[tuple[Solid, Swing]] = []
        for solid in self._swinging:
            if solid.panel in self.setting.folding_panels:
                piece = beyond(solid, self.setting.offset(solid), 1.0)
                if piece is not None:
                    found.append((piece, self._swing(solid)._replace(folded=False)))
        return tuple(found)

    @property
    def beyond(self) -> tuple[Solid, ...]:
        """See :attr:`Stroke.beyond`."""
        return (*self._clamped_across, *(solid for solid, _ in self._folding_across))

    def _leaf_meets_resting(self) -> list[Contact | None]:
        """First contact of the rising leaf with what rests, and with what stands part way and waits for the leaf."""
        leaf, (y, z) = self._still["leaf"], self.tools.hinge.tolist()
        rest = [s for s in self._resting if s.panel not in self.setting.clamped_panels]
        rest += self._clamped_across
        found = leaf_met([(s, self.over, None) for s in rest], leaf, (y, z), self._limit)
        if self._begin:
            # What stands part way waits for the leaf, which takes it along from there.
            waits = [s for s in self._swinging if s.panel not in self.setting.folding_panels]
            found += leaf_met([(s, self.over, self._swing(s)) for s in waits], leaf, (y, z), self._begin)
        return found

    def _leaf_meets_swinging(self, solids: Sequence[Solid]) -> list[Contact | None]:
        """First contact of the leaf with what swings with it."""
        y, z = self.tools.hinge.tolist()
        return taken_along([(s, self.over, self._swing(s)) for s in solids], self._tool["leaf"], (y, z))

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever fingers are used: beam, bed, leaf and the part itself."""
        folding = self.setting.folding_panels
        every, others = self._swinging, [s for s in self._swinging if s.panel not in folding]
        best = earliest(
            *first_met([(s, self.over, self._swing(s)) for s in every], self._tool["beam"]),
            *first_met([(s, self.over, self._swing(s)) for s in others], self._tool["bed"]),
            # It lies on the bed to begin with: no margin is asked of it.
            *first_met([(s, self.over, swing) for s, swing in self._folding_across], self._still["bed"]),
            *self._leaf_meets_swinging([s for s in others if s.name not in self.setting.flush]),
            *self._leaf_meets_resting(),
        )
        return self._meets_itself(best)

    # --- getting in, clamping, getting out ------------------------------------------------------------------------

    @cached_property
    def _every(self) -> tuple[Solid, ...]:
        return (*self._resting, *self._swinging)

    @cached_property
    def _stack(self) -> tuple[Array, Array, NDArray[np.intp]]:
        """Corners (n, 2) of every solid with the fold flat, what each turns about, and each solid's first corner."""
        points = np.concatenate([solid.corners[:, 1:] for solid in self._every])
        sizes = [len(solid.corners) for solid in self._every]
        poles = np.repeat([self.pole(solid) for solid in self._every], sizes, axis=0)
        return points, poles, np.concatenate([[0], np.cumsum(sizes)[:-1]])

    def _tops(self, angle: float) -> Array:
        """(k, 3) mm: how far back and how high every solid reaches, and how low, with the fold at an angle, radians."""
        if angle not in self._known_tops:
            points, poles, first = self._stack
            rests = len(self._resting)
            if angle and rests < len(first):
                swings = int(first[rests])
                points = np.concatenate([points[:swings], turned(points[swings:], poles[swings:], angle)])
            high, low = np.maximum.reduceat(points, first), np.minimum.reduceat(points, first)
            self._known_tops[angle] = np.column_stack([high, low[:, 1]])
        return self._known_tops[angle]

    def _passing(self, tool: ToolOutline, after: float, way: str) -> Iterator[tuple[Solid, Passage]]:
        """The solids that come near a tool on the way in (``after`` of 0) or out, each with how it moves."""
        angle, ease = (math.radians(after), self.ease(after)) if after > 0 else (self._begin, None)
        (y, z), _ = tool.box
        tops = self._tops(angle)
        # All movements lead forwards and down.
        for k in np.nonzero((tops[:, 0] > y) & (tops[:, 1] > z))[0].tolist():
            solid = self._every[k]
            if k < len(self._resting):
                yield solid, Passage(way, self.tools.opening, ease)
            else:
                swing = self._swing(solid)
                yield solid, Passage(way, self.tools.opening, ease, swing.pole, angle, swing.folded)

    def ease(self, after: float) -> float:
        """How far (mm) the part is drawn to the operator before finger and beam rise, so that the fold leaves the nose."""
        back = float(self._tops(math.radians(after))[len(self._resting) :, 0].max())
        return max(0.0, back - float(self.tools.nose[0])) + EASE

    def barred(self, after: float, way: str = "front") -> Obstacle | None:
        """See :meth:`Stroke.barred`."""
        beam, bed, leaf = self._still["beam"], self._still["bed"], self._still["leaf"]
        low = self._tops(self._begin)[:, 2]
        for k in np.nonzero(low < -1e-6)[0].tolist():
            solid = self._every[k]
            shadow = self._shadow(solid)
            if self._begin and solid in self._swings:
                shadow = turned(shadow, self.pole(solid), self._begin)
            if len(shadow) >= 3 and shadow[:, 1].min() < -1e-6:
                if leaf.polygon.intersects(shapely.Polygon(shadow)):
                    return Obstacle(solid.name, "leaf", "clamping")
                # Anything that hangs below the sheet must come in past the bed's front, or along it.
                away = np.array([AWAY if way == "front" else 0.0, 0.0])
                if bed.polygon.intersects(shapely.Polygon(hull(np.concatenate([shadow, shadow - away])))):
                    return Obstacle(solid.name, "bed", "sliding in")
        for angle in (0.0, after) if after > 0 else (0.0,):
            for solid, passage in self._passing(beam, angle, way):
                phase = struck(solid, self.over, beam, passage)
                if phase is not None:
                    return Obstacle(solid.name, "beam", phase)
        return None

    # --- where a finger may stand -------------------------------------------------------------------------------

    def entry(self, way: str = "front") -> tuple[Slab, ...]:
        """See :meth:`Stroke.entry`."""
        return self._laid_over(self._spans(0.0, way))

    def slabs(self, after: float, wanted: float, way: str = "front") -> tuple[Slab, ...]:
        """The bed cut into intervals, each with what a finger meets there.

        Args:
            after: degrees the fold stands at when the part is taken out.
            wanted: degrees the swing is to reach; contacts before it are traced to the interval they belong to.
            way: how the part gets in and out.
        """
        swing = self._tool["finger"]
        first_met([(solid, None, self._swing(solid)) for solid in self._swinging], swing)  # all in one go
        met = [met_along(solid, swing, self._swing(solid), wanted) for solid in self._swinging]
        met += [met_along(solid, self._still["finger"], turn, wanted) for solid, turn in self._folding_across]
        out = self._spans(after, way) if after > 0 else []
        return self._laid_over([*self._spans(0.0, way), *out, *(slab for slab in met if slab is not None)])

    def _spans(self, after: float, way: str) -> list[Slab]:
        """Where fingers are in the way as the part goes in (``after`` of 0) or out."""
        finger = self._still["finger"]
        found = [barred_along(solid, finger, passage) for solid, passage in self._passing(finger, after, way)]
        return [slab for slab in found if slab is not None]

    def _laid_over(self, spans: list[Slab]) -> tuple[Slab, ...]:
        if self.over is not None:
            low, high = self.over
            edge = Obstacle("fold", "end of the bed", "clamping")
            spans += [Slab(-self.brake.bed_length, low, edge, None), Slab(high, self.brake.bed_length, edge, None)]
        return laid_over([s for s in spans if s.high > s.low], self.brake.bed_length)

    def contact(self, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()) -> Contact | None:
        """First contact of the swing with anything at all, with fingers in ``intervals``."""
        fingers = tuple(intervals)
        asked = [(solid, interval, self._swing(solid)) for interval in fingers for solid in self._swinging]
        across = [(solid, interval, swing) for interval in fingers for solid, swing in self._folding_across]
        met = (*first_met(asked, self._tool["finger"]), *first_met(across, self._still["finger"]))
        return earliest(self.fixed_contact, *met)

    # --- room left ----------------------------------------------------------------------------------------------

    def clearance(
        self, degrees: float, intervals: Iterable[tuple[float, float]], under: Iterable[tuple[float, float]] = ()
    ) -> float:
        """Least distance (mm) between what swings and beam, bed and fingers in ``intervals``, up to ``degrees``.

        The folded panel is not measured against nose, raked face, foot, bed and leaf: it is meant to come close to them.
        """
        limit = math.radians(degrees)
        least = math.inf
        fingers = tuple(intervals)
        for solid in self._swinging:
            pole = self.pole(solid)
            folded = solid.panel in self.setting.folding_panels
            near: list[tuple[ToolOutline, Array]] = [(self._still["beam"], self._shadow(solid))]
            if not folded:
                near.append((self._still["bed"], self._shadow(solid)))
            clips = [solid.clipped(low, high) for low, high in fingers]
            if solid.uniform:
                clips = [clip for clip in clips if len(clip)][:1]
            near += [(self._still["finger"], clip) for clip in clips if len(clip) >= 3]
            for tool, shadow in near:
                if len(shadow) < 3:
                    continue
                if self._begin:
                    shadow = turned(shadow, pole, self._begin)  # noqa: PLW2901 - the same shadow, where the stroke begins
                sides = corners = None
                if folded and tool.name == "finger":
                    far = np.array([part not in ("nose", "face", "foot") for part in tool.parts])
                    # A corner counts when both its sides do.
                    corner = far & np.roll(far, 1)
                    sides = np.broadcast_to(far, (len(shadow), len(far)))
                    corners = np.broadcast_to(corner[:, None], (len(far), len(shadow)))
                ends = np.roll(shadow, -1, axis=0)
                least = min(
                    least,
                    least_distance(shadow, pole, tool.outline, tool.ends, limit - self._begin, allowed=sides),
                    least_distance(tool.outline, pole, shadow, ends, limit - self._begin, backwards=True, allowed=corners),
                )
        return least
