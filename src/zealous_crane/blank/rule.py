"""Lengths as they are read on a rule."""

from __future__ import annotations

from ..job import StrikeFrom
from ..measure import Units, nearest_tick, show_length


def shown(value: float, units: Units) -> str:
    """A length to the nearest tick of the rule, marked ``≈`` when that is not exact."""
    tick = nearest_tick(value, units)
    text = show_length(tick, units, pretty=True)
    return text if abs(tick - value) < 5e-3 else "≈" + text.removeprefix("≈")


REACH = 152.4
"""mm to which a scribe is set; beyond it wanders, and rule and straight-edge are used. Common practice, no source."""


def from_edge(value: float, span: float, names: tuple[str, str], strike_from: StrikeFrom) -> tuple[float, str]:
    """How far (mm) a line is from the edge it is struck from, and which that is.

    Args:
        value: from the first of two opposite edges, mm.
        span: between both, mm.
        names: of both.
        strike_from: the person's choice.
    """
    first = value <= span / 2 if strike_from == "nearest" else names[0] in strike_from
    return (value, names[0]) if first else (span - value, names[1])
