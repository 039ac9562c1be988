"""Figures that stand in a message: numbers until it is known in which units they are read."""

from __future__ import annotations

from dataclasses import dataclass

from ..i18n import tr
from .length import Units, show_length
from .quantities import show_angle, show_force


@dataclass(frozen=True)
class Length:
    """A length in a sentence.

    Attributes:
        length: mm.
        units: of the job it is said of; where it is shown in others, those count.
        fine: to a caliper's figures, not a rule's.
        pretty: with typographic fractions.
    """

    length: float
    units: Units
    fine: bool = False
    pretty: bool = False

    def shown(self, units: Units | None) -> str:
        """In the reader's units."""
        read_in = units or self.units
        return show_length(self.length, read_in.fine if self.fine else read_in, pretty=self.pretty)


class Angle(float):
    """An angle in a sentence, degrees."""

    def shown(self, _units: Units | None) -> str:
        """As every angle is read."""
        return show_angle(self)


class Long(float):
    """A length in a sentence, mm."""

    def shown(self, units: Units | None) -> str:
        """In the reader's units, millimetres to what matters in a sentence."""
        units = units or Units.MM
        figures = 0 if abs(self) >= 100 else 1 if abs(self) >= 10 else 2
        return show_length(round(self, figures) if units is Units.MM else self, units)


class Force(float):
    """A force in a sentence, kN."""

    def shown(self, units: Units | None) -> str:
        """In the reader's units."""
        return show_force(self, units or Units.MM)


class ForceAlong(float):
    """A force for a length of bend in a sentence, kN per metre."""

    def shown(self, units: Units | None) -> str:
        """In the reader's units: per metre, or per foot in an inch job."""
        if units is not None and units.is_inch:
            return tr("{force} per foot").format(force=show_force(self * FOOT, units))
        return tr("{force} per metre").format(force=show_force(self, units or Units.MM))


FOOT = 0.3048
"""m in a foot, by definition."""
