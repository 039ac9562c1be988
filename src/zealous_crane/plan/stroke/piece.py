"""One outline of the picture of a stroke, seen from the end of the brake."""

from __future__ import annotations

from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from ...measure.dataclass import dataclass
from ..geometry.body import Body


class PieceKind(StrEnum):
    """What an outline is; ``section`` is what stands over the fold: a finger, a bar, a piece of the punch."""

    TOOL = "tool"
    SECTION = "section"
    CLAMPED = "clamped"
    FOLDING = "folding"
    RESTING = "resting"
    SWINGING = "swinging"
    BEND = "bend"


@dataclass(frozen=True, eq=False)
class Piece:
    """One outline.

    Attributes:
        kind: what it is.
        outline: (n, 2) float, (y, z) mm.
        body: what of the part it is; None for a tool and the bend itself.
    """

    kind: PieceKind
    outline: NDArray[np.float64]
    body: Body | None = None
