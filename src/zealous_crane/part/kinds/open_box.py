"""The open box: a base and four walls, square notches, butt corners."""

from typing import ClassVar, Literal

from ...measure import PositiveLength
from ..corner import Corner
from ..design import Base, Design, Flange
from ..edge import Edge, Measured
from ..ready import Ready


class OpenBox(Ready):
    """A ready kind: an open box by its three sizes.

    Attributes:
        length: left to right, mm.
        width: away from you, mm.
        depth: height of the walls, mm.
        measured: whether the three sizes are inside or outside sizes.
        corner: notch gap and relief.
    """

    label: ClassVar[str] = "Open box"
    about: ClassVar[str] = "A base and four walls, square notches, open corners. The depth of the brake is its limit."
    walled: ClassVar[frozenset[str]] = frozenset({"length", "width"})

    kind: Literal["open-box"] = "open-box"
    length: PositiveLength
    width: PositiveLength
    depth: PositiveLength
    measured: Measured = Measured.INSIDE
    corner: Corner = Corner()

    def design(self, thickness: float) -> Design:
        return Design(
            base=Base(length=self.length, width=self.width, measured=self.measured),
            flanges=tuple(Flange(edge=edge, height=self.depth, measured=self.measured, name=f"{edge} wall") for edge in Edge),
            corner=self.corner,
        )
