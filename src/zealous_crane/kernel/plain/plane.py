"""Outlines that turn in the plane: where they first meet, and how near they come."""

from __future__ import annotations

import itertools
import math

import numpy as np
import shapely

from ..._typing import Array
from ...cache import cached
from ..geometry import Counted, Found, Place
from ..plane import Mask, Outlines, following, from_segments, turned

_TURN = 2 * math.pi


def hit_angles(  # noqa: PLR0913 - a broad question, asked from two places here
    corners: Array,
    centres: Array,
    starts: Array,
    ends: Array,
    limit: float,
    *,
    backwards: bool = False,
    allowed: Mask | None = None,
) -> Array:
    """Angle at which each corner first meets each side while the corners turn about their centres.

    Args:
        corners: (n, 2) float, mm, corners at angle 0.
        centres: (n, 2) or (2,) float, mm, what each turns about.
        starts, ends: (m, 2) float, mm, ends of the resting sides.
        limit: largest angle looked at, radians.
        backwards: turn the other way.
        allowed: (n, m) bool, pairs that count; None counts all.

    Returns:
        (n, m) float, radians from 0 to ``limit``; inf where they do not meet.
    """
    result = np.full((len(corners), len(starts)), math.inf)
    centres = np.broadcast_to(centres, corners.shape)
    arm = corners - centres
    along = ends - starts
    # |start + t·along − centre|² = radius²  →  a t² + 2 b t + c = 0
    offset = starts[None, :, :] - centres[:, None, :]
    a = along[:, 0] ** 2 + along[:, 1] ** 2
    b = offset[..., 0] * along[:, 0] + offset[..., 1] * along[:, 1]
    c = offset[..., 0] ** 2 + offset[..., 1] ** 2 - (arm[:, 0] ** 2 + arm[:, 1] ** 2)[:, None]
    disc = b * b - a * c
    possible = disc >= 0
    if allowed is not None:
        possible &= allowed
    i, j = np.nonzero(possible)
    if len(i) == 0:
        return result
    aj, bj, root = a[j], b[i, j], np.sqrt(disc[i, j])
    t = np.concatenate([(-bj - root) / aj, (-bj + root) / aj])
    # A corner that passes exactly through the end of a side belongs to both sides there.
    on = np.nonzero((t >= -1e-12) & (t <= 1 + 1e-12))[0]
    if len(on) == 0:
        return result
    t, i, j = t[on], np.concatenate([i, i])[on], np.concatenate([j, j])[on]
    met = offset[i, j] + t[:, None] * along[j]
    arm = arm[i]
    # Angle from arm to met, by cross and dot product; turning is clockwise unless backwards.
    cross = arm[:, 0] * met[:, 1] - arm[:, 1] * met[:, 0]
    turn = (
        np.arctan2(cross if backwards else -cross, arm[:, 0] * met[:, 0] + arm[:, 1] * met[:, 1])
        % _TURN
    )
    # Rounding may put a contact at the very start just below a whole turn.
    turn[turn > _TURN - 1e-12] = 0.0
    turn[turn > limit] = math.inf
    np.minimum.at(result, (i, j), turn)
    return result


def apart(
    corners: Array,
    pole: Place,
    sides: Array,
    limit: float,
    backwards: bool,
    counted: Counted,
) -> float:
    """See :meth:`Geometry.apart`.

    Exact when nothing is hit on the way: on the way round, the distance from a circle to a side is
    least at the ends of the turn, across from the side's line, or nearest to one of its ends.
    """
    starts, ends = sides, following(sides)
    if counted[0] is not None:
        corners = corners[np.frombuffer(counted[0], dtype=bool)]
    if counted[1] is not None:
        which = np.frombuffer(counted[1], dtype=bool)
        starts, ends = starts[which], ends[which]
    if len(corners) == 0 or len(starts) == 0:
        return math.inf
    centres = np.broadcast_to(pole, corners.shape)
    arm = corners - centres
    radius = np.hypot(arm[:, 0], arm[:, 1])
    begin = np.arctan2(arm[:, 1], arm[:, 0])
    along = ends - starts
    length = np.hypot(along[:, 0], along[:, 1])
    unit = along / length[:, None]
    normal = np.arctan2(unit[:, 0], -unit[:, 1])
    shape = (len(corners), len(starts))
    to_start = starts[None] - centres[:, None]
    to_end = ends[None] - centres[:, None]
    directions = [
        np.broadcast_to(normal, shape),
        np.broadcast_to(normal + math.pi, shape),
        np.arctan2(to_start[..., 1], to_start[..., 0]),
        np.arctan2(to_end[..., 1], to_end[..., 0]),
    ]
    sense = 1.0 if backwards else -1.0
    turns = [np.zeros(shape), np.full(shape, limit)]
    for direction in directions:
        turned = (sense * (direction - begin[:, None])) % _TURN
        # Directions outside the turn are replaced by its end, which is looked at anyway.
        turns.append(np.where(turned <= limit, turned, limit))
    angle = begin[None, :, None] + sense * np.stack(turns)
    point = centres[:, None] + radius[:, None, None] * np.stack(
        [np.cos(angle), np.sin(angle)], axis=-1
    )
    return float(from_segments(point, starts, ends).min())


