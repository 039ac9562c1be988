"""Lines on the flat that are not cut."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..measure.dataclass import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class MarkLine:
    """A line that is not cut: cross-break, bead, edge of formed metal, spot weld.

    Attributes:
        name: what it is.
        start, end: (2,) mm; the same point for a spot.
        kind: ``cross-break``, ``bead``, ``formed`` or ``spot``.
    """

    name: str
    start: Array
    end: Array
    kind: str
