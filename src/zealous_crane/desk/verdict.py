"""The verdict: one sentence above all stages that is always true, and what lies behind it."""

from __future__ import annotations

import html
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from ..measure.words import tr
from ..plan.result.state import State
from .paint.sign import paint_state
from .session import Session
from .theme import Look, font
from .widget import MOST_HIGH, laid_out_once
from .wrapped import Wrapped

if TYPE_CHECKING:  # whoever only hands plans on brings no engine in
    from ..plan.result.plan import Plan

LONG_WORD = 14
"""Letters by which a line may end early because the next word does not fit."""


class Sign(QWidget):
    """One state sign."""

    def __init__(self, look: Look, size: int = 18) -> None:
        super().__init__()
        self.look, self.state, self._size = look, State.WORKS, size
        self.setFixedSize(QSize(size + 8, size + 8))

    def show_state(self, state: State) -> None:
        self.state = state
        self.setAccessibleName({"works": tr("Works"), "care": tr("Take care"), "stop": tr("Stop")}[state.value])
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        p = QPainter(self)
        paint_state(p, QPointF(self.width() / 2, self.height() / 2), self._size, self.state, self.look)
        p.end()


class VerdictBar(QWidget):
    """Sign, sentence, and a fold-out with reasons and cures."""

    def __init__(self, session: Session, look: Look) -> None:
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
        self.more.setText(tr("Why, and what works"))
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
            said = self.session.take(plan.cures[number])
            if said:
                self.session.complained.emit(said)

    def _advance(self, judged: int, names: object, of: int) -> None:
        """How far the search is."""
        if self.session.bench_plan.planning and isinstance(names, tuple):
            self._say_meanwhile(
                tr(
                    "Working out the bends … {judged} strokes judged, {names} of {of} folds stand in the farthest order."
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
        """What holds for a moment only, in the room of what stood there: the page below stays where it is."""
        letters = self.sentence.fontMetrics()
        high = max(self.sentence.height(), self.more.sizeHint().height())
        if self.sentence.isVisible():
            lines = max(1, high // letters.lineSpacing())
            # Words are broken before they reach the end of a line.
            room = self.sentence.width() * lines - (lines - 1) * LONG_WORD * letters.averageCharWidth()
            self.sentence.setFixedHeight(high)
            self.sentence.setToolTip(text)
            text = letters.elidedText(text, Qt.TextElideMode.ElideRight, room)
        self.sentence.setText(text)

    def refresh(self) -> None:
        """Say what is known of the job on the bench, and of no other; while it is being worked out, say that."""
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
            else tr("Stop looking for cures")
        )
        self.again.setVisible(plan is None and not session.bench_plan.busy)
        if plan is None:
            if session.bench_plan.planning:
                before = (
                    tr(" (before your change: {sentence})").format(sentence=session.bench_plan.before.sentence)
                    if session.bench_plan.before is not None
                    else ""
                )
                self._say_meanwhile(tr("Working out the bends …{before}").format(before=before))
            else:
                self._say(tr("There is no plan of this part: planning was called off."))
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
        self.details.setText(_details(plan))
        self.more.setVisible(bool(self.details.text()))
        if not plan.feasible:
            self.more.setChecked(True)
        self._fold(self.more.isChecked())


def _details(plan: Plan) -> str:
    def said(text: str) -> str:
        return html.escape(text, quote=False)

    lines = [*plan.blank.doubts]
    # Two reasons and every cure: the full list is in the printed sheet and the plan file.
    lines += plan.reasons[:4] if plan.feasible else [*plan.reasons[:2], *plan.reasons[-1:]]
    text = "".join(f"<div>· {said(line)}</div>" for line in dict.fromkeys(lines))
    if plan.advice:
        text += tr("<div><b>What works</b> (a click takes it; undo brings it back):</div>")
        text += "".join(f'<div>· <a href="{i}">{said(line)}</a></div>' for i, line in enumerate(plan.advice))
    return text
