"""What every part a job can name has in common."""

from __future__ import annotations

from typing import ClassVar, Self

from ..measure import Sum
from .design import Design
from .drawn_flat import DrawnFlat
from .edge import Measured
from .model import Written


class Ready(Written):
    """A part given by a few sizes, from which its design tree follows.

    Attributes:
        label: what the shop calls the kind.
        about: one sentence on what it is and what makes it hard.
        walled: names of the sizes that run between two walls.
    """

    label: ClassVar[str]
    about: ClassVar[str]

    walled: ClassVar[frozenset[str]] = frozenset()

    def span(self, size: str, thickness: float) -> tuple[float, float]:
        """One of its sizes between inside and between outside faces, mm.

        A size in ``walled`` runs between two walls that stand at 90° and is read as ``measured`` says; any other is the same
        inside and outside.

        Raises:
            ValueError: the part has no such size.
        """
        value = self.model_dump().get(size)
        if not isinstance(value, float):
            raise ValueError(f"{self.label} has no size called {size}")
        if size not in self.walled:
            return value, value
        outside = getattr(self, "measured", Measured.INSIDE) is Measured.OUTSIDE
        return (value - 2 * thickness, value) if outside else (value, value + 2 * thickness)

    def with_span(self, size: str, *, inside: float | None = None, outside: float | None = None, thickness: float) -> Self:
        """The same part with one size set between inside or between outside faces.

        Raises:
            ValueError: no such size, or nothing is left of it.
        """
        now = self.span(size, thickness)
        value = float(self.model_dump()[size])
        value += inside - now[0] if inside is not None else (outside if outside is not None else now[1]) - now[1]
        return type(self).model_validate({**self.model_dump(), size: value})

    def design(self, thickness: float) -> Design:
        """The design tree.

        Args:
            thickness: of the sheet, mm; some sizes grow with it.

        Raises:
            ValueError: sizes that contradict each other.
        """
        raise NotImplementedError

    def sums(self) -> tuple[Sum, ...]:
        """Sizes the kind worked out itself, each as a sum that opens."""
        return ()

    def drawing(self) -> DrawnFlat | None:
        """The flat itself, for parts drawn as one; None for those that are developed."""
        return None
