"""What is worked out beside the window besides plans: one question at a time, in a process of the crew."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject

from ..plan.asked import Call, Calls, Heard
from .asking import Asking
from .crew import Crew


class Beside(Asking):
    """Asks for functions to be called. In a thread of the window's own process they would take turns with whatever is painted.

    Args:
        parent, crew: as of :class:`Asking`.
    """

    def __init__(self, parent: QObject, crew: Crew | None = None) -> None:
        super().__init__(parent, crew)
        self._then: Callable[[object], None] | None = None

    def ask(self, then: Callable[[object], None], *calls: Call) -> None:
        """Have functions called.

        Args:
            then: is given each answer in turn; a ``InputError`` where what was asked cannot be, which says why.
            calls: the functions and what they are given.
        """
        self._then = then
        self._put(Calls(calls))

    def _hear(self, heard: Heard, answer: object) -> None:
        if heard is Heard.FOUND and self._then is not None:
            self._then(answer)
        elif heard is Heard.FAILED:
            raise RuntimeError(str(answer))
