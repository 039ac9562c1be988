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
        at: radius of single bends that are made with other tools, mm, by the fold's name.
    """

    radius: float
    press: bool
    says: str
    at: tuple[tuple[str, float], ...] = ()
