"""Where everything stands at one angle of a stroke, seen from the end of the brake: for
pictures."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from .._typing import Array
from ..flat.folding import strip_section
from ..kernel.plane import turned
from .drawing import OutlineKind, SceneOutline
from .stroke import Stroke


def scene(stroke: Stroke, degrees: float) -> tuple[SceneOutline, ...]:
    """Everything in the order it is drawn: what stands behind first."""
    return tuple(_pieces(stroke, degrees))


def _pieces(stroke: Stroke, degrees: float) -> Iterator[SceneOutline]:  # noqa: C901
    setting = stroke.setting
    # What does not come up in front goes up behind.
    back = -math.radians(degrees) * (1.0 - stroke.in_front)

    def posed(outline: Array, *, swings: bool) -> Array:
        if swings:
            outline = turned(outline, setting.pole, math.radians(degrees))
        return turned(outline, setting.pole, back) if back else outline

    for solid in setting.solids[0]:
        if solid.panel != setting.clamped:
            yield SceneOutline(OutlineKind.RESTING, posed(solid.shadow, swings=False), solid.body)
    yield from stroke.tools_at(degrees)
    for solid in setting.solids[1]:
        if solid.panel != setting.folding:
            yield SceneOutline(OutlineKind.SWINGING, posed(solid.shadow, swings=True), solid.body)
    for group, kind, panel in (
        (0, OutlineKind.CLAMPED, setting.clamped),
        (1, OutlineKind.FOLDING, setting.folding),
    ):
        for solid in setting.solids[group]:
            if solid.panel == panel:
                yield SceneOutline(kind, posed(solid.shadow, swings=bool(group)), solid.body)
    for piece in strip_section(setting.line.bend, max(degrees, 0.0)):
        outline = np.column_stack([-piece[:, 0], piece[:, 1]])
        yield SceneOutline(
            OutlineKind.BEND, turned(outline, setting.pole, back) if back else outline
        )


def direction(stroke: Stroke, degrees: float) -> float:
    """Radians above the level at which the panel in front points when the fold stands at an
    angle."""
    return math.radians(degrees) * stroke.in_front


def angle_of(stroke: Stroke, direction: float) -> float:
    """Degrees the fold stands at when the panel in front points ``direction`` radians above the
    level."""
    return math.degrees(direction) / stroke.in_front
