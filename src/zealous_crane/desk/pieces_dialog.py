"""Which fingers and pieces of tools are there today."""

from __future__ import annotations

from PySide6.QtWidgets import QDialogButtonBox, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from ..brake import Brake, Section
from ..measure import show_length
from ..measure.words import tr
from ..tool_wishes import ToolWishes
from .widget import Count, FormDialog, heading, worded


def racks(brake: Brake) -> list[tuple[str, str, tuple[Section, ...]]]:
    """Everything that stands in racks: key, what it is called, and its pieces."""
    found = [(field, name, getattr(brake, field)) for field, name in brake.pieces.items()]
    for field in brake.tools:
        found += [(tool.name, tool.name, tool.pieces) for tool in getattr(brake, field)]
    return [(key, name, pieces) for key, name, pieces in found if pieces]


class PiecesDialog(FormDialog):
    """How many of each width are there today.

    Args:
        brake: the machine with all its pieces.
        wishes: what is asked for as it stands.
        parent: the window.
    """

    def __init__(self, brake: Brake, wishes: ToolWishes, parent: QWidget) -> None:
        super().__init__(parent)
        self.brake, self.wishes = brake, wishes
        self.setWindowTitle(tr("Pieces there today"))
        self.resize(420, 460)
        self.counts: dict[tuple[str, float], Count] = {}
        grid = QGridLayout()
        grid.setColumnStretch(0, 1)
        today = {(t.rack, t.width): t.there for t in wishes.of(brake.key).today}
        line = 0
        for key, name, pieces in racks(brake):
            grid.addWidget(heading(name), line, 0, 1, 3)
            line += 1
            for piece in pieces:
                says = show_length(piece.width, brake.marked_in)
                count = Count()
                count.setRange(0, piece.count)
                count.setValue(min(piece.count, today.get((key, piece.width), piece.count)))
                count.setAccessibleName(f"{name} {says}")
                self.counts[key, piece.width] = count
                grid.addWidget(QLabel(says), line, 0)
                grid.addWidget(count, line, 1)
                grid.addWidget(QLabel(tr("of {count}").format(count=piece.count)), line, 2)
                line += 1
        inner = QWidget()
        inner.setLayout(grid)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        note = worded(tr("This part is planned with what is there; the brake itself stays as it is."))
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        everything = buttons.addButton(tr("All of them"), QDialogButtonBox.ButtonRole.ResetRole)
        everything.clicked.connect(self._all)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        outer = QVBoxLayout(self)
        outer.addWidget(note)
        outer.addWidget(scroll, 1)
        outer.addWidget(buttons)

    def _all(self) -> None:
        for count in self.counts.values():
            count.setValue(count.maximum())

    def accept(self) -> None:
        """Take over what is there."""
        for (rack, width), count in self.counts.items():
            there = None if count.value() == count.maximum() else count.value()
            self.wishes = self.wishes.there(self.brake.key, rack, width, there)
        super().accept()
