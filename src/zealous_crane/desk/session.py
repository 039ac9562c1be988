"""The state behind the window: one immutable job at a time, its history, and the plan worked out off the window's thread."""

from __future__ import annotations

import contextlib
import threading
import time
from pathlib import Path

import platformdirs
from PySide6.QtCore import QObject, QRunnable, QThreadPool, QTimer, Signal

from ..blank import Blank, develop
from ..brake import Rack, shop_rack
from ..demo import demo_job
from ..files import FileError, JobFileError, read_job, write_job
from ..job import Job
from ..measure.report import plain
from ..plan import Cancelled, Plan, advise, make_plan

SAME_EDIT = 2.0
"""Seconds within which further typing in one field belongs to the same step of undo."""


class _Planning(QRunnable):
    """One planning run; its answer is dropped when a newer job has come."""

    def __init__(self, session: Session, job: Job, blank: Blank, ticket: int) -> None:
        super().__init__()
        self.session, self.job, self.blank, self.ticket = session, job, blank, ticket
        self.stopped = threading.Event()

    def run(self) -> None:
        session = self.session
        try:
            plan = make_plan(self.job, session.rack[self.job.brake], blank=self.blank, cancelled=self.stopped.is_set)
            session.answered.emit(self.ticket, plan)
            # The verdict is shown at once; cures take longer and follow.
            if not plan.complete:
                session.answered.emit(self.ticket, advise(plan, session.rack, cancelled=self.stopped.is_set))
        except Cancelled:
            return
        except Exception as error:
            session.broke.emit(self.ticket, f"Planning stopped: {error}")


class Session(QObject):
    """The job being worked on.

    Signals:
        changed: the job, or what follows from it on the flat, is another one.
        planned: a new plan is there.
        complained: a sentence the person should read.
        answered, broke: internal, from the planning thread.
    """

    changed = Signal()
    planned = Signal()
    complained = Signal(str)
    answered = Signal(int, object)
    broke = Signal(int, str)

    def __init__(self, job: Job, rack: Rack, autosave: Path | None = None) -> None:
        super().__init__()
        self.rack = rack
        self.autosave = autosave
        self.path: Path | None = None
        self.plan: Plan | None = None
        self._history: list[Job] = [job]
        self._at = 0
        self._saved: Job = job
        self._last_edit: tuple[str, float] = ("", 0.0)
        self._ticket = 0
        self._running: _Planning | None = None
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(1)
        self.answered.connect(self._answer)
        self.broke.connect(self._break)
        self._autosave_timer = QTimer(self)
        self._autosave_timer.setSingleShot(True)
        self._autosave_timer.setInterval(400)
        self._autosave_timer.timeout.connect(self._write_autosave)
        self.blank = develop(job)
        self.replan()

    @classmethod
    def for_shop(cls) -> Session:
        """A session with the shop's brakes, and the work that was open if the program stopped without closing."""
        data = Path(platformdirs.user_data_dir("zealous-crane", appauthor=False))
        rack, complaints = shop_rack(data / "brakes")
        kept = Path(platformdirs.user_state_dir("zealous-crane", appauthor=False)) / "autosave.json"
        job = demo_job()
        if kept.exists():
            with contextlib.suppress(JobFileError):
                job = read_job(kept)
        session = cls(job, rack, kept)
        for complaint in complaints:
            QTimer.singleShot(0, lambda text=complaint: session.complained.emit(text))
        return session

    # --- the job ------------------------------------------------------------------------------------------------

    @property
    def job(self) -> Job:
        return self._history[self._at]

    @property
    def planning(self) -> bool:
        """True while the plan on show is not yet that of the job."""
        return self._running is not None

    @property
    def unsaved(self) -> bool:
        return self.job != self._saved

    def change(self, job: Job, what: str = "") -> str | None:
        """Make this the job, as one step of undo.

        Args:
            job: the new job.
            what: the field that was edited; quick further edits of the same one join the step.

        Returns:
            a sentence when the job cannot be developed; the last good one then stays.
        """
        if job == self.job:
            return None
        try:
            if job.brake != self.job.brake:
                self.rack[job.brake]
            blank = develop(job)
        except ValueError as error:
            return str(error)
        now = time.monotonic()
        joins = what and self._last_edit[0] == what and now - self._last_edit[1] < SAME_EDIT and self._at > 0
        del self._history[self._at + 1 :]
        if joins:
            self._history[self._at] = job
        else:
            self._history.append(job)
            self._at += 1
        self._last_edit = (what, now)
        self._show(blank)
        return None

    def edit(self, what: str, **fields: object) -> str | None:
        """Change fields of the job, checked as a file would be; like :meth:`change`."""
        try:
            job = Job.model_validate({**self.job.model_dump(), **fields})
        except ValueError as error:
            return plain(error)
        return self.change(job, what)

    def start_with(self, job: Job, path: Path | None = None) -> None:
        """Open another job; the history begins anew.

        Raises:
            DevelopmentError, BrakeError: the job cannot be worked on; the present one stays.
        """
        self.rack[job.brake]
        blank = develop(job)
        self._history, self._at, self._saved, self.path = [job], 0, job, path
        self._last_edit = ("", 0.0)
        self._show(blank)

    @property
    def can_undo(self) -> bool:
        return self._at > 0

    @property
    def can_redo(self) -> bool:
        return self._at + 1 < len(self._history)

    def undo(self) -> None:
        """One step back."""
        if self.can_undo:
            self._at -= 1
            self._stepped()

    def redo(self) -> None:
        """One step forward again."""
        if self.can_redo:
            self._at += 1
            self._stepped()

    def _stepped(self) -> None:
        self._last_edit = ("", 0.0)
        self._show(develop(self.job))

    def _show(self, blank: Blank) -> None:
        self.blank = blank
        self.replan()
        self.changed.emit()
        self._autosave_timer.start()

    # --- the plan -----------------------------------------------------------------------------------------------

    def replan(self) -> None:
        """Plan the job anew; the last plan stays on show until the new one is there."""
        if self._running is not None:
            self._running.stopped.set()
        self._ticket += 1
        self._running = _Planning(self, self.job, self.blank, self._ticket)
        self._pool.start(self._running)

    def _answer(self, ticket: int, plan: Plan) -> None:
        if ticket == self._ticket:
            self._running = None
            self.plan = plan
            self.planned.emit()

    def _break(self, ticket: int, sentence: str) -> None:
        if ticket == self._ticket:
            self._running = None
            self.complained.emit(sentence)

    def close(self) -> None:
        """Stop planning and, the work being closed on purpose, forget the autosave."""
        if self._running is not None:
            self._running.stopped.set()
        self._ticket += 1
        self._pool.waitForDone(3000)
        self._autosave_timer.stop()
        if self.autosave is not None:
            with contextlib.suppress(OSError):
                self.autosave.unlink(missing_ok=True)

    # --- files --------------------------------------------------------------------------------------------------

    def save(self, path: Path) -> None:
        """Save the job.

        Raises:
            FileError: it could not be written; nothing is lost.
        """
        write_job(self.job, path)
        self.path = path
        self.mark_saved()
        self.changed.emit()

    def mark_saved(self) -> None:
        """Hold the present job for saved."""
        self._saved = self.job

    def _write_autosave(self) -> None:
        if self.autosave is None:
            return
        try:
            self.autosave.parent.mkdir(parents=True, exist_ok=True)
            write_job(self.job, self.autosave)
        except (OSError, FileError) as error:
            self.complained.emit(f"The safety copy could not be kept: {error}")
