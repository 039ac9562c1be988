"""What every part a job can name has in common."""

from typing import ClassVar, Self

from ..errors import InputError
from ..i18n import tr
from ..schema.model import InputModel
from ..units.length import Units
from ..units.sums import Sum
from .design import Design
from .drawn_flat import DrawnFlat
from .edge import Measured


class PartTemplate(InputModel):
    """A part given by a few sizes, from which its design tree follows.

    Attributes:
        label: what the shop calls the kind.
        about: one sentence on what it is and what makes it hard.
        walled: names of the sizes that run between two walls.
        edges_go_in: what the walls carry goes into, or over, the other part with them; the edge of
            a cap rests on it instead.
    """

    label: ClassVar[str]
    about: ClassVar[str]

    walled: ClassVar[frozenset[str]] = frozenset()
    edges_go_in: ClassVar[bool] = True

    def walls(self, size: str) -> tuple[str, str] | None:
        """Names of the two panels a size in ``walled`` stands between; None where this part has no
        two walls for it."""
        return {"length": ("left wall", "right wall"), "width": ("front wall", "back wall")}.get(
            size
        )

    def span(self, size: str, thickness: float) -> tuple[float, float]:
        """One of its sizes between the bare inside and outside faces of its walls, mm.

        A size in ``walled`` runs between two walls that stand at 90° and is read as ``measured``
        says; any other is the same inside and outside.

        Raises:
            InputError: the part has no such size.
        """
        value = self.model_dump().get(size)
        if not isinstance(value, float):
            raise InputError(
                tr("{label} has no size called {size}").format(label=self.label, size=size)
            )
        if size not in self.walled:
            return value, value
        outside = getattr(self, "measured", Measured.INSIDE) is Measured.OUTSIDE
        return (value - 2 * thickness, value) if outside else (value, value + 2 * thickness)

    def larger(self, size: str, by: float) -> Self:
        """The same part with one size larger by so much, mm.

        Raises:
            InputError: no such size, or nothing is left of it.
        """
        return type(self).model_validate(
            {**self.model_dump(), size: float(self.model_dump()[size]) + by}
        )

    def design(self, thickness: float) -> Design:
        """The design tree.

        Args:
            thickness: of the sheet, mm; some sizes grow with it.

        Raises:
            InputError: sizes that contradict each other.
        """
        raise NotImplementedError

    def sums(self, units: Units = Units.MM) -> tuple[Sum, ...]:
        """Sizes the kind worked out itself, each as a sum that opens."""
        return ()

    def drawing(self) -> DrawnFlat | None:
        """The flat itself, for parts drawn as one; None for those that are developed."""
        return None
