"""What can be measured on a part, and how every size answers to everything that may have gone wrong: worked out once for a flat."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..blank import Blank, Striking
from ..measure.dataclass import dataclass
from .explain import promised, slopes_of, worth_measuring
from .measures import measures_of
from .model import Measure, Model, Off, What
from .probe import TANGENT

USUAL_COUNT = 10
"""Sizes that are asked for unless more are wanted."""


@dataclass(frozen=True, eq=False)
class Survey:
    """A flat looked over.

    Attributes:
        measures: everything that can be measured on the finished part.
        order: the same in the order they are asked for: those first that tell most.
        wanted: (n,) what each should be, in that order, mm or degrees.
        promised: (n,) within how much of that nine parts in ten come out when all goes as usual.
        slopes: (n, m) how much every one of ``measures`` changes for one mm or degree of every cause.
    """

    measures: tuple[Measure, ...]
    order: tuple[Measure, ...]
    wanted: NDArray[np.float64]
    promised: NDArray[np.float64]
    slopes: NDArray[np.float64]


def survey(
    blank: Blank, striking: Striking, usual: tuple[tuple[Off, float], ...] = (), datum: str = TANGENT, within: bool = False
) -> Survey:
    """Look a flat over.

    Args:
        blank: the part as it is wanted.
        striking: what its lines are struck from.
        usual: the shop's own spreads where they are known, degrees or mm.
        datum: to where sizes are read over a bend of more than 90°, as the job says.
        within: the job's sizes are inside sizes.
    """
    measures = measures_of(blank, datum, within)
    slopes = slopes_of(blank, measures, striking)
    first = worth_measuring(blank, measures, USUAL_COUNT, striking)
    order = (*_by_hand(first), *(m for m in measures if m not in first))
    every = promised(blank, measures, striking, dict(usual))
    at = [measures.index(measure) for measure in order]
    return Survey(measures, order, Model(blank, striking).values(order, {}), every[at], slopes)


_ORDER = (What.SHEET, What.OUTSIDE, What.FLAT, What.LEG, What.APEX, What.INSIDE, What.ANGLE, What.DIAGONAL, What.HOLE)


def _by_hand(measures: tuple[Measure, ...]) -> tuple[Measure, ...]:
    """In the order a hand takes them up: rule and caliper along the outside, then inside, then the protractor."""
    return tuple(sorted(measures, key=lambda m: (_ORDER.index(m.what), m.fold, m.end)))
