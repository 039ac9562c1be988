"""A hand folder set up: bars clamped over the fold."""

from __future__ import annotations

from ....brake import HandFolder, Sections
from ....measure.dataclass import dataclass
from ....measure.once import once
from ...geometry.body import Body, BodyKind
from ...geometry.obstacle import Obstacle, Phase
from ..tooling import Tooling


@dataclass(frozen=True)
class HandTooling(Tooling):
    """A hand folder as it is. See :class:`Tooling`.

    Attributes:
        brake: the machine.
    """

    brake: HandFolder

    @property
    def says(self) -> str:
        """There is only one way to set it up."""
        return ""

    @once
    def sections(self) -> Sections:
        """The bars."""
        return self.brake.sections

    @property
    def greatest_angle(self) -> float:
        """How far a fold is lifted, degrees."""
        return self.brake.greatest_angle

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        return Obstacle(Body(BodyKind.BOARD), "end of a hand's reach", Phase.SWING)

    def stands_beside(self, other: Tooling) -> bool:
        """Bars are loose: the next ones are clamped where the fold is."""
        return False
