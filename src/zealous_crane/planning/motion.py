"""How a part is made, from flat to finished, as a movement: brought in, clamped, bent, let go,
taken out, turned to the next bend. What moves how far is the engine's own way in and out."""

from __future__ import annotations

import itertools
import math
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cached_property

import numpy as np
from scipy.spatial.transform import Rotation

from .._typing import Array
from ..bending.passage import PartMove
from ..bending.setting import Setting
from ..flat.folding import IDENTITY, Pose
from ..kernel.obstacle import AWAY, Phase
from ..kernel.solid import Solid
from .plan import HandStep, Intervals, Plan, PlannedStroke


class Handling(StrEnum):
    """What is done with the part."""

    BY_HAND = "by hand"
    CHANGE = "change"
    TURN = "turn"
    BRING_IN = "bring in"
    CLAMP = "clamp"
    BEND = "bend"
    LET_GO = "let go"
    TAKE_OUT = "take out"
    FLATTEN = "flatten"


SECONDS = {
    Handling.BY_HAND: 1.5,
    Handling.CHANGE: 1.2,
    Handling.TURN: 1.4,
    Handling.BRING_IN: 0.9,
    Handling.CLAMP: 0.4,
    Handling.FLATTEN: 0.6,
    Handling.LET_GO: 0.6,
    Handling.TAKE_OUT: 0.9,
}
"""How long each takes in the film; nobody works that fast."""

DEGREES_A_SECOND = 60.0
"""How fast the film bends."""

AT_THE_STOP = 0.8
"""Seconds the film rests at the stop, so that it can be read."""

OUT = 40.0
"""mm of air between a part that is out and the nose of the tools."""


@dataclass(frozen=True, eq=False)
class Moment:
    """Where everything stands at one moment.

    Attributes:
        stroke: in whose frame it is said.
        degrees: the angle its fold stands at.
        machine: the angle the leaf stands at, degrees; on a press the fold's own.
        raised: how far what stands over the fold is raised from where it clamps, mm.
        at: where the part is, from where it lies in the tools.
        sections, die_sections: intervals of x (mm) in which pieces of the tools stand.
    """

    stroke: PlannedStroke
    degrees: float
    machine: float
    raised: float
    at: Pose
    sections: Intervals
    die_sections: Intervals


@dataclass(frozen=True, eq=False)
class MotionSpan:
    """A piece of the movement that runs evenly.

    Attributes:
        kind: what is done.
        seconds: how long it takes in the film.
        begin, end: where everything stands before and after.
        centre: (3,) mm, what of the part, as it stands at the beginning, goes straight while the
            part turns about it.
        hop: how far that is lifted half way, mm.
        hand: what is done by hand.
    """

    kind: Handling
    seconds: float
    begin: Moment
    end: Moment
    centre: Array
    hop: float = 0.0
    hand: HandStep | None = None

    def moment(self, share: float) -> Moment:
        """Where everything stands when so much of it (0 to 1) is done."""
        one, other = self.begin, self.end

        def between(a: float, b: float) -> float:
            return a + (b - a) * share

        # What stands over the fold is exchanged half way.
        sections = one if share < 0.5 else other
        return replace(
            other,
            degrees=between(one.degrees, other.degrees),
            machine=between(one.machine, other.machine),
            raised=between(one.raised, other.raised),
            at=self._at(share),
            sections=sections.sections,
            die_sections=sections.die_sections,
        )

    @cached_property
    def _motion(self) -> tuple[Array, Array]:
        """The turn from beginning to end as a vector along its axis, radians, and how far the
        centre goes, mm."""
        motion = self.end.at @ self.begin.at.inverse
        turn: Array = Rotation.from_matrix(motion.turn).as_rotvec()
        return turn, motion.apply(self.centre[None])[0] - self.centre

    def _at(self, share: float) -> Pose:
        if self.begin.at is self.end.at:
            return self.end.at
        axis, by = self._motion
        turn: Array = Rotation.from_rotvec(axis * share).as_matrix()
        to = self.centre + by * share + (0.0, 0.0, self.hop * math.sin(math.pi * share))
        return Pose(turn, to - turn @ self.centre) @ self.begin.at


