"""The part against itself: a piece that turns and a piece that rests, compared slab by slab."""

from __future__ import annotations

import dataclasses
import heapq
import itertools
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from .contact import TOUCH, Outlines, Touch, drawn_in, first_touches, turned
from .obstacle import Contact, met
from .outline import farthest, nearest
from .solid import Solid

Array = NDArray[np.float64]

SLIVER = 0.005
"""Two pieces of the part are compared over intervals cut down to this width (mm): even where a face runs steeply along the
fold, their shadows then differ from the pieces by less than 0.05 mm."""

STEP = 1e-4
"""Radians; contacts of two pieces of the part nearer than this are not told apart (0.006°)."""


@dataclass(frozen=True)
class Meeting:
    """How two pieces of one part are compared.

    Attributes:
        keep: clearance to be kept, mm.
        start: where the turn begins, radians.
        limit: where it ends, radians.
    """

    keep: float
    start: float
    limit: float

    def of(self, one: Solid, other: Solid, pole: Array, best: float, touching: float = 0.0) -> Contact | None:
        """First contact, before ``best`` radians, of a turning with a resting piece of the part.

        The shadows of a wide interval may meet where the pieces themselves do not, so the interval with the earliest
        contact is halved until it is narrow, or nothing changes along it: best first, the answer is the first that lasts.

        Args:
            one: turns, given at angle 0.
            other: rests.
            pole: (2,) mm, what it turns about.
            best: radians; a later contact is of no interest.
            touching: pieces made to lie on each other are compared with ``other`` drawn in by this much, mm.
        """
        low = max(one.x_range[0], other.x_range[0])
        high = min(one.x_range[1], other.x_range[1])
        keep = -touching if touching else self.keep
        if high - low < 1e-6 or farthest(one.shadow, pole) < nearest(other.shadow, pole) - keep:
            return None
        ticket = itertools.count()
        # Among contacts within a step of each other the narrowest interval is halved first: along faces that meet all at once
        # every interval has nearly the same contact, and trying them all would take for ever.
        queue: list[tuple[int, float, int, float, float, Touch | None]] = [(0, high - low, next(ticket), low, high, None)]
        steady = one.uniform and other.uniform
        while queue:
            step, _, _, a, b, touch = heapq.heappop(queue)
            if touch is not None and (steady or b - a <= SLIVER):
                # What waits in the same step may touch a little earlier: the step's beginning is on the safe side.
                angle = touch.angle if steady else max(self.start, min(touch.angle, step * STEP))
                return met(dataclasses.replace(touch, angle=angle), one.name, other.name)
            middle = (a + b) / 2
            for lo, hi in ((a, b),) if touch is None else ((a, middle), (middle, b)):
                found = self._within(one.clipped(lo, hi), other.clipped(lo, hi), pole, keep)
                if found is not None and found.angle < best:
                    heapq.heappush(queue, (int(found.angle / STEP), hi - lo, next(ticket), lo, hi, found))
        return None

    def _within(self, swinging: Array, resting: Array, pole: Array, keep: float) -> Touch | None:
        """First contact of two shadows, at the start when they overlap there."""
        if len(swinging) < 3 or len(resting) < 3:
            return None
        resting = drawn_in(resting, TOUCH - keep) if keep >= 0 else _core(resting, TOUCH - keep)
        if len(resting) < 3:
            return None
        if self.start:
            swinging = turned(swinging, pole, self.start)
        if shapely.intersects(shapely.Polygon(swinging), shapely.Polygon(resting)):
            return Touch(self.start, (float(resting[0, 0]), float(resting[0, 1])), 0, True)
        found = first_touches(Outlines.of([swinging]), Outlines.of([resting]), self.limit - self.start, about=pole)[0]
        return None if found is None else dataclasses.replace(found, angle=found.angle + self.start)


def _core(outline: Array, by: float) -> Array:
    """What is left of a convex outline (n, 2), counter-clockwise, drawn in by more than a hair; empty when nothing is."""
    left = shapely.Polygon(outline).buffer(-by, join_style="mitre")
    if left.is_empty or left.geom_type != "Polygon":
        return np.zeros((0, 2))
    core: Array = np.array(shapely.geometry.polygon.orient(left).exterior.coords)[:-1]
    return core
