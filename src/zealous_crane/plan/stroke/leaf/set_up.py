"""What is set on a leaf brake for one stroke."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....measure import Units, show_length
from ..line import line_place
from ..machine import Card, Fact, FactKey, OwnSetUp


@dataclass(frozen=True)
class Folded(OwnSetUp):
    """What is set on a leaf brake. See :class:`OwnSetUp`.

    Attributes:
        setback: nose behind the bed's edge, mm, both ends alike.
        line_behind_nose: fold line behind the nose, mm; below zero in front of it.
        allowed: thickest sheet of this metal the brake may fold, mm.
        finger_height: nose to the underside of the beam, mm.
    """

    setback: float
    line_behind_nose: float
    allowed: float
    finger_height: float

    def record(self) -> dict[str, Any]:
        """See :meth:`OwnSetUp.record`."""
        return {
            "setback": self.setback,
            "line_behind_nose": self.line_behind_nose,
            "allowed_thickness": self.allowed,
        }

    def facts(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.facts`."""
        fine = card.units.fine
        return [
            Fact(FactKey.HELD, "Clamp", card.held),
            *([Fact(FactKey.TOOLS, "Set up with", card.tooling)] if card.tooling else []),
            Fact(FactKey.PIECES, "Fingers, left to right", card.pieces),
            Fact(FactKey.LINE, "Fold line sits", line_place(self.line_behind_nose, card.units)),
            Fact(FactKey.SETBACK, "Nose behind the bed's edge", f"{show_length(self.setback, fine)}, both ends alike"),
            Fact(FactKey.STOP, "Stop the leaf at", card.stop),
        ]

    def more(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.more`."""
        fine = card.units.fine
        rated = f"{show_length(self.allowed, fine)};  the sheet is {show_length(card.thickness, fine)}"
        return [
            Fact(FactKey.RATED, "Rated for this metal", rated),
            Fact(FactKey.HEIGHT, "Finger height", f"{show_length(self.finger_height, card.units, pretty=True)} under the beam"),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`OwnSetUp.hold`."""
        return f"Clamp the {held}. Line {line_place(self.line_behind_nose, units)}."
