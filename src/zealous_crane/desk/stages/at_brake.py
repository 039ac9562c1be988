"""At the brake: one stroke at a time, to be read from two metres with gloves on."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QKeyEvent, QPainter
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ...measure import AngleError, parse_angle, show_angle
from ...plan import HandStep, Plan, PlannedStroke, PressStroke, set_up_facts, width_text
from ...shop import cautions_for
from ..canvas import Canvas
from ..field import TextField
from ..paint.end import paint_end
from ..paint.front import paint_front
from ..paint.sign import paint_tag
from ..session import Session
from ..theme import Look, font

Step = PlannedStroke | HandStep


def steps_of(plan: Plan) -> list[Step]:
    """Strokes and hand work in the order they are done."""
    found: list[Step] = [h for h in plan.hand if h.after == 0]
    for stroke in plan.strokes:
        found.append(stroke)
        found += [h for h in plan.hand if h.after == stroke.number]
    return found


class AtBrake(QWidget):
    """The full window at the brake. Space: done, next. Left: back. Escape: leave. Digits: the angle you got.

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
        self.got: dict[int, float] = {}
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("At the brake")
        self.count, self.title, self.hold, self.angle = QLabel(), QLabel(), QLabel(), QLabel()
        self.sections, self.care, self.answer = QLabel(), QLabel(), QLabel()
        self.count.setFont(font(17))
        self.title.setFont(font(30, strong=True))
        self.hold.setFont(font(21))
        self.angle.setFont(font(64, strong=True))
        self.sections.setFont(font(21))
        self.care.setFont(font(16))
        self.answer.setFont(font(18, strong=True))
        for label in (self.title, self.hold, self.sections, self.care, self.answer):
            label.setWordWrap(True)
        self.tag = Canvas("The bend", self._paint_tag, QSize(140, 80))
        self.end = Canvas("The brake from its end", self._paint_end, QSize(420, 320))
        self.front = Canvas("The brake from the front", self._paint_front, QSize(420, 170))
        self.angle_got = TextField("Angle you got", self._take_angle, "angle you got, e.g. 88.5")
        self.angle_got.edit.setFont(font(18))
        self.back, self.done, self.out = QPushButton("◂  Back"), QPushButton("Done, next  ▸"), QPushButton("Leave")
        for button, run in ((self.back, self.previous), (self.done, self.next), (self.out, leave)):
            button.setFont(font(18, strong=True))
            button.setMinimumHeight(56)
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(run)
        head = QHBoxLayout()
        head.addWidget(self.tag)
        words = QVBoxLayout()
        words.addWidget(self.count)
        words.addWidget(self.title)
        head.addLayout(words, 1)
        left = QVBoxLayout()
        left.addLayout(head)
        left.addWidget(self.angle)
        left.addWidget(self.hold)
        left.addWidget(self.sections)
        left.addStretch(1)
        left.addWidget(self.care)
        left.addWidget(self.answer)
        left.addWidget(self.angle_got)
        right = QVBoxLayout()
        right.addWidget(self.end, 3)
        right.addWidget(self.front, 2)
        middle = QHBoxLayout()
        middle.setSpacing(20)
        middle.addLayout(left, 5)
        middle.addLayout(right, 5)
        foot = QHBoxLayout()
        foot.addWidget(self.back, 2)
        foot.addWidget(self.done, 4)
        foot.addWidget(self.out, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(26, 20, 26, 18)
        outer.addLayout(middle, 1)
        outer.addLayout(foot)
        session.planned.connect(self._replanned)
        self.refresh()

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
        self.at = min(self.at, max(0, len(self.steps) - 1))
        self.got.clear()
        self.refresh()

    def begin(self) -> None:
        """Show the first step."""
        self.at = 0
        self.got.clear()
        self.refresh()
        self.setFocus()

    def next(self) -> None:
        """This step is done."""
        if self.at + 1 < len(self.steps):
            self.at += 1
            self.refresh()
        elif self.steps:
            self.answer.setText("That was the last one. Measure the part before you take the next sheet.")

    def previous(self) -> None:
        """Back to the step before."""
        self.at = max(0, self.at - 1)
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        keys = {
            Qt.Key.Key_Space: self.next, Qt.Key.Key_Right: self.next, Qt.Key.Key_Left: self.previous,
            Qt.Key.Key_Backspace: self.previous, Qt.Key.Key_Escape: self.leave,
        }  # fmt: skip
        run = keys.get(Qt.Key(event.key()))
        if run is not None:
            run()
        elif event.text().isdigit():
            # The angle is typed without reaching for the field first.
            self.angle_got.edit.setFocus()
            self.angle_got.edit.setText(event.text())
        else:
            super().keyPressEvent(event)

    def refresh(self) -> None:
        """Show the step."""
        step, plan = self.step, self.session.plan
        stroke = step if isinstance(step, PlannedStroke) else None
        for widget in (self.end, self.front, self.tag, self.angle_got, self.angle, self.sections):
            widget.setVisible(stroke is not None)
        self.answer.setText("")
        self.angle_got.show_text("")
        self.back.setEnabled(self.at > 0)
        if plan is None or step is None:
            self.count.setText("")
            self.title.setText("Nothing to bend yet.")
            self.hold.setText(plan.sentence if plan is not None else "The bends are being worked out.")
            self.care.setText("")
            return
        lots = f"  ·  {plan.job.quantity} parts through each step" if plan.job.quantity > 1 else ""
        self.count.setText(f"{self.at + 1} of {len(self.steps)}{lots}")
        if stroke is None:
            assert isinstance(step, HandStep)
            self.title.setText("By hand" if step.by != "own tool" else "Before the brake")
            self.hold.setText(step.says)
            self.care.setText("▲  " + next((c.text for c in cautions_for(plan) if c.step == "by hand"), "Go slowly and look."))
            return
        verdict = stroke.verdict
        name = stroke.name[:1].upper() + stroke.name[1:]
        self.title.setText(name)
        press = isinstance(verdict.stroke, PressStroke)
        self.angle.setText(f"{show_angle(verdict.reach)}")
        facts = dict(set_up_facts(plan, stroke))
        where = facts.get("To the back") if press else facts.get("Clamp")
        turn = self._turn(plan, stroke)
        hold = f"{where} to the back." if press else f"Clamp the {where}."
        hold = hold[:1].upper() + hold[1:]
        line = facts.get("Fold line sits")
        self.hold.setText(turn + hold + (f" Line {line}." if line else ""))
        setup = plan.setups[stroke.setup]
        blocks = width_text(setup.blocks, plan.job.units, pretty=True)
        said = f"{setup.tooling.says}: " if setup.tooling.says else ""
        fresh = "Set up: " if stroke.number == setup.strokes[0] else "Leave: "
        self.sections.setText(fresh + said + blocks)
        step_ = "by hand" if verdict.by_hand > 0 else "bending"
        words = [c.text for c in cautions_for(plan) if c.step == step_]
        watch = stroke.sentence().split("—")[0] if verdict.by_hand > 0 else ""
        if verdict.flattens:
            watch = "Then take it out and flatten the hem."
        elif verdict.part_way:
            watch = f"No farther: it is closed to {show_angle(verdict.final)} later."
        self.care.setText("▲  " + " ".join(filter(None, (watch, words[stroke.number % len(words)] if words else ""))))
        for canvas in (self.tag, self.end, self.front):
            canvas.update()

    def _turn(self, plan: Plan, stroke: PlannedStroke) -> str:
        """What to do with the sheet before this stroke."""
        if stroke.number == 1:
            return ""
        now, before = stroke.verdict.stroke.setting, plan.strokes[stroke.number - 2].verdict.stroke.setting
        turned = float(now.frame.turn[1] @ before.frame.turn[1])
        over = "Turn it over. " if now.line.angle * before.line.angle < 0 else ""
        return over + ("" if turned > 0.5 else "Turn it end for end. " if turned < -0.5 else "Turn it a quarter. ")

    def _take_angle(self, text: str) -> str | None:
        """Say what the angle that came out means for the stop."""
        step = self.step
        if not isinstance(step, PlannedStroke):
            return None
        try:
            angle = parse_angle(text)
        except AngleError as error:
            return str(error)
        if not 0 < angle < 200:
            return "An angle between 0 and 200 degrees, measured from flat."
        self.got[step.number] = angle
        wanted = step.verdict.target
        off = wanted - angle
        if abs(off) < 0.25:
            self.answer.setText(f"{show_angle(angle)}: right. Next.")
        elif off > 0:
            stop = show_angle(step.verdict.reach + off)
            self.answer.setText(f"{show_angle(angle)}: {show_angle(off)} short. Go again to {stop}.")
        else:
            self.answer.setText(
                f"{show_angle(angle)}: {show_angle(-off)} too far. Open it by hand; stop earlier on the next part."
            )
        self.setFocus()
        return None

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
