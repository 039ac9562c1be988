"""What is cut away from the flat: notches, their reliefs, and holes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..measure.dataclass import dataclass
from .path import Path

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Relief:
    """The cut at the inner point of a notch.

    Attributes:
        name: the corner it is at.
        shape: ``round``, ``square`` or ``slot``.
        size: diameter, side or width, mm.
        centre: (2,) mm, where the bend lines cross.
        least: what the rule asks, mm.
        at_corner: two folds cross here; False where one ends within its edge.
    """

    name: str
    shape: str
    size: float
    centre: Array
    least: float
    at_corner: bool = True


@dataclass(frozen=True)
class Notch:
    """Waste cut away from the sheared rectangle.

    Attributes:
        name: where it is.
        waste: outline of what is cut away, reliefs included.
        points: (n, 2) mm, its corners that lie inside the rectangle: what is marked before cutting.
    """

    name: str
    waste: Path
    points: Array


@dataclass(frozen=True)
class Hole:
    """A hole inside the outline.

    Attributes:
        name: as the shop calls it.
        path: its edge.
        centre: (2,) mm.
        kind: ``round``, ``slot``, ``rectangle``, ``relief``, ``fold slot`` or ``other``.
        size: length (diameter) and width, mm.
        panel: index of the panel it lies in, −1 where it lies on a fold.
        after_bending: cut when the part is bent.
        turn: degrees its longer size is turned from the blank's length, 0 to 180.
        edge: least distance its centre should keep from the edge of the metal, mm; 0 where nothing hangs on it.
    """

    name: str
    path: Path
    centre: Array
    kind: str
    size: tuple[float, float]
    panel: int = -1
    after_bending: bool = False
    edge: float = 0.0
    turn: float = 0.0
