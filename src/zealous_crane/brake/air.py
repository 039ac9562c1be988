"""Bending in air over a V: which opening suits a sheet, and the inside radius the metal takes in it. Common practice unless a
source stands beside the figure."""

from __future__ import annotations

from ..metal import Sheet

WIDEST, NARROWEST = 16.0, 5.0
"""Die opening in thicknesses beyond which a V is not used."""


def wanted_opening(thickness: float) -> float:
    """Die opening (mm) a hand reaches for: 6 T on thin sheet, 8 T usually, 10 T on plate."""
    return thickness * (6 if thickness < 2.5 else 8 if thickness <= 8 else 10)


def air_radius(sheet: Sheet, opening: float) -> float:
    """Inside radius (mm) an air bend takes: 16 % of V in mild steel, 21 % in stainless, 13.5 % in soft aluminium."""
    return sheet.metal.air_share * opening
