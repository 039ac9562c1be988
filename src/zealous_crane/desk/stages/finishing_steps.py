"""Joining and finishing, ticked off step by step."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QVBoxLayout, QWidget

from ...check.finishing import Step
from ...measure.words import tr
from ..widget import emptied, worded

WIDTH = 268
"""Painter units a step's text has on its line."""


class FinishingSteps(QWidget):
    """What is left to do on a bent part.

    Attributes:
        ticked: keys of the steps that are done.
    """

    def __init__(self) -> None:
        super().__init__()
        self.ticked: set[str] = set()
        self._shown: tuple[tuple[Step, ...], frozenset[str]] = ((), frozenset())
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)

    def show_steps(self, steps: tuple[Step, ...]) -> None:
        """Show these steps, those that are done ticked; nothing is made anew where nothing changed."""
        shown = steps, frozenset(self.ticked)
        if shown == self._shown:
            return
        self._shown = shown
        emptied(self._rows)
        for step in steps:
            box = QCheckBox()
            box.setAccessibleName(step.says)
            box.setChecked(step.key in self.ticked)
            box.toggled.connect(partial(self._tick, step.key))
            says = worded(tr("{step}  ▲ {caution}").format(step=step.says, caution=step.caution) if step.caution else step.says)
            # A wrapped text beside a box is not asked how tall it is.
            says.setMinimumHeight(says.heightForWidth(WIDTH))
            row = QHBoxLayout()
            row.addWidget(box, 0, Qt.AlignmentFlag.AlignTop)
            row.addWidget(says, 1)
            self._rows.addLayout(row)

    def _tick(self, key: str, on: bool) -> None:
        (self.ticked.add if on else self.ticked.discard)(key)
        self._shown = self._shown[0], frozenset(self.ticked)
