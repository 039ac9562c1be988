"""Exact contact of turning outlines: closed form, no steps.

Everything here happens in one plane. A *turn* by φ carries a point clockwise about a centre (the leaf lifts
metal from −y towards +z). The first contact of two disjoint outlines is always a corner of one on a side of
the other, and every corner runs on a circle, so the contact angle is the least root of circle–segment
intersections. The vectorised functions are the primitives; shapes are given in each docstring.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Mask = NDArray[np.bool_]

TOUCH = 1e-3
"""Tools are drawn in by this much (mm) before contact is sought, so that lying against a face is not meeting it."""

_TURN = 2 * math.pi


@dataclass(frozen=True)
class Hit:
    """A first contact.

    Attributes:
        angle: radians turned.
        corner: index of the corner that touches.
        side: index of the side it touches.
    """

    angle: float
    corner: int
    side: int


def first_hit(
    corners: Array, centres: Array, starts: Array, ends: Array, limit: float, *, backwards: bool = False,
    allowed: Mask | None = None,
) -> Hit | None:
    """The first corner to touch a side while corners turn about their centres.

    Args:
        corners: (n, 2) float, mm, corners at angle 0.
        centres: (n, 2) or (2,) float, mm, what each turns about.
        starts, ends: (m, 2) float, mm, ends of the resting sides.
        limit: largest angle looked at, radians.
        backwards: turn the other way.
        allowed: (n, m) bool, pairs that count; None counts all.

    Returns:
        The least hit with 0 ≤ angle ≤ limit, or None.
    """
    if len(corners) == 0 or len(starts) == 0:
        return None
    centres = np.broadcast_to(centres, corners.shape)
    arm = corners - centres
    radius2 = np.einsum("ij,ij->i", arm, arm)
    along = ends - starts
    # |start + t·along − centre|² = radius²  →  a t² + 2 b t + c = 0
    offset = starts[None, :, :] - centres[:, None, :]
    a = np.einsum("ij,ij->i", along, along)[None, :]
    b = np.einsum("nmj,mj->nm", offset, along)
    c = np.einsum("nmj,nmj->nm", offset, offset) - radius2[:, None]
    disc = b * b - a * c
    possible = disc >= 0
    if allowed is not None:
        possible &= allowed
    if not possible.any():
        return None
    i, j = np.nonzero(possible)
    aj, bj = a[0, j], b[i, j]
    root = np.sqrt(disc[i, j])
    t = np.concatenate([(-bj - root) / aj, (-bj + root) / aj])
    i2, j2 = np.concatenate([i, i]), np.concatenate([j, j])
    # A corner that passes exactly through the end of a side belongs to both sides there.
    on = (t >= -1e-12) & (t <= 1 + 1e-12)
    if not on.any():
        return None
    t, i2, j2 = t[on], i2[on], j2[on]
    met = starts[j2] + t[:, None] * along[j2] - centres[i2]
    begin = np.arctan2(arm[i2, 1], arm[i2, 0])
    end = np.arctan2(met[:, 1], met[:, 0])
    turned = (end - begin) % _TURN if backwards else (begin - end) % _TURN
    # Rounding may put a contact at the very start just below a whole turn.
    turned[turned > _TURN - 1e-12] = 0.0
    k = int(np.argmin(turned))
    if turned[k] > limit:
        return None
    return Hit(float(turned[k]), int(i2[k]), int(j2[k]))


def least_distance(
    corners: Array, centres: Array, starts: Array, ends: Array, limit: float, *, backwards: bool = False,
    allowed: Mask | None = None,
) -> float:
    """Least distance (mm) of any corner to any side while the corners turn from 0 to ``limit``.

    Arguments as in :func:`first_hit`. Exact when nothing is hit on the way: on the way round, the distance from a
    circle to a side is least at the ends of the turn, across from the side's line, or nearest to one of its ends.
    """
    if len(corners) == 0 or len(starts) == 0:
        return math.inf
    centres = np.broadcast_to(centres, corners.shape)
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
    point = centres[:, None] + radius[:, None, None] * np.stack([np.cos(angle), np.sin(angle)], axis=-1)
    away = point - starts
    t = np.clip(np.einsum("knmj,mj->knm", away, along) / (length**2), 0.0, 1.0)
    gap = away - t[..., None] * along
    distance = np.sqrt(np.einsum("knmj,knmj->knm", gap, gap)).min(axis=0)
    if allowed is not None:
        distance = np.where(allowed, distance, math.inf)
    return float(distance.min())


def turned(points: Array, centre: Array, angle: float) -> Array:
    """(n, 2) points after a turn by ``angle`` radians about ``centre``."""
    c, s = math.cos(angle), math.sin(angle)
    arm = points - centre
    return centre + np.column_stack([arm[:, 0] * c + arm[:, 1] * s, -arm[:, 0] * s + arm[:, 1] * c])


def drawn_in(outline: Array, by: float = TOUCH) -> Array:
    """A counter-clockwise outline (n, 2) with every side moved inwards by ``by`` mm; corners keep their order."""
    side = np.roll(outline, -1, axis=0) - outline
    unit = side / np.hypot(side[:, 0], side[:, 1])[:, None]
    inward = np.column_stack([-unit[:, 1], unit[:, 0]])
    before = np.roll(inward, 1, axis=0)
    cosine = np.einsum("ij,ij->i", inward, before)
    moved: Array = outline + by * (inward + before) / (1 + cosine)[:, None]
    return moved


def hull(points: Array) -> Array:
    """Convex hull (k, 2), counter-clockwise, of (n, 2) points."""
    ordered = sorted({(round(float(y), 9), round(float(z), 9)) for y, z in points})
    if len(ordered) < 3:
        return np.array(ordered)
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
