"""Forces as a shop says them."""

from __future__ import annotations

from .length import Units

SHORT_TON, METRIC_TON = 8.896443, 9.80665
"""kN in a short ton of 2000 lbf and in a metric ton: by definition of the pound, the kilogram and standard gravity."""


def show_force(kilonewtons: float, units: Units) -> str:
    """A force: ``18.5 kN (1.9 t)``, or ``2.1 tons (18.5 kN)`` in an inch job.

    >>> show_force(88.96443, Units.FRACTIONS)
    '10 tons (89 kN)'
    """
    figures = f"{kilonewtons:.0f}" if kilonewtons >= 30 else f"{kilonewtons:.1f}"
    if units.is_inch:
        return f"{_short(kilonewtons / SHORT_TON)} tons ({figures} kN)"
    return f"{figures} kN ({_short(kilonewtons / METRIC_TON)} t)"


def _short(value: float) -> str:
    return f"{value:.0f}" if value >= 10 else f"{value:.1f}"
