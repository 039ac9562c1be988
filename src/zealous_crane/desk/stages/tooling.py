"""Tool up: the brake from the front with its fingers, what to set, what it is rated for."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from ...plan import PlannedStroke, gauging_lines, set_up_facts, width_text
from ...shop import cautions_for
from ..canvas import Canvas
from ..paint.front import paint_front
from ..session import Session
from ..theme import Look, font
from ..widget import clear, heading


class ToolingStage(QWidget):
    """Front view above, settings below."""

    def __init__(self, session: Session, look: Look, edit: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self.which = QComboBox()
        self.which.setAccessibleName("Stroke shown")
        self.which.currentIndexChanged.connect(lambda _: self._show_stroke())
        self.front = Canvas("The brake from the front", self._paint, QSize(480, 240))
        self.setups = QLabel()
        self.setups.setWordWrap(True)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(18)
        self.grid.setVerticalSpacing(5)
        self.grid.setColumnStretch(1, 1)
        self.cautions = QLabel()
        self.cautions.setWordWrap(True)
        self.cautions.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.gauging = QLabel()
        self.gauging.setWordWrap(True)
        self.gauging.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.empty = QLabel()
        self.empty.setWordWrap(True)
        self.empty.setFont(font(12))
        top = QHBoxLayout()
        top.addWidget(heading("Stroke"))
        top.addWidget(self.which)
        top.addSpacing(20)
        top.addWidget(self.setups, 1)
        self.bottomed = QCheckBox("Bottom the bends")
        self.bottomed.setToolTip(
            "Press the sheet against the sides of the V: about four times the force, a quarter of the springback."
        )
        self.bottomed.clicked.connect(self._bottom)
        change = QPushButton("Edit this brake …")
        change.clicked.connect(edit)
        top.addWidget(change)
        left = QVBoxLayout()
        left.setSpacing(4)
        left.addWidget(heading("Set the brake"))
        left.addLayout(self.grid)
        left.addStretch(1)
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addWidget(heading("Look out"))
        right.addWidget(self.cautions)
        right.addWidget(heading("Gauging"))
        right.addWidget(self.gauging)
        right.addStretch(1)
        bottom = QHBoxLayout()
        bottom.setSpacing(28)
        bottom.addLayout(left, 3)
        bottom.addLayout(right, 2)
        self.body = QWidget()
        column = QVBoxLayout(self.body)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(top)
        column.addWidget(self.front, 1)
        column.addSpacing(6)
        below = QWidget()
        below.setLayout(bottom)
        bottom.setContentsMargins(0, 0, 0, 0)
        below.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        column.addWidget(below)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 16, 12)
        outer.addWidget(self.bottomed, 0, Qt.AlignmentFlag.AlignLeft)
        outer.addWidget(self.empty)
        outer.addWidget(self.body, 1)
        session.changed.connect(lambda: self.bottomed.setChecked(session.job.bottomed))
        session.planned.connect(self.refresh)
        self.refresh()

    @property
    def stroke(self) -> PlannedStroke | None:
        """The stroke on show."""
        plan = self.session.plan
        i = self.which.currentIndex()
        return plan.strokes[i] if plan is not None and 0 <= i < len(plan.strokes) else None

    def _bottom(self, wanted: bool) -> None:
        said = self.session.edit("", bottomed=wanted)
        if said:
            self.session.complained.emit(said)

    def refresh(self) -> None:
        """Show the plan."""
        plan = self.session.plan
        self.bottomed.setVisible(plan is not None and plan.brake.kind == "press")
        self.bottomed.setChecked(self.session.job.bottomed)
        feasible = plan is not None and plan.feasible
        self.body.setVisible(feasible)
        self.empty.setVisible(not feasible)
        if plan is None or not feasible:
            said = "" if plan is None else "\n".join([plan.sentence, *plan.advice])
            self.empty.setText(said + "\nWhen the part can be made, its tools stand here.")
            return
        keep = max(0, self.which.currentIndex())
        self.which.blockSignals(True)
        self.which.clear()
        for stroke in plan.strokes:
            self.which.addItem(f"{stroke.number}  {stroke.name}")
        self.which.setCurrentIndex(min(keep, len(plan.strokes) - 1))
        self.which.blockSignals(False)
        lines = []
        for i, setup in enumerate(plan.setups, start=1):
            numbers = ", ".join(map(str, setup.strokes))
            with_ = f"{setup.tooling.says}: " if setup.tooling.says else ""
            lines.append(f"<b>Set-up {i}</b> (bends {numbers}): {with_}{width_text(setup.blocks, plan.job.units, pretty=True)}")
        self.setups.setText("<br>".join(lines))
        texts = [c.text for c in cautions_for(plan) if c.step in ("always", "setting up")]
        self.cautions.setText("\n".join(f"·  {t}" for t in texts))
        self.gauging.setText("\n".join(gauging_lines(plan)))
        self._show_stroke()

    def _show_stroke(self) -> None:
        stroke, plan = self.stroke, self.session.plan
        clear(self.grid)
        if stroke is None or plan is None:
            return
        for i, (what, value) in enumerate(set_up_facts(plan, stroke)):
            name, shown = QLabel(what), QLabel(value)
            name.setObjectName("faint")
            shown.setFont(font(10.5, strong=True))
            shown.setWordWrap(True)
            self.grid.addWidget(name, i, 0)
            self.grid.addWidget(shown, i, 1)
        self.front.update()

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        stroke = self.stroke
        if stroke is not None:
            paint_front(p, rect, stroke, self.session.job.units, self.look)
