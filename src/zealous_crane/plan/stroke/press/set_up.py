"""What is set on a press for one stroke."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ....brake import Load
from ....measure import Units, show_force, show_length
from ..machine import Card, Fact, FactKey, OwnSetUp


@dataclass(frozen=True)
class Pressed(OwnSetUp):
    """What is set on a press. See :class:`OwnSetUp`.

    Attributes:
        punch_travel: from where the punch touches the flat sheet down to the stop angle, mm.
        force: against what press, punch and die stand.
        bottomed: the bend is bottomed, not bent in air.
        force_bottomed: kN, were it bottomed.
        least_leg: least outside leg the die carries to this angle, mm.
        inside_radius: mm, what the bend takes by itself in this V, or the tip's when bottomed.
    """

    punch_travel: float
    force: Load
    bottomed: bool
    force_bottomed: float
    least_leg: float
    inside_radius: float

    def record(self) -> dict[str, Any]:
        """See :meth:`OwnSetUp.record`."""
        force = self.force
        return {
            "punch_travel": self.punch_travel,
            "force": {
                "total_kn": force.total,
                "per_metre_kn": force.per_length,
                "rating_share": force.share,
                "rating_of": force.whose,
            },
            "bottomed": self.bottomed,
            "least_leg": self.least_leg,
            "inside_radius": self.inside_radius,
        }

    def facts(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.facts`."""
        units, force = card.units, self.force
        strain = f"{100 * force.share:.0f} % of what the {force.whose} stands"
        bottomed = "" if self.bottomed else f"; bottomed about {show_force(self.force_bottomed, units)}"
        return [
            Fact(FactKey.HELD, "To the back", card.held),
            Fact(FactKey.TOOLS, "Punch on die", card.tooling),
            Fact(FactKey.PIECES, "Punch pieces, left to right", card.pieces),
            Fact(FactKey.UNDER, "Die pieces", card.under),
            Fact(FactKey.STOP, "Bend to", card.stop),
            Fact(
                FactKey.TRAVEL, "Punch down from touching",
                f"about {show_length(self.punch_travel, units.fine)}; sneak up on it",
            ),
            Fact(
                FactKey.FORCE, "Force",
                f"{show_force(force.total, units)} {'bottomed' if self.bottomed else 'in air'}, {strain}{bottomed}",
            ),
        ]  # fmt: skip

    def more(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.more`."""
        fine = card.units.fine
        radius = show_length(self.inside_radius, fine)
        return [
            Fact(FactKey.LEAST_LEG, "Least outside leg", show_length(self.least_leg, fine)),
            Fact(FactKey.RADIUS, "Inside radius", f"the tip's, {radius}")
            if self.bottomed
            else Fact(FactKey.RADIUS, "Inside radius in air", f"about {radius}"),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`OwnSetUp.hold`."""
        said = f"{held} to the back."
        return said[:1].upper() + said[1:]
