"""The blank: everything known about the flat before a brake is chosen."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend
from ..measure import Sum
from ..metal import Sheet
from .path import Path

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Panel:
    """One flat region between bends.

    Attributes:
        name: as the shop calls it.
        polygon: (n, 2) float, mm, counter-clockwise and convex; from tangent line to tangent line. Relief cuts
            are not taken out of it, so it is never smaller than the metal.
    """

    name: str
    polygon: Array


@dataclass(frozen=True)
class Fold:
    """One bend line and the two panels it joins.

    Attributes:
        name: as the shop calls it.
        parent, child: panel indices; the child is the one farther from the base.
        start, end: (2,) float, mm: ends of the bend line where metal crosses it, the middle of the allowance.
        outward: (2,) unit vector from parent to child.
        angle: degrees from flat, positive towards the inside face (up).
        bend: radius, thickness and allowance.
    """

    name: str
    parent: int
    child: int
    start: Array
    end: Array
    outward: Array
    angle: float
    bend: Bend

    @property
    def length(self) -> float:
        """Length of metal across the line, mm."""
        return float(np.hypot(*(self.end - self.start)))


@dataclass(frozen=True)
class Notch:
    """Waste cut out of one corner of the sheared rectangle.

    Attributes:
        name: where it is.
        waste: outline of what is cut away, relief included.
        point: (2,) mm, where the two straight cuts meet.
        centre: (2,) mm, centre of the relief; on the crossing of the bend lines.
        relief: ``none``, ``round`` or ``square``.
        size: diameter or side of the relief, mm; 0 for none.
    """

    name: str
    waste: Path
    point: Array
    centre: Array
    relief: str
    size: float


@dataclass(frozen=True)
class Blank:
    """The developed part. The lower left corner of the sheared rectangle is (0, 0), inside face up.

    Attributes:
        sheet: metal and thickness.
        size: length (x) and width (y) of the sheared rectangle, mm.
        outline: what is left after notching.
        panels: base first.
        folds: every bend line, in the order of the design tree.
        notches: what is cut away.
        sums: every computed length that can be opened.
        doubts: sentences about the development a person should know.
    """

    sheet: Sheet
    size: tuple[float, float]
    outline: Path
    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...]
    notches: tuple[Notch, ...]
    sums: tuple[Sum, ...]
    doubts: tuple[str, ...]

    @property
    def thickness(self) -> float:
        return self.sheet.thickness

    @cached_property
    def area(self) -> float:
        """Area of the finished flat, mm²."""
        return self.outline.area

    @cached_property
    def waste(self) -> float:
        """Area cut away, mm²."""
        return sum(notch.waste.area for notch in self.notches)

    @property
    def mass(self) -> float:
        """Mass of the finished part, kg."""
        return self.area * self.thickness * self.sheet.metal.density * 1e-9

    def panel(self, name: str) -> Panel:
        """The panel of that name."""
        return next(panel for panel in self.panels if panel.name == name)
