"""One size of a finished part: what is wanted, what is allowed, how it came out."""

from __future__ import annotations

from enum import StrEnum

from ..measure.dataclass import dataclass
from .model import Measure

NEAR_EDGE = 0.75
"""Of what is allowed: from here on a size is near the edge of it."""


class Stands(StrEnum):
    """How a size came out."""

    OPEN = "open"
    GOOD = "good"
    NEAR = "near"
    OUT = "out"


@dataclass(frozen=True)
class Line:
    """One size.

    Attributes:
        measure: what is measured.
        wanted: mm or degrees.
        allowed: how far it may be off either way.
        standard: the standard that says so; empty where it is the job, or the general tolerance.
        promised: within how much of what is wanted nine parts in ten come out, when all goes as usual.
    """

    measure: Measure
    wanted: float
    allowed: float
    promised: float
    standard: str = ""

    def stands(self, got: float | None) -> Stands:
        """How it came out."""
        if got is None:
            return Stands.OPEN
        off = abs(got - self.wanted)
        return Stands.OUT if off > self.allowed + 1e-9 else Stands.NEAR if off > NEAR_EDGE * self.allowed else Stands.GOOD
