"""A sentence whose figures are still data: put into the reader's units when it is read."""

from __future__ import annotations

from .dataclass import dataclass
from .force import show_force
from .length import Units, show_length
from .words import tr


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
            return tr("{force} per foot").format(force=show_force(self * FOOT, units))
        return tr("{force} per metre").format(force=show_force(self, units))


FOOT = 0.3048
"""m in a foot, by definition."""


@dataclass(frozen=True)
class Said:
    """A sentence with its figures.

    Attributes:
        sentence: whole, with the names of its values in braces.
        values: what is put in, by name.
    """

    sentence: str
    values: tuple[tuple[str, Value], ...] = ()

    @classmethod
    def of(cls, sentence: str, **values: Value) -> Said:
        """A sentence and what is put into it."""
        return cls(sentence, tuple(values.items()))

    def text(self, units: Units) -> str:
        """The sentence in the reader's units.

        >>> Said.of("the part is {length} long", length=Long(254)).text(Units.FRACTIONS)
        'the part is 10" long'
        """
        if not self.values:
            return self.sentence
        return self.sentence.format(**{name: _shown(value, units) for name, value in self.values})


Value = str | Long | Force | ForceAlong | Said


def _shown(value: Value, units: Units) -> str:
    match value:
        case str():
            return value
        case Said():
            return value.text(units)
        case _:
            return value.shown(units)
