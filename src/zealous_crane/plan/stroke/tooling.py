"""What a brake may be set up with for a stroke: the choices beyond which pieces stand where."""

from __future__ import annotations

from abc import ABC, abstractmethod

from ...brake import Brake, Sections
from ...job import Avoided
from ...measure import Units
from ...metal import Sheet, Springback, overbend
from ...tool_wishes import ToolChoice
from ..geometry.obstacle import Obstacle


class Tooling(ABC):
    """One way a machine is set up. Every machine has its own, a frozen record compared by value.

    Attributes:
        brake: the machine as set up.
    """

    brake: Brake

    @property
    @abstractmethod
    def says(self) -> str:
        """What is out of the ordinary about it, or which tools it is; empty when there is nothing to say."""

    @property
    @abstractmethod
    def sections(self) -> Sections:
        """The pieces set over the fold: fingers, bars, pieces of the punch."""

    @property
    def under(self) -> Sections | None:
        """The pieces set under it, along with those over it; None where nothing is."""
        return None

    @property
    def racks(self) -> tuple[Sections, ...]:
        """Everything the blocks are made up from, over the fold and under it."""
        return (self.sections,) if self.under is None else (self.sections, self.under)

    @property
    def marked_in(self) -> Units:
        """Units the pieces are marked in."""
        return self.brake.marked_in

    @property
    @abstractmethod
    def greatest_angle(self) -> float:
        """Farthest a fold can be taken, degrees."""

    @property
    @abstractmethod
    def stop(self) -> Obstacle:
        """What ends a stroke that meets nothing."""

    @property
    def unusual(self) -> frozenset[Avoided]:
        """What about it a person may ask to do without."""
        return frozenset()

    @property
    def chosen(self) -> dict[ToolChoice, str]:
        """What there is to choose about it, and which it is: names of tools, or ids."""
        return {}

    @property
    def key(self) -> str:
        """What of the set-up a bend's springback goes by, as the book keeps it: no words."""
        return " ".join(sorted(self.unusual - {"bed-end", "sprung"}))

    @property
    def mirrored(self) -> Tooling:
        """The set-up as a mirror shows it, left for right."""
        return self

    @property
    def standing(self) -> Tooling:
        """The set-up as it stands between strokes: what a hand does on one stroke only is left out."""
        return self

    @property
    def head(self) -> float:
        """How far (mm) what holds a piece hangs down along its upper end."""
        return 0.0

    def springback(
        self, sheet: Sheet, target: float, radius: float, *, closing: bool, measured: float | None, whole: bool
    ) -> Springback:
        """What a fold comes back by on this machine.

        Args:
            sheet: the metal.
            target: degrees wanted after release.
            radius: inside radius, mm.
            closing: a neighbour of the fold stands already.
            measured: what a test strip came back by, degrees at 90°.
            whole: the fold is taken to its own angle, and is no hem.
        """
        return overbend(sheet, target, radius, closing=closing, measured=measured)

    @abstractmethod
    def stands_beside(self, other: Tooling) -> bool:
        """True when both may stand on one bed at once, wanting the same of the machine itself."""
