"""Lengths as they are read on a rule."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..job.job import Job, StrikeFrom
from ..units.length import INCH, Units, nearest_tick, show_length


def shown(value: float, units: Units) -> str:
    """A length to the nearest tick of the rule, marked ``≈`` when that is not exact."""
    tick = nearest_tick(value, units)
    text = show_length(tick, units, pretty=True)
    return text if abs(tick - value) < 5e-3 else "≈" + text.removeprefix("≈")


TOUCH = 1e-6
"""mm; rounding."""

RULE_INCH, RULE_MM = 1 / 64, 0.5
"""What a rule can set, in and mm."""


def next_mark(size: float, units: Units) -> float:
    """A width rounded up to what a rule can set, mm."""
    tick = INCH * RULE_INCH if units.is_inch else RULE_MM
    return math.ceil(size / tick - 1e-9) * tick


@dataclass(frozen=True)
class Striking:
    """From which edges lines are struck, and how far a scribe is set.

    Attributes:
        strike_from: the person's choice.
        reach: to which a scribe is set, mm; beyond it rule and straight-edge are used.
    """

    strike_from: StrikeFrom = "nearest"
    reach: float = 6 * INCH

    @classmethod
    def of(cls, job: Job) -> Striking:
        """How the lines of a job are struck."""
        return cls(job.strike_from, job.small_tools.scribe_reach)

    @property
    def datum(self) -> str | None:
        """The corner whose two edges sums begin at; None where every line has its nearest edge."""
        if self.strike_from == "nearest":
            return None
        return "left front" if self.strike_from == "both ways" else self.strike_from

    def far(self, value: float, span: float, names: tuple[str, str]) -> bool:
        """True where a line is struck from the second of two opposite edges.

        Args:
            value: from the first of them, mm.
            span: between both, mm.
            names: of both.
        """
        if self.strike_from == "both ways":
            return value > self.reach + TOUCH and span - value <= self.reach + TOUCH
        return value > span / 2 if self.datum is None else names[0] not in self.datum

    def edge(self, value: float, span: float, names: tuple[str, str]) -> tuple[float, str]:
        """How far (mm) a line is from the edge it is struck from, and which that is; arguments as
        of :meth:`far`.

        Args:
            value: mm.
            span: mm.
            names: edges by name.
        """
        return (span - value, names[1]) if self.far(value, span, names) else (value, names[0])


NEAREST = Striking()
"""Each line from its nearest edge."""
