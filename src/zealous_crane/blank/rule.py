"""Lengths as they are read on a rule."""

from __future__ import annotations

from ..measure import Units, nearest_tick, show_length


def shown(value: float, units: Units) -> str:
    """A length to the nearest tick of the rule, marked ``≈`` when that is not exact."""
    tick = nearest_tick(value, units)
    text = show_length(tick, units, pretty=True)
    return text if abs(tick - value) < 5e-3 else "≈" + text.removeprefix("≈")
