"""What the program asks when it is opened for the first time: the machine, the metal, the units."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QButtonGroup,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...bending.machines import machine_of
from ...brake.brake import Brake
from ...brake.library import MachineLibrary
from ...i18n import tr
from ...metal.material import MATERIALS
from ...paint.brake import paint_machine
from ...paint.theme import Theme, font, pixels
from ...units.length import Units, show_length
from ..widgets.canvas import KeptButton
from ..widgets.widget import Choice, heading, prose

ACROSS = 3
"""Cards in a row."""

SHOWN = 215.9
"""mm; a length as it looks in each of the units: 8 1/2 inches."""

BEGUN_WITH = "20 ga"
"""Thickness new parts begin with, until one is made."""


class ChoiceCard(KeptButton):
    """One thing to choose: what it is called, under its picture.

    Args:
        name: what it is called.
        look: colours.
    """

    def __init__(self, name: str, look: Theme) -> None:
        super().__init__(look, "bench")
        self.name = name
        self.setCheckable(True)
        self.setAccessibleName(name)
        self.setToolTip(name)
        self.setMinimumSize(QSize(190, 96))

    def paint(self, p: QPainter) -> None:
        rect = self.paint_card(p)
        self.paint_picture(p, rect.adjusted(6, 6, -6, -42))
        p.setPen(self.look.color("ink"))
        p.setFont(pixels(12, strong=self.isChecked()))
        words = rect.adjusted(8, rect.height() - 40, -8, -4)
        p.drawText(words, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), self.name)

    def paint_picture(self, p: QPainter, rect: QRectF) -> None:
        """What it looks like."""
        raise NotImplementedError


class UnitCard(ChoiceCard):
    """How lengths are read."""

    def __init__(self, units: Units, look: Theme) -> None:
        super().__init__(units.words, look)
        self.units = units

    def paint_picture(self, p: QPainter, rect: QRectF) -> None:
        p.setPen(self.look.color("ink"))
        p.setFont(pixels(26, strong=True))
        text = show_length(SHOWN, self.units, pretty=True)
        p.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)


class BrakeCard(ChoiceCard):
    """A machine, from its end."""

    def __init__(self, brake: Brake, look: Theme) -> None:
        super().__init__(brake.name, look)
        self.brake = brake
        self.setMinimumSize(QSize(190, 146))

    def paint_picture(self, p: QPainter, rect: QRectF) -> None:
        p.save()
        p.setClipRect(rect)
        drawn = machine_of(self.brake).drawn(self.brake)
        paint_machine(p, rect.adjusted(0, -20, 0, 20), drawn, None, Units.MM, self.look)
        p.restore()


class FirstStart(QDialog):
    """Three questions with pictures; whoever skips them has the usual answers.

    Args:
        rack: the machines to choose from.
        look: colours.
        parent: the window.
    """

    def __init__(self, rack: MachineLibrary, look: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Welcome"))
        title = QLabel(tr("Three questions, and then to work"))
        title.setFont(font(16, bold=True))
        about = prose("faint")
        about.setText(
            tr(
                "New parts begin with what you say here. All of it can be changed at every part, "
                "and your own machine described under Shop."
            )
        )
        self.units = [UnitCard(units, look) for units in Units]
        self.brakes = [BrakeCard(brake, look) for brake in rack.in_use]
        self.metal = Choice()
        for key, metal in MATERIALS.items():
            self.metal.addItem(tr(metal.name), key)
        metals = QLabel(tr("Metal you bend most"))
        metals.setBuddy(self.metal)
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 16)
        column.setSpacing(8)
        column.addWidget(title)
        column.addWidget(about)
        column.addWidget(heading(tr("Lengths are read in")))
        column.addLayout(self._grid(self.units))
        column.addWidget(heading(tr("Brake most like yours")))
        column.addLayout(self._grid(self.brakes))
        row = QHBoxLayout()
        row.addWidget(metals)
        row.addWidget(self.metal, 1)
        column.addLayout(row)
        column.addStretch(1)
        column.addLayout(self._buttons())

    def _grid(self, cards: list[UnitCard] | list[BrakeCard]) -> QGridLayout:
        """Cards of which one is chosen, the first to begin with."""
        group, grid = QButtonGroup(self), QGridLayout()
        grid.setSpacing(8)
        for k, card in enumerate(cards):
            group.addButton(card, k)
            grid.addWidget(card, k // ACROSS, k % ACROSS)
        cards[0].setChecked(True)
        return grid

    def _buttons(self) -> QHBoxLayout:
        row = QHBoxLayout()
        self.skip, self.go = QPushButton(tr("Skip")), QPushButton(tr("Begin"))
        self.go.setObjectName("primary")
        self.go.setDefault(True)
        self.skip.clicked.connect(self.reject)
        self.go.clicked.connect(self.accept)
        row.addStretch(1)
        row.addWidget(self.skip)
        row.addWidget(self.go)
        return row

    @property
    def chosen(self) -> dict[str, str]:
        """Metal, thickness, brake and units, as the next new part takes them."""
        units = next(card.units for card in self.units if card.isChecked())
        brake = next(card.brake for card in self.brakes if card.isChecked())
        return {
            "metal": str(self.metal.currentData()),
            "thickness": BEGUN_WITH,
            "brake": brake.key,
            "units": units.value,
        }
