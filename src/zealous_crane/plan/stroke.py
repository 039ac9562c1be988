"""One stroke of a leaf brake judged: how far it goes, what stops it, where a finger may stand."""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from ..allowance import Bend
from ..brake import LeafBrake, Profile, Tools, tools_for
from .contact import TOUCH, Outlines, Touch, drawn_in, first_touches, hull, least_distance, turned
from .pose import Setting
from .solid import Solid

Array = NDArray[np.float64]

AWAY = 50_000.0
"""How far (mm) to the front a part must slide to be out: past any part."""

EASE = 0.5
"""Least distance (mm) a part is drawn off the nose before the clamp rises."""

SLIVER = 0.005
"""Two pieces of the part are compared over intervals cut down to this width (mm): even where a face runs steeply along the
fold, their shadows then differ from the pieces by less than 0.05 mm."""

FINEST = 0.05
"""Where the shadow of a solid changes along the fold, intervals are cut down to this width, mm."""


@dataclass(frozen=True)
class Obstacle:
    """What stands in the way.

    Attributes:
        body: name of the panel or fold that is met.
        tool: what it meets, in shop words.
        phase: ``sliding in``, ``clamping``, ``swing``, ``opening`` or ``taking out``.
        at: (y, z) mm in the stroke frame where they meet, when known.
    """

    body: str
    tool: str
    phase: str
    at: tuple[float, float] | None = None

    def sentence(self) -> str:
        """``left wall meets the beam while clamping``."""
        while_ = {"swing": "as the leaf swings up"}.get(self.phase, f"while {self.phase}")
        return f"the {self.body} meets the {self.tool} {while_}"


@dataclass(frozen=True)
class Contact:
    """Where a swing is stopped: degrees, and by what."""

    angle: float
    obstacle: Obstacle


@dataclass(frozen=True)
class Slab:
    """An interval of the fold line in which a finger meets the same things.

    Attributes:
        low, high: mm along x.
        blocked: what keeps a finger from standing here at all.
        contact: what stops the swing at a finger here.
    """

    low: float
    high: float
    blocked: Obstacle | None
    contact: Contact | None

    def free(self, degrees: float) -> bool:
        """True when a finger here lets the swing reach ``degrees``."""
        return self.blocked is None and (self.contact is None or self.contact.angle >= degrees)


@dataclass(frozen=True, eq=False)
class _Shape:
    """A tool's outline drawn in by a hair, with what the contact search needs of it."""

    name: str
    outline: Array
    parts: tuple[str, ...]
    nose: frozenset[int]

    @cached_property
    def outlines(self) -> Outlines:
        return Outlines.of([self.outline])

    @property
    def ends(self) -> Array:
        return self.outlines.ends

    @cached_property
    def polygon(self) -> shapely.Polygon:
        polygon = shapely.Polygon(self.outline)
        shapely.prepare(polygon)
        return polygon

    @cached_property
    def without_nose(self) -> shapely.Polygon:
        """The outline with the rounded nose cut off straight, for the panel that lies on it."""
        inner = sorted(self.nose)[1:-1]
        polygon = shapely.Polygon([p for i, p in enumerate(self.outline) if i not in inner])
        shapely.prepare(polygon)
        return polygon

    @lru_cache(maxsize=64)  # noqa: B019 - shapes live in a bounded cache themselves
    def farthest(self, y: float, z: float) -> float:
        """Distance (mm) from a point to the farthest corner."""
        return _farthest(self.outline, np.array([y, z]))

    @cached_property
    def box(self) -> tuple[list[float], list[float]]:
        """Lower left and upper right corner of the outline's box, mm."""
        return self.outline.min(axis=0).tolist(), self.outline.max(axis=0).tolist()

    @cached_property
    def bare_sides(self) -> NDArray[np.bool_]:
        """(n,) True for sides that are not on the nose."""
        return np.array([part != "nose" for part in self.parts])

    @cached_property
    def bare_corners(self) -> NDArray[np.bool_]:
        """(n,) True for corners that are not on the nose."""
        return np.array([i not in self.nose for i in range(len(self.parts))])

    def said(self, part: str) -> str:
        """The tool and its side, as the shop says it."""
        if self.name != "finger":
            return self.name
        return {"clamp": "finger clamp", "nose": "finger nose", "face": "finger", "heel": "back of the finger"}.get(
            part, "finger"
        )


