"""One stroke of a leaf brake judged: how far it goes, what stops it, where a finger may stand."""

from __future__ import annotations

import dataclasses
import heapq
import itertools
import math
from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from ..brake import LeafBrake
from .contact import TOUCH, Outlines, Touch, drawn_in, first_touches, hull, least_distance, turned
from .obstacle import Contact, Obstacle, earliest, met
from .outline import ToolOutline, farthest, nearest, outlines_for
from .passage import AWAY, EASE, barred_by_resting, struck_passing
from .pose import Setting
from .slab import Slab, laid_over, where
from .solid import Solid

Array = NDArray[np.float64]

SLIVER = 0.005
"""Two pieces of the part are compared over intervals cut down to this width (mm): even where a face runs steeply along the
fold, their shadows then differ from the pieces by less than 0.05 mm."""


STEP = 1e-4
"""Radians; contacts of two pieces of the part nearer than this are not told apart (0.006°)."""


class Stroke:
    """One setting on one brake, with everything the engine can say about it.

    Args:
        setting: how the part is held.
        brake: the machine.
        keep: clearance (mm) the swing must keep, for its departure from a plain turn; 0 asks for plain contact.

    Answers are worked out when first asked for and kept.
    """

    def __init__(self, setting: Setting, brake: LeafBrake, keep: float = 0.0) -> None:
        self.setting = setting
        self.brake = brake
        self.keep = keep
        self.tools, self._still = outlines_for(brake, setting.line.bend, 0.0)
        # What rests against what rests keeps no margin; what swings past it does.
        self._tool = outlines_for(brake, setting.line.bend, keep)[1] if keep > 0 else self._still
        self._resting, self._swinging = setting.solids
        self._limit = math.radians(brake.greatest_angle)
        self._eased: dict[float, float] = {}

    # --- the swing ------------------------------------------------------------------------------------------

    def _meet(self, solids: Sequence[Solid], shadows: Sequence[Array], tool: ToolOutline) -> list[Contact | None]:
        """First contact of each swinging shadow with a resting tool."""
        if not shadows:
            return []
        moving = Outlines.of(shadows)
        sides = corners = None
        if tool.nose:
            # The panel that is folded is meant to lie on the nose.
            folded = moving.spread(np.array([solid.panel in self.setting.folding_panels for solid in solids]))
            sides = ~folded[:, None] | tool.bare_sides
            corners = ~folded[None, :] | tool.bare_corners[:, None]
        touches = first_touches(moving, tool.outlines, self._limit, about=self.setting.pole, sides=sides, corners=corners)
        return [
            None if touch is None else met(touch, solid.name, tool.said(tool.parts[touch.index]))
            for solid, touch in zip(solids, touches, strict=True)
        ]

    def _leaf_meets_resting(self) -> Contact | None:
        """First contact of the rising leaf with something that rests."""
        leaf, hinge = self._still["leaf"], self.tools.hinge
        reach = leaf.farthest(*hinge.tolist())
        solids = [s for s in self._resting if s.panel not in self.setting.clamped_panels and nearest(s.shadow, hinge) <= reach]
        if not solids:
            return None
        # Seen from the leaf, the part turns backwards about the hinge.
        parts = Outlines.of([solid.shadow for solid in solids])
        touches = first_touches(parts, leaf.outlines, self._limit, about=hinge, backwards=True)
        return earliest(*(
            met(touch, solid.name, "leaf") for solid, touch in zip(solids, touches, strict=True) if touch is not None
        ))  # fmt: skip

    def _leaf_meets_swinging(self, solids: Sequence[Solid]) -> Contact | None:
        """First contact of the leaf with something that swings with it.

        Seen from the leaf the part hardly moves: it shifts along a small circle, because leaf and part turn about axes
        that lie apart: x ↦ x + (R(−φ) − 1)·apart. Every corner turns backwards about itself less ``apart``; the leaf's
        corners, seen from the part, run on the mirrored circle.
        """
        if not solids:
            return None
        leaf = self._tool["leaf"]
        apart = self.setting.pole - self.tools.hinge
        parts = Outlines.of([solid.shadow for solid in solids])
        touches = first_touches(
            parts, leaf.outlines, self._limit,
            about=parts.corners - apart, back_about=leaf.outline + apart, backwards=True,
        )  # fmt: skip
        return earliest(*(
            met(touch, solid.name, "leaf") for solid, touch in zip(solids, touches, strict=True) if touch is not None
        ))  # fmt: skip

    def _meet_each_other(self, one: Solid, other: Solid, best: float) -> Contact | None:
        """First contact, before ``best`` radians, of a swinging with a resting piece of the part.

        The shadows of a wide interval may meet where the pieces themselves do not, so the interval with the earliest
        contact is halved until it is narrow, or nothing changes along it: best first, the answer is the first that lasts.
        """
        low = max(one.x_range[0], other.x_range[0])
        high = min(one.x_range[1], other.x_range[1])
        pole = self.setting.pole
        if high - low < 1e-6 or farthest(one.shadow, pole) < nearest(other.shadow, pole) - self.keep:
            return None
        ticket = itertools.count()
        # Among contacts within a step of each other the narrowest interval is halved first: along faces that meet all at once
        # every interval has nearly the same contact, and trying them all would take for ever.
        queue: list[tuple[int, float, int, float, float, Touch | None]] = [(0, high - low, next(ticket), low, high, None)]
        steady = one.uniform and other.uniform
        while queue:
            step, _, _, a, b, touch = heapq.heappop(queue)
            if touch is not None and (steady or b - a <= SLIVER):
                # What waits in the same step may touch a little earlier: the step's beginning is on the safe side.
                angle = touch.angle if steady else min(touch.angle, step * STEP)
                return met(dataclasses.replace(touch, angle=angle), one.name, other.name)
            middle = (a + b) / 2
            for lo, hi in ((a, b),) if touch is None else ((a, middle), (middle, b)):
                found = self._within(one.clipped(lo, hi), other.clipped(lo, hi))
                if found is not None and found.angle < best:
                    heapq.heappush(queue, (int(found.angle / STEP), hi - lo, next(ticket), lo, hi, found))
        return None

    def _within(self, swinging: Array, resting: Array) -> Touch | None:
        """First contact of two shadows, at angle 0 when they overlap from the start."""
        if len(swinging) < 3 or len(resting) < 3:
            return None
        resting = drawn_in(resting, TOUCH - self.keep)
        if shapely.intersects(shapely.Polygon(swinging), shapely.Polygon(resting)):
            return Touch(0.0, (float(resting[0, 0]), float(resting[0, 1])), 0, True)
        pole = self.setting.pole
        return first_touches(Outlines.of([swinging]), Outlines.of([resting]), self._limit, about=pole)[0]

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever fingers are used: beam, bed, leaf and the part itself."""
        folding, clamped = self.setting.folding_panels, self.setting.clamped_panels
        every, others = self._swinging, [s for s in self._swinging if s.panel not in folding]
        best = earliest(
            *self._meet(every, [s.shadow for s in every], self._tool["beam"]),
            *self._meet(others, [s.shadow for s in others], self._tool["bed"]),
            self._leaf_meets_swinging([s for s in others if s.name not in self.setting.flush]),
            self._leaf_meets_resting(),
        )
        for solid in every:
            for other in self._resting:
                if not (solid.panel in folding and other.panel in clamped):
                    before = self._limit if best is None else math.radians(best.angle)
                    best = earliest(best, self._meet_each_other(solid, other, before))
        return best

    # --- getting in, clamping, getting out ------------------------------------------------------------------------

    def ease(self, after: float) -> float:
        """How far (mm) the part is drawn to the operator before finger and beam rise, so that the fold leaves the nose."""
        if after not in self._eased:
            pole, angle = self.setting.pole, math.radians(after)
            back = max(float(turned(solid.shadow, pole, angle)[:, 0].max()) for solid in self._swinging)
            self._eased[after] = max(0.0, back - float(self.tools.nose[0])) + EASE
        return self._eased[after]

    def _barred(self, solid: Solid, points: Array, tool: ToolOutline, after: float) -> Obstacle | None:
        """What keeps the hull of points from passing a tool on its way in or, standing at ``after`` degrees, out.

        The part slides in under the raised tool from the front, the tool comes down; after the swing the part is drawn
        forward a little, the tool rises, and the part is taken out to the front. Sweeps of convex shadows along a line
        are hulls, so each answer is exact.
        """
        stood = turned(points, self.setting.pole, math.radians(after)) if solid in self._swinging else points
        ease = self.ease(after) if after > 0 else None
        found = struck_passing(points, stood, ease, self.tools.opening, tool, solid.panel in self.setting.folding_panels)
        return None if found is None else Obstacle(solid.name, tool.name, found)

    def barred(self, after: float) -> Obstacle | None:
        """What keeps the part from going in, being clamped, or coming out at ``after`` degrees, fingers aside."""
        beam, bed, leaf = self._still["beam"], self._still["bed"], self._still["leaf"]
        for solid in (*self._resting, *self._swinging):
            if solid.shadow[:, 1].min() < -1e-6:
                if leaf.polygon.intersects(shapely.Polygon(solid.shadow)):
                    return Obstacle(solid.name, "leaf", "clamping")
                # Anything that hangs below the sheet must come in past the bed's front.
                away = np.array([AWAY, 0.0])
                if bed.polygon.intersects(shapely.Polygon(hull(np.concatenate([solid.shadow, solid.shadow - away])))):
                    return Obstacle(solid.name, "bed", "sliding in")
            obstacle = self._barred(solid, solid.corners[:, 1:], beam, after)
            if obstacle is not None:
                return obstacle
        return None

    # --- where a finger may stand -------------------------------------------------------------------------------

    def slabs(self, after: float, wanted: float) -> tuple[Slab, ...]:
        """The bed cut into intervals, each with what a finger meets there.

        Args:
            after: degrees the fold stands at when the part is taken out.
            wanted: degrees the swing is to reach; contacts before it are traced to the interval they belong to.
        """
        finger, swing = self._still["finger"], self._tool["finger"]
        spans: list[Slab] = []
        free: list[Solid] = []
        ease = self.ease(after) if after > 0 else None
        for solid in self._resting:
            held = barred_by_resting(solid, finger, ease, self.tools.opening)
            if held is not None:
                spans.append(held)
        for solid in self._swinging:

            def bars(a: float, b: float, solid: Solid = solid) -> Obstacle | None:
                points = solid.within(a, b)
                return self._barred(solid, points, finger, after) if len(points) >= 3 else None

            inside = where(solid, lambda a, b, bars=bars: bars(a, b) is not None)  # type: ignore[misc]
            if inside is not None:
                spans.append(Slab(*inside, bars(*inside), None))
            else:
                free.append(solid)
        for solid, contact in zip(free, self._meet(free, [s.shadow for s in free], swing), strict=True):
            inside = solid.x_range
            if contact is not None and contact.angle < wanted:

                def early(a: float, b: float, solid: Solid = solid) -> bool:
                    shadow = solid.clipped(a, b)
                    met = self._meet([solid], [shadow], swing)[0] if len(shadow) >= 3 else None
                    return met is not None and met.angle < wanted

                inside = where(solid, early)
            if contact is not None and inside is not None:
                spans.append(Slab(*inside, None, contact))
        return laid_over(spans, self.brake.bed_length)

    def contact(self, intervals: Iterable[tuple[float, float]]) -> Contact | None:
        """First contact of the swing with anything at all, with fingers in ``intervals``."""
        solids: list[Solid] = []
        shadows: list[Array] = []
        for low, high in intervals:
            for solid in self._swinging:
                # A solid that does not change along the fold casts one shadow for all fingers.
                if not (solid.uniform and solid in solids) and len(shadow := solid.clipped(low, high)) >= 3:
                    solids.append(solid)
                    shadows.append(shadow)
        return earliest(self.fixed_contact, *self._meet(solids, shadows, self._tool["finger"]))

    # --- room left ----------------------------------------------------------------------------------------------

    def clearance(self, degrees: float, intervals: Iterable[tuple[float, float]]) -> float:
        """Least distance (mm) between what swings and beam, bed and fingers in ``intervals``, up to ``degrees``.

        The folded panel is not measured against nose, raked face, foot, bed and leaf: it is meant to come close to them.
        """
        limit = math.radians(degrees)
        pole = self.setting.pole
        least = math.inf
        fingers = tuple(intervals)
        for solid in self._swinging:
            folded = solid.panel in self.setting.folding_panels
            near: list[tuple[ToolOutline, Array]] = [(self._still["beam"], solid.shadow)]
            if not folded:
                near.append((self._still["bed"], solid.shadow))
            clips = [solid.clipped(low, high) for low, high in fingers]
            if solid.uniform:
                clips = [clip for clip in clips if len(clip)][:1]
            near += [(self._still["finger"], clip) for clip in clips if len(clip) >= 3]
            for tool, shadow in near:
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
                    least_distance(shadow, pole, tool.outline, tool.ends, limit, allowed=sides),
                    least_distance(tool.outline, pole, shadow, ends, limit, backwards=True, allowed=corners),
                )
        return least
