"""Outlines that turn, and one that shifts as they do: their first contact.

A corner and a side are followed together. Between two angles a corner's distance to a side's line,
and its place along it, stay close to the straight line between their values at both: no farther off
than the arc it runs on leaves its chord, and than the shift changes there. A pair that cannot meet
within that is done with; the others are looked at over shorter and shorter turns until the
difference no longer matters. Nothing slips through: what is reported is never late.
"""

from __future__ import annotations

import heapq
import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..._typing import Array
from ..geometry import Found
from ..plane import Outlines, from_segments

Indices = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class TurningOutlines:
    """Outlines that turn, each about its own pole.

    Attributes:
        outlines: at angle 0, counter-clockwise, mm.
        pole: (n, 2) float, mm, what each corner turns about.
        sense: (n,) float, 1 for clockwise and −1 the other way.
        offset: (n,) float, mm: how far the pole lies behind the one the shift is seen from. A
            second line of one stroke wanders with the side it hangs on, by offset · (cos φ − 1, sin
            φ).
    """

    outlines: Outlines
    pole: Array
    sense: Array
    offset: Array

    @classmethod
    def of(cls, outlines: Sequence[Array], turns: Array) -> TurningOutlines:
        each = np.repeat(np.arange(len(turns)), [len(outline) for outline in outlines])
        of_each = turns[each]
        return cls(Outlines.of(outlines), of_each[:, :2], of_each[:, 2], of_each[:, 3])

    def at(self, corners: Indices, angles: Array) -> tuple[Array, Array]:
        """(k, c) mm: y and z of some corners at angles (k,), radians."""
        cos, sin = np.cos(angles)[:, None], np.sin(angles)[:, None]
        arm = self.outlines.corners[corners] - self.pole[corners]
        lift, off = self.sense[corners] * sin, self.offset[corners]
        y = self.pole[corners, 0] + arm[:, 0] * cos + arm[:, 1] * lift - off * (1 - cos)
        z = self.pole[corners, 1] + arm[:, 1] * cos - arm[:, 0] * lift + off * sin
        return y, z

    def along(self, sides: Indices, angles: Array) -> tuple[Array, Array]:
        """(k, c) direction of some sides at angles (k,), radians."""
        side = self.outlines.ends[sides] - self.outlines.corners[sides]
        side = side / np.hypot(side[:, 0], side[:, 1])[:, None]
        cos, lift = np.cos(angles)[:, None], self.sense[sides] * np.sin(angles)[:, None]
        return side[:, 0] * cos + side[:, 1] * lift, side[:, 1] * cos - side[:, 0] * lift


@dataclass(frozen=True, eq=False)
class _Pairs:
    """Corners against sides.

    Attributes:
        i: (p,) moving corner, or the corner a moving side begins at.
        j: (p,) resting side's first corner, or resting corner.
        back: (p,) True where it is the resting corner that may meet the moving side.
    """

    i: Indices
    j: Indices
    back: NDArray[np.bool_]

    def of(self, kept: Indices | NDArray[np.bool_]) -> _Pairs:
        return _Pairs(self.i[kept], self.j[kept], self.back[kept])


@dataclass(frozen=True, eq=False)
class _Look:
    """What is compared."""

    moving: TurningOutlines
    resting: Outlines
    terms: tuple[float, float, float, float, float]
    settled: float
    parts: int

    def rises(self, angles: Array) -> Array:
        """(k,) mm the resting outline stands higher at angles (k,), radians."""
        half, whole, radius, drop, pole = self.terms
        rounder = np.clip(radius - half / np.tan(np.maximum(angles, 1e-9)) - drop, 0.0, radius)
        result: Array = (
            half * np.tan(angles / 2)
            + whole * np.tan(angles)
            + (rounder - pole) * (1 / np.cos(angles) - 1)
        )
        return result

    def near(self, pairs: _Pairs, angles: Array) -> tuple[NDArray[np.bool_], Array]:
        """(k, p) pairs that may meet between each two of angles (k + 1,), radians; (k, p) mm by how
        much that is uncertain."""
        moving, resting = self.moving, self.resting
        rise = self.rises(angles)
        height = rise[:, None]
        y, z = moving.at(pairs.i, angles)
        side = resting.ends[pairs.j] - resting.corners[pairs.j]
        size = np.hypot(side[:, 0], side[:, 1])
        uy, uz = (np.broadcast_to(c, y.shape) for c in (side / size[:, None]).T)
        away_y, away_z = y - resting.corners[pairs.j, 0], z - height - resting.corners[pairs.j, 1]
        back = pairs.back
        if back.any():
            own = moving.outlines.ends[pairs.i] - moving.outlines.corners[pairs.i]
            size = np.where(back, np.hypot(own[:, 0], own[:, 1]), size)
            my, mz = moving.along(pairs.i, angles)
            uy, uz = np.where(back, my, uy), np.where(back, mz, uz)
            away_y, away_z = np.where(back, -away_y, away_y), np.where(back, -away_z, away_z)
        # Outwards of a counter-clockwise outline is to the right of its sides.
        off, along = away_y * uz - away_z * uy, away_y * uy + away_z * uz
        arm = (
            np.where(back[:, None], resting.corners[pairs.j], moving.outlines.corners[pairs.i])
            - moving.pole[pairs.i]
        )
        radius = (
            np.hypot(arm[:, 0], arm[:, 1])
            + np.where(back, abs(rise).max(), 0.0)
            + np.abs(moving.offset[pairs.i])
        )
        step = np.diff(angles)[:, None]
        # An arc leaves its chord by at most r·h²/8; what grows steadily leaves it by at most what
        # it grows.
        unsure = radius * step**2 / 8 + np.abs(np.diff(rise))[:, None] * (1 + step)
        low, high = np.minimum(off[:-1], off[1:]), np.maximum(off[:-1], off[1:])
        first, last = np.minimum(along[:-1], along[1:]), np.maximum(along[:-1], along[1:])
        near = (low <= unsure) & (high >= -unsure) & (last >= -unsure) & (first <= size + unsure)
        return near, unsure


