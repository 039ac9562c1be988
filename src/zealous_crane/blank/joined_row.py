"""Rivets, spots, screws and tacks in a row, on the flat."""

from __future__ import annotations

from dataclasses import field

import numpy as np
from numpy.typing import NDArray

from ..measure import Units
from ..measure.dataclass import dataclass
from ..measure.words import counted, the, tr
from ..part import Drilled, Joined
from .rule import shown

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class JoinedRow:
    """A row of rivets, spots, screws or tacks.

    Attributes:
        panel: name of the panel it is in.
        by: what it is made of.
        size: diameter, or length of a tack, mm.
        hole: drilled in this panel, mm; 0 where nothing is drilled.
        places: (n, 2) mm on the flat, along the row.
        pitch: between neighbours, mm; 0 of a single one.
        edge: least distance of a place from the edge of the metal, mm.
        grip: metal it holds together, mm.
        through: name of the panel behind; empty where that is another part's.
        behind: (n, 2) mm on the flat: where the places come to lie on that panel.
        hole_behind: drilled there, mm.
        drilled: when that is done.
        joint: number of the joint of the work it follows from; None where it is the part's own.
    """

    panel: str
    by: Joined
    size: float
    hole: float
    places: Array
    pitch: float
    edge: float
    grip: float
    through: str = ""
    behind: Array = field(default_factory=lambda: np.zeros((0, 2)))
    hole_behind: float = 0.0
    drilled: Drilled = Drilled.THROUGH
    joint: int | None = None

    @property
    def order(self) -> tuple[int, ...]:
        """In which order they are drilled and joined: the middle first, then outwards, one side and the other. Common practice,
        no source."""
        middle = (len(self.places) - 1) / 2
        return tuple(sorted(range(len(self.places)), key=lambda i: (abs(i - middle), i)))

    def says(self, units: Units) -> str:
        """``6 rivets of 1/8" in the left flange``."""
        n = len(self.places)
        what = {
            Joined.RIVET: counted("{count} rivet", "{count} rivets", n),
            Joined.SPOT: counted("{count} spot", "{count} spots", n),
            Joined.SCREW: counted("{count} screw", "{count} screws", n),
            Joined.TACK: counted("{count} tack", "{count} tacks", n),
        }[self.by]
        return tr("{what} of {size} in {panel}").format(what=what, size=shown(self.size, units), panel=the(self.panel))
