"""What is worked out beside the window besides plans: one question at a time, in a process of the crew."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ..plan.calls import Call, Calls
from ..plan.run import Heard
from .crew import CREW, Crew


class Beside(QObject):
    """Asks for something to be worked out, and hears of it on the window's thread; a newer question takes the place of the older.

    In a thread of the window's own process it would take turns with whatever is painted.

    Args:
        parent: whoever asks; when it goes, nothing more is heard.
        crew: who works it out; None takes that of the program.
    """

    _told = Signal(int, object, object)

    def __init__(self, parent: QObject, crew: Crew | None = None) -> None:
        super().__init__(parent)
        self._crew = crew or CREW
        self._run = 0
        self._then: Callable[[object], None] = _nothing
        self._told.connect(self._hear)

    @property
    def busy(self) -> bool:
        """True while something is worked out."""
        return self._run != 0

    def ask(self, then: Callable[[object], None], *calls: Call) -> None:
        """Have functions called.

        Args:
            then: is given each answer in turn; a ``ValueError`` where what was asked cannot be, which says why.
            calls: the functions and what they are given.
        """
        self.stop()
        self._then = then
        self._run = self._crew.ask(Calls(calls), self._tell)

    def stop(self) -> None:
        """Nothing more is heard of what was asked."""
        if self._run:
            self._crew.stop(self._run)
            self._run = 0

    def _tell(self, number: int, heard: Heard, answer: object) -> None:
        """From whatever thread, to the window's."""
        try:
            self._told.emit(number, heard, answer)
        except RuntimeError:
            return  # the window is gone

    def _hear(self, number: int, heard: Heard, answer: object) -> None:
        if number != self._run:
            return
        if heard is Heard.FOUND:
            self._then(answer)
            return
        self._run = 0
        if heard is Heard.FAILED:
            raise RuntimeError(str(answer))


def _nothing(_answer: object) -> None:
    """Nobody has asked yet."""
