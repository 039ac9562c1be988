"""A piece of the part that comes up in a press: first contact with a tool that shifts as it does.

As on a leaf brake, what is asked of one piece depends on the piece, the tool and the turn, not on
the rest of the part, and answers are kept.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple, Self, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..._typing import Array
from ...kernel.advance import OutlineTurn, first_advances
from ...kernel.back_end import geometry
from ...kernel.contact import Touch
from ...kernel.interval import Slab, where, where_each
from ...kernel.obstacle import (
    AWAY,
    Clip,
    Contact,
    Obstacle,
    Phase,
    Way,
    may_meet,
    met,
    narrowed,
    ring_of,
    tool_ring,
)
from ...kernel.outline import ToolOutline
from ...kernel.plane import turned
from ...kernel.solid import Solid
from ..passage import Batch, PartMove

Some = TypeVar("Some", float, NDArray[np.float64])
"""One number or many."""


class PunchRise(NamedTuple):
    """How far the punch stands higher with each wing up by an angle: (BA/2)·tan(φ/2) on the inside
    of the arc; where the tip is rounder than the arc, it rides (ρ − r)(1/cos φ − 1) higher between
    the two faces (docs/theory.md).

    Attributes:
        half_allowance: BA/2, mm.
        radius: of the tip, mm.
        drop: pole height less thickness, mm; the arc's radius is (BA/2)·cot φ + drop.
    """

    half_allowance: float
    radius: float
    drop: float

    @property
    def terms(self) -> tuple[float, float, float, float, float]:
        """See :class:`Shift`."""
        return self.half_allowance, 0.0, self.radius, self.drop, 0.0

    def at(self, half: float) -> float:
        """mm at one angle, radians."""
        arc = self._arc(math.tan(max(half, 1e-9)))
        return self._over(
            math.tan(half / 2), min(max(self.radius - arc, 0.0), self.radius), math.cos(half)
        )

    def rise(self, half: Array) -> Array:
        """(k,) mm at angles (k,), radians."""
        arc = self._arc(np.tan(np.maximum(half, 1e-9)))
        return self._over(
            np.tan(half / 2), np.clip(self.radius - arc, 0.0, self.radius), np.cos(half)
        )

    def _arc(self, tangent: Some) -> Some:
        """Radius of the arc, mm."""
        return self.half_allowance / tangent + self.drop

    def _over(self, half_tangent: Some, rounder: Some, cosine: Some) -> Some:
        """mm, the tip rounder than the arc by ``rounder`` mm."""
        return self.half_allowance * half_tangent + rounder * (1 / cosine - 1)


class DieRise(NamedTuple):
    """How far the die's shoulders stand higher, seen from the pole.

    A shoulder at distance V/2 touches the wing's outer face, which keeps its distance from the
    pole: g = (V/2)·tan φ − h·(1/cos φ − 1). Derived in docs/theory.md.

    Attributes:
        shoulder: V/2, mm.
        pole: height of the pole above the outside face, mm.
    """

    shoulder: float
    pole: float

    @property
    def terms(self) -> tuple[float, float, float, float, float]:
        """See :class:`Shift`."""
        return 0.0, self.shoulder, 0.0, 0.0, self.pole

    def at(self, half: float) -> float:
        """mm at one angle, radians."""
        return self._higher(math.tan(half), math.cos(half))

    def rise(self, half: Array) -> Array:
        """(k,) mm at angles (k,), radians."""
        return self._higher(np.tan(half), np.cos(half))

    def _higher(self, tangent: Some, cosine: Some) -> Some:
        return self.shoulder * tangent - self.pole * (1 / cosine - 1)


Rise = PunchRise | DieRise


class PressSwing(NamedTuple):
    """A turn of one side of the sheet.

    Attributes:
        pole: (y, z) mm, what is turned about.
        sense: 1 for what comes up in front, −1 behind.
        offset: how far (mm) the pole lies behind the fold's own; see :class:`SwingTurn`.
        begin, limit: radians the side is up by.
    """

    pole: tuple[float, float]
    sense: float
    offset: float
    begin: float
    limit: float

    def stood(self, points: Array, half: float) -> Array:
        """(n, 2) mm, points given with the fold flat, when the side is up by ``half`` radians."""
        up = turned(points, np.array(self.pole), self.sense * half) if half else points
        return (
            up + self.offset * np.array([math.cos(half) - 1, math.sin(half)]) if self.offset else up
        )

    def stood_at(self, points: Array, halves: Array) -> Array:
        """(k, n, 2) mm, the same points at k places of the turn, radians (k,)."""
        c, s = np.cos(halves)[:, None], np.sin(halves)[:, None]
        (y, z), away = self.pole, points - np.array(self.pole)
        across, up = away[:, 0], away[:, 1]
        back, high = y + self.offset * (c - 1), z + self.offset * s
        return np.stack(
            [back + across * c + self.sense * up * s, high + up * c - self.sense * across * s],
            axis=2,
        )


def first_met(
    asked: Sequence[tuple[Solid, Clip, PressSwing]], tool: ToolOutline, rise: Rise
) -> list[Contact | None]:
    """First contact of each piece, or of what of it lies in its interval, with a tool that rises;
    degrees of the fold.

    Args:
        asked: the pieces of the part, with the intervals asked about.
        tool: the tool.
        rise: how the tool shifts as the part turns.
    """
    keys = [(solid, narrowed(solid, clip), tool, rise, swing) for solid, clip, swing in asked]
    return _look(keys) if keys else []


def _look(
    keys: Sequence[tuple[Solid, Clip, ToolOutline, Rise, PressSwing]],
) -> list[Contact | None]:
    _, _, tool, rise, first = keys[0]
    result: list[Contact | None] = [None] * len(keys)
    begin, limit = first.begin, first.limit
    low = rise.at(begin)
    high = max(abs(low), abs(rise.at(limit)))
    near: list[tuple[int, Array]] = []
    for k, (solid, clip, _, _, swing) in enumerate(keys):
        slack = high + 2 * abs(swing.offset) + 0.01
        # Directions are counted with the turn of what comes up in front; behind, only the distances
        # are of use.
        far = limit if swing.sense > 0 else 2 * math.pi
        if not may_meet(ring_of(solid, *swing.pole), tool_ring(tool, *swing.pole), slack, far):
            continue
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if len(shadow) < 3:
            continue
        stood = swing.stood(shadow, begin)
        if low:
            stood = stood - np.array([0.0, low])
        if tool.meets(stood):
            result[k] = _said(
                Touch(begin, (float(stood[0, 0]), float(stood[0, 1])), 0, False), solid, tool
            )
        else:
            near.append((k, shadow))
    if near:
        turns = [
            OutlineTurn(swing.pole, swing.sense, swing.offset)
            for swing in (keys[k][4] for k, _ in near)
        ]
        touches = first_advances(
            [shadow for _, shadow in near], turns, tool.outlines, rise, begin, limit
        )
        for (k, _), touch in zip(near, touches, strict=True):
            result[k] = None if touch is None else _said(touch, keys[k][0], tool)
    return result


def _said(touch: Touch, solid: Solid, tool: ToolOutline) -> Contact:
    contact = met(touch, solid.body, tool.name)
    return Contact(2 * contact.angle, contact.obstacle)


def met_along(
    asked: Sequence[tuple[Solid, PressSwing]], tool: ToolOutline, rise: Rise, wanted: float
) -> list[Slab]:
    """Where along the fold a tool is met by some pieces, and when; before ``wanted`` degrees only
    there, later over the whole piece.

    Args:
        asked: the pieces of the part, with the intervals asked about.
        tool: the tool.
        rise: how the tool shifts as the part turns.
        wanted: degrees up to which contacts count.
    """
    contacts = first_met([(solid, None, swing) for solid, swing in asked], tool, rise)
    met = [
        (solid, swing, contact)
        for (solid, swing), contact in zip(asked, contacts, strict=True)
        if contact is not None
    ]
    early = [(solid, swing) for solid, swing, contact in met if contact.angle < wanted]

    def bad(intervals: list[tuple[int, float, float]]) -> list[bool]:
        first = first_met(
            [(early[k][0], (low, high), early[k][1]) for k, low, high in intervals], tool, rise
        )
        return [contact is not None and contact.angle < wanted for contact in first]

    inside = iter(where_each([solid for solid, _ in early], bad))
    slabs: list[Slab] = []
    for solid, _, contact in met:
        over = next(inside) if contact.angle < wanted else solid.x_range
        if over is not None:
            slabs.append(Slab(*over, None, contact))
    return slabs


PHASES = {"in": (Phase.CLAMPING, Phase.SLIDING_IN), "out": (Phase.OPENING, Phase.TAKING_OUT)}
"""What closing or opening the press is called, and moving the part, on the way in and out."""

WAYS = (Way.FRONT, Way.LIFTED, Way.SIDE, Way.ALONG, Way.DRAWN)
"""How the part is taken in and out, by the numbers the kernel gives them."""

EASED = 1.0
"""mm the ram rises to let a part go that is slid off along the punch."""


class PressMovement(NamedTuple):
    """How the part gets in or out.

    Attributes:
        word: ``in`` or ``out``.
        way: ``front``, ``lifted``, ``side``, ``along`` or ``drawn``.
        half: radians each side is up by.
        middle: (y, z) mm, the fold's own pole, about which the part is tipped.
        opening: how far the ram rises, mm.
        punch, die: how far punch and die stand higher, seen from the pole, mm.
        lift: how far the part is lifted over the die, mm.
        forward: how far the part is drawn forward before it is tipped, mm.
    """

    word: str
    way: Way
    half: float
    middle: tuple[float, float]
    opening: float
    punch: float
    die: float
    lift: float
    forward: float = 0.0

    @property
    def moves(self) -> tuple[PartMove, ...]:
        """The way out as it is seen, in the order in which it is gone; the way in is the same
        backwards. What lies level behind is drawn out level: both sides are up by half before."""
        if self.way in (Way.SIDE, Way.ALONG):
            rises = self.opening if self.way is Way.SIDE else EASED
            return (
                PartMove(Phase.OPENING, rises=rises),
                *self._out_of_the_die,
                PartMove(Phase.TAKING_OUT, by=(AWAY, 0.0, 0.0)),
            )
        taken = (
            PartMove(Phase.TAKING_OUT, by=(0.0, -self.forward, 0.0)),
            PartMove(Phase.TAKING_OUT, tips=self.half, about=self.middle),
            PartMove(Phase.TAKING_OUT, by=(0.0, 0.0, self.lift)),
            PartMove(Phase.TAKING_OUT, by=(0.0, -AWAY, 0.0)),
        )
        still = PartMove(Phase.TAKING_OUT, about=self.middle)
        return (
            PartMove(Phase.OPENING, rises=self.opening),
            *self._out_of_the_die,
            *(move for move in taken if move._replace(about=self.middle) != still),
        )

    @property
    def _out_of_the_die(self) -> tuple[PartMove, ...]:
        """What has sunk into the V is lifted out of it first."""
        if self.die <= 0 or self.way is Way.ALONG:
            return ()
        return (PartMove(Phase.TAKING_OUT, by=(0.0, 0.0, self.die)),)

    def phase(self, struck: int) -> Phase:
        """What is struck on, as :func:`phases_of` counts: 1 for moving, 2 for closing or
        opening."""
        closing, moving = PHASES[self.word]
        return (moving, closing)[struck - 1]


class PressPassage(NamedTuple):
    """A piece of the part on its way in or out.

    Attributes:
        movement: what the whole part does.
        swing: how the piece's side turns.
        folded: the piece lies in the plane of the panels beside the fold, which are meant to lie in
            the tools.
    """

    movement: PressMovement
    swing: PressSwing
    folded: bool


class PressBatch(Batch):
    """Pieces between punch and die. A row says besides: sense, offset and pole (y, z) of
    :class:`PressSwing`, 1 where it is folded."""

    @classmethod
    def between(cls, pieces: Sequence[tuple[Solid, PressSwing, bool]]) -> Self:
        """Pieces, how each turns, and whether it is folded."""
        turns = [
            (swing.sense, swing.offset, *swing.pole, float(folded)) for _, swing, folded in pieces
        ]
        return cls.of([solid for solid, _, _ in pieces], turns)


def above(tool: ToolOutline) -> bool:
    """True for what rises with the ram."""
    return tool.name in ("punch", "ram")


def phases_of(
    batch: PressBatch,
    tools: Sequence[ToolOutline],
    movement: PressMovement,
) -> list[Sequence[int]]:
    """For each piece, what it strikes each tool on: 0 where on nothing, 1 on moving, 2 on closing
    or opening.

    Args:
        batch: all pieces of the part.
        tools: the tools.
        movement: the way out.
    """
    many = len(tools)
    m = movement
    sections = tuple((tool.outline, tool.bare.outline, above(tool)) for tool in tools)
    moves = m.opening, m.punch, m.die, m.lift, m.forward, EASED, AWAY
    result = geometry.passages(
        batch.points, batch.rows, sections, WAYS.index(m.way), (m.half, m.middle), moves
    )
    return [result[k : k + many] for k in range(0, len(result), many)]


def struck(
    solid: Solid, clip: tuple[float, float] | None, tool: ToolOutline, passage: PressPassage
) -> Phase | None:
    """The movement on which a piece, or what of it lies in an interval of x, strikes a tool; None
    when all is clear.

    Sliding along the press is looked at before closing: it concerns every section, not only those
    over the piece.

    Args:
        solid: a convex piece of the part.
        clip: interval of x (mm) looked at; None is all of it.
        tool: the tool.
        passage: the way in or out.
    """
    points = solid.within(*(clip or solid.x_range))
    if len(points) < 3:
        return None
    m, swing, folded = passage
    closing, moving = PHASES[m.word]
    met_on = geometry.passed(
        points,
        (tool.outline, tool.bare.outline if folded else tool.outline),
        (WAYS.index(m.way), above(tool), folded),
        (m.half, swing.sense, swing.offset),
        (swing.pole, m.middle),
        (m.opening, m.punch, m.die, m.lift, m.forward, EASED, AWAY),
    )
    return (None, moving, closing)[met_on]


def barred_along(solid: Solid, tool: ToolOutline, passage: PressPassage, phase: int) -> Slab:
    """Where a piece that strikes a tool, on what :func:`phases_of` says, keeps the tool's section
    from standing.

    Args:
        solid: a convex piece of the part.
        tool: the tool.
        passage: the way in or out.
        phase: what the piece strikes the tool on.
    """
    obstacle = Obstacle(solid.body, tool.name, passage.movement.phase(phase))
    if passage.movement.way in (Way.SIDE, Way.ALONG) and phase == 1:
        return Slab(-AWAY, AWAY, obstacle, None)
    inside = where(solid, lambda a, b: struck(solid, (a, b), tool, passage) is not None)
    return Slab(*(inside or solid.x_range), obstacle, None)
