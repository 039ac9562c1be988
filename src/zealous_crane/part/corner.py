"""What is done where two flanges of one panel meet: the notch between them and its relief."""

from __future__ import annotations

from enum import StrEnum

from pydantic import Field

from ..measure import Length
from .model import Written


class ReliefShape(StrEnum):
    """Shape of the cut at the inner point of a corner notch."""

    NONE = "none"
    ROUND = "round"
    SQUARE = "square"


class Relief(Written):
    """The relief cut at the inner point of a notch.

    Attributes:
        shape: none, round (a drilled or punched hole) or square.
        size: diameter or side, mm; None lets the rule choose.
    """

    shape: ReliefShape = ReliefShape.ROUND
    size: Length | None = None


class Corner(Written):
    """An open butt corner: both walls end at the other's inside face, less a gap.

    Attributes:
        gap: how far each wall's end stays short of its neighbour's inside face, mm. None takes one
            thickness rounded up to what a rule can set. The gap is not only for burrs: at the over-bend of
            the last wall the leaf leans past the ends of the standing walls, and the gap lets it.
        relief: the cut at the inner point.
    """

    gap: Length | None = Field(default=None)
    relief: Relief = Relief()
