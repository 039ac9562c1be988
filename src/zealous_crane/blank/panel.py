"""One flat region between bends."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..measure.dataclass import dataclass
from ..measure.once import once
from .convex import convex_pieces
from .path import Path

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Panel:
    """One flat region between bends.

    Attributes:
        name: as the shop calls it.
        polygon: (n, 2) float, mm, counter-clockwise and simple; from tangent line to tangent line. Relief cuts and holes
            are not taken out of it, so it is never smaller than the metal.
        lies_on: name of the panel it is made to lie against when all is bent, as a tab does; else empty.
    """

    name: str
    polygon: Array
    lies_on: str = ""

    @once
    def outline(self) -> Path:
        """The polygon as a path of straight lines."""
        return Path.polygon(self.polygon)

    @once
    def pieces(self) -> tuple[Array, ...]:
        """The polygon in convex pieces (k, 2), counter-clockwise."""
        return convex_pieces(self.polygon)