def _about(y: float, z: float, angle: float) -> Pose:
    """A turn about a line along x that lifts what lies before it, radians."""
    c, s = math.cos(angle), math.sin(angle)
    turn = np.array([[1.0, 0.0, 0.0], [0.0, c, s], [0.0, -s, c]])
    pole = np.array([0.0, y, z])
    return Pose(turn, pole - turn @ pole)


def _moved(x: float, y: float, z: float) -> Pose:
    return Pose(np.eye(3), np.array([x, y, z]))


def panel_at(stroke: PlannedStroke, panel: int, degrees: float) -> Pose:
    """Where a panel lies in the tools, from flat coordinates, when the fold of a stroke stands at
    an angle.

    Args:
        stroke: the stroke.
        panel: index of the panel.
        degrees: the angle its fold stands at.
    """
    engine = stroke.verdict.stroke
    setting: Setting = engine.setting
    y, z = setting.pole.tolist()
    at = setting.poses[panel]
    if panel in setting.swinging:
        at = _about(y + setting.offsets[panel], z, math.radians(degrees)) @ at
    back = -math.radians(degrees) * (1.0 - engine.in_front)
    return _about(y, z, back) @ at if back else at


BESIDE = 40.0
"""mm of the machine shown beside the part at either end."""


def bed_shown(strokes: Sequence[PlannedStroke]) -> tuple[float, float]:
    """What of the machine is shown beside some strokes, from and to, mm along the bed."""
    ranges = [stroke.verdict.stroke.setting.x_range for stroke in strokes]
    ranges += [(a, b) for stroke in strokes for a, b in stroke.sections]
    return min(a for a, _ in ranges) - BESIDE, max(b for _, b in ranges) + BESIDE


def corners_of(stroke: PlannedStroke, degrees: float) -> Array:
    """Corners (n, 3) mm of the part in the tools, the fold of a stroke at an angle.

    Args:
        stroke: the stroke.
        degrees: the angle its fold stands at.
    """
    return np.concatenate([corners for _, _, corners in solids_at(stroke, degrees)])


def solids_at(stroke: PlannedStroke, degrees: float) -> Iterator[tuple[bool, Solid, Array]]:
    """The pieces of the part in the tools, the fold of a stroke at an angle: whether each swings,
    the piece with the fold flat, and its corners (n, 3) mm as it stands.

    Args:
        stroke: the stroke.
        degrees: the angle its fold stands at.
    """
    engine = stroke.verdict.stroke
    y, z = engine.setting.pole.tolist()
    back = _about(y, z, -math.radians(degrees) * (1.0 - engine.in_front))
    for swings, solids in zip((False, True), engine.setting.solids, strict=True):
        for solid in solids:
            # A second line of the stroke turns about its own pole.
            swing = _about(y + engine.setting.offset(solid), z, math.radians(degrees) * swings)
            yield swings, solid, (back @ swing).apply(solid.corners)


