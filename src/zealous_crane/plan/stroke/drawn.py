"""A machine as it is drawn with its sizes: its section from the end, and where each size is measured."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from ...measure.dataclass import dataclass

Array = NDArray[np.float64]
Place = tuple[float, float]


@dataclass(frozen=True)
class Drawn:
    """A machine's section.

    Attributes:
        outlines: (n, 2) float, mm, in the stroke's frame: y to the back, z up; by name, in the order they are drawn.
        sizes: by the field of the brake, the two ends between which it is measured, mm.
        first: fields that matter most, in the order a person takes them with a rule.
    """

    outlines: tuple[tuple[str, Array], ...]
    sizes: Mapping[str, tuple[Place, Place]]
    first: tuple[str, ...]

    @property
    def box(self) -> tuple[Place, Place]:
        """Least and greatest (y, z) of everything drawn, mm."""
        points = np.concatenate([outline for _, outline in self.outlines] + [np.array(ends) for ends in self.sizes.values()])
        low, high = points.min(axis=0), points.max(axis=0)
        return (float(low[0]), float(low[1])), (float(high[0]), float(high[1]))
