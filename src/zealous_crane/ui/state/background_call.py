"""One question at a time to the crew, heard of on the window's thread."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ...workers.messages import Asked, Call, Calls, EventKind
from ...workers.pool import CREW, Crew


class Asking(QObject):
    """Asks the crew; a newer question calls the older off, and nothing more is heard of that.

    Args:
        parent: whoever asks; when it goes, nothing more is heard.
        crew: who does the work; None takes that of the program.
    """

    moved = Signal(str)
    """Whoever worked on it is gone, and somebody else goes on: a sentence."""

    _told = Signal(int, object, object)

    def __init__(self, parent: QObject | None = None, crew: Crew | None = None) -> None:
        super().__init__(parent)
        self._crew = crew or CREW
        self._run = 0
        self._told.connect(self._listen)

    @property
    def running(self) -> bool:
        """True until what was asked is through."""
        return self._run != 0

    def stop(self) -> None:
        """Call off what runs: nothing more is heard of it."""
        if self._run:
            self._crew.stop(self._run)
            self._run = 0

    def _put(self, asked: Asked) -> None:
        """Ask this; whatever ran before is called off."""
        self.stop()
        self._run = self._crew.ask(asked, self._tell)

    def _tell(self, number: int, heard: EventKind, answer: object) -> None:
        """From whatever thread, to the window's."""
        try:
            self._told.emit(number, heard, answer)
        except RuntimeError:
            return  # the window is gone

    def _listen(self, number: int, heard: EventKind, answer: object) -> None:
        if number != self._run:
            return
        if heard is EventKind.MOVED:
            self.moved.emit(str(answer))
            return
        if heard in (EventKind.ENDED, EventKind.FAILED):
            self._run = 0
        self._hear(heard, answer)

    def _hear(self, heard: EventKind, answer: object) -> None:
        """What is told of the question that counts."""
        raise NotImplementedError


class Beside(Asking):
    """Asks for functions to be called. In a thread of the window's own process they would take
    turns with whatever is painted.

    Args:
        parent, crew: as of :class:`Asking`.
    """

    def __init__(self, parent: QObject, crew: Crew | None = None) -> None:
        super().__init__(parent, crew)
        self._then: Callable[[object], None] | None = None

    def ask(self, then: Callable[[object], None], *calls: Call) -> None:
        """Have functions called.

        Args:
            then: is given each answer in turn; a ``InputError`` where what was asked cannot be,
                which says why.
            calls: the functions and what they are given.
        """
        self._then = then
        self._put(Calls(calls))

    def _hear(self, heard: EventKind, answer: object) -> None:
        if heard is EventKind.FOUND and self._then is not None:
            self._then(answer)
        elif heard is EventKind.FAILED:
            raise RuntimeError(str(answer))
