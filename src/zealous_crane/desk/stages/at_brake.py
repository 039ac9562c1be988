"""At the brake: one stroke at a time, to be read from two metres with gloves on."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QMessageBox, QPushButton, QVBoxLayout, QWidget

from ...measure import AngleError, show_angle
from ...measure.words import tr
from ...plan.result.plan import HandStep, Plan, PlannedStroke
from ...plan.result.set_up import set_up_of
from ...shop.caution import cautions_for
from ..bent import Bent
from ..canvas import Canvas
from ..paint.end import paint_end
from ..paint.front import paint_front
from ..paint.sign import paint_tag
from ..session import Session
from ..theme import Look, font
from ..working import WorkingPage
from ..wrapped import Wrapped
from .step_words import care_text, hold_text, sections_text

Step = PlannedStroke | HandStep

SHARES = (1.0, 0.92, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5)
"""Of the largest writing: how small it may become before anything is cut off."""


def steps_of(plan: Plan) -> list[Step]:
    """Strokes and hand work in the order they are done."""
    found: list[Step] = [h for h in plan.hand if h.after == 0]
    for stroke in plan.strokes:
        found.append(stroke)
        found += [h for h in plan.hand if h.after == stroke.number]
    return found


class AngleLine(QLineEdit):
    """The angle that came out, typed with gloves on: Return or Space takes it, Escape clears it, arrows move on when it is empty."""

    def __init__(self, page: AtBrake) -> None:
        super().__init__()
        self._page = page
        self.setAccessibleName(tr("Angle you got"))
        self.setMaxLength(12)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        empty = not self.text().strip()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            if empty:
                self._page.next()
                self._page.setFocus()
            else:
                self._page.take_angle(self.text())
        elif key == Qt.Key.Key_Escape:
            self.clear()
            self._page.setFocus()
        elif empty and key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Backspace):
            self._page.keyPressEvent(event)
            self._page.setFocus()
        else:
            super().keyPressEvent(event)


def _large(text: str) -> QPushButton:
    """A button for gloves, which keys never stop at."""
    button = QPushButton(text)
    button.setFont(font(18, strong=True))
    button.setMinimumHeight(56)
    button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return button


class AtBrake(QWidget):
    """The full window at the brake. Space: done, next. Left: back. Escape: leave. Digits: the angle you got. F: first part. G: drive the stop.

    Args:
        session: the state behind it.
        look: its colours.
        leave: called when the person is done.
    """

    def __init__(self, session: Session, look: Look, leave: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.look, self.leave = session, look, leave
        self.setObjectName("bench")
        self.at = 0
        self.bent = Bent(session)
        self._of: Plan | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("At the brake"))
        self.count, self.title, self.hold, self.angle = QLabel(), Wrapped(), Wrapped(), QLabel()
        self.sections, self.care, self.answer = Wrapped(), Wrapped(), Wrapped()
        for label in (self.title, self.hold, self.sections, self.care, self.answer):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.tag = Canvas(tr("The bend"), self._paint_tag, QSize(140, 80))
        self.end = Canvas(tr("The brake from its end"), self._paint_end, QSize(420, 320))
        self.front = Canvas(tr("The brake from the front"), self._paint_front, QSize(420, 170))
        self.book_says = Wrapped()
        self.book_says.setObjectName("faint")
        self.angle_got = AngleLine(self)
        self.angle_got.setFont(font(18))
        # For gloves; a style of the window goes before a widget's own least height.
        self.angle_got.setStyleSheet("min-height: 42px;")
        self.first_part = _large(tr("First part"))
        self.first_part.setCheckable(True)
        self.first_part.setToolTip(tr("Stop early, let go, measure, go on. F turns it on and off."))
        self.first_part.toggled.connect(self._first_part)
        self.back, self.done, self.out = _large(tr("◂  Back")), _large(tr("Done, next  ▸")), _large(tr("Leave"))
        for button, run in ((self.back, self.previous), (self.done, self.next), (self.out, leave)):
            button.clicked.connect(run)
        self.working = WorkingPage(session, look)
        self.body = QWidget()
        self._left = QVBoxLayout()
        self._lay_out()
        session.devices.angle.connect(self._angle_read)
        session.devices.said.connect(self._device_said)
        session.planned.connect(self._replanned)
        session.changed.connect(self._replanned)
        self.refresh()

    def _lay_out(self) -> None:
        """What is read at the left, the pictures at the right, the buttons under both."""
        head = QHBoxLayout()
        head.addWidget(self.tag)
        words = QVBoxLayout()
        words.addWidget(self.count)
        words.addWidget(self.title)
        head.addLayout(words, 1)
        left = self._left
        left.addLayout(head)
        for label in (self.angle, self.hold, self.sections):
            left.addWidget(label)
        left.addStretch(1)
        for widget in (self.care, self.answer, self.angle_got, self.book_says):
            left.addWidget(widget)
        right = QVBoxLayout()
        right.addWidget(self.end, 3)
        right.addWidget(self.front, 2)
        middle = QHBoxLayout(self.body)
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(20)
        middle.addLayout(left, 5)
        middle.addLayout(right, 5)
        foot = QHBoxLayout()
        for button, share in ((self.back, 2), (self.first_part, 1), (self.done, 4), (self.out, 1)):
            foot.addWidget(button, share)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(26, 20, 26, 18)
        outer.addWidget(self.body, 1)
        outer.addWidget(self.working, 1)
        outer.addLayout(foot)

    @property
    def steps(self) -> list[Step]:
        """What is done, in order; empty without a plan."""
        plan = self.session.plan
        return steps_of(plan) if plan is not None and plan.feasible else []

    @property
    def step(self) -> Step | None:
        """The step on show."""
        return self.steps[self.at] if self.at < len(self.steps) else None

    def _replanned(self) -> None:
        """Another plan, or none yet: nobody bends by a card of another job."""
        plan = self.session.plan
        same = self._of is not None and plan is not None and plan.job == self._of.job and plan.brake == self._of.brake
        if not same:
            self.bent.forget()
        if plan is not None:
            self._of = plan
        self.at = min(self.at, max(0, len(self.steps) - 1))
        self.refresh()

    def begin(self) -> None:
        """Show the first step."""
        self.at = 0
        self.bent.begin()
        self.refresh()
        self.setFocus()

    def next(self) -> None:
        """This step is done."""
        if self.at + 1 < len(self.steps):
            self.at += 1
            self.refresh()
        elif self.steps:
            self.answer.setText(tr("That was the last one. Measure the part before you take the next sheet."))

    def previous(self) -> None:
        """Back to the step before."""
        self.at = max(0, self.at - 1)
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = {
            Qt.Key.Key_Space: self.next, Qt.Key.Key_Return: self.next, Qt.Key.Key_Enter: self.next, Qt.Key.Key_Right: self.next,
            Qt.Key.Key_Left: self.previous, Qt.Key.Key_Backspace: self.previous, Qt.Key.Key_Escape: self.leave,
        }  # fmt: skip
        run = keys.get(Qt.Key(event.key()))
        if run is not None:
            run()
        elif event.key() == Qt.Key.Key_F and not event.modifiers():
            self.first_part.toggle()
        elif event.key() == Qt.Key.Key_G and not event.modifiers():
            self.send_stop()
        elif event.text() and event.text() in "0123456789.,-" and isinstance(self.step, PlannedStroke):
            # The angle is typed without reaching for the field first.
            self.angle_got.setFocus()
            self.angle_got.setText(event.text())
            self.answer.setText("")
        else:
            super().keyPressEvent(event)

    def refresh(self) -> None:
        """Show the step."""
        step, plan = self.step, self.session.plan
        on_brake = isinstance(step, PlannedStroke)
        for widget in (self.end, self.front, self.tag, self.angle_got, self.angle, self.sections):
            widget.setVisible(on_brake)
        self.answer.setText("")
        self.book_says.setText("")
        self.angle_got.clear()
        self._hint()
        self.back.setEnabled(self.at > 0)
        self.done.setEnabled(step is not None)
        if self.working.stands_in_for(self.body) or plan is None:
            return
        self.body.show()
        if step is None:
            self.count.setText("")
            self.title.setText(tr("Nothing to bend."))
            self.hold.setText(plan.sentence)
            self.care.setText("")
            return
        lots = tr("  ·  {quantity} parts through each step").format(quantity=plan.job.quantity) if plan.job.quantity > 1 else ""
        self.count.setText(tr("{at} of {steps}{lots}").format(at=self.at + 1, steps=len(self.steps), lots=lots))
        if isinstance(step, PlannedStroke):
            self._show_stroke(plan, step)
        else:
            self._show_hand_work(plan, step)

    def _show_hand_work(self, plan: Plan, step: HandStep) -> None:
        self.title.setText(tr("By hand") if step.by != "own tool" else tr("Before the brake"))
        self.hold.setText(step.says)
        said = next((c.text for c in cautions_for(plan) if c.step == "by hand"), tr("Go slowly and look."))
        self.care.setText("▲  " + said)

    def _show_stroke(self, plan: Plan, stroke: PlannedStroke) -> None:
        self.title.setText(stroke.name[:1].upper() + stroke.name[1:])
        found = self.bent.set_up(plan, stroke)
        first = self.bent.first_stop(stroke, found)
        self.angle.setText(show_angle(found.stop_angle if first is None else first))
        self.hold.setText(hold_text(plan, stroke, found, first))
        self.sections.setText(sections_text(plan, stroke))
        self.care.setText("▲  " + care_text(plan, stroke))
        self.book_says.setText(self.bent.expected(plan, stroke))
        if stroke.number in self.bent.got:
            self._answer(plan, stroke)
        for canvas in (self.tag, self.end, self.front):
            canvas.update()
        self._fit()

    def _angle_read(self, angle: float) -> None:
        """An instrument sent an angle, bent from flat: it counts as typed."""
        if self.isVisible() and self.session.plan is not None:
            self.take_angle(f"{self.session.plan.job.angles.read(angle):g}")

    def _device_said(self, said: str) -> None:
        if self.isVisible():
            self.answer.setText(said)
            self._fit()

    def send_stop(self) -> None:
        """Drive the back gauge to this stroke's stop, after asking."""
        step, plan = self.step, self.session.plan
        if not isinstance(step, PlannedStroke) or plan is None:
            return
        gauge = set_up_of(plan, step).gauge
        if gauge.sighted:
            self.answer.setText(tr("This line is sighted; the stop has no place in it."))
            return
        buttons = QMessageBox.StandardButton
        asked = tr("Drive the stop to {at:.2f} mm behind the line?\nHands clear of it and of the part.").format(
            at=gauge.distance
        )
        if QMessageBox.question(self, tr("The stop"), asked, buttons.Yes | buttons.No, buttons.No) == buttons.Yes:
            said = self.session.devices.go(gauge.distance)
            if said:
                self.answer.setText(said)

    def _first_part(self, on: bool) -> None:
        self.bent.first_part = on
        self.first_part.setText(tr("✓  First part") if on else tr("First part"))
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _hint(self) -> None:
        """What the field takes, in as many words as it has room for; all of them where the pointer rests on it."""
        reading = self.session.job.angles
        said = tr("angle you got, {how}; left/right: 89/91").format(how=reading.words)
        letters = self.angle_got.fontMetrics()
        room = self.angle_got.width() - 2 * letters.averageCharWidth()
        # How it is read stays to the last: 60 typed for 120 would teach the book a bend nobody made.
        shorter = (
            said,
            tr("angle you got, {how}; left/right: 89/91").format(how=reading.short),
            tr("angle you got, {how}").format(how=reading.short),
            tr("angle, {how}").format(how=reading.short),
        )
        fits = (text for text in shorter if letters.horizontalAdvance(text) <= room)
        self.angle_got.setPlaceholderText(next(fits, shorter[-1]))
        self.angle_got.setToolTip(said)

    def _fit(self) -> None:
        """Write as large as all of it finds room for: nothing at the brake is cut off."""
        width, height = (self.body.width() - 20) // 2, self.body.height()
        sizes = (
            (self.count, 17, False), (self.title, 30, True), (self.hold, 21, False), (self.angle, 64, True),
            (self.sections, 21, False), (self.care, 16, False), (self.answer, 18, True), (self.book_says, 14, False),
        )  # fmt: skip
        for share in SHARES:
            for label, size, strong in sizes:
                # The angle is what is looked for from two metres: it gives way last.
                label.setFont(font(size * (max(share, 0.85) if label is self.angle else share), strong=strong))
            self._left.invalidate()
            if self._left.totalHeightForWidth(width) <= height:
                break
        self._hint()

    def take_angle(self, text: str) -> None:
        """Say what the angle that came out means for the stop."""
        step, plan = self.step, self.session.plan
        if not isinstance(step, PlannedStroke) or plan is None or not text.strip():
            self.setFocus()
            return
        try:
            read = self.bent.read(plan, text)
        except AngleError as error:
            self.answer.setText(str(error))
            return
        taught = self.bent.take(plan, step, read)
        if taught is None:
            self.book_says.setText(self.bent.expected(plan, step))
            self._answer(plan, step)
        else:
            self.refresh()
            self.answer.setText(taught)
        self.answer.setText(" ".join(filter(None, (self.answer.text(), self.bent.ends(read)))))
        self._fit()
        self.angle_got.clear()
        self.setFocus()

    def _answer(self, plan: Plan, stroke: PlannedStroke) -> None:
        """What the angle that came out means."""
        said, book = self.bent.answer(plan, stroke)
        self.answer.setText(said)
        if book is not None:
            self.book_says.setText(book)

    def _paint_tag(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke):
            angle = step.verdict.stroke.setting.line.angle
            paint_tag(p, QPointF(rect.center().x() - 10, rect.center().y()), 44, str(step.number), angle, self.look)

    def _paint_end(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke):
            paint_end(p, rect, step, step.verdict.reach, self.look, plain=True)

    def _paint_front(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke) and step.sections:
            paint_front(p, rect, step, self.session.job.units, self.look, text=15)
