"""Some sizes of the finished part, written at its picture."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from ...blank import Blank
from ...check.measures import measures_of
from ...check.model import Measure, Model, What
from ...check.saying import show_measure
from ...job import Job
from ..theme import Look
from .caliper import paint_measure
from .frame import Scale

SIZES = (((What.INSIDE, What.OUTSIDE, What.FLAT), 2), ((What.LEG, What.APEX), 1))
"""Which sizes stand on the picture, those wanted most first, and of how many ways each."""


@lru_cache(maxsize=2)
def sizes_of(blank: Blank) -> tuple[tuple[Measure, float], ...]:
    """Some sizes of the finished part and what they are, mm; kept as long as the part is the same."""
    chosen: list[Measure] = []
    for kinds, most in SIZES:
        ways: list[np.ndarray] = []
        for measure in (m for what in kinds for m in measures_of(blank) if m.what is what and m.one and m.other):
            way = np.subtract(measure.other[0].at, measure.one[0].at)
            way = way / max(float(np.linalg.norm(way)), 1e-9)
            # One size each way tells more than two beside each other.
            if len(ways) < most and all(abs(way @ other) < 0.5 for other in ways):
                ways.append(way)
                chosen.append(measure)
    values = Model(blank).values(tuple(chosen), {})
    return tuple(zip(chosen, values.tolist(), strict=True))


def paint_sizes(
    p: QPainter,
    rect: QRectF,
    blank: Blank,
    job: Job,
    look: Look,
    scale: Scale,
    *,
    turn: float,
    tilt: float,
    letters: float = 15,
) -> None:
    """Write them at a folded picture.

    Args:
        p: paints.
        rect: where the picture lies.
        blank: the part.
        job: says how sizes are shown.
        look: colours.
        scale: of the picture.
        turn, tilt: how it is turned, degrees.
        letters: their height, painter units.
    """
    taken: list[QRectF] = []
    for measure, value in sizes_of(blank):
        paint_measure(
            p,
            rect,
            blank,
            measure,
            show_measure(measure, value, job),
            look,
            scale,
            turn=turn,
            tilt=tilt,
            letters=letters,
            taken=taken,
        )
