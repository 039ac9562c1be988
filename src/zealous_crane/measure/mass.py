"""Masses as a shop says them."""

from __future__ import annotations

from .length import Units

POUND = 0.45359237
"""kg in a pound, by definition."""


def show_mass(kilograms: float, units: Units) -> str:
    """A mass: ``1.25 kg``, or ``2.76 lb`` in an inch job.

    >>> show_mass(1.0, Units.FRACTIONS)
    '2.20 lb'
    """
    return f"{kilograms / POUND:.2f} lb" if units.is_inch else f"{kilograms:.2f} kg"
