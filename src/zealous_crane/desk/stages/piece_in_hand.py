"""The piece in hand: whether the part on the bench comes from it, how many, and what would make it come."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from ...cut import Shear
from ...cut.in_hand import InHand, in_hand, read_piece, verdict, would_go
from ...job import Job
from ...measure.input_error import INPUT_ERRORS
from ...measure.words import tr
from ..beside import Beside
from ..field import ParsedField
from ..session import Session
from ..widget import emptied, prose


class PieceInHand(QWidget):
    """A piece typed, and what comes from it; every way that would make the part come is one button.

    Args:
        session: holds the part on the bench.
        shear: asked for what cuts.
    """

    def __init__(self, session: Session, shear: Callable[[], Shear]) -> None:
        super().__init__()
        self.session, self._shear = session, shear
        self.field = ParsedField(
            tr("The piece in hand"), self._typed, lambda text: text.strip() and read_piece(text, self.session.job.units),
            tr("29 x 29: does it come from that?"),
        )  # fmt: skip
        self.says = prose()
        self.ways = QVBoxLayout()
        self._text = ""
        self._beside = Beside(self, session.crew)
        self._answered: Job | None = None
        session.changed.connect(self._changed)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.field)
        column.addWidget(self.says)
        column.addLayout(self.ways)

    def _changed(self) -> None:
        """Another part, or another size of it: the piece is still in hand, and is answered for anew."""
        if self._text.strip() and self.isVisible() and self._answered != self.session.job:
            self._typed(self._text)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._changed()

    def _typed(self, text: str) -> str | None:
        emptied(self.ways)
        self._answered = self.session.job
        self._beside.stop()
        self._text = text
        job, shear = self.session.job, self._shear()
        self.says.clear()
        if not text.strip():
            return None
        try:
            length, width = read_piece(text, job.units)
        except INPUT_ERRORS as error:
            return str(error)
        # What is answered for stays typed when the field is left.
        self.field.show_text(text.strip())
        self.says.setText(tr("Trying its sizes …"))

        self._beside.ask(partial(self._after, job), (in_hand, (job, self.session.brake, length, width, shear)))
        return None

    def _after(self, job: Job, told: object) -> None:
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
