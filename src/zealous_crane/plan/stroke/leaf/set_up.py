"""What is set on a leaf brake for one stroke."""

from __future__ import annotations

from typing import Any

from ....measure import Units, show_length
from ....measure.dataclass import dataclass
from ....measure.words import the, tr
from ..line import line_place
from ..machine import Card, Fact, FactKey, OwnSetUp
from ..packing import NONE, Packing, packing_text


def sprung_text(name: str, by: float, units: Units) -> str:
    """Which flange gives, and how far it may."""
    return tr("{flange}, by hand, its edge no farther than {by}; it springs back").format(
        flange=name, by=show_length(by, units)
    )


@dataclass(frozen=True)
class Folded(OwnSetUp):
    """What is set on a leaf brake. See :class:`OwnSetUp`.

    Attributes:
        setback: nose behind the bed's edge, mm, both ends alike.
        line_behind_nose: fold line behind the nose, mm; below zero in front of it.
        allowed: thickest sheet of this metal the brake may fold, mm.
        finger_height: nose to the underside of the beam, mm.
        packing: the strip under the line.
        sprung: flanges that are let past the bar, and how far (mm) the edge of each may be pushed aside.
    """

    setback: float
    line_behind_nose: float
    allowed: float
    finger_height: float
    packing: Packing = NONE
    sprung: tuple[tuple[str, float], ...] = ()

    def record(self) -> dict[str, Any]:
        """See :meth:`OwnSetUp.record`."""
        return {
            "setback": self.setback,
            "line_behind_nose": self.line_behind_nose,
            "allowed_thickness": self.allowed,
            "packing": self.packing.thickness,
        }

    def facts(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.facts`."""
        fine = card.units.fine
        return [
            Fact(FactKey.HELD, tr("Clamp"), card.held),
            *([Fact(FactKey.TOOLS, tr("Set up with"), card.tooling)] if card.tooling else []),
            Fact(FactKey.PIECES, tr("Fingers, left to right"), card.pieces),
            Fact(FactKey.LINE, tr("Fold line sits"), line_place(self.line_behind_nose, card.units)),
            Fact(
                FactKey.SETBACK,
                tr("Nose behind the bed's edge"),
                tr("{setback}, both ends alike").format(setback=show_length(self.setback, fine)),
            ),
            *(
                [Fact(FactKey.PACKING, tr("Pack the line with"), packing_text(self.packing, card.units))]
                if self.packing.thickness
                else []
            ),
            Fact(FactKey.STOP, tr("Stop the leaf at"), card.stop),
            *(Fact(FactKey.SPRUNG, tr("Spring past the bar"), sprung_text(name, by, card.units)) for name, by in self.sprung),
        ]

    def more(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.more`."""
        fine = card.units.fine
        rated = tr("{allowed};  the sheet is {thickness}").format(
            allowed=show_length(self.allowed, fine), thickness=show_length(card.thickness, fine)
        )
        return [
            Fact(FactKey.RATED, tr("Rated for this metal"), rated),
            Fact(
                FactKey.HEIGHT,
                tr("Finger height"),
                tr("{finger_height} under the beam").format(
                    finger_height=show_length(self.finger_height, card.units, pretty=True)
                ),
            ),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`OwnSetUp.hold`."""
        said = tr("Clamp {held}. Line {line_behind_nose}.").format(
            held=the(held), line_behind_nose=line_place(self.line_behind_nose, units)
        )
        for name, by in self.sprung:
            said += tr(" Spring past the bar: {sprung}.").format(sprung=sprung_text(name, by, units))
        return (
            said if not self.packing.thickness else said + tr(" Lay {strip}.").format(strip=packing_text(self.packing, units))
        )
