"""A piece of the part that turns past a resting tool: first contact, and where along the fold it is met.

What is asked of one piece depends on the piece, the tool and the turn, not on the rest of the part: while an order is searched
the same piece is asked for again and again. Answers are kept.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from ...geometry.clip import Clip, narrowed
from ...geometry.contact import Outlines, Touch, first_touches, turned
from ...geometry.interval import Slab, where
from ...geometry.known import Known
from ...geometry.obstacle import Contact, met
from ...geometry.outline import ToolOutline
from ...geometry.polar import may_meet, ring_of, tool_ring
from ...geometry.solid import Solid

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
        moving = Outlines.of([turned(shadow, pole, swing.begin) if swing.begin else shadow for _, shadow in members])
        sides = corners = None
        if tool.nose and swing.folded:
            sides = np.broadcast_to(tool.bare_sides, (len(moving.corners), len(tool.bare_sides)))
            corners = np.broadcast_to(tool.bare_corners[:, None], (len(tool.bare_corners), len(moving.corners)))
        touches = first_touches(moving, tool.outlines, swing.limit - swing.begin, about=pole, sides=sides, corners=corners)
        for (k, _), touch in zip(members, touches, strict=True):
            found[k] = _said(touch, keys[k][0], tool, swing)
    return found


def _said(touch: Touch | None, solid: Solid, tool: ToolOutline, swing: Swing) -> Contact | None:
    if touch is None:
        return None
    later = dataclasses.replace(touch, angle=touch.angle + swing.begin) if swing.begin else touch
    return met(later, solid.name, tool.said(tool.parts[touch.index]))


Asked = tuple[Solid, Clip, "Swing | None"]

_leaf_met: Known[tuple[Asked, ToolOutline, tuple[float, float], float], Contact | None] = Known()


def leaf_met(asked: Sequence[Asked], leaf: ToolOutline, hinge: tuple[float, float], limit: float) -> list[Contact | None]:
    """First contact of the leaf, turning about its hinge by up to ``limit`` radians, with what rests.

    A piece given with a swing stands where that begins.
    """
    return _leaf_met.ask([(each, leaf, hinge, limit) for each in asked], _leaf_look)


def _leaf_look(keys: Sequence[tuple[Asked, ToolOutline, tuple[float, float], float]]) -> list[Contact | None]:
    _, leaf, hinge, limit = keys[0]
    found: list[Contact | None] = [None] * len(keys)
    reach, about = leaf.farthest(*hinge), np.array(hinge)
    near: list[tuple[int, Array]] = []
    for k, ((solid, clip, swing), *_) in enumerate(keys):
        if swing is None and ring_of(solid, *hinge)[0] > reach:
            continue
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if swing is not None:
            shadow = turned(shadow, np.array(swing.pole), swing.begin)
        if len(shadow) >= 3:
            near.append((k, shadow))
    if near:
        # Seen from the leaf, the part turns backwards about the hinge.
        parts = Outlines.of([shadow for _, shadow in near])
        for (k, _), touch in zip(near, first_touches(parts, leaf.outlines, limit, about=about, backwards=True), strict=True):
            found[k] = None if touch is None else met(touch, keys[k][0][0].name, "leaf")
    return found


_along: Known[tuple[tuple[Solid, Clip, Swing], ToolOutline, tuple[float, float]], Contact | None] = Known()


def taken_along(
    asked: Sequence[tuple[Solid, Clip, Swing]], leaf: ToolOutline, hinge: tuple[float, float]
) -> list[Contact | None]:
    """First contact of the leaf, turning about its hinge, with what swings with it.

    Seen from the leaf the part hardly moves: it shifts along a small circle, because leaf and part turn about axes that lie
    apart: x ↦ x + (R(−φ) − 1)·apart. Every corner turns backwards about itself less ``apart``; the leaf's corners, seen from
    the part, run on the mirrored circle. A fold that is begun is taken along from where it stands.
    """
    return _along.ask([(each, leaf, hinge) for each in asked], _along_look)


def _along_look(keys: Sequence[tuple[tuple[Solid, Clip, Swing], ToolOutline, tuple[float, float]]]) -> list[Contact | None]:
    found: list[Contact | None] = [None] * len(keys)
    groups: dict[Swing, list[tuple[int, Array]]] = {}
    for k, ((solid, clip, swing), *_) in enumerate(keys):
        shadow = solid.shadow if clip is None else solid.clipped(*clip)
        if len(shadow) >= 3:
            groups.setdefault(swing, []).append((k, shadow))
    for swing, members in groups.items():
        (_, leaf, hinge), begin = keys[members[0][0]], swing.begin
        apart = np.array(swing.pole) - np.array(hinge)
        shift = turned(apart[None], np.zeros(2), -begin)[0] - apart
        begun = [(k, shadow + shift) for k, shadow in members]
        for k, shadow in begun:
            if begin and leaf.polygon.intersects(shapely.Polygon(shadow)):
                found[k] = met(Touch(begin, (float(shadow[0, 0]), float(shadow[0, 1])), 0, False), keys[k][0][0].name, "leaf")
        begun = [(k, shadow) for k, shadow in begun if found[k] is None]
        if not begun:
            continue
        parts, apart = Outlines.of([shadow for _, shadow in begun]), apart + shift
        touches = first_touches(
            parts, leaf.outlines, swing.limit - begin,
            about=parts.corners - apart, back_about=leaf.outline + apart, backwards=True,
        )  # fmt: skip
        for (k, _), touch in zip(begun, touches, strict=True):
            if touch is not None:
                later = dataclasses.replace(touch, angle=touch.angle + begin)
                found[k] = met(later, keys[k][0][0].name, "leaf")
    return found


@lru_cache(maxsize=16384)
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
