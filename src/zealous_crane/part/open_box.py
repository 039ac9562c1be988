"""The open box: a base and four walls, square notches, butt corners."""

from __future__ import annotations

from typing import Literal

from ..measure import PositiveLength
from .corner import Corner
from .design import Base, Design, Edge, Flange, Measured
from .model import Written


class OpenBox(Written):
    """A ready kind: an open box by its three sizes.

    Attributes:
        length: left to right, mm.
        width: away from you, mm.
        depth: height of the walls, mm.
        measured: whether the three sizes are inside or outside sizes.
        corner: notch gap and relief.
    """

    kind: Literal["open-box"] = "open-box"
    length: PositiveLength
    width: PositiveLength
    depth: PositiveLength
    measured: Measured = Measured.INSIDE
    corner: Corner = Corner()

    def design(self) -> Design:
        """The design tree this kind stands for."""
        return Design(
            base=Base(length=self.length, width=self.width, measured=self.measured),
            flanges=tuple(Flange(edge=edge, height=self.depth, measured=self.measured, name=f"{edge} wall") for edge in Edge),
            corner=self.corner,
        )
