"""Where everything stands at one angle of a stroke, seen from the end of the brake: for pictures."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ...blank import strip_section
from ..geometry.contact import turned
from .leaf.stroke import LeafStroke
from .press.stroke import PressStroke
from .stroke import Stroke

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Piece:
    """One outline of the picture.

    Attributes:
        kind: ``tool``, ``section`` (a finger or punch), ``clamped``, ``folding``, ``resting``, ``swinging`` or ``bend``.
        outline: (n, 2) float, (y, z) mm.
        name: what it is.
    """

    kind: str
    outline: Array
    name: str


def scene(stroke: Stroke, degrees: float) -> tuple[Piece, ...]:
    """Everything in the order it is drawn: what stands behind first."""
    return tuple(_pieces(stroke, degrees))


def _pieces(stroke: Stroke, degrees: float) -> Iterator[Piece]:
    setting = stroke.setting
    press = stroke if isinstance(stroke, PressStroke) else None
    half = math.radians(degrees) / 2
    # On a press both sides come up by half the angle; on a leaf brake one does by all of it.
    back = -half if press is not None else 0.0

    def posed(outline: Array, *, swings: bool) -> Array:
        if swings:
            outline = turned(outline, setting.pole, math.radians(degrees))
        return turned(outline, setting.pole, back) if back else outline

    for solid in setting.solids[0]:
        if solid.panel != setting.clamped:
            yield Piece("resting", posed(solid.shadow, swings=False), solid.name)
    if isinstance(stroke, LeafStroke):
        tools = stroke.tools
        yield Piece("tool", tools.bed.outline, "bed")
        yield Piece("tool", tools.beam.outline, "beam")
        yield Piece("section", tools.finger.outline, "finger")
        yield Piece("tool", turned(tools.leaf.outline, tools.hinge, math.radians(degrees)), "leaf")
    elif press is not None:
        up, rise = np.array([0.0, press.punch_shift(half)]), np.array([0.0, press.die_shift(half)])
        yield Piece("tool", press.tools.table.outline + rise, "table")
        yield Piece("tool", press.tools.die.outline + rise, "die")
        yield Piece("tool", press.tools.ram.outline + up, "ram")
        yield Piece("section", press.tools.punch.outline + up, "punch")
    for solid in setting.solids[1]:
        if solid.panel != setting.folding:
            yield Piece("swinging", posed(solid.shadow, swings=True), solid.name)
    for group, kind, panel in ((0, "clamped", setting.clamped), (1, "folding", setting.folding)):
        for solid in setting.solids[group]:
            if solid.panel == panel:
                yield Piece(kind, posed(solid.shadow, swings=bool(group)), solid.name)
    for piece in strip_section(setting.line.bend, max(degrees, 0.0)):
        outline = np.column_stack([-piece[:, 0], piece[:, 1]])
        yield Piece("bend", turned(outline, setting.pole, back) if back else outline, setting.name)


def direction(stroke: Stroke, degrees: float) -> float:
    """Radians above the level at which the panel in front points when the fold stands at an angle."""
    return math.radians(degrees) * (0.5 if isinstance(stroke, PressStroke) else 1.0)


def angle_of(stroke: Stroke, direction: float) -> float:
    """Degrees the fold stands at when the panel in front points ``direction`` radians above the level."""
    return math.degrees(direction) * (2.0 if isinstance(stroke, PressStroke) else 1.0)
