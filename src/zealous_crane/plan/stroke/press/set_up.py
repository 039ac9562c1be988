"""What is set on a press for one stroke."""

from __future__ import annotations

from typing import Any

from ....brake import Load
from ....brake.force import PRESS
from ....measure import Units, show_force, show_length
from ....measure.dataclass import dataclass
from ....measure.words import tr
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
        strain = tr("{value:.0f} % of what the {whose} stands").format(
            value=100 * force.share, whose=tr("press") if force.whose == PRESS else force.whose
        )
        bottomed = (
            ""
            if self.bottomed
            else tr("; bottomed about {force_bottomed}").format(force_bottomed=show_force(self.force_bottomed, units))
        )
        return [
            Fact(FactKey.HELD, tr("To the back"), card.held),
            Fact(FactKey.TOOLS, tr("Punch on die"), card.tooling),
            Fact(FactKey.PIECES, tr("Punch pieces, left to right"), card.pieces),
            Fact(FactKey.UNDER, tr("Die pieces"), card.under),
            Fact(FactKey.STOP, tr("Bend to"), card.stop),
            Fact(
                FactKey.TRAVEL, tr("Punch down from touching"),
                tr("about {punch_travel}; sneak up on it").format(punch_travel=show_length(self.punch_travel, units.fine)),
            ),
            Fact(
                FactKey.FORCE, tr("Force"),
                f"{show_force(force.total, units)} {tr('bottomed') if self.bottomed else tr('in air')}, {strain}{bottomed}",
            ),
        ]  # fmt: skip

    def more(self, card: Card) -> list[Fact]:
        """See :meth:`OwnSetUp.more`."""
        fine = card.units.fine
        radius = show_length(self.inside_radius, fine)
        return [
            Fact(FactKey.LEAST_LEG, tr("Least outside leg"), show_length(self.least_leg, fine)),
            Fact(FactKey.RADIUS, tr("Inside radius"), tr("the tip's, {radius}").format(radius=radius))
            if self.bottomed
            else Fact(FactKey.RADIUS, tr("Inside radius in air"), tr("about {radius}").format(radius=radius)),
        ]

    def hold(self, held: str, units: Units) -> str:
        """See :meth:`OwnSetUp.hold`."""
        said = tr("{held} to the back.").format(held=held)
        return said[:1].upper() + said[1:]
