"""Something a careful hand would say about the flat."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..measure.dataclass import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Finding:
    """Something a careful hand would say about the flat.

    Attributes:
        says: the sentence.
        where: (2,) mm on the flat, None when it is about all of it.
        kind: one word: ``hole``, ``flange``, ``metal``, ``relief``, ``hem``, ``school``, ``lip`` …
    """

    says: str
    where: Array | None = None
    kind: str = ""
