"""The stages along the left edge, in working order, always in reach."""

from __future__ import annotations

import html
from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...metal.sheet import Sheet
from ...paint.frame import paint_state
from ...paint.theme import Theme, crowded, font, pixels, text_scale
from ...planning.outcome import Outcome
from ...schema.reading import plain
from ...units.length import Units, show_length
from ..pages.stage import Drawing, Stage
from ..state.session import Session
from ..widgets.canvas import KeptButton
from ..widgets.field import ParsedField, TextField
from ..widgets.widget import MOST_HIGH, Count, WholeChoice, Wrapped, labelled, laid_out_once
from .commands import keys_of

if TYPE_CHECKING:
    from ...planning.plan import Plan


class StageButton(KeptButton):
    """One stage: a small drawing of the work and its name."""

    def __init__(self, name: str, key: str, drawing: Drawing, look: Theme) -> None:
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
            p.drawPolygon(
                QPolygonF(
                    [
                        r.topLeft() + QPointF(9, 0),
                        r.topRight(),
                        r.bottomRight(),
                        r.bottomLeft() + QPointF(9, 0),
                        r.bottomLeft() + QPointF(0, -9),
                        r.topLeft() + QPointF(0, 9),
                    ]
                )
            )
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
        p.drawText(
            QRectF(r.left(), r.bottom() - 26, r.width(), 20),
            Qt.AlignmentFlag.AlignCenter,
            self.text(),
        )


class Rail(QWidget):
    """The rail of stages.

    Signals:
        chosen: id of the stage.
    """

    chosen = Signal(str)

    def __init__(self, look: Theme, stages: Sequence[Stage]) -> None:
        super().__init__()
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._group = QButtonGroup(self)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 8, 0, 8)
        box.setSpacing(4)
        self.buttons: dict[str, StageButton] = {}
        for stage in stages:
            button = StageButton(
                str(stage.title), keys_of(f"stage.{stage.id}"), stage.drawing, look
            )
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


class Header(QWidget):
    """What every stage needs to know."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        crane = QLabel()
        crane.setPixmap(QApplication.windowIcon().pixmap(QSize(44, 44)))
        self.name = TextField(tr("Part name"), self._rename)
        self.name.edit.editingFinished.connect(lambda: _settled(self.name))
        self.name.edit.setFont(font(11.5, strong=True))
        self.metal = WholeChoice(10)
        self.metal.setAccessibleName(tr("Metal"))
        self.metal.activated.connect(lambda _: self._set(metal=self.metal.currentData()))
        self.thickness = ParsedField(
            tr("Gauge or thickness"), self._thicken, self._sheet, tr('22 ga, 0.030" or 0.8 mm')
        )
        self.actual = QLabel()
        self.actual.setObjectName("faint")
        self.brake = WholeChoice(9)
        self.brake.setAccessibleName(tr("Brake"))
        self.brake.activated.connect(lambda _: self._set(brake=self.brake.currentData()))
        self.quantity = Count()
        self.quantity.setRange(1, 100_000)
        self.quantity.setAccessibleName(tr("Quantity"))
        self.quantity.valueChanged.connect(lambda n: self._set(quantity=n))
        self.units = WholeChoice(6)
        self.units.setAccessibleName(tr("Units"))
        for unit in Units:
            self.units.addItem(unit.words, unit)
        self.units.activated.connect(lambda _: self._set(units=self.units.currentData()))
        # Of all that stands in this row the name is what tells one job from another.
        self.name.setMinimumWidth(150)
        self.quantity.setMaximumWidth(round(90 * text_scale()))
        self.thickness.setMaximumWidth(round(90 * text_scale()))
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 8, 12, 2)
        row.setSpacing(8 if crowded() else 12)
        if not crowded():
            row.addWidget(crane)
        row.addLayout(labelled(tr("Part"), self.name), 1)
        row.addLayout(labelled(tr("Metal"), self.metal))
        thick = labelled(tr("Thickness"), self.thickness)
        row.addLayout(thick)
        row.addLayout(labelled(tr("Actual"), self.actual))
        row.addLayout(labelled(tr("Brake"), self.brake))
        row.addLayout(labelled(tr("How many"), self.quantity))
        row.addLayout(labelled(tr("Units"), self.units))
        session.changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Show the job."""
        job = self.session.job
        self.name.show_text(job.name)
        if self.name.edit is not QApplication.focusWidget():
            self.name.edit.home(False)
        metals = {key: metal.name for key, metal in self.session.settings.every_metal.items()}
        if job.own_metal is not None:
            # It came with the job: another shop's, or this one's as it was.
            metals[job.metal] = job.own_metal.name
        if [
            (self.metal.itemData(i), self.metal.itemText(i)) for i in range(self.metal.count())
        ] != list(metals.items()):
            self.metal.clear()
            for key, name in metals.items():
                self.metal.addItem(name, key)
        self.metal.setCurrentIndex(self.metal.findData(job.metal))
        self.metal.setToolTip(self.metal.currentText())
        self.thickness.show_text(job.thickness)
        inch = job.units.fine
        self.actual.setText(show_length(job.sheet.thickness, inch))
        rack = self.session.rack
        offered = [brake for brake in rack.brakes if brake in rack.in_use or brake.key == job.brake]
        names = [brake.name for brake in offered]
        if [self.brake.itemText(i) for i in range(self.brake.count())] != names:
            self.brake.clear()
            for brake in offered:
                self.brake.addItem(brake.name, brake.key)
        self.brake.setCurrentIndex(self.brake.findData(job.brake))
        self.brake.setToolTip(self.brake.currentText())
        self.quantity.blockSignals(True)
        self.quantity.setValue(job.quantity)
        self.quantity.blockSignals(False)
        self.units.setCurrentIndex(self.units.findData(job.units))

    def _rename(self, text: str) -> str | None:
        if not text.strip():
            return tr("The part needs a name.")
        return self.session.edit("name", name=text.strip()[:120])

    def _thicken(self, text: str) -> str | None:
        try:
            # A gauge is kept spelt out: in other units a bare number would be something else.
            text = self._sheet(text).written
        except INPUT_ERRORS as error:
            return plain(error)
        return self.session.edit("thickness", thickness=text)

    def _sheet(self, text: str) -> Sheet:
        """The job's metal at a thickness as written.

        Raises:
            InputError: it cannot be read.
        """
        job = self.session.job
        return Sheet.read(job.material, text, job.units)

    def _set(self, **fields: object) -> None:
        """A choice made from a list; what cannot be is refused with a sentence and the old choice
        stays."""
        sentence = self.session.edit("", **fields)
        if sentence:
            self.session.complained.emit(sentence)
            self.refresh()


