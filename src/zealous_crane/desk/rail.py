"""The stages along the left edge, in working order, always in reach."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractButton, QButtonGroup, QVBoxLayout, QWidget

from .theme import Look, pixels


class StageButton(QAbstractButton):
    """One stage: a small drawing of the work and its name."""

    def __init__(self, name: str, key: str, drawing: list[list[tuple[float, float]]], look: Look) -> None:
        super().__init__()
        self.look = look
        self._drawing = drawing
        self.setText(name)
        self.setCheckable(True)
        self.setAccessibleName(f"Stage {name}")
        self.setToolTip(f"{name}  ({key})")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(92, 84)

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        r = QRectF(self.rect()).adjusted(4, 3, 0, -3)
        if self.isChecked():
            # The open stage is a flap of the bench folded over the rail.
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(self.look.color("bench"))
            p.drawPolygon(QPolygonF([r.topLeft() + QPointF(9, 0), r.topRight(), r.bottomRight(), r.bottomLeft() + QPointF(9, 0),
                                     r.bottomLeft() + QPointF(0, -9), r.topLeft() + QPointF(0, 9)]))  # fmt: skip
        if self.hasFocus():
            p.setPen(QPen(self.look.color("accent"), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRoundedRect(r.adjusted(3, 3, -4, -3), 4, 4)
        ink = self.look.color("ink" if self.isChecked() or self.underMouse() else "faint")
        p.setPen(QPen(ink, 2.0, c=Qt.PenCapStyle.RoundCap, j=Qt.PenJoinStyle.RoundJoin))
        origin = QPointF(r.center().x() - 20, r.top() + 10)
        for line in self._drawing:
            p.drawPolyline(QPolygonF([origin + QPointF(x * 40, y * 34) for x, y in line]))
        p.setFont(pixels(13, strong=self.isChecked()))
        p.drawText(QRectF(r.left(), r.bottom() - 26, r.width(), 20), Qt.AlignmentFlag.AlignCenter, self.text())
        p.end()


_BOX = [
    [(0.05, 0.55), (0.4, 0.75), (0.95, 0.5), (0.6, 0.3), (0.05, 0.55)],
    [(0.05, 0.55), (0.05, 0.8), (0.4, 1.0), (0.95, 0.75), (0.95, 0.5)],
    [(0.4, 0.75), (0.4, 1.0)],
]
_FLAT = [
    [
        (0.25, 0.1),
        (0.75, 0.1),
        (0.75, 0.3),
        (1, 0.3),
        (1, 0.75),
        (0.75, 0.75),
        (0.75, 0.95),
        (0.25, 0.95),
        (0.25, 0.75),
        (0, 0.75),
        (0, 0.3),
        (0.25, 0.3),
        (0.25, 0.1),
    ]
]
_FINGERS = [
    [(0, 0.15), (1, 0.15)],
    [(0.05, 0.15), (0.05, 0.8), (0.3, 0.8), (0.3, 0.15)],
    [(0.36, 0.15), (0.36, 0.8), (0.72, 0.8), (0.72, 0.15)],
    [(0, 0.95), (1, 0.95)],
]
_BEND = [[(1, 0.85), (0.42, 0.85), (0.3, 0.12)], [(0.0, 0.85), (0.05, 0.6), (0.12, 0.45), (0.2, 0.33)]]


class Rail(QWidget):
    """The rail of stages.

    Signals:
        chosen: index of the stage.
    """

    chosen = Signal(int)

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._group = QButtonGroup(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 8, 0, 8)
        box.setSpacing(4)
        self.buttons: list[StageButton] = []
        for i, (name, drawing) in enumerate((("Shape", _BOX), ("Lay out", _FLAT), ("Tool up", _FINGERS), ("Bend", _BEND))):
            button = StageButton(name, f"Ctrl+{i + 1}", drawing, look)
            self._group.addButton(button, i)
            self.buttons.append(button)
            box.addWidget(button)
        box.addStretch(1)
        self._group.idClicked.connect(self.chosen)

    def show_stage(self, index: int) -> None:
        """Mark a stage as the open one."""
        self.buttons[index].setChecked(True)

    def show_look(self, look: Look) -> None:
        """Change colours."""
        for button in self.buttons:
            button.look = look
            button.update()
