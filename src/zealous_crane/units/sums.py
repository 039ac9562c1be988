"""A computed number that can be opened: its terms, their names, and the rule they come from."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..i18n import tr
from .length import Units, show_length
from .quantities import show_force


@dataclass(frozen=True)
class Term:
    """One summand.

    Attributes:
        what: name of the summand in shop words.
        value: mm, without sign from the count.
        count: how often it is added; negative when it is taken away.
        by_bend: it is what a bend gains, written after the heights.
    """

    what: str
    value: float
    count: int = 1
    by_bend: bool = False


class SumKind(StrEnum):
    """What a sum is about."""

    BLANK = "blank"
    """A size of the sheared rectangle."""
    RELIEF = "relief"
    SHAPE = "shape"
    """A size that follows from others of the part: a cap's, a slanted fold's true length, a tab's
    flat length."""
    FIT = "fit"
    """A size that follows from another part's."""
    RADIUS = "radius"
    LINE = "line"
    """Where something is marked."""
    OTHER = "other"


@dataclass(frozen=True)
class Sum:
    """A length with the terms it was added from.

    Attributes:
        what: what the total is.
        terms: the summands in the order a hand would add them.
        rule: the rule or formula, with its source, in one sentence.
        kind: what it is about.
    """

    what: str
    terms: tuple[Term, ...]
    rule: str = ""
    kind: SumKind = SumKind.OTHER

    @property
    def total(self) -> float:
        """The sum in mm."""
        return sum(term.count * term.value for term in self.terms)

    def text(self, units: Units, *, pretty: bool = False) -> str:
        """The sum in the operator's own figures.

        >>> Sum("blank", (Term("base", 215.9), Term("wall", 63.5, 2))).text(Units.FRACTIONS)
        '8 1/2 + 2 × 2 1/2 = 13 1/2"'
        """
        parts: list[str] = []
        for term in self.terms:
            if term.count == 0 or abs(term.value) < 5e-4:
                continue
            # The sign is carried by the joint, so a negative value reads as a subtraction.
            negative = term.count * term.value < 0
            shown = show_length(abs(term.value), units, mark=False, pretty=pretty)
            if abs(term.count) != 1:
                shown = f"{abs(term.count)} × {shown}"
            joint = ("−" if negative else "") if not parts else (" − " if negative else " + ")
            parts.append(joint + shown)
        total = show_length(self.total, units, pretty=pretty)
        return f"{''.join(parts) or '0'} = {total}"


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
class Message:
    """A sentence with its figures.

    Attributes:
        sentence: whole, with the names of its values in braces.
        values: what is put in, by name.
    """

    sentence: str
    values: tuple[tuple[str, Value], ...] = ()

    @classmethod
    def of(cls, sentence: str, **values: Value) -> Message:
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


Value = str | Long | Force | ForceAlong | Message


def _shown(value: Value, units: Units) -> str:
    match value:
        case str():
            return value
        case Message():
            return value.text(units)
        case _:
            return value.shown(units)