def hull(points: Array) -> Array:
    """See :meth:`Geometry.hull`."""
    ordered = sorted(set(map(tuple, np.round(points, 9).tolist())))
    if len(ordered) < 3:
        return np.array(ordered).reshape(-1, 2)
    chains: list[list[tuple[float, float]]] = []
    for sequence in (ordered, ordered[::-1]):
        chain: list[tuple[float, float]] = []
        for p in sequence:
            while len(chain) >= 2:
                (ax, ay), (bx, by) = chain[-2], chain[-1]
                if (bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 1e-12:
                    break
                chain.pop()
            chain.append(p)
        chains.append(chain[:-1])
    return np.array(chains[0] + chains[1])


@cached(512)
def _polygon(outline: bytes) -> shapely.Polygon:
    polygon = shapely.Polygon(np.frombuffer(outline).reshape(-1, 2))
    shapely.prepare(polygon)
    return polygon


def polygon_of(outline: Array) -> shapely.Polygon:
    """An outline (n, 2) as the library knows it, prepared to be asked often."""
    return _polygon(np.ascontiguousarray(outline, dtype=float).tobytes())


def meets(convex: Array, outline: Array) -> bool:
    """See :meth:`Geometry.meets`."""
    return bool(polygon_of(outline).intersects(shapely.Polygon(convex)))


def distance(outline: Array, point: Place) -> float:
    """See :meth:`Geometry.distance`."""
    return float(polygon_of(outline).distance(shapely.Point(*point)))


def ring(outline: Array, pole: Place, below: float) -> tuple[float, float, float, float]:
    """See :meth:`Geometry.ring`."""
    arm = outline - np.array(pole)
    far = float(np.hypot(arm[:, 0], arm[:, 1]).max())
    turn = (np.arctan2(arm[:, 1], -arm[:, 0]) + below) % _TURN
    return distance(outline, pole), far, float(turn.min()), float(turn.max())


def touches(
    outlines: list[Array],
    resting: Array,
    limit: float,
    about: tuple[Array, Array],
    backwards: tuple[bool, bool],
    counted: Counted,
) -> list[Found | None]:
    """See :meth:`Geometry.touches`."""
    moving = Outlines.of(outlines)
    allowed = counts = None
    if counted[0] is not None:
        which = np.frombuffer(counted[0], dtype=bool)
        allowed = np.broadcast_to(which, (len(moving.corners), len(which)))
    if counted[1] is not None:
        which = np.frombuffer(counted[1], dtype=bool)
        counts = np.broadcast_to(which[:, None], (len(which), len(moving.corners)))
    ahead = hit_angles(
        moving.corners,
        about[0],
        resting,
        following(resting),
        limit,
        backwards=backwards[0],
        allowed=allowed,
    )
    back = hit_angles(
        resting,
        about[1],
        moving.corners,
        moving.ends,
        limit,
        backwards=backwards[1],
        allowed=counts,
    ).T
    best_ahead, best_back = ahead.min(axis=1), back.min(axis=1)
    bounds = [*moving.first.tolist(), len(moving.corners)]
    result: list[Found | None] = []
    for a, b in itertools.pairwise(bounds):
        i, j = a + int(best_ahead[a:b].argmin()), a + int(best_back[a:b].argmin())
        angle = min(best_ahead[i], best_back[j])
        if not math.isfinite(angle):
            result.append(None)
        elif best_back[j] < best_ahead[i]:
            k = int(back[j].argmin())
            result.append((float(angle), (float(resting[k, 0]), float(resting[k, 1])), k, True))
        else:
            k = int(ahead[i].argmin())
            centre = np.broadcast_to(about[0], moving.corners.shape)[i]
            place = turned(moving.corners[i : i + 1], centre, -angle if backwards[0] else angle)[0]
            result.append((float(angle), (float(place[0]), float(place[1])), k, False))
    return result
