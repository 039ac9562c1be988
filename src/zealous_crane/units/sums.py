"""A computed number that can be opened: its terms, their names, and the rule they come from."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..i18n import Phrase
from .length import Units, show_length


@dataclass(frozen=True)
class Term:
    """One summand.

    Attributes:
        what: name of the summand in shop words.
        value: mm, without sign from the count.
        count: how often it is added; negative when it is taken away.
        by_bend: it is what a bend gains, written after the heights.
    """

    what: Phrase
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

    what: Phrase
    terms: tuple[Term, ...]
    rule: Phrase = ""
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