class JobMotion:
    """The movement of a whole job.

    Args:
        plan: one whose strokes are known.

    Attributes:
        spans: its pieces, one after the other.
    """

    def __init__(self, plan: Plan) -> None:
        self._plan = plan
        self.spans: tuple[MotionSpan, ...] = tuple(self._all())
        ends = list(itertools.accumulate(span.seconds for span in self.spans))
        self._begins = [0.0, *ends[:-1]]
        self.seconds = ends[-1] if ends else 0.0

    def begin_of(self, number: int) -> float:
        """Seconds at which the work on a stroke begins: its change of tools, or its turn."""
        return next(
            (
                begin
                for begin, span in zip(self._begins, self.spans, strict=True)
                if span.end.stroke.number == number and span.hand is None
            ),
            0.0,
        )

    def stop_of(self, number: int) -> float:
        """Seconds at which a stroke has reached its stop."""
        return next(
            begin + span.seconds
            for begin, span in zip(self._begins, self.spans, strict=True)
            if span.end.stroke.number == number and span.kind is Handling.BEND
        )

    def index_at(self, seconds: float) -> int:
        """Index of the piece that runs at a time."""
        return max(0, bisect_right(self._begins, seconds) - 1)

    def moment(self, seconds: float) -> Moment:
        """Where everything stands at a time."""
        index = self.index_at(seconds)
        span = self.spans[index]
        return span.moment(min(1.0, (seconds - self._begins[index]) / span.seconds))

    def phases(self, number: int) -> tuple[tuple[Handling, float, float], ...]:
        """What is done for a stroke, in order, with the seconds at which each begins and ends."""
        runs: list[tuple[Handling, float, float]] = []
        for begin, span in zip(self._begins, self.spans, strict=True):
            if span.end.stroke.number != number:
                continue
            end = begin + span.seconds
            if runs and runs[-1][0] is span.kind:
                runs[-1] = (span.kind, runs[-1][1], end)
            else:
                runs.append((span.kind, begin, end))
        return tuple(runs)

    # --- how it is made up -----------------------------------------------------------------------

    def _all(self) -> Iterator[MotionSpan]:
        last: Moment | None = None
        for stroke in self._plan.strokes:
            way_in = self._way(stroke, 0.0)
            first = way_in[-1].end if way_in else _resting(stroke)
            if last is not None:
                yield from self._hand(last, stroke.number - 1)
                yield from self._over(last, first)
            else:
                yield from self._hand(first, 0)
            for span in reversed(way_in):
                yield replace(
                    span,
                    kind=Handling.BRING_IN if span.kind is Handling.TAKE_OUT else Handling.CLAMP,
                    begin=span.end,
                    end=span.begin,
                    centre=_after(span),
                )
            yield from self._stroke(stroke)
            out = self._way(stroke, stroke.verdict.released)
            yield from out
            last = out[-1].end if out else clamped(stroke, stroke.verdict.released)
            if stroke.verdict.flattens:
                flat = replace(last, degrees=stroke.verdict.stands)
                seconds = SECONDS[Handling.FLATTEN]
                yield MotionSpan(Handling.FLATTEN, seconds, last, flat, np.zeros(3))
                last = flat
        if last is not None:
            yield from self._hand(last, len(self._plan.strokes))

    def _hand(self, moment: Moment, after: int) -> Iterator[MotionSpan]:
        for step in self._plan.hand:
            if step.after == after:
                seconds = SECONDS[Handling.BY_HAND]
                yield MotionSpan(Handling.BY_HAND, seconds, moment, moment, np.zeros(3), hand=step)

    def _over(self, last: Moment, first: Moment) -> Iterator[MotionSpan]:
        """The part turned from the frame of one stroke to that of the next, the tools changed
        before."""
        one, other = last.stroke, first.stroke
        # What is clamped next lies in the tools of both strokes.
        panel = other.verdict.stroke.setting.clamped
        start = other.verdict.stroke.setting.start
        carried = panel_at(one, panel, one.verdict.stands) @ panel_at(other, panel, start).inverse
        begin = replace(
            first, at=last.at @ carried, sections=last.sections, die_sections=last.die_sections
        )
        if one.setup != other.setup:
            changed = replace(begin, sections=first.sections, die_sections=first.die_sections)
            seconds = SECONDS[Handling.CHANGE]
            yield MotionSpan(Handling.CHANGE, seconds, begin, changed, np.zeros(3))
            begin = changed
        corners = begin.at.apply(corners_of(other, start))
        low, high = corners.min(axis=0), corners.max(axis=0)
        motion = first.at @ begin.at.inverse
        turn = float(np.linalg.norm(Rotation.from_matrix(motion.turn).as_rotvec()))
        if turn < 1e-3 and float(np.linalg.norm(motion.shift)) < 1.0:
            return
        # Turned over, it is lifted by half of what goes down.
        hop = (1.0 - motion.turn[2, 2]) / 4 * float(high[1] - low[1])
        seconds = SECONDS[Handling.TURN] if turn > 1e-3 else SECONDS[Handling.CLAMP]
        yield MotionSpan(Handling.TURN, seconds, begin, first, (low + high) / 2, hop)

    def _stroke(self, stroke: PlannedStroke) -> Iterator[MotionSpan]:
        rest, verdict = _resting(stroke), stroke.verdict
        stop = replace(rest, degrees=verdict.reach, machine=verdict.reach)
        seconds = max(0.2, (verdict.reach - rest.degrees) / DEGREES_A_SECOND)
        yield MotionSpan(Handling.BEND, seconds, rest, stop, np.zeros(3))
        yield MotionSpan(Handling.BEND, AT_THE_STOP, stop, stop, np.zeros(3))
        released = _machine_at_rest(stroke, replace(stop, degrees=verdict.released))
        seconds = SECONDS[Handling.LET_GO]
        yield MotionSpan(Handling.LET_GO, seconds, stop, released, np.zeros(3))

    def _way(self, stroke: PlannedStroke, after: float) -> list[MotionSpan]:
        """The way out of a stroke, the fold at an angle; at 0, of the way in."""
        engine = stroke.verdict.stroke
        now = _machine_at_rest(
            stroke, replace(_resting(stroke), degrees=after or engine.setting.start)
        )
        corners = corners_of(stroke, now.degrees)
        moves = engine.way_out(after, stroke.verdict.way)
        spans: list[MotionSpan] = []
        for move in moves:
            opening = move.phase is Phase.OPENING
            kind = Handling.LET_GO if opening else Handling.TAKE_OUT
            end, centre = _moved_by(move, now, corners)
            share = 0.4 if opening or abs(max(move.by, key=abs)) < AWAY else 1.0
            seconds = SECONDS[kind] * share
            spans.append(MotionSpan(kind, seconds, now, end, centre))
            now = end
        return spans


