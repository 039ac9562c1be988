"""Pieces of a part one after another, so that the engine is asked once about all of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import NamedTuple, Self

import numpy as np

from .._typing import Array
from ..cache import cached
from ..kernel.back_end import geometry
from ..kernel.interval import Slab, where
from ..kernel.obstacle import AWAY, Obstacle, Phase, Way
from ..kernel.outline import ToolOutline
from ..kernel.solid import Beyond, Solid
from ..kernel.swept_prism import ON, Stood, swept


@dataclass(frozen=True, eq=False)
class Batch:
    """Pieces with the fold flat, and how each turns.

    Attributes:
        solids: the pieces, k of them.
        points: (n, 2) mm, points on (y, z) whose hulls are their shadows, piece after piece.
        rows: (k, r) float: how many points each has, and what its machine says of how it turns.
    """

    solids: tuple[Solid, ...]
    points: Array
    rows: Array

    @cached_property
    def lowest(self) -> float:
        """mm, how low any piece reaches with the fold flat."""
        return float(self.points[:, 1].min(initial=math.inf))

    @classmethod
    def of(cls, solids: Sequence[Solid], turns: Sequence[tuple[float, ...]]) -> Self:
        """Gather pieces; ``turns`` has as many numbers for each."""
        points = [
            solid.shadow if isinstance(solid, Beyond) else solid.corners[:, 1:] for solid in solids
        ]
        rows = np.array(
            [(len(some), *turn) for some, turn in zip(points, turns, strict=True)], dtype=float
        )
        return cls(tuple(solids), np.concatenate(points) if points else np.zeros((0, 2)), rows)


class NoseBatch(Batch):
    """Pieces about a resting nose. A row says besides: pole (y, z) mm, 1 where the piece swings, 1
    where it lies on the nose."""

    @classmethod
    def about(
        cls, resting: Sequence[Solid], swinging: Sequence[tuple[Solid, tuple[float, float], bool]]
    ) -> Self:
        """What rests, and what swings: about which pole, and whether it lies on the nose."""
        still = (0.0, 0.0, 0.0, 0.0)
        turns = [
            *(still for _ in resting),
            *((*pole, 1.0, float(folded)) for _, pole, folded in swinging),
        ]
        return cls.of([*resting, *(solid for solid, _, _ in swinging)], turns)

    @cached_property
    def _known(self) -> dict[float, Array]:
        return {}

    def tops(self, angle: float) -> Array:
        """(k, 3) mm: how far back and how high every piece reaches, and how low, with the fold at
        an angle, radians."""
        if angle not in self._known:
            self._known[angle] = geometry.reaches(self.points, self.rows, angle)
        return self._known[angle]

    def hanging(self, angle: float, below: float) -> list[int]:
        """Which pieces reach below a height, mm, with the fold at an angle, radians."""
        return [k for k, low in enumerate(self.tops(angle)[:, 2].tolist()) if low < below]


CLEAR = 1.0
"""mm by which a tool is raised more than the part is lifted under it, and a part more than what
hangs from it."""

SLACK = 0.2
"""mm a clamp is let off before the part is drawn off the nose: under the full clamp nothing can be
drawn. Common practice, no source."""

EASE = 0.5
"""Distance (mm) a part is drawn off the nose before the clamp rises, where there is room for it."""

CLOSE_EASE = 0.1
"""Least distance (mm) of the nose to what stands before it and of the heel to what stands behind
it, with the part drawn to the middle between them, where there is less room than that."""


Leg = tuple[Phase, tuple[float, float]]
"""A straight piece of a movement: when of the stroke it is, and how far it goes, (y, z) mm."""


class MovementPath(NamedTuple):
    """Where a movement begins, (y, z) mm, and its legs, which are counted from 1."""

    start: tuple[float, float]
    legs: tuple[Leg, ...]

    @property
    def steps(self) -> Array:
        """(n, 2) mm: the beginning and the legs."""
        return np.array([self.start, *(by for _, by in self.legs)])

    def phase(self, leg: int) -> Phase:
        return self.legs[leg - 1][0]


PASSED = (Phase.SLIDING_IN, Phase.TAKING_OUT)
"""Movements along the fold, past every section on the way."""


class TippedExit(NamedTuple):
    """How a part is tipped on its way out, its front up, so that what stands at its back leans back
    and passes under the tool.

    Attributes:
        angle: radians.
        about: (y, z) mm, the rear edge of its underside, as it lies clamped.
        forward: how far it is drawn to the front before that, mm.
    """

    angle: float
    about: tuple[float, float]
    forward: float

    def record(self) -> dict[str, object]:
        """As JSON, the angle in degrees."""
        return {
            "angle": math.degrees(self.angle),
            "about": list(self.about),
            "forward": self.forward,
        }


NOT_TIPPED = TippedExit(0.0, (0.0, 0.0), 0.0)


class PartMove(NamedTuple):
    """One piece of the way out of the brake, as it is seen: the tool rises, the part is moved, or
    it is tipped.

    Attributes:
        phase: opening or taking out.
        rises: how far what stands over the fold rises meanwhile, mm.
        by: (x, y, z) mm the part is moved; :data:`AWAY` along an axis means until it is out.
        tips: radians its front goes up.
        about: (y, z) mm where it is tipped about, as it lies in the tools.
    """

    phase: Phase
    rises: float = 0.0
    by: tuple[float, float, float] = (0.0, 0.0, 0.0)
    tips: float = 0.0
    about: tuple[float, float] = (0.0, 0.0)


class Movement(NamedTuple):
    """How the part gets in or out.

    Attributes:
        way: ``front``, ``lifted`` over the bed, ``tipped`` about its rear edge, or ``side``.
        opening: how far the tool rises, mm.
        ease: how far the part is drawn forward before that on its way out, mm; None on the way in.
        lift: how far the part is lifted over the bed, mm.
        tip: how it is tipped.
    """

    way: Way
    opening: float
    ease: float | None
    lift: float = 0.0
    tip: TippedExit = NOT_TIPPED

    @property
    def path(self) -> MovementPath:
        """Where the movement begins, and its legs: what each is called and how far the part moves
        past the tool, (y, z) mm.

        The part slides in under the raised tool from the front, and the tool comes down; after the
        swing the clamp is let off, the part is drawn forward a little, the tool rises, and the part
        is taken out to the front, lifted over the bed where something hangs behind it. Or it is
        slid in and out along the fold, past the open tool, which is looked at first: it concerns
        every section, not only those over the piece.
        """
        up, away, still, ease = (0.0, -self.opening), (-AWAY, 0.0), (0.0, 0.0), self.ease
        if self.way is Way.SIDE:
            if ease is None:
                return MovementPath(
                    up, ((Phase.SLIDING_IN, still), (Phase.CLAMPING, (0.0, self.opening)))
                )
            down, on = (0.0, self.opening - SLACK), (ease, 0.0)
            last = 0.0, SLACK
            back = (Phase.OPENING, down), (Phase.OPENING, on), (Phase.OPENING, last)
            return MovementPath((-ease, -self.opening), ((Phase.TAKING_OUT, still), *back))
        going: tuple[tuple[float, float], ...] = (away,)
        if self.way is Way.LIFTED:
            going = (0.0, self.lift), away
            if ease is not None:
                # What stands over the fold is raised no more than the lift asks for: a side may lie
                # over the beam.
                up = (0.0, -self.lift - CLEAR)
        elif self.way is Way.TIPPED:
            going = (-self.tip.forward, 0.0), still, away
        if ease is None:
            return MovementPath(
                still, ((Phase.CLAMPING, up), *((Phase.SLIDING_IN, leg) for leg in going))
            )
        let_go = (
            (Phase.OPENING, (0.0, -SLACK)),
            (Phase.OPENING, (-ease, 0.0)),
            (Phase.OPENING, (0.0, up[1] + SLACK)),
        )
        return MovementPath(still, (*let_go, *((Phase.TAKING_OUT, leg) for leg in going)))

    @property
    def moves(self) -> tuple[PartMove, ...]:
        """The way out as it is seen, in the order in which it is gone; the way in is the same
        backwards. What :attr:`path` tells of the part past the tool is the tool's own while it
        opens, and the part's while it is taken out."""
        if self.way is Way.SIDE:
            ease = self.ease or 0.0
            return (
                PartMove(Phase.OPENING, rises=SLACK),
                PartMove(Phase.OPENING, by=(0.0, -ease, 0.0)),
                PartMove(Phase.OPENING, rises=self.opening - SLACK),
                PartMove(Phase.TAKING_OUT, by=(AWAY, 0.0, 0.0)),
            )
        moves = []
        for phase, (y, z) in self.path.legs:
            if phase in (Phase.OPENING, Phase.CLAMPING):
                moves.append(PartMove(Phase.OPENING, rises=-z, by=(0.0, y, 0.0)))
            elif (y, z) == (0.0, 0.0):
                tip = self.tip
                moves.append(PartMove(Phase.TAKING_OUT, tips=tip.angle, about=tip.about))
            else:
                moves.append(PartMove(Phase.TAKING_OUT, by=(0.0, y, z)))
        return tuple(moves)


