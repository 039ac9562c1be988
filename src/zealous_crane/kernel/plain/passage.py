"""Pieces of the part on their way past tools: one piece, or all of a part in one question."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np
import shapely

from ..._typing import Array
from ..geometry import Moves, NoseTip, Place, PressTurn, PressWay
from ..plane import turned
from .plane import distance, hull, polygon_of, touches

MOVING, CLOSING = 1, 2
"""What a piece strikes a tool on in a press."""

LIFTED, SIDE, ALONG, DRAWN = 1, 2, 3, 4
"""Ways in and out of a press but straight from the front, by their numbers."""


def _strikes(points: Array, move: Array, outline: Array) -> bool:
    """True when the hull of points (n, 2), moved along a straight line, strikes an outline."""
    low, high = outline.min(axis=0), outline.max(axis=0)
    first, last = points.min(axis=0), points.max(axis=0)
    # Most pass well below, in front of or behind it; only the rest is worth an exact look.
    if (
        last[1] + max(move[1], 0) <= low[1]
        or first[1] + min(move[1], 0) >= high[1]
        or last[0] + max(move[0], 0) <= low[0]
        or first[0] + min(move[0], 0) >= high[0]
    ):
        return False
    swept = shapely.convex_hull(shapely.linestrings(np.concatenate([points, points + move])))
    return bool(polygon_of(outline).intersects(swept))


def _turn_strikes(points: Array, about: Array, angle: float, outline: Array) -> bool:
    """True when the hull of points (n, 2), turned about a place, strikes an outline on the way."""
    far = float(np.hypot(*(points - about).T).max())
    place = (float(about[0]), float(about[1]))
    if far <= distance(outline, place):
        return False
    centre = about.reshape(1, 2)
    return (
        touches([hull(points)], outline, angle, (centre, centre), (False, True), (None, None))[0]
        is not None
    )


def leg(points: Array, path: Array, outline: Array) -> int:
    """See :meth:`Geometry.leg`."""
    at, *steps = path
    for number, step in enumerate(steps, start=1):
        if _strikes(points + at, step, outline):
            return number
        at = at + step
    return 0


def _stood(points: Array, rows: Array, angle: float) -> Iterator[Array]:
    """(n_k, 2) mm, the points of each piece with the fold at an angle, radians."""
    first = 0
    for count, y, z, swings, _ in rows.tolist():
        piece = points[first : first + int(count)]
        yield turned(piece, np.array([y, z]), angle) if swings and angle else piece
        first += int(count)


def legs(
    points: Array,
    rows: Array,
    angle: float,
    path: Array,
    tool: tuple[Array, Array],
    tip: NoseTip,
) -> Sequence[int]:
    """See :meth:`Geometry.legs`."""
    outline, bare = tool
    result: list[int] = []
    for piece, row in zip(_stood(points, rows, angle), rows, strict=True):
        nose = bare if row[4] else outline
        if len(piece) < 3:
            result.append(0)
        elif tip[0]:
            result.append(_tipped(piece, path, outline, nose, tip))
        else:
            result.append(leg(piece, path, nose))
    return result


def _tipped(points: Array, path: Array, outline: Array, nose: Array, by: NoseTip) -> int:
    """Number of the leg on which points (n, 2) strike a tool when the part is tipped: straight to
    where it is turned, turned, and off."""
    last = len(path) - 1
    before = leg(points, path[:-2], nose)
    if before:
        return before
    moved = path[:-2].sum(axis=0)
    stood, about = points + moved, np.array(by[1]) + moved
    if _turn_strikes(stood, about, by[0], outline):
        return last - 1
    off = np.stack([np.zeros(2), path[-1]])
    return last if leg(turned(stood, about, by[0]), off, outline) else 0


def reaches(points: Array, rows: Array, angle: float) -> Array:
    """See :meth:`Geometry.reaches`."""
    result = np.empty((len(rows), 3))
    for k, piece in enumerate(_stood(points, rows, angle)):
        result[k, :2], result[k, 2] = piece.max(axis=0), piece[:, 1].min()
    return result


def passed(
    points: Array,
    tool: tuple[Array, Array],
    way: PressWay,
    turn: PressTurn,
    poles: tuple[Place, Place],
    moves: Moves,
) -> int:
    """See :meth:`Geometry.passed`."""
    (outline, bare), (kind, up, folded), (half, sense, offset) = tool, way, turn
    opening, punch, die, lift, forward, eased, away = moves
    if folded and not up:
        return 0
    stood = turned(points, np.array(poles[0]), sense * half) if half else points
    if offset:
        stood = stood + offset * np.array([math.cos(half) - 1, math.sin(half)])
    still, nose = np.zeros(2), bare if folded and up else outline
    if kind == ALONG:
        # Slid along the punch, which only just lets go.
        at = stood - np.array([0.0, punch + eased if up else die])
        return MOVING if _strikes(at, still, nose) else 0
    raised = np.array([0.0, -opening]) if up else still
    out = stood + raised
    if kind == SIDE and _strikes(out, still, outline):
        return MOVING
    # Seen from the part, which sinks into the V with the die, the ram goes higher than its opening
    # and back.
    sunk = np.array([0.0, punch if up else die])
    rise = np.array([0.0, punch - opening - max(die, 0.0) if up else die])
    if _strikes(stood - sunk, rise, nose):
        return CLOSING
    if kind == SIDE:
        return 0
    about = np.array(poles[1]) + raised
    drawn = forward if kind == DRAWN else 0.0
    lifted = lift if kind == LIFTED else 0.0
    return MOVING if _taken_out(out, about, half, (drawn, lifted, away), outline) else 0


def _taken_out(
    out: Array, about: Array, half: float, moves: tuple[float, float, float], outline: Array
) -> bool:
    """True when points (n, 2), the ram up, strike a tool as the part is drawn forward, tipped
    level, lifted and drawn out to the front."""
    drawn, lifted, away = moves
    if drawn:
        forward = np.array([-drawn, 0.0])
        if _strikes(out, forward, outline):
            return True
        out, about = out + forward, about + forward
    if half > 0:
        if _strikes(out, np.zeros(2), outline) or _turn_strikes(out, about, half, outline):
            return True
        out = turned(out, about, half)
    if lifted:
        lift = np.array([0.0, lifted])
        if _strikes(out, lift, outline):
            return True
        out = out + lift
    return _strikes(out, np.array([-away, 0.0]), outline)


def passages(
    points: Array,
    rows: Array,
    tools: tuple[tuple[Array, Array, bool], ...],
    way: int,
    tipped: NoseTip,
    moves: Moves,
) -> Sequence[int]:
    """See :meth:`Geometry.passages`."""
    result: list[int] = []
    (half, middle), first = tipped, 0
    for count, sense, offset, y, z, folded in rows.tolist():
        piece = points[first : first + int(count)]
        first += int(count)
        for outline, bare, up in tools:
            kind, turn = (way, up, bool(folded)), (half, sense, offset)
            result.append(
                passed(piece, (outline, bare), kind, turn, ((y, z), middle), moves)
                if len(piece) >= 3
                else 0
            )
    return result
