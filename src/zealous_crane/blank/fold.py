"""Lines the sheet is bent on."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..allowance import Bend
from ..measure.dataclass import dataclass
from ..measure.once import once
from .element import MadeBy

Array = NDArray[np.float64]


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
        made_by: what makes it.
    """

    name: str
    parent: int
    child: int
    start: Array
    end: Array
    outward: Array
    angle: float
    bend: Bend
    made_by: MadeBy = MadeBy.BRAKE

    @once
    def length(self) -> float:
        """Length of metal across the line, mm."""
        return float(np.hypot(*(self.end - self.start)))

    @property
    def give(self) -> float:
        """How far in from either end what it carries gives way beside the ear of a folded corner, mm: twice (r + T). Common practice, no
        source."""
        return 2 * (self.bend.radius + self.bend.thickness)

    @property
    def marked_on(self) -> str:
        """The face its line is scribed on: the one that shows when it is folded upwards on the brake."""
        return "inside" if self.angle > 0 else "outside"


@dataclass(frozen=True)
class Crease:
    """A line creased by hand that closes a ring of panels: the second line of an ear.

    Attributes:
        name: as the shop calls it.
        start, end: (2,) mm.
        angle: signed degrees it ends up at.
    """

    name: str
    start: Array
    end: Array
    angle: float
