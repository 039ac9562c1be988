"""Practice: a part, what is asked of it, and what the same engine that plans says of the
answers."""

from __future__ import annotations

import random
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter
from PySide6.QtWidgets import (
    QAbstractItemView,
    QCheckBox,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...io.atomic import FileError
from ...paint.brake import paint_end
from ...paint.folded import paint_folded
from ...paint.theme import Theme, font
from ...paper.sheets import write_exercise
from ...planning.plan import PlannedStroke
from ...practice.exercise import Exercise, Mark, Question, QuestionKind, Skill
from ...practice.make import SKILLS, exercise, grades
from ...shop.book.record import PracticeRecord
from ...units.length import LengthError, parse_length
from ...units.quantities import AngleError, parse_angle
from ..state.session import Session
from ..widgets.canvas import Canvas, TurnCanvas
from ..widgets.form import drop
from ..widgets.save_as import ask_where
from ..widgets.widget import Choice, Column, heading, labelled, prose, worded

SEEDS = 100_000
"""Exercises of each kind and grade."""


class Sorted(QListWidget):
    """Entries a person puts in order: dragged, or moved with Alt and the arrow keys."""

    def __init__(self, name: str, options: tuple[str, ...]) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setToolTip(tr("Drag, or move with Alt and the arrow keys."))
        for number, option in enumerate(options):
            self.addItem(option)
            self.item(number).setData(Qt.ItemDataRole.UserRole, number)
        self.setCurrentRow(0)
        self.setFixedHeight(min(260, 26 * len(options) + 10))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        by = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()), 0)
        if by and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.move_chosen(by)
        else:
            super().keyPressEvent(event)

    def move_chosen(self, by: int) -> None:
        """Move the chosen entry up or down."""
        row = self.currentRow()
        if 0 <= row + by < self.count():
            item = self.takeItem(row)
            self.insertItem(row + by, item)
            self.setCurrentRow(row + by)

    @property
    def order(self) -> tuple[int, ...]:
        """Numbers of the entries as they stand."""
        return tuple(
            int(self.item(row).data(Qt.ItemDataRole.UserRole)) for row in range(self.count())
        )


class Asked(QWidget):
    """One question with its field and what is said of the answer."""

    def __init__(self, number: int, question: Question, session: Session) -> None:
        super().__init__()
        self.question, self.session = question, session
        self.tries = 0
        self.hinted = False
        """What is said now is a hint."""
        self.mark: Mark | None = None
        self.message = prose()
        says = worded(f"{number}.  {question.says}")
        says.setFont(font(10.5, strong=True))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 4, 0, 4)
        box.addWidget(says)
        self.field: QWidget
        if question.kind is QuestionKind.ORDER:
            self.field = Sorted(question.says, question.options)
        elif question.kind is QuestionKind.CHOICE:
            choice = Choice()
            choice.addItem(tr("choose …"), None)
            for i, option in enumerate(question.options):
                choice.addItem(option, i)
            self.field = choice
        else:
            line = QLineEdit()
            line.setPlaceholderText(
                tr("degrees")
                if question.kind is QuestionKind.ANGLE
                else tr('as you would say it: 8 1/2"')
            )
            self.field = line
        self.field.setAccessibleName(question.says)
        box.addWidget(self.field)
        box.addWidget(self.message)

    @property
    def answer(self) -> object | None:
        """What is answered: mm, degrees, a number or an order; None where nothing is yet.

        Raises:
            LengthError, AngleError: it cannot be read.
        """
        if isinstance(self.field, Sorted):
            return self.field.order
        if isinstance(self.field, Choice):
            result: object | None = self.field.currentData()
            return result
        assert isinstance(self.field, QLineEdit)
        text = self.field.text().strip()
        if not text:
            return None
        return (
            parse_angle(text)
            if self.question.kind is QuestionKind.ANGLE
            else parse_length(text, self.session.job.units)
        )

    def say(self, words: str, *, hint: bool = False) -> None:
        """Say something of the answer, or of how to come to it."""
        self.hinted = hint
        self.message.setText(words)

    def show_mark(self, mark: Mark) -> None:
        """Say what comes of the answer."""
        self.tries += 1
        self.mark = mark
        self.message.setObjectName("" if mark.right else "complaint")
        self.message.style().unpolish(self.message)
        self.message.style().polish(self.message)
        self.say(("●  " if mark.right else "■  ") + mark.says)