def _settled(field: TextField) -> None:
    if not field.complaint.text():
        field.settled()
        field.edit.setModified(False)


LONG_WORD = 14
"""Letters by which a line may end early because the next word does not fit."""


class Sign(QWidget):
    """One state sign."""

    def __init__(self, look: Theme, size: int = 18) -> None:
        super().__init__()
        self.look, self.state, self._size = look, Outcome.WORKS, size
        self.setFixedSize(QSize(size + 8, size + 8))

    def show_state(self, state: Outcome) -> None:
        self.state = state
        self.setAccessibleName(
            {"works": tr("Works"), "care": tr("Take care"), "stop": tr("Stop")}[state.value]
        )
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        paint_state(
            p, QPointF(self.width() / 2, self.height() / 2), self._size, self.state, self.look
        )
        p.end()


class VerdictBar(QWidget):
    """Sign, sentence, and a fold-out with reasons and cures."""

    def __init__(self, session: Session, look: Theme) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("chrome")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.sign = Sign(look)
        self.sentence = Wrapped()
        self.sentence.setTextFormat(Qt.TextFormat.PlainText)
        self.sentence.setFont(font(12, strong=True))
        self.sentence.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.sentence.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.more = QToolButton()
        self.more.setCheckable(True)
        self.more.toggled.connect(self._fold)
        self.details = Wrapped()
        self.details.setTextFormat(Qt.TextFormat.RichText)
        self.details.setFont(font(10.5))
        self.details.setContentsMargins(34, 0, 8, 6)
        self.details.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.details.hide()
        row = QHBoxLayout()
        row.addWidget(self.sign)
        row.addWidget(self.sentence, 1)
        row.addWidget(self.more)
        self.stop = QToolButton()
        self.stop.setText(tr("Stop planning"))
        self.stop.clicked.connect(session.bench_plan.stop)
        self.stop.hide()
        row.addWidget(self.stop)
        self.again = QToolButton()
        self.again.setText(tr("Plan again"))
        self.again.clicked.connect(self._again)
        self.again.hide()
        row.addWidget(self.again)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 4, 12, 6)
        box.setSpacing(2)
        box.addLayout(row)
        box.addWidget(self.details)
        self.details.setTextInteractionFlags(Qt.TextInteractionFlag.TextBrowserInteraction)
        self.details.linkActivated.connect(self._take)
        session.advanced.connect(self._advance)
        session.planned.connect(self.refresh)
        session.rested.connect(self.refresh)
        session.changed.connect(self.refresh)
        self.refresh()

    def _again(self) -> None:
        self.session.bench_plan.again()
        self.refresh()
        self.session.planned.emit()

    def _fold(self, shown: bool) -> None:
        self.details.setVisible(shown and bool(self.details.text()))

    def _take(self, link: str) -> None:
        """Take the cure behind a link."""
        plan = self.session.plan
        number = int(link)
        if plan is not None and number < len(plan.cures):
            refusal = self.session.orders.take(plan.cures[number])
            if refusal:
                self.session.complained.emit(refusal)

    def _advance(self, judged: int, names: object, of: int) -> None:
        """How far the search is."""
        if self.session.bench_plan.planning and isinstance(names, tuple):
            self._say_meanwhile(
                tr(
                    "Working out the bends … {judged} tried; best so far makes {names} of {of} "
                    "bends."
                ).format(judged=judged, names=len(names), of=of)
            )

    def _say(self, text: str) -> None:
        """The sentence, in as many lines as it takes."""
        # As high as a button that may come beside it, so that the page below does not jump.
        self.sentence.setMinimumHeight(self.more.sizeHint().height())
        self.sentence.setMaximumHeight(MOST_HIGH)
        self.sentence.setText(text)
        self.sentence.setToolTip("")

    def _say_meanwhile(self, text: str) -> None:
        """What holds for a moment only, in the room of what stood there: the page below stays where
        it is."""
        letters = self.sentence.fontMetrics()
        high = max(self.sentence.height(), self.more.sizeHint().height())
        if self.sentence.isVisible():
            lines = max(1, high // letters.lineSpacing())
            # Words are broken before they reach the end of a line.
            room = (
                self.sentence.width() * lines - (lines - 1) * LONG_WORD * letters.averageCharWidth()
            )
            self.sentence.setFixedHeight(high)
            self.sentence.setToolTip(text)
            text = letters.elidedText(text, Qt.TextElideMode.ElideRight, room)
        self.sentence.setText(text)

    def refresh(self) -> None:
        """Say what is known of the job on the bench, and of no other; while it is being worked out,
        say that."""
        with laid_out_once(self):
            self._refresh()

    def _refresh(self) -> None:
        session, plan = self.session, self.session.plan
        self.stop.setVisible(session.bench_plan.busy)
        self.stop.setText(
            tr("Stop planning")
            if session.bench_plan.planning
            else tr("Keep this order")
            if session.bench_plan.looking
            else tr("Stop looking for remedies")
        )
        self.again.setVisible(plan is None and not session.bench_plan.busy)
        if plan is None:
            if session.bench_plan.planning:
                before = (
                    tr(" (before your change: {sentence})").format(
                        sentence=session.bench_plan.before.sentence
                    )
                    if session.bench_plan.before is not None
                    else ""
                )
                self._say_meanwhile(tr("Working out the bends …{before}").format(before=before))
            else:
                self._say(tr("There is no plan of this part: planning was stopped."))
            self.sign.setVisible(False)
            self.more.hide()
            self.details.hide()
            return
        self.sign.setVisible(True)
        self.sign.show_state(plan.state)
        self._say(
            tr("{sentence} Looking for a cheaper order …").format(sentence=plan.sentence)
            if session.bench_plan.looking
            else plan.sentence
        )
        self.more.setText(
            tr("Why not, and what would work")
            if not plan.feasible
            else tr("What would be better")
            if plan.advice
            else tr("What to watch")
        )
        self.details.setText(_details(plan))
        self.more.setVisible(bool(self.details.text()))
        if not plan.feasible:
            self.more.setChecked(True)
        self._fold(self.more.isChecked())


def _details(plan: Plan) -> str:
    def escaped(text: str) -> str:
        return html.escape(text, quote=False)

    lines = [*plan.blank.doubts]
    # Two reasons and every cure: the full list is in the printed sheet and the plan file.
    lines += plan.reasons[:4] if plan.feasible else [*plan.reasons[:2], *plan.reasons[-1:]]
    text = "".join(f"<div>· {escaped(line)}</div>" for line in dict.fromkeys(lines))
    if plan.advice:
        text += tr("<div><b>What would work</b> (click to apply; Ctrl+Z undoes it):</div>")
        text += "".join(
            f'<div>· <a href="{i}">{escaped(line)}</a></div>' for i, line in enumerate(plan.advice)
        )
    return text
