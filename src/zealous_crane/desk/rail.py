"""The stages along the left edge, in working order, always in reach."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPen, QPolygonF
from PySide6.QtWidgets import QButtonGroup, QSizePolicy, QVBoxLayout, QWidget

from ..measure.words import tr
from .commands import keys_of
from .kept import KeptButton
from .stage import Drawing, Stage
from .theme import Look, pixels


class StageButton(KeptButton):
    """One stage: a small drawing of the work and its name."""

    def __init__(self, name: str, key: str, drawing: Drawing, look: Look) -> None:
        super().__init__(look, "chrome")
        self._drawing = drawing
        self.setText(name)
        self.setCheckable(True)
        self.setAccessibleName(tr("Stage {name}").format(name=name))
        self.setToolTip(f"{name}  ({key})")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)

    def sizeHint(self) -> QSize:
        return QSize(92, 84)

    def minimumSizeHint(self) -> QSize:
        # Drawing and name still stand clear of each other; a small screen has no more.
        return QSize(92, 78)

    def paint(self, p: QPainter) -> None:
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


class Rail(QWidget):
    """The rail of stages.

    Signals:
        chosen: id of the stage.
    """

    chosen = Signal(str)

    def __init__(self, look: Look, stages: Sequence[Stage]) -> None:
        super().__init__()
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._group = QButtonGroup(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 8, 0, 8)
        box.setSpacing(4)
        self.buttons: dict[str, StageButton] = {}
        for stage in stages:
            button = StageButton(stage.title, keys_of(f"stage.{stage.id}"), stage.drawing, look)
            button.clicked.connect(lambda _=False, chosen=stage.id: self.chosen.emit(chosen))
            self._group.addButton(button)
            self.buttons[stage.id] = button
            box.addWidget(button)
        box.addStretch(1)

    def show_stage(self, stage: str) -> None:
        """Mark a stage, by its id, as the open one."""
        self.buttons[stage].setChecked(True)

    def show_none(self) -> None:
        """Mark no stage: what is open stands beside them."""
        self._group.setExclusive(False)
        for button in self.buttons.values():
            button.setChecked(False)
        self._group.setExclusive(True)