def advances(
    outlines: list[Array],
    turns: Array,
    resting: Array,
    rise: tuple[float, float, float, float, float],
    between: tuple[float, float],
    steps: tuple[float, float, int],
) -> list[Found | None]:
    """See :meth:`Geometry.advances`."""
    (begin, limit), (settled, widest, parts) = between, steps
    moving = TurningOutlines.of(outlines, turns)
    look = _Look(moving, Outlines.of([resting]), rise, settled, parts)
    angles = np.linspace(begin, limit, max(2, math.ceil((limit - begin) / widest) + 1))
    every = _at_reach(look, float(np.abs(look.rises(np.array([begin, limit]))).max()))
    near, _ = look.near(every, angles)
    alive = np.nonzero(near.any(axis=0))[0]
    near, pairs = near[:, alive], every.of(alive)
    owner = np.searchsorted(moving.outlines.first, pairs.i, side="right") - 1
    return [
        _first(look, pairs.of(owner == k), near[:, owner == k], angles)
        if (owner == k).any()
        else None
        for k in range(len(moving.outlines))
    ]


def _at_reach(look: _Look, rise: float) -> _Pairs:
    """The pairs whose distances from the pole let them meet at some angle, the resting outline
    standing up to ``rise`` mm off."""
    moving, resting = look.moving, look.resting
    corners, ends, pole = moving.outlines.corners, moving.outlines.ends, moving.pole
    slack = (rise + 2 * np.abs(moving.offset) + look.settled)[:, None]
    radius = np.hypot(*(corners - pole).T)[:, None]
    apart = np.hypot(*(resting.corners[None] - pole[:, None]).transpose(2, 0, 1))
    # (n, m) nearest and farthest that each resting side comes to each corner's pole.
    nearest = from_segments(pole[:, None], resting.corners[None], resting.ends[None])
    farthest = np.maximum(apart, np.hypot(*(resting.ends[None] - pole[:, None]).transpose(2, 0, 1)))
    ahead = (radius >= nearest - slack) & (radius <= farthest + slack)
    # The same of each moving side, for the resting corners.
    near = from_segments(pole, corners, ends)[:, None]
    far = np.maximum(radius[:, 0], np.hypot(*(ends - pole).T))[:, None]
    back = (apart >= near - slack) & (apart <= far + slack)
    i, j = np.nonzero(ahead)
    k, at = np.nonzero(back)
    return _Pairs(
        np.concatenate([i, k]), np.concatenate([j, at]), np.repeat([False, True], [len(i), len(k)])
    )


def _first(look: _Look, pairs: _Pairs, near: NDArray[np.bool_], angles: Array) -> Found | None:
    """The earliest contact of some pairs, each of which may meet in some of the turns between the
    angles."""
    ticket = itertools.count()
    open_: list[tuple[float, int, float, _Pairs]] = []

    def split(angles: Array, pairs: _Pairs, near: NDArray[np.bool_]) -> None:
        for k in np.nonzero(near.any(axis=1))[0].tolist():
            heapq.heappush(
                open_, (float(angles[k]), next(ticket), float(angles[k + 1]), pairs.of(near[k]))
            )

    split(angles, pairs, near)
    while open_:
        a, _, b, some = heapq.heappop(open_)
        angles = np.linspace(a, b, look.parts + 1)
        near, unsure = look.near(some, angles)
        settled = near & (unsure <= look.settled)
        firsts = np.nonzero(near.any(axis=1))[0]
        if len(firsts) and settled[firsts[0]].any():
            k = firsts[0]
            return _touch(look, some, int(np.argmax(settled[k])), float(angles[k]))
        split(angles, some, near)
    return None


def _touch(look: _Look, pairs: _Pairs, k: int, angle: float) -> Found:
    if pairs.back[k]:
        y, z = look.resting.corners[pairs.j[k]]
        place = float(y), float(z + look.rises(np.array([angle]))[0])
    else:
        y, z = look.moving.at(pairs.i[k : k + 1], np.array([angle]))
        place = float(y[0, 0]), float(z[0, 0])
    return angle, place, int(pairs.j[k]), bool(pairs.back[k])
