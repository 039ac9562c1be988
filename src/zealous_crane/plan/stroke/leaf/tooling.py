"""A leaf brake set up: as it is, with the leaf's angle off, the fold anywhere on the bed or at one of its ends."""

from __future__ import annotations

from dataclasses import replace

from ....brake import LeafBrake, Sections
from ....job import Avoided
from ....measure.dataclass import dataclass
from ....measure.once import once
from ....measure.words import tr
from ....tool_wishes import ToolChoice
from ...geometry.body import Body, BodyKind
from ...geometry.obstacle import Obstacle, Phase
from ..tooling import Tooling

PAST_THE_END = 6.0
"""mm of the fold that stand past the bed's end, where it is set there: what hangs beside the fold often reaches back a little. Less than
may stand without a finger on any brake. Common practice, no source."""


@dataclass(frozen=True)
class LeafTooling(Tooling):
    """A leaf brake as it is, or out of the ordinary. See :class:`Tooling`.

    Attributes:
        brake: the machine as set up.
        bare: the leaf's removable angle is off.
        sprung: thin flanges that meet the bar are let past it, and spring back.
        end: −1 or 1 when the fold begins at the left or right end of the bed, so that what lies beyond it hangs free.
    """

    brake: LeafBrake
    bare: bool = False
    end: int = 0
    sprung: bool = False

    @property
    def says(self) -> str:
        """What is out of the ordinary about it; empty when nothing is."""
        said = [tr("the leaf's angle off")] if self.bare else []
        if self.end:
            which = tr("left") if self.end < 0 else tr("right")
            said.append(tr("the fold at the {which} end of the bed").format(which=which))
        if self.sprung:
            said.append(tr("thin sheet sprung past the bar"))
        return ", ".join(said)

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """See :attr:`Tooling.chosen`; the leaf's angle only where it comes off, the place only where a part may reach past the end."""
        place: dict[ToolChoice, str] = {"place": {-1: "left end", 0: "on the bed", 1: "right end"}[self.end]}
        angle: dict[ToolChoice, str] = {"angle": "off" if self.bare else "on"}
        own = self.bare or self.brake.bare is not None
        return (angle if own else {}) | (place if self.brake.open_ends else {})

    @property
    def past(self) -> float:
        """How much of the fold (mm) stands past the bed's end where it is set there."""
        return min(PAST_THE_END, self.brake.unsupported_end / 2)

    @once
    def sections(self) -> Sections:
        """The fingers."""
        return self.brake.sections

    @property
    def greatest_angle(self) -> float:
        """How far the leaf swings, degrees."""
        return self.brake.greatest_angle

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        return Obstacle(Body(BodyKind.LEAF), "its stop", Phase.SWING)

    @property
    def unusual(self) -> frozenset[Avoided]:
        """See :attr:`Tooling.unusual`."""
        found: set[Avoided] = set()
        if self.bare:
            found.add("angle-off")
        if self.end:
            found.add("bed-end")
        if self.sprung:
            found.add("sprung")
        return frozenset(found)

    @property
    def mirrored(self) -> LeafTooling:
        """A fold at one end of the bed is at the other."""
        return replace(self, end=-self.end) if self.end else self

    @property
    def standing(self) -> LeafTooling:
        """See :attr:`Tooling.standing`."""
        return replace(self, sprung=False) if self.sprung else self

    @property
    def head(self) -> float:
        """How far the finger's clamp hangs below the beam, mm."""
        return self.brake.head_drop

    def stands_beside(self, other: Tooling) -> bool:
        """See :meth:`Tooling.stands_beside`: with the same leaf, and neither at an end of the bed."""
        return self == other and not self.end