class Passage(NamedTuple):
    """A piece of the part on its way in or out.

    Attributes:
        movement: what the whole part does.
        pole: (y, z) mm, what a piece that swings turns about.
        angle: where it then stands, radians; 0 for what rests.
        folded: the piece belongs to the folded panel, which lies on the nose.
    """

    movement: Movement
    pole: tuple[float, float] = (0.0, 0.0)
    angle: float = 0.0
    folded: bool = False

    @property
    def path(self) -> MovementPath:
        """See :attr:`Movement.path`."""
        return self.movement.path


# Saves 2 % of planning.
@cached(1024)
def _steps(movement: Movement) -> Array:
    """(n, 2) mm: where the movement begins, and its legs."""
    return movement.path.steps


def steps_struck(batch: NoseBatch, tool: ToolOutline, path: Array, angle: float) -> Sequence[int]:
    """Number, from 1, of the line of a path on which every piece first strikes a tool, 0 where on
    none, the fold at an angle, radians; none lies on the nose.

    Args:
        batch: all pieces of the part.
        tool: the tool.
        path: where the movement begins and its legs.
        angle: radians by which the part is tipped.
    """
    outlines = tool.outline, tool.outline
    return geometry.legs(batch.points, batch.rows, angle, path, outlines, (0.0, (0.0, 0.0)))


