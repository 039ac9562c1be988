"""Getting in, being clamped, getting out of a press.

The ram rises straight. The part is lifted off the V, drawn forward as it stands where that is the way (``drawn``), tipped until its
back side lies level, lifted over the die where that is the way, and drawn out to the front; or it is slid out along the press as it
stands, with the ram up (``side``) or only just let go (``along``). In is the same backwards.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple, Self

import numpy as np
import shapely
from numpy.typing import NDArray

from ...geometry.clip import AWAY
from ...geometry.contact import first_touches, hull, turned
from ...geometry.interval import Slab, where
from ...geometry.native import exact
from ...geometry.obstacle import Obstacle, Phase
from ...geometry.outline import ToolOutline
from ...geometry.solid import Solid
from ...memory import kept
from ..batch import Batch
from .swing import PressSwing

Array = NDArray[np.float64]

PHASES = {"in": (Phase.CLAMPING, Phase.SLIDING_IN), "out": (Phase.OPENING, Phase.TAKING_OUT)}
"""What closing or opening the press is called, and moving the part, on the way in and out."""

WAYS = ("front", "lifted", "side", "along", "drawn")
"""How the part is taken in and out, as the compiled engine counts them."""

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
    way: str
    half: float
    middle: tuple[float, float]
    opening: float
    punch: float
    die: float
    lift: float
    forward: float = 0.0

    def phase(self, struck: int) -> Phase:
        """What is struck on, as :func:`phases_of` counts: 1 for moving, 2 for closing or opening."""
        closing, moving = PHASES[self.word]
        return (moving, closing)[struck - 1]


class PressPassage(NamedTuple):
    """A piece of the part on its way in or out.

    Attributes:
        movement: what the whole part does.
        swing: how the piece's side turns.
        folded: the piece lies in the plane of the panels beside the fold, which are meant to lie in the tools.
    """

    movement: PressMovement
    swing: PressSwing
    folded: bool


class PressBatch(Batch):
    """Pieces between punch and die. A row says besides: sense, offset and pole (y, z) of :class:`PressSwing`, 1 where it is folded."""

    @classmethod
    def between(cls, pieces: Sequence[tuple[Solid, PressSwing, bool]]) -> Self:
        """Pieces, how each turns, and whether it is folded."""
        turns = [(swing.sense, swing.offset, *swing.pole, float(folded)) for _, swing, folded in pieces]
        return cls.of([solid for solid, _, _ in pieces], turns)


def above(tool: ToolOutline) -> bool:
    """True for what rises with the ram."""
    return tool.name in ("punch", "ram")


def phases_of(
    pieces: Sequence[tuple[Solid, PressSwing, bool]], batch: PressBatch, tools: Sequence[ToolOutline], movement: PressMovement
) -> list[Sequence[int]]:
    """For each piece, what it strikes each tool on: 0 where on nothing, 1 on moving, 2 on closing or opening."""
    many = len(tools)
    if exact is not None:
        m = movement
        sections = tuple((tool.outline, tool.bare.outline, above(tool)) for tool in tools)
        moves = m.opening, m.punch, m.die, m.lift, m.forward, EASED, AWAY
        said = exact.passages(batch.points, batch.rows, sections, WAYS.index(m.way), m.half, m.middle, moves)
        return [said[k : k + many] for k in range(0, len(said), many)]
    numbers: dict[Phase | None, int] = {None: 0, PHASES[movement.word][1]: 1, PHASES[movement.word][0]: 2}
    return [
        [numbers[struck(solid, None, tool, PressPassage(movement, swing, folded))] for tool in tools]
        for solid, swing, folded in pieces
    ]


@kept(32768)
def struck(solid: Solid, clip: tuple[float, float] | None, tool: ToolOutline, passage: PressPassage) -> Phase | None:
    """The movement on which a piece, or what of it lies in an interval of x, strikes a tool; None when all is clear.

    Sliding along the press is looked at before closing: it concerns every section, not only those over the piece.
    """
    points = solid.within(*(clip or solid.x_range))
    if len(points) < 3:
        return None
    (move, swing, folded), up = passage, above(tool)
    closing, moving = PHASES[move.word]
    if exact is not None:
        return (None, moving, closing)[_passed(points, tool, passage)]
    stood = swing.stood(points, move.half)
    if folded and not up:
        return None
    if move.way == "along":
        # Slid along the punch, which only just lets go.
        at = stood - np.array([0.0, move.punch + EASED if up else move.die])
        return moving if _strikes(at, np.zeros(2), tool, folded and up) else None
    raised = np.array([0.0, -move.opening]) if up else np.zeros(2)
    out = stood + raised
    if move.way == "side" and _strikes(out, np.zeros(2), tool):
        return moving
    if up:
        # Seen from the part, which sinks into the V with the die, the ram goes higher than its opening and back.
        rise = np.array([0.0, move.punch - move.opening - max(move.die, 0.0)])
        if _strikes(stood - np.array([0.0, move.punch]), rise, tool, folded):
            return closing
    else:
        sunk = np.array([0.0, move.die])
        if _strikes(stood - sunk, sunk, tool):
            return closing
    return moving if move.way != "side" and _taken_out(out, raised, tool, move) else None


def _passed(points: Array, tool: ToolOutline, passage: PressPassage) -> int:
    """The same, compiled: 0 for clear, 1 on moving, 2 on closing."""
    m, swing, folded = passage
    way = WAYS.index(m.way), above(tool), folded
    moves = m.opening, m.punch, m.die, m.lift, m.forward, EASED, AWAY
    bare = tool.bare.outline if folded else tool.outline
    return exact.passed(points, tool.outline, bare, way, (m.half, swing.sense, swing.offset), swing.pole, m.middle, moves)


def _taken_out(out: Array, raised: Array, tool: ToolOutline, move: PressMovement) -> bool:
    """True when points (n, 2), the ram up, strike a tool as the part is drawn forward, tipped level, lifted and drawn out to the front."""
    about = np.array(move.middle) + raised
    if move.way == "drawn":
        forward = np.array([-move.forward, 0.0])
        if _strikes(out, forward, tool):
            return True
        out, about = out + forward, about + forward
    if move.half > 0:
        if tool.polygon.intersects(shapely.convex_hull(shapely.linestrings(out))):
            return True
        if float(np.hypot(*(out - about).T).max()) > tool.distance(*about.tolist()):
            touch = first_touches([hull(out)], tool.outlines, move.half, about=about)[0]
            if touch is not None:
                return True
        out = turned(out, about, move.half)
    if move.way == "lifted":
        lift = np.array([0.0, move.lift])
        if _strikes(out, lift, tool):
            return True
        out = out + lift
    return _strikes(out, np.array([-AWAY, 0.0]), tool)


def _strikes(points: Array, move: Array, tool: ToolOutline, folded: bool = False) -> bool:
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


@kept(16384)
def barred_along(solid: Solid, tool: ToolOutline, passage: PressPassage, phase: int) -> Slab:
    """Where a piece that strikes a tool, on what :func:`phases_of` says, keeps the tool's section from standing."""
    obstacle = Obstacle(solid.body, tool.name, passage.movement.phase(phase))
    if passage.movement.way in ("side", "along") and phase == 1:
        return Slab(-AWAY, AWAY, obstacle, None)
    inside = where(solid, lambda a, b: struck(solid, (a, b), tool, passage) is not None)
    return Slab(*(inside or solid.x_range), obstacle, None)
