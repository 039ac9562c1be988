"""What explains a part's sizes, most likely first, and what can be done about each cause."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ...check.again import Again, Anew, again, anew
from ...check.explain import Explained, Explanation
from ...check.model import Off
from ...check.saying import advice
from ...measure.words import tr
from ..beside import Beside
from ..session import Session
from ..theme import font
from ..widget import emptied, worded

MOST = 3
"""Causes that are shown at most."""


class Causes(QWidget):
    """The likeliest causes with their odds, each with what to do on this part and on the next.

    Signals:
        suggested: a sentence to be noted for next time.
        wanted: fields of the job, so that the next part comes out right.
        answered: what the engine says of bending again, as a sentence.
    """

    suggested = Signal(str)
    wanted = Signal(object)
    answered = Signal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._engine = Beside(self, session.crew)
        self._rows = QVBoxLayout(self)
        self._rows.setContentsMargins(0, 0, 0, 0)

    def show_nothing(self) -> None:
        """Nothing is measured, so there is nothing to explain."""
        emptied(self._rows)
        self._rows.addWidget(worded(tr("Nothing is measured yet.")))

    def show_found(self, found: Explained) -> None:
        """Show what explains the sizes."""
        emptied(self._rows)
        for each in found.causes[:MOST]:
            self._add(each)
        if not found.causes:
            self._rows.addWidget(worded(tr("Nothing is off beyond the usual small errors.")))

    def _add(self, each: Explanation) -> None:
        told = advice(each, self.session.blank, self.session.job)
        odds = tr("{odds} in 100").format(odds=round(100 * each.odds))
        label = worded(f"{odds}:  {told.what}")
        label.setFont(font(10.5, strong=True))
        self._rows.addWidget(label)
        for text in filter(None, (told.this_part, told.next_part)):
            self._rows.addWidget(worded(text))
        row = QHBoxLayout()

        def offer(words: str, done: Callable[[QPushButton], None]) -> None:
            button = QPushButton(words)
            button.clicked.connect(lambda: done(button))
            row.addWidget(button)

        if told.next_part:
            offer(tr("Note for next time"), lambda _: self.suggested.emit(told.next_part))
        if each.cause.off is Off.ANGLE and each.by < 0:
            offer(tr("Does it go in again?"), partial(self._ask_again, each))
        if each.cause.off is Off.LINE and self.session.plan is not None:
            offer(tr("Flatten it and mark anew?"), partial(self._ask_anew, each))
        if told.change:
            offer(tr("Change the job so"), lambda _: self.wanted.emit(told.change))
        row.addStretch(1)
        self._rows.addLayout(row)

    def _ask_again(self, cause: Explanation, button: QPushButton) -> None:
        """Ask the engine, beside the window, whether the bend can be bent on with all others standing."""
        button.setEnabled(False)
        session, fold = self.session, cause.cause.fold
        now = abs(session.blank.folds[fold].angle) + cause.by
        self._engine.ask(self._tell, (again, (session.job, session.blank, session.brake, fold, now)))

    def _ask_anew(self, cause: Explanation, button: QPushButton) -> None:
        """Ask the engine, beside the window, what must be opened so that a bend can be flattened and bent again."""
        button.setEnabled(False)
        self._engine.ask(self._tell, (anew, (self.session.plan, cause.cause.fold)))

    def _tell(self, found: object) -> None:
        assert isinstance(found, Again | Anew)
        self.answered.emit(found.says())
