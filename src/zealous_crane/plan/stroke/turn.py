"""A piece of the part that turns past a resting tool: first contact, and where along the fold it is met.

What is asked of one piece depends on the piece, the tool and the turn, not on the rest of the part: while an order is searched
the same piece is asked for again and again. Answers are kept.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..geometry.clip import Clip, narrowed
from ..geometry.contact import Touch, first_touches, turned
from ..geometry.interval import Slab, where
from ..geometry.obstacle import Contact, met
from ..geometry.outline import ToolOutline
from ..geometry.polar import may_meet, ring_of, tool_ring
from ..geometry.solid import Solid
from ..memory import Known, kept

Array = NDArray[np.float64]


class Swing(NamedTuple):
    """A turn.

    Attributes:
        pole: (y, z) mm, what is turned about.
        begin: where it begins, radians; the piece is given at angle 0.
        limit: where it ends, radians.
        folded: the piece belongs to the panel that is folded, which is meant to lie on the nose.
    """

    pole: tuple[float, float]
    begin: float
    limit: float
    folded: bool


_met: Known[tuple[Solid, Clip, ToolOutline, Swing], Contact | None] = Known()


def first_met(asked: Sequence[tuple[Solid, Clip, Swing]], tool: ToolOutline) -> list[Contact | None]:
    """First contact of each piece, or of what of it lies in its interval, with a resting tool."""
    keys = [(solid, narrowed(solid, clip), tool, swing) for solid, clip, swing in asked]
    return _met.ask(keys, _look)


def _look(keys: Sequence[tuple[Solid, Clip, ToolOutline, Swing]]) -> list[Contact | None]:
    found: list[Contact | None] = [None] * len(keys)
    groups: dict[tuple[ToolOutline, Swing], list[tuple[int, Array]]] = {}
    for k, (solid, clip, tool, swing) in enumerate(keys):
        if not may_meet(ring_of(solid, *swing.pole), tool_ring(tool, *swing.pole), 0.01, swing.limit):
            continue
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if len(shadow) >= 3:
            groups.setdefault((tool, swing), []).append((k, shadow))
    for (tool, swing), members in groups.items():
        pole = np.array(swing.pole)
        moving = [turned(shadow, pole, swing.begin) if swing.begin else shadow for _, shadow in members]
        sides = corners = None
        if tool.nose and swing.folded:
            sides, corners = tool.bare_sides, tool.bare_corners
        touches = first_touches(moving, tool.outlines, swing.limit - swing.begin, about=pole, sides=sides, corners=corners)
        for (k, _), touch in zip(members, touches, strict=True):
            found[k] = _said(touch, keys[k][0], tool, swing)
    return found


def _said(touch: Touch | None, solid: Solid, tool: ToolOutline, swing: Swing) -> Contact | None:
    if touch is None:
        return None
    later = dataclasses.replace(touch, angle=touch.angle + swing.begin) if swing.begin else touch
    return met(later, solid.body, tool.said(tool.parts[touch.index]))


@kept(16384)
def met_along(solid: Solid, tool: ToolOutline, swing: Swing, wanted: float) -> Slab | None:
    """Where along the fold a tool is met, and when; before ``wanted`` degrees only there, later over the whole piece."""
    contact = first_met([(solid, None, swing)], tool)[0]
    inside: tuple[float, float] | None = solid.x_range
    if contact is not None and contact.angle < wanted:

        def early(a: float, b: float) -> bool:
            first = first_met([(solid, (a, b), swing)], tool)[0]
            return first is not None and first.angle < wanted

        inside = where(solid, early)
    return None if contact is None or inside is None else Slab(*inside, None, contact)