def legs_of(batch: NoseBatch, tool: ToolOutline, movement: Movement, angle: float) -> Sequence[int]:
    """Number of the leg on which each piece strikes a tool, 0 where on none, the fold at an angle,
    radians.

    Args:
        batch: all pieces of the part.
        tool: the tool.
        movement: the way out.
        angle: radians by which the part is tipped.
    """
    return _legs(batch.points, batch.rows, angle, movement, tool)


def _legs(
    points: Array, rows: Array, angle: float, movement: Movement, tool: ToolOutline
) -> Sequence[int]:
    tip = movement.tip if movement.way is Way.TIPPED else NOT_TIPPED
    outlines = tool.outline, tool.bare.outline
    return geometry.legs(points, rows, angle, _steps(movement), outlines, (tip.angle, tip.about))


def struck(
    solid: Solid, clip: tuple[float, float] | None, tool: ToolOutline, passage: Passage
) -> Phase | None:
    """The movement on which a piece, or what of it lies in an interval of x, strikes a tool; None
    when all are clear.

    Args:
        solid: a convex piece of the part.
        clip: interval of x (mm) looked at; None is all of it.
        tool: the tool.
        passage: the way in or out.
    """
    leg = _leg(solid, clip, tool, passage)
    return None if leg is None else passage.path.phase(leg)


def _leg(
    solid: Solid, clip: tuple[float, float] | None, tool: ToolOutline, passage: Passage
) -> int | None:
    points = solid.within(*(clip or solid.x_range))
    if len(points) < 3:
        return None
    turns = passage.angle != 0
    row = np.array([[len(points), *passage.pole, float(turns), float(passage.folded)]])
    return _legs(points, row, passage.angle, passage.movement, tool)[0] or None


# Saves 5 to 9 % of planning, least where remedies are tried.
@cached(16384)
def barred_along(solid: Solid, tool: ToolOutline, passage: Passage, leg: int) -> Slab:
    """Where a piece that strikes a tool on a leg of its way keeps the tool's section from standing.

    That is where it strikes, or anywhere at all when the part is slid along past every section.

    Args:
        solid: a convex piece of the part.
        tool: the tool.
        passage: the way in or out.
        leg: number of the leg of the way, from 1.
    """
    phase, way = passage.path.phase(leg), passage.movement.way
    if way is Way.SIDE and phase in PASSED:
        inside = -AWAY, AWAY
    elif way is Way.TIPPED:
        inside = (
            where(solid, lambda a, b: _leg(solid, (a, b), tool, passage) is not None)
            or solid.x_range
        )
    else:
        inside = (
            solid.x_range
            if solid.uniform or isinstance(solid, Beyond)
            else _reach(solid, tool.bare if passage.folded else tool, passage, leg)
        )
    return Slab(*inside, Obstacle(solid.body, tool.name, phase), None)


def _reach(solid: Solid, tool: ToolOutline, passage: Passage, begin: int) -> tuple[float, float]:
    """Interval of x in which a piece strikes a tool on its movements from the ``begin``-th on; on
    those before it strikes nothing."""
    stood = Stood(solid, passage.pole, passage.angle)
    at, legs = passage.path
    low, high = solid.x_range
    first, last = high, low
    for number, (_, (y, z)) in enumerate(legs, start=1):
        # The part moves past the tool: seen from the part the tool goes the other way.
        by = (-at[0], -at[1])
        for room in swept(tool, (-y, -z)) if number >= begin else ():
            reached = room.reach(stood, by)
            if reached is not None:
                first, last = min(first, reached[0]), max(last, reached[1])
                if first <= low + ON and last >= high - ON:
                    return low, high
        at = at[0] + y, at[1] + z
    # What only touches may be struck for one and not for the other.
    return (first, last) if first <= last else (low, high)
