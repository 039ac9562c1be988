"""The order of strokes: shortest path over the folds already made and the angles they stand at.

What a stroke can do depends on which folds stand and at what angle, not on the order they were made in. So the states are
those angles (and the block of fingers in the beam), every verdict is worked out once, and the search is complete: when it
finds nothing, no order of whole strokes works on this brake.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Callable
from dataclasses import dataclass

from ..blank import Blank, MadeBy
from ..brake import LeafBrake
from ..metal import Springback, overbend
from .fingers import Demand, Width, demand, fit, joint
from .obstacle import Contact, Obstacle
from .pose import Setting, wander
from .slab import Slab, free_intervals
from .stroke import Stroke

HAND_LIMIT = 15.0
"""Degrees a fold may be brought round by hand on thin sheet. Common practice, no source."""

HAND_THICKNESS = 1.3
"""Thickest mild steel (mm) that is brought round by hand; other metals by √ of strength. Common practice, no source."""


HEM_STROKE, HEM_LEAST = 135.0, 105.0
"""Degrees a hem is folded to before it is flattened (common practice, no source), and the least from which it still goes over
when it is pressed rather than buckling: an assumption."""


@dataclass(frozen=True)
class Costs:
    """What an order costs; only their proportions matter."""

    new_fingers: float = 10.0
    end_for_end: float = 1.0
    quarter_turn: float = 1.5
    swing_heavier: float = 3.0
    by_hand: float = 4.0
    per_hand_degree: float = 0.5


@dataclass(frozen=True, eq=False)
class Verdict:
    """What one stroke comes to.

    Attributes:
        stroke: the stroke judged.
        springback: the estimate for it.
        target: degrees wanted after release.
        wanted: degrees at the stop: target and springback.
        reach: degrees it gets to, at most ``wanted``; 0 when it cannot be made.
        limit: what keeps it below ``wanted``.
        blocked: why it cannot be made at all.
        demand: what it asks of the fingers.
        slabs: where fingers may stand.
    """

    stroke: Stroke
    springback: Springback
    target: float
    wanted: float
    reach: float
    limit: Contact | None
    blocked: str | None
    demand: Demand | None
    slabs: tuple[Slab, ...]

    @property
    def released(self) -> float:
        """Degrees the fold stands at after release."""
        return max(0.0, min(self.target, self.reach - self.springback.angle))

    @property
    def flattens(self) -> bool:
        """True for a hem: folded far over, then flattened."""
        return self.stroke.setting.line.made_by is MadeBy.HEM

    @property
    def stands(self) -> float:
        """Degrees the fold stands at when the next stroke begins: a hem is flattened at once."""
        return abs(self.stroke.setting.line.angle) if self.flattens else self.released

    @property
    def by_hand(self) -> float:
        """Degrees left to bring round by hand."""
        return 0.0 if self.flattens else self.target - self.released

    @property
    def free(self) -> tuple[tuple[float, float], ...]:
        """Intervals (mm) where fingers may stand at the reach."""
        return free_intervals(self.slabs, self.reach)


def hand_thickness(blank: Blank) -> float:
    """Thickest sheet (mm) of this metal that is brought round by hand."""
    return blank.sheet.allowed_by(HAND_THICKNESS)


def closes(blank: Blank, fold: int, angles: tuple[float, ...]) -> bool:
    """True when a neighbour of this fold on the same panel already stands."""
    line = blank.folds[fold]
    return any(
        i != fold and other.parent == line.parent and abs(angles[i]) > 45 and abs(other.outward @ line.outward) < 0.5
        for i, other in enumerate(blank.folds)
    )


def judge(blank: Blank, brake: LeafBrake, setting: Setting, measured: float | None = None) -> Verdict:
    """Judge one stroke: reach, limit, free intervals, demand on the fingers."""
    line = setting.line
    hem = line.made_by is MadeBy.HEM
    target = min(HEM_STROKE, brake.greatest_angle) if hem else abs(line.angle)
    closing = any(closes(blank, fold, setting.angles) for fold in setting.folds)
    back = overbend(blank.sheet, target, line.bend.radius, closing=closing, measured=measured)
    wanted = min(target + back.angle, brake.greatest_angle) if hem else target + back.angle
    spare = wander(line.bend, wanted)
    stroke = Stroke(setting, brake, spare)

    def no(why: str, limit: Contact | None = None, slabs: tuple[Slab, ...] = ()) -> Verdict:
        return Verdict(stroke, back, target, wanted, 0.0, limit, why, None, slabs)

    standing = [f for f, a in zip(blank.folds, setting.angles, strict=True) if a and f.made_by is MadeBy.BRAKE]
    if hem and standing:
        return no(f"a hem is flattened while the sheet is flat, and the {standing[0].name} stands")
    low, high = setting.x_range
    if high - low > brake.bed_length:
        return no(f"the part is {high - low:.0f} mm along the bed and the bed is {brake.bed_length:.0f} mm long")
    fixed = stroke.fixed_contact
    reach, limit = wanted, None
    stop = Contact(brake.greatest_angle, Obstacle("leaf", "its stop", "swing"))
    for contact in (fixed, stop):
        if contact is not None and contact.angle < reach:
            reach, limit = contact.angle, contact
    settled = _settle(stroke, reach, lambda angle: max(0.0, min(target, angle - back.angle)))
    if isinstance(settled, _Refusal):
        return no(settled.why, settled.limit, settled.slabs)
    need, at, what, slabs = settled
    if at < reach:
        reach, limit = at, what
    return Verdict(stroke, back, target, wanted, reach, limit, None, need, slabs)


WAY_IN = ("sliding in", "clamping")
"""Phases before the swing: what fails there fails whatever the angle."""


@dataclass(frozen=True)
class _Refusal:
    """Why no fingers and no reach go together; ``final`` when no smaller angle could help: it does not even go in."""

    why: str
    limit: Contact | None = None
    slabs: tuple[Slab, ...] = ()
    final: bool = False


_Settled = tuple[Demand, float, Contact | None, tuple[Slab, ...]]


def _settle(stroke: Stroke, reach: float, released: Callable[[float], float]) -> _Settled | _Refusal:
    """The farthest angle that fingers allow, with the part going in, and out again as it then stands.

    Fingers may stop the swing, a swing that stops earlier leaves the part at another angle, and that changes how it comes
    out: so the angle is lowered until all three agree.
    """
    first = _held(stroke, reach, released(reach))
    if first.final if isinstance(first, _Refusal) else first[1] >= reach:
        return first
    if not isinstance(first, _Refusal) and all(s.blocked is None or s.blocked.phase in WAY_IN for s in first[3]):
        at, limit = first[1], first[2]
    else:
        # The way out at an angle it may never stand at is in the way: find the reach by the way in and the swing alone.
        swung = _held(stroke, reach, 0.0)
        if isinstance(swung, _Refusal):
            return swung
        at, limit = swung[1], swung[2]
    for _ in range(8):
        found = _held(stroke, at, released(at))
        if isinstance(found, _Refusal):
            return found
        if found[1] >= at:
            return found[0], at, limit, found[3]
        at, limit = found[1], found[2]
    return _Refusal("no angle was found at which the part can be bent and taken out")


def _held(stroke: Stroke, reach: float, after: float) -> _Settled | _Refusal:
    """Fingers for a swing to ``reach``, the part being taken out at ``after`` degrees (0: not asked)."""
    barred = stroke.barred(after)
    if barred is not None:
        return _Refusal(barred.sentence(), Contact(0.0, barred), final=barred.phase in WAY_IN)
    slabs = stroke.slabs(after, reach)
    found = _supported(stroke.setting, stroke.brake, slabs, reach)
    if isinstance(found, str):
        inside = _first_inside(slabs, stroke.setting.span)
        low, high = stroke.setting.span
        final = all(s.blocked.phase in WAY_IN for s in slabs if s.blocked is not None and s.low < high and s.high > low)
        return _Refusal(f"{found}: {inside.sentence()}" if inside else found, None, slabs, final)
    return *found, slabs


def _first_inside(slabs: tuple[Slab, ...], span: tuple[float, float]) -> Obstacle | None:
    return next((s.blocked for s in slabs if s.blocked and min(s.high, span[1]) - max(s.low, span[0]) > 1e-6), None)


def _supported(
    setting: Setting, brake: LeafBrake, slabs: tuple[Slab, ...], reach: float
) -> tuple[Demand, float, Contact | None] | str:
    """The farthest angle at which fingers can stand over the fold, and what they then must be."""
    early = {s.contact.angle: s.contact for s in slabs if s.contact is not None and s.contact.angle < reach}
    why = ""
    for step in (None, *(early[angle] for angle in sorted(early, reverse=True))):
        at = reach if step is None else step.angle
        need = demand(setting.span, free_intervals(slabs, at), brake)
        if isinstance(need, Demand):
            return need, at, step
        why = need
    return why


@dataclass(frozen=True)
class Route:
    """A way through: the verdicts in order, and for each the width of the block it shares.

    Attributes:
        verdicts: in the order they are made.
        setup: index of the block of fingers each stroke uses.
        widths: what each block must serve.
        cost: by the search's costs.
    """

    verdicts: tuple[Verdict, ...]
    setup: tuple[int, ...]
    widths: tuple[Width, ...]
    cost: float


@dataclass(frozen=True)
class Failure:
    """The farthest any order came.

    Attributes:
        made: names of the folds that stand.
        verdicts: what each remaining stroke came to there, the nearest to working first.
    """

    made: tuple[str, ...]
    verdicts: tuple[Verdict, ...]


@dataclass(frozen=True)
class _State:
    """Angles of all folds, the last one made, and what the block of fingers in the beam must serve."""

    angles: tuple[float, ...]
    last: int
    width: Width | None

    @property
    def made(self) -> int:
        return sum(angle != 0 for angle in self.angles)


_Path = tuple[tuple[Verdict, int, Width], ...]


class Search:
    """Complete search for the cheapest order of whole strokes.

    Args:
        blank: the part.
        brake: the machine.
        measured: measured springback, degrees at 90°.
        costs: what an order costs.
        cancelled: asked now and then; True stops the search with :class:`Cancelled`.
    """

    def __init__(
        self,
        blank: Blank,
        brake: LeafBrake,
        measured: float | None = None,
        costs: Costs | None = None,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> None:
        self.blank, self.brake, self.measured = blank, brake, measured
        self.costs = costs or Costs()
        self.cancelled = cancelled
        self._known: dict[tuple[int, bool, tuple[float, ...]], Verdict] = {}

    @property
    def strokes(self) -> tuple[int, ...]:
        """Indices of the folds the brake makes."""
        return tuple(i for i, f in enumerate(self.blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM))

    def _next(self, angles: tuple[float, ...]) -> tuple[int, ...]:
        """Folds that may be made now: hems while any is left, since none is flattened once a fold stands; everything else after."""
        left = tuple(i for i in self.strokes if angles[i] == 0)
        return tuple(i for i in left if self.blank.folds[i].made_by is MadeBy.HEM) or left

    @property
    def judged(self) -> int:
        """Strokes judged so far."""
        return len(self._known)

    def verdict(self, fold: int, clamps_parent: bool, angles: tuple[float, ...]) -> Verdict:
        """The verdict of one stroke, worked out once."""
        key = (fold, clamps_parent, angles)
        if key not in self._known:
            if self.cancelled():
                raise Cancelled
            setting = Setting(self.blank, fold, clamps_parent, angles)
            self._known[key] = judge(self.blank, self.brake, setting, self.measured)
        return self._known[key]

    def usable(self, verdict: Verdict) -> bool:
        """True when the stroke leaves a fold that is right, or can be put right by hand."""
        if verdict.blocked is not None or verdict.demand is None:
            return False
        if verdict.flattens:
            if verdict.released < HEM_LEAST:
                return False
        elif verdict.by_hand > 1e-6 and (verdict.by_hand > HAND_LIMIT or self.blank.thickness > hand_thickness(self.blank)):
            return False
        return fit(verdict.demand.width, self.brake) is not None

    def _handling(self, setting: Setting, last: int) -> float:
        """Cost of turning the sheet and of what swings; known before the stroke is judged."""
        cost = 0.0
        if last >= 0:
            facing = float(self.blank.folds[last].outward @ setting.line.outward)
            cost += 0.0 if facing > 0.5 else self.costs.end_for_end if facing < -0.5 else self.costs.quarter_turn
        if _area(self.blank, setting.swinging) > _area(self.blank, frozenset(range(len(self.blank.panels)))) / 2:
            cost += self.costs.swing_heavier
        return cost

    def best(self) -> Route | Failure:
        """The cheapest order, or how far any order came.

        Uniform-cost search: every cost is at least zero, so the first time all folds stand is the cheapest. A stroke waits in
        the queue at the cost of its handling and is judged only when nothing cheaper is left to look at.
        """
        to_make = self.strokes
        ticket = itertools.count()
        # What a tool of its own makes is made first, while the sheet is flat; what the hand makes comes last.
        start = _State(tuple(f.angle if f.made_by is MadeBy.TOOL else 0.0 for f in self.blank.folds), -1, None)
        queue: list[tuple[float, int, _State, _Path, tuple[int, bool] | None]] = [(0.0, next(ticket), start, (), None)]
        done: set[_State] = set()
        farthest = start.angles
        while queue:
            cost, _, state, path, stroke = heapq.heappop(queue)
            if stroke is not None:
                grown = self._made(state, path, *stroke)
                if grown is not None:
                    heapq.heappush(queue, (cost + grown[0], next(ticket), grown[1], grown[2], None))
                continue
            if state in done:
                continue
            done.add(state)
            if state.made > sum(a != 0 for a in farthest):
                farthest = state.angles
            if all(state.angles[i] for i in to_make):
                return self._route(path, cost)
            for fold, clamps_parent in itertools.product(self._next(state.angles), (True, False)):
                if state.angles[fold] == 0:
                    setting = Setting(self.blank, fold, clamps_parent, state.angles)
                    if setting.folds[0] != fold:
                        continue  # made with the first fold on its line
                    step = self._handling(setting, state.last)
                    heapq.heappush(queue, (cost + step, next(ticket), state, path, (fold, clamps_parent)))
        return self._failure(farthest)

    def _made(self, state: _State, path: _Path, fold: int, clamps_parent: bool) -> tuple[float, _State, _Path] | None:
        """Judge a stroke: what it costs beyond its handling, and the state it leads to; None when it is of no use."""
        verdict = self.verdict(fold, clamps_parent, state.angles)
        if not self.usable(verdict) or verdict.demand is None:
            return None
        cost = 0.0
        if verdict.by_hand > 1e-6:
            cost += self.costs.by_hand + self.costs.per_hand_degree * verdict.by_hand
        setup = path[-1][1] if path else 0
        width = verdict.demand.width
        shared = joint(state.width, width) if state.width is not None else width
        if shared is None or fit(shared, self.brake) is None:
            shared, setup, cost = width, setup + 1, cost + self.costs.new_fingers
        shared = (round(shared[0], 6), round(shared[1], 6), round(shared[2], 6))
        after = tuple(round(a, 9) for a in verdict.stroke.setting.after(verdict.stands))
        return cost, _State(after, fold, shared), (*path, (verdict, setup, shared))

    def _route(self, path: _Path, cost: float) -> Route:
        widths: list[Width] = []
        for _, setup, width in path:
            # A block must serve its last stroke's joint demand, which holds all before it.
            if setup == len(widths):
                widths.append(width)
            widths[setup] = width
        return Route(tuple(v for v, _, _ in path), tuple(s for _, s, _ in path), tuple(widths), cost)

    def _failure(self, angles: tuple[float, ...]) -> Failure:
        left = [i for i in self.strokes if angles[i] == 0]
        first = [i for i in left if Setting(self.blank, i, True, angles).folds[0] == i]
        verdicts = [self.verdict(i, clamps, angles) for i in first for clamps in (True, False)]
        verdicts.sort(key=lambda v: (not v.stroke.setting.clamps_parent, -v.reach, v.stroke.setting.fold))
        made = tuple(self.blank.folds[i].name for i in self.strokes if angles[i] != 0)
        return Failure(made, tuple(verdicts))


class Cancelled(Exception):  # noqa: N818 - not an error, an answer
    """The search was called off."""


def _area(blank: Blank, panels: frozenset[int]) -> float:
    total = 0.0
    for i in panels:
        p = blank.panels[i].polygon
        q = p[(*range(1, len(p)), 0), :]
        total += abs(float((p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]).sum())) / 2
    return total if math.isfinite(total) else 0.0
