"""The leaf on its way up: what it meets that rests, and what swings with it. Answers are kept."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence

import numpy as np

from ...geometry.clip import Clip
from ...geometry.contact import Touch, first_touches, turned
from ...geometry.obstacle import Contact, met
from ...geometry.outline import ToolOutline
from ...geometry.polar import ring_of
from ...geometry.solid import Solid
from ...memory import Known
from ..turn import Array, Swing

Asked = tuple[Solid, Clip, Swing | None]

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
        parts = [shadow for _, shadow in near]
        for (k, _), touch in zip(near, first_touches(parts, leaf.outlines, limit, about=about, backwards=True), strict=True):
            found[k] = None if touch is None else met(touch, keys[k][0][0].body, "leaf")
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
            if begin and leaf.meets(shadow):
                found[k] = met(Touch(begin, (float(shadow[0, 0]), float(shadow[0, 1])), 0, False), keys[k][0][0].body, "leaf")
        begun = [(k, shadow) for k, shadow in begun if found[k] is None]
        if not begun:
            continue
        parts, apart = [shadow for _, shadow in begun], apart + shift
        touches = first_touches(
            parts, leaf.outlines, swing.limit - begin,
            about=np.concatenate(parts) - apart, back_about=leaf.outline + apart, backwards=True,
        )  # fmt: skip
        for (k, _), touch in zip(begun, touches, strict=True):
            if touch is not None:
                later = dataclasses.replace(touch, angle=touch.angle + begin)
                found[k] = met(later, keys[k][0][0].body, "leaf")
    return found
