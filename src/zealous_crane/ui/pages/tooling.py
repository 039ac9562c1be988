"""Tool up: the brake from the front with its fingers, what to set, what it is rated for."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QSize, Qt, QTimer
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...bending.machine import FactKey, Least
from ...bending.machines import machine_of
from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...paint.brake import paint_front
from ...paint.theme import Theme, crowded
from ...planning.gauging import gauging_lines
from ...planning.plan import PlannedStroke
from ...planning.setup import set_up_facts
from ...shop.safety_notes import CautionStep, cautions_for
from ...units.quantities import parse_angle, show_angle
from ..state.background_call import Beside
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.field import ParsedField
from ..widgets.setup_cards import SetupCards
from ..widgets.widget import Choice, Facts, FitScrollArea, LazyView, heading, prose
from ..widgets.working import PATIENCE, WorkingPage
from .tool_choices import ToolChoices, ask_least, least_line


class ToolingStage(LazyView):
    """Front view above, settings below."""

    def __init__(self, session: Session, look: Theme, edit: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.look = session, look
        self.setObjectName("bench")
        self._engine = Beside(self, session.crew)
        self.which = Choice()
        self.which.setAccessibleName(tr("Stroke shown"))
        self.which.setMinimumContentsLength(14)
        self.which.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.which.currentIndexChanged.connect(lambda _: self._show_stroke())
        self.front = Canvas(tr("The brake from the front"), self._paint, QSize(480, 170))
        self.setups = SetupCards(look)
        self.setups.chosen.connect(self._show_setup)
        self.empty = prose(size=12)
        self.bottomed = QCheckBox(tr("Bottomed"))
        self.bottomed.setToolTip(
            tr(
                "Press the sheet against the sides of the V: about four times the force, a "
                "quarter of the springback."
            )
        )
        self.bottomed.clicked.connect(self._bottom)
        below = QWidget()
        bottom = QHBoxLayout(below)
        bottom.setSpacing(28)
        bottom.setContentsMargins(0, 0, 0, 0)
        bottom.addLayout(self._settings(), 3)
        bottom.addLayout(self._beside(), 2)
        self.body = QWidget()
        column = QVBoxLayout(self.body)
        column.setContentsMargins(0, 0, 0, 0)
        if not crowded():
            column.addWidget(self.setups)
        column.addLayout(self._head(edit))
        column.addWidget(self.front, 1)
        column.addSpacing(6)
        column.addWidget(FitScrollArea(below))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(16, 12, 16, 12)
        self.choices = ToolChoices(session, self.bottomed)
        outer.addWidget(self.choices)
        self.working = WorkingPage(session, look)
        outer.addWidget(self.working, 1)
        outer.addWidget(self.empty)
        outer.addWidget(self.body, 1)
        self._patience = QTimer(self)
        self._patience.setSingleShot(True)
        self._patience.setInterval(PATIENCE)
        self._patience.timeout.connect(self.refresh)
        session.changed.connect(self._changed)
        session.changed.connect(self._show_bottomed)
        session.planned.connect(self.soon)
        # Until somebody looks, what is on a page asks for no room.
        for widget in (self.empty, self.body):
            widget.hide()

    # --- what it is made of ----------------------------------------------------------------------

    def _head(self, edit: Callable[[], None]) -> QHBoxLayout:
        """Which stroke is on show, the set-ups, and the way to the brake's own measures."""
        change = QPushButton(tr("Edit this brake …"))
        change.clicked.connect(edit)
        top = QHBoxLayout()
        top.addWidget(heading(tr("Stroke")))
        top.addWidget(self.which)
        top.addStretch(1)
        top.addWidget(change)
        return top

    def _settings(self) -> QVBoxLayout:
        """What is set on the brake."""
        self.facts = Facts()
        left = QVBoxLayout()
        left.setSpacing(4)
        if crowded():
            # Above the picture they would squeeze it; here they are scrolled.
            left.addWidget(self.setups)
        left.addWidget(heading(tr("Set the brake")))
        left.addLayout(self.facts)
        self.others = QPushButton(tr("&Alternatives"))
        self.others.setCheckable(True)
        self.others.setToolTip(tr("Other pieces that would serve this set-up."))
        self.others.toggled.connect(lambda _: self._show_stroke())
        row = QHBoxLayout()
        row.addWidget(self.others)
        row.addStretch(1)
        left.addLayout(row)
        left.addStretch(1)
        return left

    def _beside(self) -> QVBoxLayout:
        """What to look out for, and how the folds are gauged."""
        self.cautions, self.gauging = prose(), prose()
        for label in (self.cautions, self.gauging):
            label.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.tolerance = ParsedField(
            tr("Angle tolerance"), self._tolerate, lambda text: parse_angle(text.removeprefix("±"))
        )
        self.tolerance.as_wide_as_a_figure()
        self.tolerance.setToolTip(tr("Degrees an angle may be off and still counts as reached."))
        tolerance = QHBoxLayout()
        within = QLabel(tr("An angle counts as reached within ±"))
        within.setWordWrap(crowded())
        tolerance.addWidget(within)
        tolerance.addWidget(self.tolerance, 1)
        right = QVBoxLayout()
        right.setSpacing(4)
        right.addWidget(heading(tr("Caution")))
        right.addWidget(self.cautions)
        right.addWidget(heading(tr("Gauging")))
        right.addLayout(self._gauging_row())
        right.addLayout(tolerance)
        right.addWidget(self.gauging)
        right.addStretch(1)
        return right

    def _gauging_row(self) -> QBoxLayout:
        """How all folds are gauged, and this one."""
        self.gauge_all, self.gauge_one = Choice(), Choice()
        for choice, name, usual, sentence, one in (
            (
                self.gauge_all,
                tr("Gauging of the job"),
                tr("every bend: the better stop"),
                tr("every bend: {way}"),
                False,
            ),
            (
                self.gauge_one,
                tr("Gauging of this bend"),
                tr("this bend: like the others"),
                tr("this bend: {way}"),
                True,
            ),
        ):
            choice.setAccessibleName(name)
            choice.addItem(usual, None)
            for text, way in (
                (tr("stop, nearest edge"), "near"),
                (tr("stop, edge no bend has moved"), "true"),
                (tr("stop, fewest settings"), "few"),
                (tr("sight the line"), "lines"),
            ):
                choice.addItem(sentence.format(way=text), way)
            choice.setMinimumContentsLength(12)
            choice.setSizeAdjustPolicy(
                Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
            )
            choice.activated.connect(lambda _, one=one: self._gauge(one))
        ways = QBoxLayout(
            QBoxLayout.Direction.TopToBottom if crowded() else QBoxLayout.Direction.LeftToRight
        )
        ways.addWidget(self.gauge_all, 1)
        ways.addWidget(self.gauge_one, 1)
        return ways

    @property
    def stroke(self) -> PlannedStroke | None:
        """The stroke on show."""
        plan = self.session.plan
        i = self.which.currentIndex()
        return plan.strokes[i] if plan is not None and 0 <= i < len(plan.strokes) else None

    def _bottom(self, wanted: bool) -> None:
        refusal = self.session.edit("", bottomed=wanted)
        if refusal:
            self.session.complained.emit(refusal)

    def _show_bottomed(self) -> None:
        self.bottomed.setChecked(self.session.job.bottomed)

    def _changed(self) -> None:
        """Another job, or the same one changed: what is on show no longer counts."""
        if self.session.plan is None and self.session.bench_plan.before is not None:
            self.body.setEnabled(False)
            self._patience.start()
        else:
            self._patience.stop()
            self.soon()

    def refresh(self) -> None:
        """Show the plan; while nobody looks, only that it is another one is kept in mind."""
        plan = self.session.plan
        self._patience.stop()
        if self.waits():
            return
        self.body.setEnabled(True)
        self.bottomed.setVisible(machine_of(self.session.brake).bottoms)
        self.bottomed.setChecked(self.session.job.bottomed)
        self.choices.refresh()
        if self.working.stands_in_for(self.body, self.empty) or plan is None:
            return
        feasible = plan.feasible
        self.body.setVisible(feasible)
        self.empty.setVisible(not feasible)
        if not feasible:
            self.empty.setText(tr("When the part can be made, its tools stand here."))
            return
        keep = max(0, self.which.currentIndex())
        self.which.blockSignals(True)
        self.which.clear()
        for stroke in plan.strokes:
            self.which.addItem(f"{stroke.number}  {stroke.name}")
        self.which.setCurrentIndex(min(keep, len(plan.strokes) - 1))
        self.which.blockSignals(False)
        self.setups.show_plan(plan)
        texts = [
            c.text
            for c in cautions_for(plan)
            if c.step in (CautionStep.ALWAYS, CautionStep.SETTING_UP)
        ]
        self.cautions.setText("\n".join(f"·  {t}" for t in texts))
        self._show_least(())
        ask_least(self._engine, self.session, self._show_least)
        gauge = plan.brake.gauge_reach is not None
        for widget in (self.gauge_all, self.gauge_one):
            widget.setVisible(gauge)
        self.gauge_all.setCurrentIndex(max(0, self.gauge_all.findData(plan.job.gauging)))
        self.tolerance.show_text(show_angle(plan.job.tolerance, 2))
        self._show_stroke()

    def _show_least(self, leasts: tuple[Least, ...]) -> None:
        """How the part is gauged, and what the least sizes here are once they are worked out."""
        plan = self.session.plan
        if plan is not None:
            lines = [*gauging_lines(plan), least_line(leasts, plan.job.units)]
            self.gauging.setText("\n".join(line for line in lines if line))

    def _show_stroke(self) -> None:
        stroke, plan = self.stroke, self.session.plan
        if stroke is None or plan is None:
            return
        facts = set_up_facts(plan, stroke)
        self.others.setVisible(any(fact.key is FactKey.OTHERS for fact in facts))
        self.facts.show(
            [
                (fact.label, fact.value)
                for fact in facts
                if fact.key is not FactKey.OTHERS or self.others.isChecked()
            ]
        )
        self.setups.choose(stroke.setup)
        name = stroke.verdict.stroke.setting.line.name
        self.gauge_one.setCurrentIndex(max(0, self.gauge_one.findData(plan.job.gauge_at.get(name))))
        self.front.update()

    def _show_setup(self, index: int) -> None:
        """Show the first bend a set-up serves."""
        plan = self.session.plan
        if plan is not None and self.stroke is not None and self.stroke.setup != index:
            self.which.setCurrentIndex(plan.setups[index].strokes[0] - 1)

    def _gauge(self, one: bool) -> None:
        """Another way of gauging, for the job or for the stroke on show."""
        stroke = self.stroke
        if not one:
            refusal = self.session.edit("", gauging=self.gauge_all.currentData())
        elif stroke is not None:
            name = stroke.verdict.stroke.setting.line.name
            kept = {fold: way for fold, way in self.session.job.gauge_at.items() if fold != name}
            way = self.gauge_one.currentData()
            refusal = self.session.edit("", gauge_at=kept if way is None else {**kept, name: way})
        else:
            return
        if refusal:
            self.session.complained.emit(refusal)

    def _tolerate(self, text: str) -> str | None:
        try:
            return self.session.edit("tolerance", tolerance=parse_angle(text.removeprefix("±")))
        except INPUT_ERRORS as error:
            return str(error)

    def _paint(self, p: QPainter, rect: QRectF) -> None:
        stroke = self.stroke
        if stroke is not None:
            paint_front(p, rect, stroke, self.session.job.units, self.look)
