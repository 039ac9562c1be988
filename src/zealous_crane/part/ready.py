"""What every part a job can name has in common."""

from __future__ import annotations

from typing import ClassVar

from ..measure import Sum
from .design import Design
from .drawn_flat import DrawnFlat
from .model import Written


class Ready(Written):
    """A part given by a few sizes, from which its design tree follows.

    Attributes:
        label: what the shop calls the kind.
        about: one sentence on what it is and what makes it hard.
    """

    label: ClassVar[str]
    about: ClassVar[str]

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
