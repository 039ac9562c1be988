"""The metals a shop folds, with the few properties that decide a fold."""

from __future__ import annotations

from dataclasses import dataclass

from .gauge import GaugeTable, gauge_table


@dataclass(frozen=True)
class Material:
    """One metal in one usual condition.

    Attributes:
        key: the word that stands in job files.
        name: as it is shown.
        tensile: tensile strength Rm, MPa.
        yield_strength: 0.2 % proof stress, MPa.
        modulus: elastic modulus, MPa.
        density: kg/m³.
        least_radius: least inside radius for a 90° fold across the grain, in thicknesses.
        k_factor: usual place of the neutral line, as a fraction of the thickness from the inside.
        gauge: the gauge table suppliers use for it.

    Typical values from memory; a mill certificate or the shop's own test strips win.
    """

    key: str
    name: str
    tensile: float
    yield_strength: float
    modulus: float
    density: float
    least_radius: float
    k_factor: float
    gauge_name: str

    @property
    def gauge(self) -> GaugeTable:
        return gauge_table(self.gauge_name)


MILD_TENSILE = 380.0
"""Tensile strength (MPa) of the mild steel brakes are rated for. From memory."""

MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material("mild-steel", "Mild steel", MILD_TENSILE, 240, 205_000, 7850, 0.0, 0.44, "steel"),
        Material("galvanized", "Galvanized steel", 380, 260, 205_000, 7850, 0.0, 0.44, "galvanized"),
        Material("stainless", "Stainless 304", 620, 290, 193_000, 8000, 0.5, 0.44, "stainless"),
        Material("aluminium-soft", "Aluminium, soft (3003-H14)", 150, 145, 69_000, 2730, 0.0, 0.42, "brown-sharpe"),
        Material("aluminium-5052", "Aluminium 5052-H32", 230, 195, 70_000, 2680, 1.0, 0.42, "brown-sharpe"),
        Material("copper", "Copper, soft", 230, 70, 117_000, 8940, 0.0, 0.42, "brown-sharpe"),
        Material("brass", "Brass, soft", 320, 110, 105_000, 8500, 0.0, 0.42, "brown-sharpe"),
    )
}


def material(key: str) -> Material:
    """The metal of that key.

    Raises:
        ValueError: no such metal; the message lists those there are.
    """
    try:
        return MATERIALS[key]
    except KeyError:
        raise ValueError(f"The metal {key!r} is not known. Known: {', '.join(MATERIALS)}.") from None
