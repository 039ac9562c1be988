"""The piece in hand: whether the part on the bench comes from it, how many, and what would make it come."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Executor
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ...blank import DevelopmentError
from ...cut import CutError, Shear
from ...cut.in_hand import InHand, in_hand, read_piece, verdict, would_go
from ...job import Job
from ...measure.words import tr
from ..field import ParsedField
from ..session import Session
from ..widget import emptied, prose


class PieceInHand(QWidget):
    """A piece typed, and what comes from it; every way that would make the part come is one button.

    Args:
        session: holds the part on the bench.
        crew: works it out beside the window.
        shear: asked for what cuts.
    """

    _worked = Signal(int, object, object)

    def __init__(self, session: Session, crew: Executor, shear: Callable[[], Shear]) -> None:
        super().__init__()
        self.session, self._crew, self._shear = session, crew, shear
        self.field = ParsedField(
            tr("The piece in hand"), self._typed, lambda text: text.strip() and read_piece(text, self.session.job.units),
            tr("29 x 29: does it come from that?"),
        )  # fmt: skip
        self.says = prose()
        self.ways = QVBoxLayout()
        self._text, self._asked = "", 0
        self._worked.connect(self._after, Qt.ConnectionType.QueuedConnection)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.field)
        column.addWidget(self.says)
        column.addLayout(self.ways)

    def _typed(self, text: str) -> str | None:
        emptied(self.ways)
        self._text, self._asked = text, self._asked + 1
        job, shear, number = self.session.job, self._shear(), self._asked
        self.says.clear()
        if not text.strip():
            return None
        try:
            length, width = read_piece(text, job.units)
        except ValueError as error:
            return str(error)
        self.says.setText(tr("Trying its sizes …"))

        def work() -> None:
            try:
                if number != self._asked:
                    return  # something else was typed meanwhile
                found: object
                try:
                    found = in_hand(job, length, width, shear)
                except (CutError, DevelopmentError) as error:
                    found = str(error)
                self._worked.emit(number, job, found)
            except RuntimeError:
                return  # the window is gone

        self._crew.submit(work)
        return None

    def _after(self, number: int, job: Job, told: object) -> None:
        if number != self._asked:
            return
        emptied(self.ways)
        if not isinstance(told, InHand):
            self.says.setText(str(told))
            return
        self.says.setText(verdict(told, job, pretty=True))
        for words, changed in would_go(told, job, pretty=True):
            take = QPushButton(words)
            take.setToolTip(tr("Change the part so that it just comes from the piece."))
            take.clicked.connect(partial(self._take, changed))
            self.ways.addWidget(take)

    def _take(self, job: Job) -> None:
        said = self.session.change(job)
        if said:
            self.says.setText(said)
        else:
            self._typed(self._text)
