"""What a machine is rated for, as its plate says it: mild steel of a gauge or a thickness."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BeforeValidator

from ..cache import cached
from ..errors import InputError
from ..i18n import tr
from ..schema.model import PositiveLength
from ..units.length import LengthError, Units, cut, parse_length, show_length
from .gauge import by_weight, gauge_table
from .material import MILD_TENSILE, Material

GAUGE = re.compile(r"^\s*(?:#\s*(\d+)|(\d+)\s*(?:ga|gauge|g)\.?)\s*$", re.IGNORECASE)
"""A gauge as it is written: ``22 ga``, ``#22``."""


def read_rating(text: str, units: Units = Units.FRACTIONS) -> float:
    """Thickness of mild steel in mm, from ``16 ga`` by the steel gauge, or from a length.

    Args:
        text: as typed.
        units: those of a bare number.

    Raises:
        InputError: it is neither.
    """
    gauge = GAUGE.match(text[:80])
    return (
        gauge_table("steel").thickness(int(gauge[1] or gauge[2]))
        if gauge
        else parse_length(text, units)
    )


SAME_GAUGE = 0.002
"""Share by which a rating may differ from a gauge of steel and still be that gauge."""


def gauge_of(rated: float) -> int | None:
    """Gauge of steel that a rating (mm) is, as the machine's plate says it; None where it is a
    thickness of its own."""
    table = gauge_table("steel")
    nearest = table.nearest(rated)
    return nearest if abs(table.thickness(nearest) - rated) <= SAME_GAUGE * rated else None


def _read(value: Any) -> Any:
    return read_rating(value) if isinstance(value, str) else value


SteelRating = Annotated[PositiveLength, BeforeValidator(_read)]
"""Thickest mild steel a machine takes: mm, a gauge of steel or a length as text."""


def is_rating(metadata: list[Any]) -> bool:
    """True for the metadata of a :data:`SteelRating` field."""
    return any(getattr(item, "func", None) is _read for item in metadata)


_SWG = re.compile(r"^\s*(\d+)\s*swg\s*$", re.IGNORECASE)
_WEIGHT = re.compile(r"^\s*(\d+(?:[.,]\d+)?)\s*oz\.?\s*$", re.IGNORECASE)
_NAMED = re.compile(r"^\s*(\d+)\s*(?:ga|gauge|g)\.?\s+([a-zäöüß]{2,20})\.?\s*$", re.IGNORECASE)
_BARE = re.compile(r"^\s*(\d{1,2})\s*$")

TABLE_WORDS: dict[str, tuple[str, ...]] = {
    "galvanized": ("galv", "galvanized", "galvanised", "gi"),
    "steel": ("steel", "mild", "ms", "crs", "crca", "hrs"),
    "stainless": ("stainless", "ss", "inox"),
    "brown-sharpe": ("al", "alu", "alum", "aluminium", "aluminum", "brass", "copper"),
}
"""Words people write behind a gauge, by the table they mean."""

THINNEST, THICKEST = 0.1, 25.0
"""Thicknesses (mm) that are sheet or plate; anything else is a slip of the pen."""


ALIKE = 1.1
"""Times the strength of mild steel up to which galvanized sheet counts as what a machine's gauge
names."""


PLATE = 6.5
"""mm; a bare decimal that reads as thicker in inches is rather meant in millimetres, and is asked
about."""


def _asked(written: str, thickness: float, units: Units) -> None:
    """A bare decimal in an inch job that would be plate, and would be sheet in millimetres, is
    asked about.

    Raises:
        InputError: it may be either.
    """
    bare = re.fullmatch(r"\s*(\d*[.,]\d+)\s*", written)
    if units.is_inch and bare and thickness > PLATE:
        value = bare[1].replace(",", ".")
        raise InputError(
            tr(
                "A thickness of {value} could be {value} mm or {value} inch ({thickness}). Write "
                '{value} mm or {value}".'
            ).format(value=value, thickness=show_length(thickness, Units.MM))
        )


