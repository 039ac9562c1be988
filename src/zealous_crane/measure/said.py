"""A sentence whose figures are still data: put into the reader's units when it is read."""

from __future__ import annotations

from dataclasses import dataclass

from .force import show_force
from .length import Units, show_length


class Long(float):
    """A length in a sentence, mm."""

    def shown(self, units: Units) -> str:
        """In the reader's units, millimetres to what matters in a sentence."""
        figures = 0 if abs(self) >= 100 else 1 if abs(self) >= 10 else 2
        return show_length(round(self, figures) if units is Units.MM else self, units)


class Force(float):
    """A force in a sentence, kN."""

    def shown(self, units: Units) -> str:
        """In the reader's units."""
        return show_force(self, units)


class ForceAlong(float):
    """A force for a length of bend in a sentence, kN per metre."""

    def shown(self, units: Units) -> str:
        """In the reader's units: per metre, or per foot in an inch job."""
        if units.is_inch:
            return f"{show_force(self * FOOT, units)} per foot"
        return f"{show_force(self, units)} per metre"


FOOT = 0.3048
"""m in a foot, by definition."""


@dataclass(frozen=True)
class Said:
    """A sentence with its figures.

    Attributes:
        parts: words and figures in the order they are read.
    """

    parts: tuple[str | Long | Force | ForceAlong, ...]

    @classmethod
    def of(cls, *parts: str | Long | Force | ForceAlong) -> Said:
        """The sentence put together from words and figures."""
        return cls(parts)

    def text(self, units: Units) -> str:
        """The sentence in the reader's units.

        >>> Said.of("the part is ", Long(254), " long").text(Units.FRACTIONS)
        'the part is 10" long'
        """
        return "".join(part if isinstance(part, str) else part.shown(units) for part in self.parts)