def _shape(profile: Profile, keep: float) -> _Shape:
    return _Shape(profile.name, drawn_in(profile.outline, TOUCH - keep), profile.parts, frozenset(profile.nose))


@lru_cache(maxsize=128)
def _shapes(brake: LeafBrake, bend: Bend, keep: float) -> tuple[Tools, dict[str, _Shape]]:
    """The tools set for a bend, grown by the clearance to keep."""
    tools = tools_for(brake, bend)
    return tools, {p.name: _shape(p, keep) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)}


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
        self.tools, self._still = _shapes(brake, setting.line.bend, 0.0)
        # What rests against what rests keeps no margin; what swings past it does.
        self._tool = _shapes(brake, setting.line.bend, keep)[1] if keep > 0 else self._still
        self._resting, self._swinging = setting.solids
        self._limit = math.radians(brake.greatest_angle)
        self._eased: dict[float, float] = {}

    # --- the swing ------------------------------------------------------------------------------------------

    def _meet(self, solids: Sequence[Solid], shadows: Sequence[Array], tool: _Shape) -> list[Contact | None]:
        """First contact of each swinging shadow with a resting tool."""
        if not shadows:
            return []
        moving = Outlines.of(shadows)
        sides = corners = None
        if tool.nose:
            # The panel that is folded is meant to lie on the nose.
            folded = moving.spread(np.array([solid.panel == self.setting.folding for solid in solids]))
            sides = ~folded[:, None] | tool.bare_sides
            corners = ~folded[None, :] | tool.bare_corners[:, None]
        touches = first_touches(moving, tool.outlines, self._limit, about=self.setting.pole, sides=sides, corners=corners)
        return [
            None if touch is None else _contact(touch, solid.name, tool.said(tool.parts[touch.index]))
            for solid, touch in zip(solids, touches, strict=True)
        ]

    def _leaf_meets_resting(self) -> Contact | None:
        """First contact of the rising leaf with something that rests."""
        leaf, hinge = self._still["leaf"], self.tools.hinge
        reach = leaf.farthest(*hinge.tolist())
        solids = [s for s in self._resting if s.panel != self.setting.clamped and _nearest(s.shadow, hinge) <= reach]
        if not solids:
            return None
        # Seen from the leaf, the part turns backwards about the hinge.
        parts = Outlines.of([solid.shadow for solid in solids])
        touches = first_touches(parts, leaf.outlines, self._limit, about=hinge, backwards=True)
        return _first(*(
            _contact(touch, solid.name, "leaf") for solid, touch in zip(solids, touches, strict=True) if touch is not None
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
        return _first(*(
            _contact(touch, solid.name, "leaf") for solid, touch in zip(solids, touches, strict=True) if touch is not None
        ))  # fmt: skip

    def _meet_each_other(self, one: Solid, other: Solid, best: float) -> Contact | None:
        """First contact, before ``best`` radians, of a swinging with a resting piece of the part.

        The shadows of a wide interval may meet where the pieces themselves do not, so the interval with the earliest
        contact is halved until it is narrow, or nothing changes along it: best first, the answer is the first that lasts.
        """
        low = max(one.x_range[0], other.x_range[0])
        high = min(one.x_range[1], other.x_range[1])
        pole = self.setting.pole
        if high - low < 1e-6 or _farthest(one.shadow, pole) < _nearest(other.shadow, pole) - self.keep:
            return None
        ticket = itertools.count()
        queue: list[tuple[float, int, float, float, Touch | None]] = [(0.0, next(ticket), low, high, None)]
        steady = one.uniform and other.uniform
        while queue:
            _, _, a, b, touch = heapq.heappop(queue)
            if touch is not None and (steady or b - a <= SLIVER):
                return _contact(touch, one.name, other.name)
            middle = (a + b) / 2
            for lo, hi in ((a, b),) if touch is None else ((a, middle), (middle, b)):
                found = self._within(one.clipped(lo, hi), other.clipped(lo, hi))
                if found is not None and found.angle < best:
                    heapq.heappush(queue, (found.angle, next(ticket), lo, hi, found))
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
        folding, clamped = self.setting.folding, self.setting.clamped
        every, others = self._swinging, [s for s in self._swinging if s.panel != folding]
        best = _first(
            *self._meet(every, [s.shadow for s in every], self._tool["beam"]),
            *self._meet(others, [s.shadow for s in others], self._tool["bed"]),
            self._leaf_meets_swinging(others),
            self._leaf_meets_resting(),
        )
        for solid in every:
            for other in self._resting:
                if not (solid.panel == folding and other.panel == clamped):
                    before = self._limit if best is None else math.radians(best.angle)
                    best = _first(best, self._meet_each_other(solid, other, before))
        return best

    # --- getting in, clamping, getting out ------------------------------------------------------------------------

    def ease(self, after: float) -> float:
        """How far (mm) the part is drawn to the operator before finger and beam rise, so that the fold leaves the nose."""
        if after not in self._eased:
            pole, angle = self.setting.pole, math.radians(after)
            back = max(float(turned(solid.shadow, pole, angle)[:, 0].max()) for solid in self._swinging)
            self._eased[after] = max(0.0, back - float(self.tools.nose[0])) + EASE
        return self._eased[after]

    def _barred(self, solid: Solid, points: Array, tool: _Shape, after: float) -> Obstacle | None:
        """What keeps the hull of points from passing a tool on its way in or, standing at ``after`` degrees, out.

        The part slides in under the raised tool from the front, the tool comes down; after the swing the part is drawn
        forward a little, the tool rises, and the part is taken out to the front. Sweeps of convex shadows along a line
        are hulls, so each answer is exact.
        """
        stood = turned(points, self.setting.pole, math.radians(after)) if solid in self._swinging else points
        ease = self.ease(after) if after > 0 else None
        found = _passing(points, stood, ease, self.tools.opening, tool, solid.panel == self.setting.folding)
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
            held = _barred_by_resting(solid, finger, ease, self.tools.opening)
            if held is not None:
                spans.append(held)
        for solid in self._swinging:

            def bars(a: float, b: float, solid: Solid = solid) -> Obstacle | None:
                points = solid.within(a, b)
                return self._barred(solid, points, finger, after) if len(points) >= 3 else None

            inside = _where(solid, lambda a, b, bars=bars: bars(a, b) is not None)  # type: ignore[misc]
            if inside is not None:
                spans.append(Slab(*inside, bars(*inside), None))
            else:
                free.append(solid)
        for solid, contact in zip(free, self._meet(free, [s.shadow for s in free], swing), strict=True):
            where: tuple[float, float] | None = solid.x_range
            if contact is not None and contact.angle < wanted:

                def early(a: float, b: float, solid: Solid = solid) -> bool:
                    shadow = solid.clipped(a, b)
                    met = self._meet([solid], [shadow], swing)[0] if len(shadow) >= 3 else None
                    return met is not None and met.angle < wanted

                where = _where(solid, early)
            if contact is not None and where is not None:
                spans.append(Slab(*where, None, contact))
        return _laid_over(spans, self.brake.bed_length)

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
        return _first(self.fixed_contact, *self._meet(solids, shadows, self._tool["finger"]))

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
            folded = solid.panel == self.setting.folding
            near: list[tuple[_Shape, Array]] = [(self._still["beam"], solid.shadow)]
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


def _swept(points: Array, path: Sequence[tuple[str, tuple[float, float]]], tool: _Shape, folded: bool) -> str | None:
    """Name of the first leg of a path on which the hull of points (n, 2) would strike a tool; None when all is clear."""
    low, high = tool.box
    (y0, z0), (y1, z1) = points.min(axis=0).tolist(), points.max(axis=0).tolist()
    y, z = path[0][1]
    for phase, (dy, dz) in path[1:]:
        # Most legs pass well below, in front of or behind the tool; only the rest is worth an exact look.
        if (
            max(z, z + dz) + z1 > low[1]
            and min(z, z + dz) + z0 < high[1]
            and max(y, y + dy) + y1 > low[0]
            and min(y, y + dy) + y0 < high[0]
        ):
            swept = np.concatenate([points + np.array([y, z]), points + np.array([y + dy, z + dz])])
            polygon = tool.without_nose if folded else tool.polygon
            if polygon.intersects(shapely.convex_hull(shapely.linestrings(swept))):
                return phase
        y, z = y + dy, z + dz
    return None


def _passing(points: Array, stood: Array, ease: float | None, opening: float, tool: _Shape, folded: bool) -> str | None:
    """Name of the movement, in or out, on which the hull of points strikes a tool; None when all are clear.

    Args:
        points: (n, 2) before the swing.
        stood: (n, 2) after it.
        ease: how far the part is drawn forward first, mm; None leaves the way out unasked.
        opening: how far the tool rises, mm.
        tool: the tool, clamp closed.
        folded: the points belong to the folded panel, which lies on the nose.
    """
    up, away = (0.0, -opening), (-AWAY, 0.0)
    found = _swept(points, (("", (0.0, 0.0)), ("clamping", up), ("sliding in", away)), tool, folded)
    if found is None and ease is not None:
        out = (("", (0.0, 0.0)), ("opening", (-ease, 0.0)), ("opening", up), ("taking out", away))
        found = _swept(stood, out, tool, folded)
    return found


@lru_cache(maxsize=8192)
def _barred_by_resting(solid: Solid, tool: _Shape, ease: float | None, opening: float) -> Slab | None:
    """Where a resting solid keeps a tool's section from standing, and on which movement; None when nowhere."""

    def bars(a: float, b: float) -> str | None:
        points = solid.within(a, b)
        return _passing(points, points, ease, opening, tool, folded=False) if len(points) >= 3 else None

    inside = _where(solid, lambda a, b: bars(a, b) is not None)
    phase = bars(*inside) if inside is not None else None
    return None if inside is None or phase is None else Slab(*inside, Obstacle(solid.name, tool.name, phase), None)


def _contact(touch: Touch, body: str, tool: str) -> Contact:
    return Contact(math.degrees(touch.angle), Obstacle(body, tool, "swing", touch.place))


def _farthest(outline: Array, point: Array) -> float:
    return float(np.hypot(outline[:, 0] - point[0], outline[:, 1] - point[1]).max())


def _nearest(outline: Array, point: Array) -> float:
    """Distance (mm) from a point to the sides of an outline."""
    along = np.roll(outline, -1, axis=0) - outline
    away = point - outline
    t = np.clip(np.einsum("ij,ij->i", away, along) / np.maximum(np.einsum("ij,ij->i", along, along), 1e-30), 0, 1)
    gap = away - t[:, None] * along
    return float(np.hypot(gap[:, 0], gap[:, 1]).min())


def _where(solid: Solid, bad: Callable[[float, float], bool]) -> tuple[float, float] | None:
    """The least interval that holds every x at which a clip of a solid is bad, to within ``FINEST``; None when none is.

    ``bad`` of a growing interval turns true once and stays so, hence halving finds both ends.
    """
    low, high = solid.x_range
    if not bad(low, high):
        return None
    if solid.uniform or (bad(low, low + FINEST) and bad(high - FINEST, high)):
        return low, high
    a, b = low, high
    while b - a > FINEST:
        middle = (a + b) / 2
        a, b = (a, middle) if bad(low, middle) else (middle, b)
    first, b = a, high
    while b - a > FINEST:
        middle = (a + b) / 2
        a, b = (middle, b) if bad(middle, high) else (a, middle)
    return first, b


def _laid_over(spans: list[Slab], bed: float) -> tuple[Slab, ...]:
    """Overlapping findings cut into intervals that follow one another over twice the bed."""
    cuts = sorted({-bed, bed, *(x for s in spans for x in (s.low, s.high) if -bed < x < bed)})
    found: list[Slab] = []
    for low, high in itertools.pairwise(cuts):
        if high - low <= 1e-6:
            continue
        over = [s for s in spans if s.low < high - 1e-7 and s.high > low + 1e-7]
        blocked = next((s.blocked for s in over if s.blocked is not None), None)
        contact = _first(*(s.contact for s in over))
        last = found[-1] if found else None
        if last and last.blocked == blocked and last.contact == contact:
            found[-1] = Slab(last.low, high, blocked, contact)
        else:
            found.append(Slab(low, high, blocked, contact))
    return tuple(found)


def _first(*contacts: Contact | None) -> Contact | None:
    found = [contact for contact in contacts if contact is not None]
    return min(found, key=lambda c: c.angle) if found else None


def free_intervals(slabs: Iterable[Slab], degrees: float) -> tuple[tuple[float, float], ...]:
    """Intervals (mm along x) in which fingers may stand for a swing to ``degrees``."""
    free: list[tuple[float, float]] = []
    for slab in slabs:
        if not slab.free(degrees):
            continue
        if free and abs(free[-1][1] - slab.low) < 1e-9:
            free[-1] = (free[-1][0], slab.high)
        else:
            free.append((slab.low, slab.high))
    return tuple(free)
