"""General tolerances of linear sizes, where a drawing says nothing."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import dataclass

from ..units.length import INCH
from .sheet import Sheet

UP_TO = (6.0, 30.0, 120.0, 400.0, 1000.0, 2000.0, 4000.0)
"""mm; steps of the sizes in ISO 2768-1."""

GENERAL = {
    "f": (0.05, 0.1, 0.15, 0.2, 0.3, 0.5, 0.5),
    "m": (0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}
"""mm either way for linear sizes up to each step, by class; above, that of the last. ISO 2768-1,
from memory; class f names none above 2 m, and up to 3 mm class c asks 0.2."""

LEAST_FOLDED = 0.25
"""mm; less than this is not asked of a size across a bend, whatever the general tolerance says.
Common practice, no source."""

SIXTY_FOURTH = INCH / 64
"""mm; what a tray is held to in an inch shop. Common practice, no source."""


def general_tolerance(size: float, class_: str, *, inch: bool) -> float:
    """How far a size across bends may be off either way where nothing is said, mm.

    Args:
        size: mm.
        class_: of ISO 2768-1: ``f``, ``m``, ``c``, ``v``.
        inch: it is read on a rule in sixty-fourths, and never held to less.
    """
    at = bisect_left(UP_TO, abs(size))
    return max(SIXTY_FOURTH if inch else LEAST_FOLDED, GENERAL[class_][min(at, len(UP_TO) - 1)])


@dataclass(frozen=True)
class Rolled:
    """Thickness tolerances of one standard, for normal tolerances and common widths.

    Attributes:
        standard: its number.
        up_to: mm; steps of the nominal thickness.
        off: mm either way up to each step; beyond the last, the last share of the thickness.
    """

    standard: str
    up_to: tuple[float, ...]
    off: tuple[float, ...]

    def of(self, thickness: float) -> float:
        """mm either way."""
        at = bisect_left(self.up_to, thickness - 1e-9)
        return self.off[at] if at < len(self.off) else thickness * self.off[-1] / self.up_to[-1]


COLD = Rolled(
    "EN 10131",
    (0.4, 0.6, 0.8, 1.0, 1.2, 1.6, 2.0, 2.5, 3.0),
    (0.03, 0.03, 0.04, 0.05, 0.06, 0.08, 0.10, 0.12, 0.15),
)
HOT = Rolled(
    "EN 10051", (2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0), (0.17, 0.18, 0.20, 0.22, 0.24, 0.26, 0.29)
)
COATED = Rolled(
    "EN 10143",
    (0.4, 0.6, 0.8, 1.0, 1.2, 1.6, 2.0, 2.5, 3.0),
    (0.04, 0.04, 0.05, 0.06, 0.07, 0.10, 0.12, 0.14, 0.17),
)
STAINLESS = Rolled(
    "EN ISO 9445-2", (0.3, 0.5, 0.6, 0.8, 1.0, 1.2, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.5),
    (0.03, 0.04, 0.045, 0.05, 0.055, 0.06, 0.07, 0.08, 0.09, 0.11, 0.13, 0.15, 0.17),
)  # fmt: skip
ALUMINIUM = Rolled(
    "EN 485-4",
    (0.35, 0.4, 0.5, 0.6, 0.8, 1.0, 1.2, 1.5, 1.8, 2.0, 2.5, 3.0, 3.5, 4.0, 5.0, 6.0),
    (
        0.02,
        0.02,
        0.02,
        0.03,
        0.03,
        0.04,
        0.04,
        0.05,
        0.06,
        0.06,
        0.07,
        0.08,
        0.10,
        0.11,
        0.15,
        0.18,
    ),
)
COPPER = Rolled(
    "EN 1652",
    (0.3, 0.4, 0.5, 0.8, 1.2, 1.8, 2.5, 3.2, 4.0),
    (0.022, 0.025, 0.03, 0.04, 0.05, 0.06, 0.07, 0.09, 0.11),
)
"""Normal tolerances for sheets up to about a metre wide; all from memory."""

BY_GAUGE = {
    "steel": COLD,
    "swg": COLD,
    "galvanized": COATED,
    "stainless": STAINLESS,
    "brown-sharpe": ALUMINIUM,
}
HOT_ROLLED, HEAVY = "hot-rolled", 5_000.0
"""Key of what is rolled hot; kg/m³ from which a metal bought by Brown & Sharpe's gauges is copper
or brass and no aluminium."""


def rolled(sheet: Sheet) -> Rolled:
    """The standard a sheet is rolled to, by its metal."""
    metal = sheet.metal
    if metal.key == HOT_ROLLED:
        return HOT
    if metal.gauge_name == "brown-sharpe" and metal.density > HEAVY:
        return COPPER  # copper and brass are bought by the same gauges
    return BY_GAUGE[metal.gauge_name]


def sheet_tolerance(sheet: Sheet) -> tuple[float, str]:
    """How far a sheet may be off its nominal thickness either way, mm, and the standard that says
    so."""
    result = rolled(sheet)
    return result.of(sheet.thickness), result.standard
