"""Forces as a shop says them."""

from __future__ import annotations

from .length import Units
from .worded import Worded
from .words import tr

SHORT_TON, METRIC_TON = 8.896443, 9.80665
"""kN in a short ton of 2000 lbf and in a metric ton: by definition of the pound, the kilogram and standard gravity."""


class Tonnage(Worded):
    """What a shop says the force of its press in."""

    BY_UNITS = "by-units"
    """Short tons in an inch job, kilonewtons otherwise."""
    SHORT = "short-tons"
    METRIC = "metric-tons"
    KILONEWTONS = "kilonewtons"

    @property
    def words(self) -> str:
        """As it is read."""
        return {
            Tonnage.BY_UNITS: tr("as lengths: tons or kN"),
            Tonnage.SHORT: tr("tons of 2000 lb"),
            Tonnage.METRIC: tr("metric tons"),
            Tonnage.KILONEWTONS: tr("kilonewtons"),
        }[self]


_said_in = [Tonnage.BY_UNITS]


def say_forces_in(tonnage: Tonnage) -> None:
    """From now on forces are said so, on every screen and paper of this process: like the language, it changes no figure."""
    _said_in[0] = tonnage


def forces_said_in() -> Tonnage:
    """What forces are said in, in this process."""
    return _said_in[0]


def show_force(kilonewtons: float, units: Units) -> str:
    """A force as the shop says it, and in the other unit its plates may have: ``18.5 kN (1.9 t)``, ``2.1 tons (18.5 kN)``.

    >>> show_force(88.96443, Units.FRACTIONS)
    '10 tons (89 kN)'
    """
    said_in = _said_in[0]
    if said_in is Tonnage.BY_UNITS:
        said_in = Tonnage.SHORT if units.is_inch else Tonnage.KILONEWTONS
    kn = f"{kilonewtons:.0f} kN" if kilonewtons >= 30 else f"{kilonewtons:.1f} kN"
    short, metric = f"{_short(kilonewtons / SHORT_TON)} tons", f"{_short(kilonewtons / METRIC_TON)} t"
    if said_in is Tonnage.KILONEWTONS:
        return f"{kn} ({short if units.is_inch else metric})"
    return f"{short if said_in is Tonnage.SHORT else metric} ({kn})"


def _short(value: float) -> str:
    text = f"{value:.0f}" if value >= 100 else f"{value:.1f}"
    return text.removesuffix(".0") if value >= 10 else text
