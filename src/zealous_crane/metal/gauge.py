"""The four gauge tables. The same number means a different thickness in each."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from ..errors import InputError
from ..i18n import Message, msg, tr
from ..units.length import INCH

# Manufacturers' Standard Gauge for steel sheet, inches. Each number stands for a weight in ounces
# per square foot over 41.82 lb per square foot per inch of thickness; values from memory, tested
# against the weights.
_STEEL = {
    3: 0.2391,
    4: 0.2242,
    5: 0.2092,
    6: 0.1943,
    7: 0.1793,
    8: 0.1644,
    9: 0.1495,
    10: 0.1345,
    11: 0.1196,
    12: 0.1046,
    13: 0.0897,
    14: 0.0747,
    15: 0.0673,
    16: 0.0598,
    17: 0.0538,
    18: 0.0478,
    19: 0.0418,
    20: 0.0359,
    21: 0.0329,
    22: 0.0299,
    23: 0.0269,
    24: 0.0239,
    25: 0.0209,
    26: 0.0179,
    27: 0.0164,
    28: 0.0149,
    29: 0.0135,
    30: 0.0120,
}

# Galvanized sheet gauge: the steel gauge and its zinc, inches. From memory.
_GALVANIZED = {
    8: 0.1681,
    9: 0.1532,
    10: 0.1382,
    11: 0.1233,
    12: 0.1084,
    13: 0.0934,
    14: 0.0785,
    15: 0.0710,
    16: 0.0635,
    17: 0.0575,
    18: 0.0516,
    19: 0.0456,
    20: 0.0396,
    21: 0.0366,
    22: 0.0336,
    23: 0.0306,
    24: 0.0276,
    25: 0.0247,
    26: 0.0217,
    27: 0.0202,
    28: 0.0187,
    29: 0.0172,
    30: 0.0157,
}

# Stainless sheet follows the old United States Standard gauge (weights over 640 oz per square foot
# per inch), inches. From memory, tested against the weights.
_STAINLESS = {
    7: 0.1875,
    8: 0.1719,
    9: 0.1563,
    10: 0.1406,
    11: 0.1250,
    12: 0.1094,
    13: 0.0938,
    14: 0.0781,
    15: 0.0703,
    16: 0.0625,
    17: 0.0563,
    18: 0.0500,
    19: 0.0438,
    20: 0.0375,
    21: 0.0344,
    22: 0.0313,
    23: 0.0281,
    24: 0.0250,
    25: 0.0219,
    26: 0.0188,
    27: 0.0172,
    28: 0.0156,
    29: 0.0141,
    30: 0.0125,
}


# Imperial Standard Wire Gauge, by which sheet is sold where it is still named, inches. From memory.
_SWG = {
    7: 0.176,
    8: 0.160,
    9: 0.144,
    10: 0.128,
    11: 0.116,
    12: 0.104,
    13: 0.092,
    14: 0.080,
    15: 0.072,
    16: 0.064,
    17: 0.056,
    18: 0.048,
    19: 0.040,
    20: 0.036,
    21: 0.032,
    22: 0.028,
    23: 0.024,
    24: 0.022,
    25: 0.020,
    26: 0.018,
    27: 0.0164,
    28: 0.0148,
    29: 0.0136,
    30: 0.0124,
}

OUNCE = 28.349523
"""Grams."""

FOOT = 0.3048
"""Metres."""


def by_weight(ounces: float, density: float) -> float:
    """Thickness (mm) of sheet that weighs so many ounces to the square foot, as copper is sold;
    ``density`` in kg/m³."""
    return ounces * OUNCE / 1000 / FOOT**2 / density * 1000


def brown_sharpe(gauge: int) -> float:
    """Thickness (in) in the Brown & Sharpe gauge: 39 equal ratios from 0.46 in (0000) to 0.005 in
    (36).

    Source: the construction of the gauge as in ASTM B258, from memory.
    """
    return 0.005 * math.pow(92.0, (36 - gauge) / 39)


@dataclass(frozen=True)
class GaugeTable:
    """One gauge: whole numbers to thickness.

    Attributes:
        name: as a supplier's list heads it.
        inches: gauge number to thickness in inches.
        source: where the figures come from.
    """

    name: Message
    inches: dict[int, float]
    source: Message

    def thickness(self, gauge: int) -> float:
        """Thickness in mm.

        Raises:
            InputError: the gauge is not in this table.
        """
        try:
            return self.inches[gauge] * INCH
        except KeyError:
            low, high = min(self.inches), max(self.inches)
            raise InputError(
                tr("{gauge} ga is not in the {name} gauge ({low} to {high}).").format(
                    gauge=gauge, name=self.name, low=low, high=high
                )
            ) from None

    def nearest(self, thickness: float) -> int:
        """The gauge number nearest to a thickness in mm."""
        return min(self.inches, key=lambda gauge: abs(self.inches[gauge] * INCH - thickness))


GaugeName = Literal["steel", "galvanized", "stainless", "swg", "brown-sharpe"]
"""Gauge tables by name."""

GAUGE_TABLES: dict[str, GaugeTable] = {
    "steel": GaugeTable(
        msg("steel (manufacturers' standard)"),
        _STEEL,
        msg("Manufacturers' Standard Gauge; not checked against the standard"),
    ),
    "galvanized": GaugeTable(
        msg("galvanized sheet"),
        _GALVANIZED,
        msg("Galvanized Sheet Gauge; not checked against the standard"),
    ),
    "stainless": GaugeTable(
        msg("stainless"),
        _STAINLESS,
        msg("United States Standard Gauge; not checked against the standard"),
    ),
    "swg": GaugeTable(
        msg("imperial standard wire"),
        _SWG,
        msg("Imperial Standard Wire Gauge; not checked against the standard"),
    ),
    "brown-sharpe": GaugeTable(
        msg("Brown & Sharpe"),
        {n: round(brown_sharpe(n), 4) for n in range(2, 31)},
        msg("ASTM B258 construction; not checked against the standard"),
    ),
}


def gauge_table(name: str) -> GaugeTable:
    """The gauge table of that name: ``steel``, ``galvanized``, ``stainless``, ``brown-sharpe`` or
    ``swg``."""
    return GAUGE_TABLES[name]
