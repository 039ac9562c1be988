"""Planning off the window's thread."""

from __future__ import annotations

import contextlib
import threading
from typing import TYPE_CHECKING

from PySide6.QtCore import QRunnable

from ..blank import Blank
from ..job import Job
from ..plan import Cancelled, advise, make_plan

if TYPE_CHECKING:
    from .session import Session


class Planning(QRunnable):
    """One planning run; its answer is dropped when a newer job has come."""

    def __init__(self, session: Session, job: Job, blank: Blank, ticket: int) -> None:
        super().__init__()
        self.session, self.job, self.blank, self.ticket = session, job, blank, ticket
        self.stopped = threading.Event()

    def run(self) -> None:
        session = self.session
        try:
            plan = make_plan(
                self.job, session.rack[self.job.brake], blank=self.blank, cancelled=self.stopped.is_set, progress=self._progress
            )
            for stroke in plan.strokes:
                _ = stroke.contact  # on show at once, and not the window's to work out
            self._tell("answered", plan)
            # The verdict is shown at once; cures take longer and follow.
            if not (plan.complete or plan.open):
                self._tell("answered", advise(plan, session.rack, cancelled=self.stopped.is_set))
        except Cancelled:
            return
        except Exception as error:
            self._tell("broke", f"Planning stopped: {error}")

    def _progress(self, judged: int, made: int, of: int) -> None:
        if judged % 25 == 0:
            self._tell("progressed", (judged, made, of))

    def _tell(self, signal: str, answer: object) -> None:
        """Hand an answer to the session, unless it was closed while this ran."""
        if not self.stopped.is_set():
            with contextlib.suppress(RuntimeError):
                getattr(self.session, signal).emit(self.ticket, answer)
