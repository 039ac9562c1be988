"""At the brake: one stroke at a time, to be read from two metres with gloves on."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...i18n import tr
from ...paint.brake import paint_end, paint_front
from ...paint.frame import paint_tag
from ...paint.theme import Theme, font
from ...paper.stroke_words import care_text, cautions_text, hold_text, is_new_caution, sections_text
from ...planning.hand_finishing import HandMeans
from ...planning.plan import HandStep, Plan, PlannedStroke
from ...planning.setup import set_up_of
from ...shop.book.record import ReadingCondition
from ...units.length import show_length
from ...units.quantities import AngleError, show_angle
from ..state.bent import Bent
from ..state.session import Session
from ..widgets.canvas import Canvas
from ..widgets.film import Film
from ..widgets.widget import Wrapped, as_text
from ..widgets.working import WorkingPage

Step = PlannedStroke | HandStep

SHARES = (1.0, 0.92, 0.85, 0.8, 0.75, 0.7, 0.65, 0.6, 0.55, 0.5)
"""Of the largest writing: how small it may become before anything is cut off."""


class AngleLine(QLineEdit):
    """An angle typed with gloves on: Return takes it, Escape clears it; commands are keys only
    while nothing is typed.

    Args:
        page: the page it stands on.
        name: accessible name.
        take: given what was typed.
    """

    def __init__(self, page: AtBrake, name: str, take: Callable[[str], None]) -> None:
        super().__init__()
        self._page, self._take = page, take
        self.setAccessibleName(name)
        self.setMaxLength(24)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        empty = not self.text().strip()
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not empty:
            self._take(self.text())
        elif key == Qt.Key.Key_Escape:
            self.clear()
            self._page.setFocus()
        elif empty and self._page.runs(event):
            self._page.keyPressEvent(event)
            self._page.setFocus()
        else:
            super().keyPressEvent(event)


TOUCHED = 44
"""Pixels a thumb needs."""


def _mark(text: str, tip: str) -> QPushButton:
    """A button that says how a reading was taken, which keys never stop at."""
    button = QPushButton(text)
    button.setCheckable(True)
    button.setToolTip(tip)
    button.setMinimumHeight(TOUCHED)
    button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return button


def large_button(text: str) -> QPushButton:
    """A button for gloves, which keys never stop at."""
    button = QPushButton(text)
    button.setFont(font(18, strong=True))
    button.setMinimumHeight(56)
    button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return button


def is_command(event: QKeyEvent, commands: Mapping[Qt.Key, object]) -> bool:
    """True for a key of these commands, pressed without Ctrl."""
    return (
        Qt.Key(event.key()) in commands
        and not event.modifiers() & Qt.KeyboardModifier.ControlModifier
    )


class AtBrake(QWidget):
    """The full window at the brake. Space: done, next. Left: back. Escape: leave. Digits: the angle
    you got. F: first part. S: the stop it was made with. U: not let go yet. H: finished by hand. Z:
    take the reading back. N: next part. P: bring in once more. G: drive the stop.

    Args:
        session: the state behind it.
        look: its colours.
        leave: called when the person is done.

    Signals:
        ends: the person goes on past the last step (1), or back before the first (−1).
    """

    ends = Signal(int)

    def __init__(self, session: Session, look: Theme, leave: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.look, self.leave = session, look, leave
        self.setObjectName("bench")
        self.at, self._told_last = 0, False
        self.bent = Bent(session)
        self._of: Plan | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("At the brake"))
        self.count, self.title, self.hold, self.angle = QLabel(), Wrapped(), Wrapped(), QLabel()
        self.sections, self.care, self.answer = Wrapped(), Wrapped(), Wrapped()
        for label in (self.title, self.hold, self.sections, self.care, self.answer):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.alarm = Wrapped()
        self.alarm.setObjectName("complaint")
        self.alarm.setFont(font(16, strong=True))
        self.alarm.hide()
        self._pictures()
        self.book_says = Wrapped()
        self.book_says.setObjectName("faint")
        self.stop_made = AngleLine(self, tr("Stop it was made with"), self.take_stop)
        self.angle_got = AngleLine(self, tr("Angle you got"), self.take_angle)
        for line in (self.stop_made, self.angle_got):
            line.setFont(font(18))
            # For gloves; a style of the window goes before a widget's own least height.
            line.setStyleSheet("min-height: 42px;")
        self.held = _mark(
            tr("Still clamped"),
            tr(
                "The next reading is taken while the sheet is clamped (U): it is not used for "
                "springback."
            ),
        )
        self.by_hand = _mark(
            tr("By hand"),
            tr("The next reading is after finishing by hand (H): it is not used for springback."),
        )
        self.counts = _mark(
            tr("Each reading counts"),
            tr("Readings from the instrument are recorded, once for each part."),
        )
        self.held.toggled.connect(lambda on: self._mark_reading(ReadingCondition.HELD, on))
        self.by_hand.toggled.connect(lambda on: self._mark_reading(ReadingCondition.BY_HAND, on))
        self.take_back, self.next_part = (
            _mark(tr("Take back"), tr("The last reading was wrong (Z).")),
            _mark(tr("Next part"), tr("This part stays as it is (N).")),
        )
        for button, run in ((self.take_back, self._take_back), (self.next_part, self._next_part)):
            button.setCheckable(False)
            button.clicked.connect(run)
        self.first_part = large_button(tr("First part"))
        self.first_part.setCheckable(True)
        self.first_part.setToolTip(tr("Stop early, let go, measure, go on. F turns it on and off."))
        self.first_part.toggled.connect(self._first_part)
        self.back, self.done, self.out = (
            large_button(tr("◂  Back")),
            large_button(tr("Done, next  ▸")),
            large_button(tr("Close")),
        )
        for button, run in ((self.back, self.previous), (self.done, self.next), (self.out, leave)):
            button.clicked.connect(run)
        self.done.setObjectName("primary")
        self.working = WorkingPage(session, look)
        self.body = QWidget()
        self._left = QVBoxLayout()
        self._lay_out()
        session.devices.angle.connect(self._angle_read)
        session.devices.reported.connect(self._device_said)
        session.devices.alarm.connect(self._alarmed)
        session.planned.connect(self._replanned)
        session.changed.connect(self._replanned)
        session.book.changed.connect(self._book_read)
        self.refresh()

    def _pictures(self) -> None:
        """The bend, the brake from its end and from its front, and how the part is brought in."""
        self.tag = Canvas(tr("The bend"), self._paint_tag, QSize(140, 56))
        self.end = Canvas(tr("The brake from its end"), self._paint_end, QSize(420, 320))
        self.film = Film(self.look, QSize(420, 320), plain=True)
        self.film.hide()
        self.film.stopped.connect(self._in_place)
        self.front = Canvas(tr("The brake from the front"), self._paint_front, QSize(420, 170))

    def _lay_out(self) -> None:
        """What is read at the left, the pictures at the right, the buttons under both."""
        head = QHBoxLayout()
        head.addWidget(self.tag)
        words = QVBoxLayout()
        words.addWidget(self.count)
        words.addWidget(self.title)
        head.addLayout(words, 1)
        left = self._left
        left.setSpacing(4)
        left.addLayout(head)
        for label in (self.alarm, self.angle, self.hold, self.sections):
            left.addWidget(label)
        left.addStretch(1)
        self.typed = QWidget()
        typed = QHBoxLayout(self.typed)
        typed.setContentsMargins(0, 0, 0, 0)
        typed.addWidget(self.stop_made, 3)
        typed.addWidget(self.angle_got, 7)
        self.marks = QWidget()
        marks = QHBoxLayout(self.marks)
        marks.setContentsMargins(0, 0, 0, 0)
        for button in (self.held, self.by_hand, self.take_back, self.next_part, self.counts):
            marks.addWidget(button)
        for widget in (self.care, self.answer, self.typed, self.marks, self.book_says):
            left.addWidget(widget)
        right = QVBoxLayout()
        right.addWidget(self.end, 3)
        right.addWidget(self.film, 3)
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
        outer.setContentsMargins(26, 6, 26, 10)
        outer.addWidget(self.body, 1)
        outer.addWidget(self.working, 1)
        outer.addLayout(foot)

    @property
    def steps(self) -> list[Step]:
        """What is done, in order; empty without a plan."""
        plan = self.session.plan
        return list(plan.steps) if plan is not None and plan.feasible else []

    @property
    def step(self) -> Step | None:
        """The step on show."""
        return self.steps[self.at] if self.at < len(self.steps) else None

    def _replanned(self) -> None:
        """Another plan, or none yet: nobody bends by a card of another job."""
        plan = self.session.plan
        same = (
            self._of is not None
            and plan is not None
            and plan.job == self._of.job
            and plan.brake == self._of.brake
        )
        if not same:
            self.bent.forget()
        if plan is not None:
            self._of = plan
            self.bent.recall(plan)
        self.at = min(self.at, max(0, len(self.steps) - 1))
        self.refresh()

    def begin(self) -> None:
        """Show the first step."""
        self.at = 0
        self.bent.begin()
        if self.session.plan is not None:
            self.bent.recall(self.session.plan)
        self.refresh()
        self.setFocus()

    def _book_read(self) -> None:
        """The book is there, or says more: a lot that was begun goes on."""
        plan, step = self.session.plan, self.step
        if plan is not None and self.bent.recall(plan) and isinstance(step, PlannedStroke):
            self._say(plan, step, self.bent.answer(plan, step))

    def next(self) -> None:
        """This step is done."""
        if self.at + 1 < len(self.steps):
            self.at += 1
            self.refresh()
            self._hand_over()
        elif self._told_last or not self.steps:
            self.ends.emit(1)
        else:
            self._told_last = True
            self.answer.setText(
                tr("That was the last one. Measure the part before you take the next sheet.")
            )

    def previous(self) -> None:
        """Back to the step before."""
        if self.at == 0:
            self.ends.emit(-1)
            return
        self.at -= 1
        self.refresh()

    def to_last(self) -> None:
        """Show the last step."""
        self.at = max(0, len(self.steps) - 1)
        self.refresh()

    def _commands(self) -> dict[Qt.Key, Callable[[], object]]:
        """What every key does while nothing is typed."""
        return {
            Qt.Key.Key_Space: self.next,
            Qt.Key.Key_Return: self.next,
            Qt.Key.Key_Enter: self.next,
            Qt.Key.Key_Right: self.next,
            Qt.Key.Key_PageDown: self.next,
            Qt.Key.Key_PageUp: self.previous,
            Qt.Key.Key_Left: self.previous,
            Qt.Key.Key_Backspace: self.previous,
            Qt.Key.Key_Escape: self.leave,
            Qt.Key.Key_F: self.first_part.toggle,
            Qt.Key.Key_G: self.send_stop,
            Qt.Key.Key_S: self.stop_made.setFocus,
            Qt.Key.Key_U: self.held.toggle,
            Qt.Key.Key_H: self.by_hand.toggle,
            Qt.Key.Key_Z: self._take_back,
            Qt.Key.Key_N: self._next_part,
            Qt.Key.Key_P: self._hand_over,
        }

    def runs(self, event: QKeyEvent) -> bool:
        """True for a key that is a command while nothing is typed."""
        return is_command(event, self._commands())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.runs(event):
            self._commands()[Qt.Key(event.key())]()
        elif (
            event.text()
            and event.text() in "0123456789.,-lrLR"
            and isinstance(self.step, PlannedStroke)
        ):
            # The angle is typed without reaching for the field first.
            self.angle_got.setFocus()
            self.angle_got.setText(event.text())
            self.answer.setText("")
        else:
            super().keyPressEvent(event)

    def refresh(self) -> None:
        """Show the step."""
        self.film.stop()
        self.film.hide()
        step, plan = self.step, self.session.plan
        on_brake = isinstance(step, PlannedStroke)
        for widget in (
            self.end,
            self.front,
            self.tag,
            self.typed,
            self.marks,
            self.angle,
            self.sections,
        ):
            widget.setVisible(on_brake)
        self.answer.setText("")
        self._told_last = False
        self.book_says.setText("")
        self.angle_got.clear()
        self.stop_made.clear()
        self.counts.setVisible(self.session.devices.instrument is not None)
        self._hint()
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
        self._count(plan)
        if isinstance(step, PlannedStroke):
            self._show_stroke(plan, step)
        else:
            self._show_hand_work(plan, step)

    def _count(self, plan: Plan) -> None:
        """Which step it is, and which part of the lot goes through it."""
        lots, step = "", self.step
        if plan.job.quantity > 1:
            lots = tr("  ·  {quantity} parts through each step").format(quantity=plan.job.quantity)
            if isinstance(step, PlannedStroke):
                turn = self.bent.turn(step)
                lots = tr("  ·  part {part} of {quantity}").format(
                    part=turn.part + turn.is_done, quantity=plan.job.quantity
                )
        self.count.setText(
            tr("{at} of {steps}{lots}").format(at=self.at + 1, steps=len(self.steps), lots=lots)
        )

    def _show_hand_work(self, plan: Plan, step: HandStep) -> None:
        self.title.setText(
            tr("By hand") if step.by is not HandMeans.OWN_TOOL else tr("Before the brake")
        )
        self.hold.setText(step.says)
        self.care.setText("▲  " + (cautions_text(plan, step) or tr("Go slowly and look.")))

    def _show_stroke(self, plan: Plan, stroke: PlannedStroke) -> None:
        self.title.setText(stroke.name[:1].upper() + stroke.name[1:])
        set_up = set_up_of(plan, stroke)
        self.hold.setText(hold_text(plan, stroke, set_up, self.bent.first_stop(stroke, set_up)))
        self.sections.setText(sections_text(plan, stroke))
        self.care.setText("▲  " + care_text(plan, stroke))
        self._show_stop(plan, stroke)
        self.answer.setText(self.bent.answer(plan, stroke))
        for canvas in (self.tag, self.end, self.front):
            canvas.update()
        self._fit()

    def _hand_over(self) -> None:
        """Show how the part is turned for this step and brought in, as a moving picture."""
        step, plan = self.step, self.session.plan
        if isinstance(step, PlannedStroke) and plan is not None and step.number > 1:
            self.end.hide()
            self.film.show()
            self.film.hand_over(plan, step)

    def _in_place(self) -> None:
        """The part lies in its place: what counts now is the brake from its end."""
        self.film.hide()
        self.end.setVisible(isinstance(self.step, PlannedStroke))

    def _show_stop(self, plan: Plan, stroke: PlannedStroke) -> None:
        """The stop of the next hit, large, and what stands behind it; which part it is of."""
        turn, stop = self.bent.turn(stroke), self.bent.machine_stop(plan, stroke)
        self._count(plan)
        self.angle.setText(show_angle(stop))
        self.book_says.setText(self.bent.expected(plan, stroke))
        self.stop_made.setPlaceholderText(tr("at {stop}").format(stop=show_angle(stop)))
        self.held.setChecked(turn.reading is ReadingCondition.HELD)
        self.by_hand.setChecked(turn.reading is ReadingCondition.BY_HAND)
        self.take_back.setEnabled(turn.record is not None)
        self.next_part.setEnabled(turn.record is not None)

    def _angle_read(self, angle: float) -> None:
        """An instrument sent an angle, bent from flat: it fills the field; Return books it, or the
        set that each reading counts."""
        step, plan = self.step, self.session.plan
        if not self.isVisible() or plan is None or not isinstance(step, PlannedStroke):
            return
        self.angle_got.setText(f"{plan.job.angles.read(angle):g}")
        if not self.counts.isChecked():
            self.angle_got.setFocus()
        elif self.bent.counts_reading(step, angle):
            self.take_angle(self.angle_got.text(), by_itself=True)

    def _mark_reading(self, reading: ReadingCondition, on: bool) -> None:
        step, plan = self.step, self.session.plan
        if isinstance(step, PlannedStroke) and plan is not None:
            turn = self.bent.turn(step)
            if on:
                turn.reading = reading
            elif turn.reading is reading:
                turn.reading = ReadingCondition.RELEASED
            self._show_stop(plan, step)

    def _take_back(self) -> None:
        step, plan = self.step, self.session.plan
        if isinstance(step, PlannedStroke) and plan is not None:
            self._say(plan, step, self.bent.take_back(plan, step))

    def _next_part(self) -> None:
        step, plan = self.step, self.session.plan
        if isinstance(step, PlannedStroke) and plan is not None:
            self._say(plan, step, self.bent.next_part(step))

    def take_stop(self, text: str) -> None:
        """The stop the next hit is made with, as typed."""
        step, plan = self.step, self.session.plan
        if not isinstance(step, PlannedStroke) or plan is None:
            return
        try:
            self.bent.stopped_at(plan, step, text)
        except AngleError as error:
            self.answer.setText(str(error))
            return
        self.stop_made.clear()
        self._say(plan, step, "")
        self.angle_got.setFocus()

    def _say(self, plan: Plan, stroke: PlannedStroke, text: str) -> None:
        """What was done, with the stop that follows from it."""
        self._show_stop(plan, stroke)
        self.answer.setText(text)
        self._fit()

    def _alarmed(self, text: str) -> None:
        """The stop is not where it should be: said on the card until it is sent again."""
        self.alarm.setText(f"■  {text}" if text else "")
        self.alarm.setVisible(bool(text))
        self._fit()

    def hideEvent(self, event: QHideEvent) -> None:
        """Nobody watches a stop that moves once the page is left."""
        super().hideEvent(event)
        self.film.stop()
        self.session.devices.halt()

    def _device_said(self, text: str) -> None:
        if self.isVisible():
            self.answer.setText(text)
            self._fit()

    def send_stop(self) -> None:
        """Drive the back gauge to this stroke's stop, after asking."""
        step, plan = self.step, self.session.plan
        if not isinstance(step, PlannedStroke) or plan is None:
            return
        gauge = set_up_of(plan, step).gauge
        if gauge.sighted:
            self.answer.setText(tr("This line is sighted; no stop is used."))
            return
        buttons = QMessageBox.StandardButton
        at = show_length(gauge.distance, self.session.job.units.fine)
        asked = tr(
            "Drive the stop to {at} behind the line?\nHands clear of it and of the part."
        ).format(at=at)
        if (
            QMessageBox.question(
                self, tr("The stop"), as_text(asked), buttons.Yes | buttons.No, buttons.No
            )
            == buttons.Yes
        ):
            text = self.session.devices.go(gauge.distance)
            if text:
                self.answer.setText(text)

    def _first_part(self, on: bool) -> None:
        self.bent.first_part = on
        self.first_part.setText(tr("✓  First part") if on else tr("First part"))
        self.refresh()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _hint(self) -> None:
        """What the field takes, in as many words as it has room for; all of them where the pointer
        rests on it."""
        reading = self.session.job.angles
        sentence = tr("angle you got, {how}; left/right: 89/91").format(how=reading.words)
        letters = self.angle_got.fontMetrics()
        room = self.angle_got.width() - 2 * letters.averageCharWidth()
        # How it is read stays to the last: 60 typed for 120 would teach the book a bend nobody
        # made.
        shorter = (
            sentence,
            tr("angle you got, {how}; left/right: 89/91").format(how=reading.short),
            tr("angle you got, {how}").format(how=reading.short),
            tr("angle, {how}").format(how=reading.short),
        )
        fits = (text for text in shorter if letters.horizontalAdvance(text) <= room)
        self.angle_got.setPlaceholderText(next(fits, shorter[-1]))
        self.angle_got.setToolTip(sentence)

    def _new_caution(self) -> bool:
        """True when what to look out for is said the first time in this work."""
        plan, step = self.session.plan, self.step
        return plan is not None and step is not None and is_new_caution(plan, step)

    def _fit(self) -> None:
        """Write as large as all of it finds room for: nothing at the brake is cut off."""
        width, height, new = (self.body.width() - 20) // 2, self.body.height(), self._new_caution()
        sizes = (
            (self.count, 17, False),
            (self.title, 30, True),
            (self.hold, 21, False),
            (self.angle, 64, True),
            (self.sections, 21, False),
            (self.care, 20 if new else 15, new),
            (self.answer, 18, True),
            (self.book_says, 14, False),
        )
        for share in SHARES:
            for label, size, strong in sizes:
                # The angle is what is looked for from two metres: it gives way last.
                label.setFont(
                    font(size * (max(share, 0.7) if label is self.angle else share), strong=strong)
                )
            self._left.invalidate()
            if self._left.totalHeightForWidth(width) <= height:
                break
        self._hint()

    def take_angle(self, text: str, *, by_itself: bool = False) -> None:
        """Book the angle that came out and say what it means for the stop.

        Args:
            text: as typed.
            by_itself: an instrument sent it and nobody pressed a key: it confirms nothing.
        """
        step, plan = self.step, self.session.plan
        if not isinstance(step, PlannedStroke) or plan is None or not text.strip():
            self.setFocus()
            return
        try:
            if self.stop_made.text().strip():
                self.bent.stopped_at(plan, step, self.stop_made.text())
            read = self.bent.read(plan, text)
            refusal = self.bent.take(plan, step, read, None if by_itself else text.strip())
        except AngleError as error:
            self.answer.setText(str(error))
            self._fit()
            return
        self.stop_made.clear()
        self.angle_got.clear()
        self._say(plan, step, " ".join(filter(None, (refusal, self.bent.ends(read)))))
        self.setFocus()

    def _paint_tag(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke):
            angle = step.verdict.stroke.setting.line.angle
            paint_tag(
                p,
                QPointF(rect.center().x() - 10, rect.center().y()),
                44,
                str(step.number),
                angle,
                self.look,
            )

    def _paint_end(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke):
            paint_end(p, rect, step, step.verdict.reach, self.look, plain=True)

    def _paint_front(self, p: QPainter, rect: QRectF) -> None:
        step = self.step
        if isinstance(step, PlannedStroke) and step.sections:
            paint_front(p, rect, step, self.session.job.units, self.look, text=15)
