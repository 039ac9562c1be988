"""Tipping a part out of its place: how far it turns over each of its edges before it meets what it stands in."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..measure import show_angle
from ..measure.dataclass import dataclass
from ..measure.words import tr
from ..plan.geometry.meeting import Meeting
from ..plan.geometry.solid import Solid
from .placed import GIVE, Placed

Array = NDArray[np.float64]

OUT = 90.0
"""Degrees after which a part is out of its place."""

ACROSS = 0.05
"""Of a unit vector: how nearly square an edge runs to the way in."""


@dataclass(frozen=True, eq=False)
class Tip:
    """A part turned over one of its edges.

    Attributes:
        over: the panel of the follower at that edge.
        free: degrees it turns before it meets anything; 90 when it comes out.
        meets: panel of the follower and of the master that meet; None when it comes out.
        pivot: (3,) mm, a point of the edge, in the master's frame.
        axis: (3,) unit vector along the edge; the part turns about it by the right hand.
    """

    over: str
    free: float
    meets: tuple[str, str] | None
    pivot: Array
    axis: Array

    @property
    def clears(self) -> bool:
        """True when it comes out."""
        return self.meets is None

    def says(self) -> str:
        """``over its front wall: comes out``."""
        if self.meets is None:
            return tr("Over its {over}: comes out.").format(over=self.over)
        return tr("Over its {over}: to {free}, then its {mine} meets the {theirs}.").format(
            over=self.over, free=show_angle(round(self.free, 1)), mine=self.meets[0], theirs=self.meets[1]
        )


def tips(there: Placed, still: tuple[Solid, ...], directions: tuple[Array, ...]) -> tuple[Tip, ...]:
    """The part tipped over each of its lower edges, those it turns farthest over first.

    Args:
        there: the part in its place.
        still: pieces of what it stands in.
        directions: (3,) unit vectors along which its edges run, in the master's frame.
    """
    up = -there.way
    found: list[Tip] = []
    # What rests on something is lifted a hair first, or it would be said to meet it.
    mine = [Solid(s.name, s.panel, s.corners + up * (2 * GIVE)) for s in there.solids]
    for direction in directions:
        along = direction - (direction @ up) * up
        size = float(np.linalg.norm(along))
        if size < ACROSS:
            continue
        along = along / size
        for sign in (1.0, -1.0):
            axis = sign * along
            found.append(_tip(mine, still, axis, up))
    names = [tip.over for tip in found]
    # The open ends of a part have no wall to be named by.
    named = (
        replace(tip, over=tr("{over}, end {number}").format(over=tip.over, number=names[: i + 1].count(tip.over)))
        if names.count(tip.over) > 1
        else tip
        for i, tip in enumerate(found)
    )
    return tuple(sorted(named, key=lambda tip: -tip.free))


def _tip(mine: list[Solid], still: tuple[Solid, ...], axis: Array, up: Array) -> Tip:
    """Turned over the edge that lies farthest out along ``up × axis``, so that what stands above it goes outwards."""
    out = np.cross(up, axis)
    frame = np.stack([axis, out, up])
    ahead = [Solid(s.name, s.panel, s.corners @ frame.T) for s in mine]
    rest = [Solid(s.name, s.panel, s.corners @ frame.T) for s in still]
    y = np.concatenate([s.corners[:, 1] for s in ahead])
    z = np.concatenate([s.corners[:, 2] for s in ahead])
    pole = float(y.max()), float(z.min())
    over = max(ahead, key=lambda s: (round(float(s.corners[:, 1].max()), 3), s.panel >= 0)).name
    meeting = Meeting(0.0, 0.0, math.radians(OUT))
    free, meets = OUT, None
    for one in ahead:
        low, high = one.x_range
        for other in rest:
            if other.x_range[0] >= high or other.x_range[1] <= low:
                continue
            met = meeting.of(one, other, pole)
            if met is not None and met.angle < free:
                free, meets = met.angle, (one.name, other.name)
    pivot = np.array([0.0, *pole]) @ frame
    return Tip(over, free, meets, pivot, axis)
