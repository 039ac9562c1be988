"""What is set on a hand folder for one stroke."""

from __future__ import annotations

from typing import Any

from ....measure import Units, show_length
from ....measure.dataclass import dataclass
from ....measure.words import the, tr
from ..line import line_place
from ..machine import Card, Fact, FactKey, OwnSetUp
from ..packing import NONE, Packing, packing_text


@dataclass(frozen=True)
class Lifted(OwnSetUp):
    """What is set on a hand folder. See :class:`OwnSetUp`.

    Attributes:
        line_behind_nose: fold line behind the bar's front edge, mm; below zero in front of it.
        edge: bench's edge before the bar's front, mm.
        allowed: thickest sheet of this metal a person still lifts, mm.
        bar_height: height of a bar, mm.
        packing: the strip under the line.
    """

    line_behind_nose: float
    edge: float
    allowed: float
    bar_height: float
    packing: Packing = NONE

    def record(self) -> dict[str, Any]:
        """See :meth:`OwnSetUp.record`."""
        return {
            "line_behind_nose": self.line_behind_nose,
            "edge": self.edge,
            "allowed_thickness": self.allowed,
            "packing": self.packing.thickness,
        }

    def facts(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.facts`."""
        fine = card.units.fine
        return [
            Fact(FactKey.HELD, tr("Clamp"), card.held),
            Fact(FactKey.PIECES, tr("Bars, left to right"), card.pieces),
            Fact(FactKey.LINE, tr("Fold line sits"), line_place(self.line_behind_nose, card.units)),
            Fact(
                FactKey.SETBACK,
                tr("Bar behind the bench's edge"),
                tr("{edge}, both ends alike").format(edge=show_length(self.edge, fine)),
            ),
            *(
                [Fact(FactKey.PACKING, tr("Pack the line with"), packing_text(self.packing, card.units))]
                if self.packing.thickness
                else []
            ),
            Fact(FactKey.STOP, tr("Lift the board to"), card.stop),
        ]

    def more(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.more`."""
        fine = card.units.fine
        rated = tr("{allowed};  the sheet is {thickness}").format(
            allowed=show_length(self.allowed, fine), thickness=show_length(card.thickness, fine)
        )
        return [
            Fact(FactKey.RATED, tr("A hand lifts of this metal"), rated),
            Fact(FactKey.HEIGHT, tr("Bar height"), show_length(self.bar_height, card.units, pretty=True)),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`OwnSetUp.hold`."""
        said = tr("Clamp {held}, a bar on top. Line {line_behind_nose}.").format(
            held=the(held), line_behind_nose=line_place(self.line_behind_nose, units)
        )
        return (
            said if not self.packing.thickness else said + tr(" Lay {strip}.").format(strip=packing_text(self.packing, units))
        )