def clamped(stroke: PlannedStroke, degrees: float) -> Moment:
    """The part clamped, and bent to an angle.

    Args:
        stroke: the stroke.
        degrees: the angle its fold stands at.
    """
    return Moment(stroke, degrees, degrees, 0.0, IDENTITY, stroke.sections, stroke.die_sections)


def _resting(stroke: PlannedStroke) -> Moment:
    """The part clamped, before the stroke."""
    return clamped(stroke, stroke.verdict.stroke.setting.start)


def _machine_at_rest(stroke: PlannedStroke, moment: Moment) -> Moment:
    """The leaf down; a press stands as the part does."""
    whole = stroke.verdict.stroke.in_front == 1.0
    return replace(moment, machine=0.0 if whole else moment.degrees)


def _after(span: MotionSpan) -> Array:
    """Where the centre of a piece of movement is at its end."""
    place: Array = (span.end.at @ span.begin.at.inverse).apply(span.centre[None])[0]
    return place


def _moved_by(move: PartMove, now: Moment, corners: Array) -> tuple[Moment, Array]:
    """Where everything stands after a move, and what the part turns about meanwhile."""
    raised = now.raised + move.rises
    if move.tips:
        # Where it is tipped about has come along with the part so far.
        place = now.at.apply(np.array([[0.0, *move.about]]))[0]
        turn = _about(float(place[1]), float(place[2]), move.tips)
        return replace(now, raised=raised, at=turn @ now.at), place
    x, y, z = move.by
    at = now.at.apply(corners)
    if abs(x) >= AWAY:
        ends = [b for _, b in now.sections] + [float(at[:, 0].max())]
        x = max(ends) - float(at[:, 0].min()) + OUT
    if abs(y) >= AWAY:
        y = -(float(at[:, 1].max()) + OUT)
    return replace(now, raised=raised, at=_moved(x, y, z) @ now.at), np.zeros(3)