def _told(metal: Material, written: str, units: Units) -> str:
    """What was typed with its gauge spelt out: ``26`` and ``18 ga galv`` are ``26 ga`` and ``18
    ga`` where only that can be meant.

    Raises:
        InputError: it names the gauge of another metal, or may be a gauge as well as plate.
    """
    named, bare = _NAMED.match(written[:80]), _BARE.match(written[:80])
    if named:
        table = next(
            (table for table, words in TABLE_WORDS.items() if named[2].lower() in words), None
        )
        if table == metal.gauge_name:
            return f"{named[1]} ga"
        if table is not None:
            raise InputError(
                tr(
                    "{written} is a gauge of the {table} table, and {metal} goes by the {table_2} "
                    "table. Choose the metal, or write {gauge} ga."
                ).format(
                    written=cut(written.strip()),
                    table=gauge_table(table).name,
                    metal=metal.name,
                    table_2=metal.gauge.name,
                    gauge=named[1],
                )
            )
    if bare and int(bare[1]) in metal.gauge.inches:
        length = parse_length(written, units)
        if length > THICKEST:
            return f"{bare[1]} ga"
        if length > PLATE:
            raise InputError(
                tr(
                    "A thickness of {value} could be {value} ga ({thin}) or plate of {thick}. "
                    "Write {value} ga or {thick}."
                ).format(
                    value=bare[1],
                    thin=show_length(metal.gauge.thickness(int(bare[1])), units.fine),
                    thick=show_length(length, units),
                )
            )
    return written


@dataclass(frozen=True)
class Sheet:
    """A metal at a thickness.

    Attributes:
        metal: the material.
        thickness: mm.
        written: as the thickness was written (``0.8 mm``), a gauge as ``22 ga``.
    """

    metal: Material
    thickness: float
    written: str

    @classmethod
    @cached(256, lasts=True)
    def read(cls, metal: Material, written: str, units: Units = Units.FRACTIONS) -> Sheet:
        """Read a thickness written as a gauge (by the metal's own table; ``20 swg`` by that one), a
        weight (``16 oz`` to the square foot, as copper is sold) or a length.

        Args:
            metal: the metal.
            written: as a person wrote it.
            units: what lengths are shown in.

        Raises:
            InputError: unreadable, not in the gauge table, or not a sheet thickness.
        """
        written = _told(metal, written, units)
        gauge, swg, weight = (pattern.match(written[:80]) for pattern in (GAUGE, _SWG, _WEIGHT))
        if swg:
            thickness = gauge_table("swg").thickness(int(swg[1]))
        elif weight:
            thickness = by_weight(float(weight[1].replace(",", ".")), metal.density)
        elif gauge:
            number = int(gauge[1] or gauge[2])
            thickness, written = metal.gauge.thickness(number), f"{number} ga"
        else:
            try:
                thickness = parse_length(written, units)
                _asked(written, thickness, units)
            except LengthError:
                raise InputError(
                    tr(
                        "The thickness {what!r} could not be read. Write a gauge such as 22 ga, "
                        "or a length such as "
                        '0.030" or 0.8 mm.'
                    ).format(what=cut(written.strip()))
                ) from None
        if not THINNEST <= thickness <= THICKEST:
            # A sixty-fourth is too coarse for sheet.
            shown = units.fine
            low, high = show_length(THINNEST, shown), show_length(THICKEST, shown)
            raise InputError(
                tr(
                    "The thickness {what} is {thickness}; sheet and plate run from {low} to {high}."
                ).format(
                    what=cut(written.strip()),
                    thickness=show_length(thickness, shown),
                    low=low,
                    high=high,
                )
            )
        return cls(metal, thickness, written.strip())

    def allowed_by(self, rated: float) -> float:
        """Thickest sheet of this metal (mm) on a machine rated for mild steel of ``rated`` mm.

        T = T_rated · √(Rm_mild / Rm): bending force goes with strength times thickness squared.
        Rated by a gauge it takes that gauge of galvanized sheet too, which is thicker by its own
        table. Common practice, no source.
        """
        allowed = rated * math.sqrt(MILD_TENSILE / self.metal.tensile)
        gauge = gauge_of(rated) if self.metal.gauge_name == "galvanized" else None
        if gauge is None or self.metal.tensile > MILD_TENSILE * ALIKE:
            return allowed
        return max(allowed, self.metal.gauge.thickness(gauge))

    @property
    def least_radius(self) -> float:
        """Least inside radius for a 90° fold across the grain, mm; it grows with the thickness.
        From memory."""
        factor = self.metal.least_radius
        for start, thicker in self.metal.thicker:
            if self.thickness >= start - 1e-9:
                factor = max(factor, thicker)
        return factor * self.thickness

    @property
    def least_radius_along(self) -> float:
        """The same along the grain, as the metal says, else half as much again. Common practice, no
        source."""
        if self.metal.along is None or not self.metal.least_radius:
            return max(1.5 * self.least_radius, (self.metal.along or 0.0) * self.thickness)
        return self.metal.along / self.metal.least_radius * self.least_radius

    @property
    def name(self) -> str:
        """``Galvanized steel, 22 ga``."""
        return f"{self.metal.name}, {self.written}"