class PracticePage(QWidget):
    """Practice page: exercises, their answers and marks.

    Args:
        session: whose brakes, units and book; its part may be practised on.
        look: colours.
        back: returns to the bench.
    """

    made = Signal(object)
    marked = Signal(object, object)

    def __init__(self, session: Session, look: Theme, back: Callable[[], None]) -> None:  # noqa: PLR0915
        super().__init__()
        self.setObjectName("bench")
        self.session, self.look = session, look
        self.exercise: Exercise | None = None
        self.asked: list[Asked] = []
        self._shown: PlannedStroke | None = None
        self._rng = random.Random()
        self._crew = ThreadPoolExecutor(1)
        self._noted = False
        self.made.connect(self._set)
        self.marked.connect(self._show_mark)
        self.skill, self.grade, self.learner = Choice(), Choice(), QLineEdit()
        self.skill.setAccessibleName(tr("What to practise"))
        for skill in SKILLS:
            self.skill.addItem(skill.words, skill)
        self.grade.setAccessibleName(tr("Grade"))
        for number, words in grades():
            self.grade.addItem(f"{number}: {words}", number)
        self.learner.setAccessibleName(tr("Who practises"))
        self.learner.setPlaceholderText(tr("name, for the book"))
        self.another, self.own = QPushButton(tr("&Another")), QPushButton(tr("On my &part"))
        self.paper, self.back = (
            QPushButton(tr("On pa&per …")),
            QPushButton(tr("&Back to the bench")),
        )
        self.answers = QCheckBox(tr("with answers"))
        self.another.clicked.connect(self.ask_another)
        self.own.clicked.connect(self.ask_own)
        self.paper.clicked.connect(self._ask_paper)
        self.back.clicked.connect(back)
        for choice in (self.skill, self.grade):
            choice.activated.connect(lambda _: self.ask_another())
        self.learner.setMaximumWidth(180)
        self.grade.setSizeAdjustPolicy(
            Choice.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        )
        self.grade.setMinimumContentsLength(18)
        bar = QHBoxLayout()
        bar.addLayout(labelled(tr("What to practise"), self.skill))
        bar.addLayout(labelled(tr("Grade"), self.grade), 2)
        bar.addLayout(labelled(tr("Who"), self.learner), 1)
        for widget in (self.another, self.own, self.paper, self.answers, self.back):
            bar.addWidget(widget, 0, Qt.AlignmentFlag.AlignBottom)
        self.task, self.given, self.table = heading(""), prose(), prose()
        self.task.setWordWrap(True)
        self.cautions = prose("care")
        self.questions = QVBoxLayout()
        self.check, self.hint = QPushButton(tr("&Check the answers")), QPushButton(tr("&Hint"))
        self.check.setDefault(True)
        self.check.clicked.connect(self.check_answers)
        self.hint.clicked.connect(self.give_hint)
        self.message = prose("faint")
        column = Column()
        box = QVBoxLayout(column)
        for text in (self.task, self.given, self.table):
            box.addWidget(text)
        box.addLayout(self.questions)
        row = QHBoxLayout()
        row.addWidget(self.check)
        row.addWidget(self.hint)
        row.addStretch(1)
        box.addLayout(row)
        box.addWidget(self.message)
        box.addWidget(self.cautions)
        box.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(column)
        scroll.setMinimumWidth(560)
        self.folded = TurnCanvas(tr("The part"), self._paint_folded, QSize(320, 240))
        self.end = Canvas(tr("The brake from its end"), self._paint_end, QSize(320, 240))
        self.end.hide()
        views = QVBoxLayout()
        views.addWidget(self.folded, 1)
        views.addWidget(self.end, 1)
        middle = QHBoxLayout()
        middle.addWidget(scroll, 5)
        middle.addLayout(views, 4)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(16, 12, 16, 12)
        whole.addLayout(bar)
        whole.addLayout(middle, 1)

    # --- setting ---------------------------------------------------------------------------------

    def begin(self) -> None:
        """Set an exercise where none is set yet."""
        if self.exercise is None:
            self.ask_another()

    def ask_another(self) -> None:
        """Set another exercise of the kind and grade chosen."""
        self._ask(self._rng.randrange(SEEDS), None)

    def ask_own(self) -> None:
        """Set one on the part on the bench."""
        self._ask(self._rng.randrange(SEEDS), self.session.job)

    def set_exercise(self, skill: Skill, grade: int, seed: int) -> None:
        """Set a certain exercise.

        Args:
            skill: what is practised.
            grade: how hard it is, from 1.
            seed: the same gives the same exercise.
        """
        self.skill.setCurrentIndex(self.skill.findData(skill))
        self.grade.setCurrentIndex(self.grade.findData(grade))
        self._ask(seed, None)

    def _ask(self, seed: int, own: object) -> None:
        skill, grade = self.skill.currentData(), int(self.grade.currentData())
        rack, units, job, made = (
            self.session.rack,
            self.session.job.units,
            self.session.job if own is not None else None,
            self.made,
        )
        self.message.setText(tr("An exercise is being set and solved …"))
        self.check.setEnabled(False)

        def work() -> None:
            try:
                result: object = exercise(skill, grade, seed, rack, own=job, units=units)
            except INPUT_ERRORS as error:
                result = str(error)
            _tell(made, result)

        self._crew.submit(work)

    def _set(self, found: object) -> None:
        if isinstance(found, str):
            self.message.setText(found)
            self.check.setEnabled(self.exercise is not None)
            return
        assert isinstance(found, Exercise)
        self.exercise, self._shown, self._noted = found, None, False
        for asked in self.asked:
            drop(asked)
        self.task.setText(found.task)
        # A fault is found from figures; everything else from the drawing.
        self.given.setText("  ·  ".join(found.given))
        self.table.setText("\n".join(found.table))
        self.table.setVisible(bool(found.table))
        self.cautions.setText("\n".join(f"▲  {caution}" for caution in found.cautions))
        self.asked = [
            Asked(n, question, self.session) for n, question in enumerate(found.questions, start=1)
        ]
        for asked in self.asked:
            self.questions.addWidget(asked)
        self.message.setText("")
        self.check.setEnabled(True)
        self.end.hide()
        self.folded.update()
        self.asked[0].field.setFocus()

    # --- marking ---------------------------------------------------------------------------------

    def check_answers(self) -> None:
        """Mark everything that is answered and not right yet."""
        answered = 0
        for number, asked in enumerate(self.asked):
            if asked.mark is not None and asked.mark.right:
                continue
            try:
                answer = asked.answer
            except (LengthError, AngleError) as error:
                asked.say(f"■  {error}")
                continue
            if answer is None:
                asked.say("")
                continue
            answered += 1
            self.check.setEnabled(False)

            # Widgets stay on the window's thread: the other one knows the question and its number
            # only.
            self._crew.submit(
                _marked, self.marked, (id(self.exercise), number), asked.question, answer
            )
        if not answered and not self._done:
            self.message.setText(tr("Answer something first, or ask for a hint."))

    @property
    def _done(self) -> bool:
        return all(asked.mark is not None and asked.mark.right for asked in self.asked)

    def _show_mark(self, which: object, mark: object) -> None:
        assert isinstance(which, tuple) and isinstance(mark, Mark)
        if which[0] != id(self.exercise):
            return  # another exercise was set meanwhile
        asked = self.asked[which[1]]
        asked.show_mark(mark)
        self.check.setEnabled(True)
        if mark.stroke is not None:
            self._shown = mark.stroke
            self.end.show()
            self.end.update()
        right = sum(a.mark is not None and a.mark.right for a in self.asked)
        self.message.setText(
            tr("{right} of {count} right.").format(right=right, count=len(self.asked))
        )
        if self._done and not self._noted:
            self._noted = True
            first = sum(a.tries == 1 for a in self.asked)
            self.message.setText(tr("All right. Recorded in the book; another one?"))
            assert self.exercise is not None
            self.session.book.note(
                PracticeRecord(
                    who=self.learner.text().strip()[:200],
                    exercise=self.exercise.id[:200],
                    right=first,
                    asked=len(self.asked),
                )
            )

    def give_hint(self) -> None:
        """A rule for the first question that is not right yet; asked once more, the answer."""
        for asked in self.asked:
            if asked.mark is None or not asked.mark.right:
                known = (
                    tr("It is {answer}.").format(answer=asked.question.answer)
                    if asked.hinted
                    else asked.question.hint
                )
                asked.say(f"▲  {known}", hint=True)
                asked.tries += 1
                asked.field.setFocus()
                return

    # --- paper and pictures ----------------------------------------------------------------------

    def _ask_paper(self) -> None:
        path = ask_where(self, tr("The exercise on paper"), "exercise.pdf", "PDF (*.pdf)", "pdf")
        if path:
            self.write_paper(path)

    def write_paper(self, path: Path) -> None:
        """Write the exercise as a PDF, with answers where these are asked for."""
        if self.exercise is not None:
            try:
                write_exercise(self.exercise, path, answers=self.answers.isChecked())
                self.message.setText(tr("Wrote {name}.").format(name=path.name))
            except FileError as error:
                self.message.setText(str(error))

    def _paint_folded(self, p: QPainter, rect: QRectF) -> None:
        if self.exercise is not None:
            paint_folded(
                p,
                rect,
                self.exercise.blank,
                self.look,
                turn=self.folded.turn,
                tilt=self.folded.tilt,
            )

    def _paint_end(self, p: QPainter, rect: QRectF) -> None:
        if self._shown is not None:
            paint_end(p, rect, self._shown, self._shown.verdict.reach, self.look)

    def settle(self) -> None:
        """Wait until everything that was asked for is worked out."""
        self._crew.submit(lambda: None).result()


def _marked(signal: object, which: object, question: Question, answer: object) -> None:
    _tell(signal, which, question.mark(answer))


def _tell(signal: object, *what: object) -> None:
    try:
        signal.emit(*what)  # type: ignore[attr-defined]
    except RuntimeError:
        return  # the window is gone
