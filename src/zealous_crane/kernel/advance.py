"""First contact of outlines that turn with one that shifts as they do.

A corner and a side are followed together. Between two angles a corner's distance to a side's line,
and its place along it, stay close to the straight line between their values at both: no farther off
than the arc it runs on leaves its chord, and than the shift changes there. A pair that cannot meet
within that is done with; the others are looked at over shorter and shorter turns until the
difference no longer matters. Nothing slips through: what is reported is never late.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple, Protocol

import numpy as np

from .._typing import Array
from .back_end import geometry
from .contact import Touch
from .plane import Outlines

SETTLED = 5e-4
"""mm; a difference smaller than this no longer matters. Less than tools are drawn in by, or what
lies along a tool would meet it."""

WIDEST = math.radians(2.5)
"""Radians; how far a turn is looked at in one go at first."""

PARTS = 32
"""A turn in which two may meet is looked at again in so many parts."""


class Shift(Protocol):
    """How the resting outline rises as the others turn."""

    @property
    def terms(self) -> tuple[float, float, float, float, float]:
        """The same as numbers (a, b, ρ, d, h): a·tan(φ/2) + b·tan φ + (clip(ρ − a/tan φ − d, 0, ρ)
        − h)(1/cos φ − 1)."""


class OutlineTurn(NamedTuple):
    """How an outline turns.

    Attributes:
        pole: (y, z) mm, what it turns about.
        sense: 1 for clockwise and −1 the other way.
        offset: how far (mm) the pole lies behind the one the shift is seen from.
    """

    pole: tuple[float, float]
    sense: float
    offset: float


def first_advances(
    outlines: Sequence[Array],
    turns: Sequence[OutlineTurn],
    resting: Outlines,
    shift: Shift,
    begin: float,
    limit: float,
) -> list[Touch | None]:
    """First contact of each outline with a resting one, between two angles.

    Args:
        outlines: (n_i, 2) mm each, at angle 0, counter-clockwise; none may overlap the resting one
            at ``begin``.
        turns: how each turns.
        resting: one outline that rises.
        shift: by how much.
        begin, limit: radians.

    Returns:
        a touch for each, its ``index`` a side or corner of the resting outlines; None where there
        is none. Never late, and early by less than one of the ``PARTS`` of ``WIDEST``, 0.08°.
    """
    each = np.array([(*turn.pole, turn.sense, turn.offset) for turn in turns], dtype=float)
    met = geometry.advances(
        list(outlines),
        each,
        resting.corners,
        shift.terms,
        (begin, limit),
        (SETTLED, WIDEST, PARTS),
    )
    return [None if touch is None else Touch(*touch) for touch in met]
