"""One punch over one die."""

from __future__ import annotations

from ....brake import Die, PressBrake, Punch, Sections
from ....brake.section import PieceKind
from ....measure.dataclass import dataclass
from ....measure.once import once
from ....measure.words import tr
from ....metal import Sheet, Springback, overbend
from ....tool_wishes import ToolChoice
from ...geometry.body import Body, BodyKind, OfTool, ToolSide
from ...geometry.obstacle import Obstacle, Phase
from ..tooling import Tooling


@dataclass(frozen=True)
class PressTooling(Tooling):
    """One punch over one die. See :class:`Tooling`.

    Attributes:
        brake: the machine.
        punch: as it hangs, turned or not.
        die: under it.
        turned: the punch hangs the other way round.
        bottomed: the sheet is pressed against the die's sides, which takes more force and leaves less springback.
    """

    brake: PressBrake
    punch: Punch
    die: Die
    turned: bool = False
    bottomed: bool = False

    @property
    def says(self) -> str:
        """``Gooseneck 86 turned round, on V 10``."""
        turned, bottomed = tr(" turned round") if self.turned else "", ", bottomed" if self.bottomed else ""
        return tr("{name}{turned} on {name_2}{bottomed}").format(
            name=self.punch.name, turned=turned, name_2=self.die.name, bottomed=bottomed
        )

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """See :attr:`Tooling.chosen`."""
        return {"punch": self.punch.name, "hung": "turned" if self.turned else "as it is", "die": self.die.name}

    @once
    def sections(self) -> Sections:
        """Pieces of the punch."""
        return self.brake.sections(self.punch.pieces, PieceKind.PUNCH)

    @once
    def under(self) -> Sections:
        """Pieces of the die."""
        return self.brake.sections(self.die.pieces, PieceKind.DIE)

    @property
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees: until the metal lies in the V or against the punch's flanks."""
        return 180.0 - max(self.die.angle, self.punch.angle)

    @property
    def key(self) -> str:
        """See :attr:`Tooling.key`: punch and die by their names, and whether the bend is bottomed."""
        return f"{self.punch.name} / {self.die.name}"[:180] + (" bottomed" if self.bottomed else "")

    @property
    def stop(self) -> Obstacle:
        """See :attr:`Tooling.stop`."""
        if self.die.angle >= self.punch.angle:
            return Obstacle(Body(BodyKind.V), OfTool(ToolSide.SIDES, self.die.name), Phase.SWING)
        return Obstacle(Body(BodyKind.PUNCH), OfTool(ToolSide.TIP, self.punch.name), Phase.SWING)

    def springback(
        self, sheet: Sheet, target: float, radius: float, *, closing: bool, measured: float | None, whole: bool
    ) -> Springback:
        """See :meth:`Tooling.springback`; a fold that is bottomed comes back by less, unless it was measured."""
        back = overbend(sheet, target, radius, closing=closing, measured=measured, press=True)
        return back.bottomed if self.bottomed and whole and measured is None else back

    def stands_beside(self, other: Tooling) -> bool:
        """See :meth:`Tooling.stands_beside`: punches and dies that are as high together."""
        if not isinstance(other, PressTooling):
            return False
        return abs(self.punch.height + self.die.height - other.punch.height - other.die.height) < 0.01
