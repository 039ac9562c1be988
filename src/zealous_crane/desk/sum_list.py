"""Sums below each other, each a number that opens."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QVBoxLayout

from ..measure import Sum, Units
from .field import SumButton


class SumList(QVBoxLayout):
    """Sums below each other; buttons are kept and used again."""

    def __init__(self) -> None:
        super().__init__()
        self.setSpacing(0)
        self.buttons: list[SumButton] = []

    def show_sums(self, sums: Sequence[Sum], units: Units) -> None:
        """Show these and no others."""
        while len(self.buttons) < len(sums):
            self.buttons.append(SumButton())
            self.addWidget(self.buttons[-1])
        for i, button in enumerate(self.buttons):
            button.setVisible(i < len(sums))
            if i < len(sums):
                button.show_sum(sums[i], units)
