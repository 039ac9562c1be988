"""A piece of the part that comes up in a press: first contact with a tool that shifts as it does.

As on a leaf brake, what is asked of one piece depends on the piece, the tool and the turn, not on the rest of the part, and
answers are kept.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple, TypeVar

import numpy as np
from numpy.typing import NDArray

from ...geometry.advance import Turn, first_advances
from ...geometry.clip import Clip, narrowed
from ...geometry.contact import Touch, turned
from ...geometry.interval import Slab, where_each
from ...geometry.obstacle import Contact, met
from ...geometry.outline import ToolOutline
from ...geometry.polar import may_meet, ring_of, tool_ring
from ...geometry.solid import Solid
from ...memory import Known

Array = NDArray[np.float64]
Some = TypeVar("Some", float, NDArray[np.float64])
"""One number or many."""


class PunchRise(NamedTuple):
    """How far the punch stands higher with each wing up by an angle: (BA/2)·tan(φ/2) on the inside of the arc; where the tip is
    rounder than the arc, it rides (ρ − r)(1/cos φ − 1) higher between the two faces (docs/theory.md).

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
        return self._over(math.tan(half / 2), min(max(self.radius - arc, 0.0), self.radius), math.cos(half))

    def rise(self, half: Array) -> Array:
        """(k,) mm at angles (k,), radians."""
        arc = self._arc(np.tan(np.maximum(half, 1e-9)))
        return self._over(np.tan(half / 2), np.clip(self.radius - arc, 0.0, self.radius), np.cos(half))

    def _arc(self, tangent: Some) -> Some:
        """Radius of the arc, mm."""
        return self.half_allowance / tangent + self.drop

    def _over(self, half_tangent: Some, rounder: Some, cosine: Some) -> Some:
        """mm, the tip rounder than the arc by ``rounder`` mm."""
        return self.half_allowance * half_tangent + rounder * (1 / cosine - 1)


class DieRise(NamedTuple):
    """How far the die's shoulders stand higher, seen from the pole.

    A shoulder at distance V/2 touches the wing's outer face, which keeps its distance from the pole:
    g = (V/2)·tan φ − h·(1/cos φ − 1). Derived in docs/theory.md.

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
        offset: how far (mm) the pole lies behind the fold's own; see :class:`Turning`.
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
        return up + self.offset * np.array([math.cos(half) - 1, math.sin(half)]) if self.offset else up

    def stood_at(self, points: Array, halves: Array) -> Array:
        """(k, n, 2) mm, the same points at k places of the turn, radians (k,)."""
        c, s = np.cos(halves)[:, None], np.sin(halves)[:, None]
        (y, z), away = self.pole, points - np.array(self.pole)
        across, up = away[:, 0], away[:, 1]
        back, high = y + self.offset * (c - 1), z + self.offset * s
        return np.stack([back + across * c + self.sense * up * s, high + up * c - self.sense * across * s], axis=2)


_met: Known[tuple[Solid, Clip, ToolOutline, Rise, PressSwing], Contact | None] = Known()


def first_met(asked: Sequence[tuple[Solid, Clip, PressSwing]], tool: ToolOutline, rise: Rise) -> list[Contact | None]:
    """First contact of each piece, or of what of it lies in its interval, with a tool that rises; degrees of the fold."""
    return _met.ask([(solid, narrowed(solid, clip), tool, rise, swing) for solid, clip, swing in asked], _look)


def _look(keys: Sequence[tuple[Solid, Clip, ToolOutline, Rise, PressSwing]]) -> list[Contact | None]:
    _, _, tool, rise, first = keys[0]
    found: list[Contact | None] = [None] * len(keys)
    begin, limit = first.begin, first.limit
    low = rise.at(begin)
    high = max(abs(low), abs(rise.at(limit)))
    near: list[tuple[int, Array]] = []
    for k, (solid, clip, _, _, swing) in enumerate(keys):
        slack = high + 2 * abs(swing.offset) + 0.01
        # Directions are counted with the turn of what comes up in front; behind, only the distances are of use.
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
            found[k] = _said(Touch(begin, (float(stood[0, 0]), float(stood[0, 1])), 0, False), solid, tool)
        else:
            near.append((k, shadow))
    if near:
        turns = [Turn(swing.pole, swing.sense, swing.offset) for swing in (keys[k][4] for k, _ in near)]
        touches = first_advances([shadow for _, shadow in near], turns, tool.outlines, rise, begin, limit)
        for (k, _), touch in zip(near, touches, strict=True):
            found[k] = None if touch is None else _said(touch, keys[k][0], tool)
    return found


def _said(touch: Touch, solid: Solid, tool: ToolOutline) -> Contact:
    contact = met(touch, solid.body, tool.name)
    return Contact(2 * contact.angle, contact.obstacle)


def met_along(asked: Sequence[tuple[Solid, PressSwing]], tool: ToolOutline, rise: Rise, wanted: float) -> list[Slab]:
    """Where along the fold a tool is met by some pieces, and when; before ``wanted`` degrees only there, later over the whole piece."""
    contacts = first_met([(solid, None, swing) for solid, swing in asked], tool, rise)
    met = [(solid, swing, contact) for (solid, swing), contact in zip(asked, contacts, strict=True) if contact is not None]
    early = [(solid, swing) for solid, swing, contact in met if contact.angle < wanted]

    def bad(intervals: list[tuple[int, float, float]]) -> list[bool]:
        first = first_met([(early[k][0], (low, high), early[k][1]) for k, low, high in intervals], tool, rise)
        return [contact is not None and contact.angle < wanted for contact in first]

    inside = iter(where_each([solid for solid, _ in early], bad))
    found: list[Slab] = []
    for solid, _, contact in met:
        over = next(inside) if contact.angle < wanted else solid.x_range
        if over is not None:
            found.append(Slab(*over, None, contact))
    return found
