"""What a brake makes of a fold by itself."""

from __future__ import annotations

from ..measure.dataclass import dataclass


@dataclass(frozen=True)
class ToolRadius:
    """The inside radius a brake gives a fold, and how.

    Attributes:
        radius: inside radius, mm.
        press: it is pressed into a V, not folded on a leaf.
        says: where the radius comes from, a sentence.
    """

    radius: float
    press: bool
    says: str
