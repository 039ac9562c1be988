"""One stroke of a leaf brake judged: how far it goes, what stops it, where a finger may stand."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable, Sequence
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from .contact import Outlines, Touch, first_touches, hull, least_distance, turned
from .obstacle import Contact, Obstacle, earliest, met
from .outline import ToolOutline, nearest, outlines_for
from .passage import AWAY, EASE, barred_by_resting, kept_from, struck_passing, struck_sideways
from .pose import Setting
from .slab import Slab, laid_over, where
from .solid import Solid
from .stroke import Stroke
from .tooling import LeafTooling

Array = NDArray[np.float64]


class LeafStroke(Stroke):
    """One stroke of a leaf brake. See :class:`Stroke`."""

    tooling: LeafTooling

    def __init__(self, setting: Setting, tooling: LeafTooling, keep: float = 0.0, until: float | None = None) -> None:
        super().__init__(setting, tooling, keep, until)
        self.brake = brake = tooling.brake
        self.tools, self._still = outlines_for(brake, setting.line.bend, 0.0)
        # What rests against what rests keeps no margin; what swings past it does.
        self._tool = outlines_for(brake, setting.line.bend, keep)[1] if keep > 0 else self._still
        self._limit = math.radians(self.until)
        self._begin = math.radians(setting.start)
        self._eased: dict[float, float] = {}

    @property
    def ways(self) -> tuple[str, ...]:
        """From the front, and from the end of the bed where the frame leaves room."""
        return ("front", "side") if self.brake.open_ends else ("front",)

    def refused(self, wanted: float) -> str | None:
        """See :meth:`Stroke.refused`."""
        low, high = self.setting.span if self.brake.open_ends else self.setting.x_range
        if high - low > self.brake.bed_length:
            what = "the fold" if self.brake.open_ends else "the part"
            return f"{what} is {high - low:.0f} mm along the bed and the bed is {self.brake.bed_length:.0f} mm long"
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

    def _meet(self, solids: Sequence[Solid], shadows: Sequence[Array], tool: ToolOutline) -> list[Contact | None]:
        """First contact of each swinging shadow (given with the fold flat) with a resting tool."""
        found: list[Contact | None] = [None] * len(solids)
        kept = [k for k, shadow in enumerate(shadows) if len(shadow) >= 3]
        for pole, members in self.poled([solids[k] for k in kept]):
            at = [kept[m] for m in members]
            moving = Outlines.of([turned(shadows[k], pole, self._begin) if self._begin else shadows[k] for k in at])
            sides = corners = None
            if tool.nose:
                # The panel that is folded is meant to lie on the nose.
                folded = moving.spread(np.array([solids[k].panel in self.setting.folding_panels for k in at]))
                sides = ~folded[:, None] | tool.bare_sides
                corners = ~folded[None, :] | tool.bare_corners[:, None]
            touches = first_touches(moving, tool.outlines, self._limit - self._begin, about=pole, sides=sides, corners=corners)
            for k, touch in zip(at, touches, strict=True):
                found[k] = self._met(touch, solids[k], tool)
        return found

    def _met(self, touch: Touch | None, solid: Solid, tool: ToolOutline) -> Contact | None:
        if touch is None:
            return None
        later = dataclasses.replace(touch, angle=touch.angle + self._begin) if self._begin else touch
        return met(later, solid.name, tool.said(tool.parts[touch.index]))

    def _leaf_meets_resting(self) -> Contact | None:
        """First contact of the rising leaf with something that rests."""
        leaf, hinge = self._still["leaf"], self.tools.hinge
        reach = leaf.farthest(*hinge.tolist())
        found: list[Contact | None] = []
        # Seen from the leaf, the part turns backwards about the hinge.
        rest = [s for s in self._resting if s.panel not in self.setting.clamped_panels]
        waits = [s for s in self._swinging if s.panel not in self.setting.folding_panels] if self._begin else []
        for solids, begin in ((rest, 0.0), (waits, self._begin)):
            shadows = [turned(self._shadow(s), self.pole(s), begin) if begin else self._shadow(s) for s in solids]
            near = [k for k, sh in enumerate(shadows) if len(sh) >= 3 and nearest(sh, hinge) <= reach]
            if near:
                parts = Outlines.of([shadows[k] for k in near])
                # What stands part way waits for the leaf, which takes it along from there.
                touches = first_touches(parts, leaf.outlines, begin or self._limit, about=hinge, backwards=True)
                found += [
                    None if touch is None else met(touch, solids[k].name, "leaf")
                    for k, touch in zip(near, touches, strict=True)
                ]
        return earliest(*found)

    def _leaf_meets_swinging(self, solids: Sequence[Solid]) -> Contact | None:
        """First contact of the leaf with something that swings with it.

        Seen from the leaf the part hardly moves: it shifts along a small circle, because leaf and part turn about axes
        that lie apart: x ↦ x + (R(−φ) − 1)·apart. Every corner turns backwards about itself less ``apart``; the leaf's
        corners, seen from the part, run on the mirrored circle.
        """
        leaf = self._tool["leaf"]
        found: list[Contact | None] = []
        solids = [solid for solid in solids if len(self._shadow(solid)) >= 3]
        for pole, members in self.poled(solids):
            apart = pole - self.tools.hinge
            parts = Outlines.of([self._shadow(solids[k]) for k in members])
            touches = first_touches(
                parts, leaf.outlines, self._limit,
                about=parts.corners - apart, back_about=leaf.outline + apart, backwards=True,
            )  # fmt: skip
            found += [
                None if touch is None else met(touch, solids[k].name, "leaf") for k, touch in zip(members, touches, strict=True)
            ]
        first = earliest(*found)
        return (
            first
            if first is None or first.angle >= self.setting.start
            else dataclasses.replace(first, angle=self.setting.start)
        )

    @cached_property
    def fixed_contact(self) -> Contact | None:
        """First contact with what is there whichever fingers are used: beam, bed, leaf and the part itself."""
        folding = self.setting.folding_panels
        every, others = self._swinging, [s for s in self._swinging if s.panel not in folding]
        best = earliest(
            *self._meet(every, [self._shadow(s) for s in every], self._tool["beam"]),
            *self._meet(others, [self._shadow(s) for s in others], self._tool["bed"]),
            self._leaf_meets_swinging([s for s in others if s.name not in self.setting.flush]),
            self._leaf_meets_resting(),
        )
        return self._meets_itself(best)

    # --- getting in, clamping, getting out ------------------------------------------------------------------------

    def ease(self, after: float) -> float:
        """How far (mm) the part is drawn to the operator before finger and beam rise, so that the fold leaves the nose."""
        if after not in self._eased:
            angle = math.radians(after)
            back = max(float(turned(solid.shadow, self.pole(solid), angle)[:, 0].max()) for solid in self._swinging)
            self._eased[after] = max(0.0, back - float(self.tools.nose[0])) + EASE
        return self._eased[after]

    def _barred(self, solid: Solid, points: Array, tool: ToolOutline, after: float, way: str) -> Obstacle | None:
        """What keeps the hull of points (the fold flat) from passing a tool on its way in or, standing at ``after`` degrees, out.

        The part slides in under the raised tool from the front, the tool comes down; after the swing the part is drawn
        forward a little, the tool rises, and the part is taken out to the front. Sweeps of convex shadows along a line
        are hulls, so each answer is exact.
        """
        before = stood = points
        if solid in self._swinging:
            pole = self.pole(solid)
            before = turned(points, pole, self._begin) if self._begin else points
            stood = turned(points, pole, math.radians(after))
        ease = self.ease(after) if after > 0 else None
        folded = solid.panel in self.setting.folding_panels
        if way == "side":
            found = struck_sideways(before, stood, ease, self.tools.opening, tool, folded)
        else:
            found = struck_passing(before, stood, ease, self.tools.opening, tool, folded)
        return None if found is None else Obstacle(solid.name, tool.name, found)

    def barred(self, after: float, way: str = "front") -> Obstacle | None:
        """See :meth:`Stroke.barred`."""
        beam, bed, leaf = self._still["beam"], self._still["bed"], self._still["leaf"]
        for solid in (*self._resting, *self._swinging):
            flat = shadow = self._shadow(solid)
            if self._begin and solid in self._swinging:
                shadow = turned(flat, self.pole(solid), self._begin)
            if len(shadow) >= 3 and shadow[:, 1].min() < -1e-6:
                if leaf.polygon.intersects(shapely.Polygon(shadow)):
                    return Obstacle(solid.name, "leaf", "clamping")
                # Anything that hangs below the sheet must come in past the bed's front, or along it.
                away = np.array([AWAY if way == "front" else 0.0, 0.0])
                if bed.polygon.intersects(shapely.Polygon(hull(np.concatenate([shadow, shadow - away])))):
                    return Obstacle(solid.name, "bed", "sliding in")
            points = solid.corners[:, 1:] if self.over is None else flat
            if len(points) >= 3:
                obstacle = self._barred(solid, points, beam, after, way)
                if obstacle is not None:
                    return obstacle
        return None

    # --- where a finger may stand -------------------------------------------------------------------------------

    def slabs(self, after: float, wanted: float, way: str = "front") -> tuple[Slab, ...]:
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
            held = barred_by_resting(solid, finger, ease, self.tools.opening, way)
            if held is not None:
                spans.append(held)
        for solid in self._swinging:

            def bars(a: float, b: float, solid: Solid = solid) -> Obstacle | None:
                points = solid.within(a, b)
                return self._barred(solid, points, finger, after, way) if len(points) >= 3 else None

            inside = where(solid, lambda a, b, bars=bars: bars(a, b) is not None)  # type: ignore[misc]
            obstacle = bars(*inside) if inside is not None else None
            if inside is not None and obstacle is not None:
                spans.append(kept_from(inside, obstacle, way))
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
        if self.over is not None:
            low, high = self.over
            edge = Obstacle("fold", "end of the bed", "clamping")
            spans += [Slab(-self.brake.bed_length, low, edge, None), Slab(high, self.brake.bed_length, edge, None)]
        return laid_over([s for s in spans if s.high > s.low], self.brake.bed_length)

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
