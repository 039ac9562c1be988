"""The metals a shop folds, with the few properties that decide a fold."""

from __future__ import annotations

from dataclasses import dataclass

from ..measure.words import tr
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
        thicker: from which thickness (mm) on the least radius is another: (from, in thicknesses), rising.
        k_factor: usual place of the neutral line, as a fraction of the thickness from the inside.
        gauge_name: the gauge table suppliers use for it.
        air_springback: degrees a 90° bend with an inside radius of one thickness opens after bending in air on a press.
        air_share: inside radius of a bend in air, as a share of the V.
        press_tensile: tensile strength press charts are made with, MPa, where that is not ``tensile``.

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
    air_springback: float = 1.0
    press_tensile: float | None = None
    thicker: tuple[tuple[float, float], ...] = ()
    air_share: float = 0.16

    @property
    def force_tensile(self) -> float:
        """Tensile strength (MPa) that a bending force is worked out with: of mild steel what comes from the mill, not its least."""
        return self.tensile if self.press_tensile is None else self.press_tensile

    @property
    def gauge(self) -> GaugeTable:
        return gauge_table(self.gauge_name)


MILD_TENSILE = 380.0
"""Tensile strength (MPa) of the mild steel brakes are rated for. From memory."""

PRESS_TENSILE = 450.0
"""Tensile strength (MPa) of common mild steel that press makers' charts of force are made with. From memory."""

MATERIALS: dict[str, Material] = {
    m.key: m
    for m in (
        Material(
            "mild-steel",
            "Mild steel",
            MILD_TENSILE,
            240,
            205_000,
            7850,
            0.0,
            0.44,
            "steel",
            1.0,
            PRESS_TENSILE,
            ((6.0, 1.0), (10.0, 1.5)),
        ),
        Material("galvanized", "Galvanized steel", 380, 260, 205_000, 7850, 0.0, 0.44, "galvanized", 1.0, PRESS_TENSILE),
        Material(
            "stainless",
            "Stainless 304",
            620,
            290,
            193_000,
            8000,
            0.5,
            0.44,
            "stainless",
            3.0,
            None,
            ((3.0, 1.0), (6.0, 1.5)),
            0.21,
        ),
        Material(
            "hot-rolled",
            "Hot-rolled steel",
            410,
            260,
            205_000,
            7850,
            0.5,
            0.44,
            "steel",
            1.0,
            PRESS_TENSILE,
            ((6.0, 1.0), (10.0, 1.5)),
        ),
        Material("galvannealed", "Galvannealed steel", 380, 260, 205_000, 7850, 0.0, 0.44, "galvanized", 1.0, PRESS_TENSILE),
        Material(
            "stainless-316",
            "Stainless 316",
            580,
            290,
            193_000,
            8000,
            0.5,
            0.44,
            "stainless",
            3.0,
            None,
            ((3.0, 1.0), (6.0, 1.5)),
            0.21,
        ),
        Material(
            "stainless-430",
            "Stainless 430",
            500,
            310,
            200_000,
            7750,
            0.5,
            0.44,
            "stainless",
            2.0,
            None,
            ((3.0, 1.0), (6.0, 2.0)),
            0.18,
        ),
        Material("aluminium-1100", "Aluminium 1100-O", 90, 35, 69_000, 2710, 0.0, 0.42, "brown-sharpe", 0.5, air_share=0.135),
        Material(
            "aluminium-soft",
            "Aluminium, soft (3003-H14)",
            150,
            145,
            69_000,
            2730,
            0.0,
            0.42,
            "brown-sharpe",
            1.5,
            air_share=0.135,
        ),
        Material(
            "aluminium-5005",
            "Aluminium 5005-H34",
            160,
            140,
            69_000,
            2700,
            0.5,
            0.42,
            "brown-sharpe",
            1.5,
            None,
            ((3.1, 1.0),),
            0.14,
        ),
        Material(
            "aluminium-5052",
            "Aluminium 5052-H32",
            230,
            195,
            70_000,
            2680,
            1.0,
            0.42,
            "brown-sharpe",
            2.5,
            None,
            ((3.1, 1.5), (6.0, 2.5)),
            0.15,
        ),
        Material(
            "aluminium-6061",
            "Aluminium 6061-T6",
            310,
            275,
            69_000,
            2700,
            1.5,
            0.42,
            "brown-sharpe",
            4.0,
            None,
            ((1.6, 2.0), (3.1, 3.0), (6.0, 4.0)),
            0.2,
        ),
        Material(
            "aluminium-2024",
            "Aluminium 2024-T3",
            470,
            325,
            73_000,
            2780,
            2.5,
            0.42,
            "brown-sharpe",
            5.0,
            None,
            ((1.6, 4.0), (3.1, 5.0), (6.0, 7.0)),
            0.22,
        ),
        Material("copper", "Copper, soft", 230, 70, 117_000, 8940, 0.0, 0.42, "brown-sharpe"),
        Material("copper-half-hard", "Copper, half hard", 290, 220, 117_000, 8940, 0.5, 0.42, "brown-sharpe", 1.5),
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
        raise ValueError(
            tr("The metal {key!r} is not known. Known: {MATERIALS}.").format(key=key, MATERIALS=", ".join(MATERIALS))
        ) from None
