"""Planning off the window's thread: one run at a time counts, from its start until its cures are through."""

from __future__ import annotations

import contextlib
import threading
from pathlib import Path

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from ..blank import Blank, MadeBy
from ..brake import Rack
from ..job import Job
from ..plan import Cancelled, Plan, advise, make_plan
from ..plan.memory import forget
from .log import record_fault

AT_ONCE = 2
"""Runs that may go on side by side: the newest, and one that has been called off and has not noticed yet."""


class Planner(QObject):
    """Plans jobs; a newer one calls the older off.

    Signals:
        found: a plan: the first order that works, marked so; then the one that is kept; with its cures once they are known.
        advanced: how far the search is: strokes judged, names of the folds that stand in the farthest order, folds in all.
        failed: a sentence; planning broke.
        ended: the run is through.
    """

    found = Signal(object)
    advanced = Signal(int, object, int)
    failed = Signal(str)
    ended = Signal()
    _told = Signal(int, str, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(AT_ONCE)
        self._ticket = 0
        self._run: _Run | None = None
        self._standing: tuple[str, ...] = ()
        self.judged, self.of = 0, 0
        self._told.connect(self._hear)

    # judged: strokes judged so far; of: folds there are to make.

    @property
    def running(self) -> bool:
        """True until the run, cures included, is through."""
        return self._run is not None

    @property
    def standing(self) -> tuple[str, ...]:
        """Names of the folds that stand in the farthest order so far."""
        return self._standing

    def start(self, job: Job, blank: Blank, rack: Rack) -> None:
        """Plan this job; whatever ran before is called off."""
        self.stop()
        # What the engine keeps is kept of the pieces of one blank; those of the last are never asked about again.
        forget()
        self._standing = ()
        self.judged, self.of = 0, sum(fold.made_by in (MadeBy.BRAKE, MadeBy.HEM) for fold in blank.folds)
        self._run = _Run(self, self._ticket, job, blank, rack)
        self._pool.start(self._run)

    def stop(self) -> None:
        """Call off what runs: nothing more is heard of it."""
        if self._run is not None:
            self._run.stopped.set()
            self._run = None
        self._ticket += 1

    def close(self, patience: int = 3000) -> None:
        """Stop, and wait a little (ms) for the thread to notice."""
        self.stop()
        self._pool.waitForDone(patience)

    def _hear(self, ticket: int, what: str, answer: object) -> None:
        if ticket != self._ticket:
            return
        if what == "found":
            self.found.emit(answer)
        elif what == "advanced":
            self.judged, names, self.of = answer  # type: ignore[misc]
            if len(names) >= len(self._standing):
                self._standing = names
            self.advanced.emit(self.judged, self._standing, self.of)
        else:
            self._run = None
            if what == "failed":
                self.failed.emit(answer)
            self.ended.emit()


class _Run(QRunnable):
    """One planning run."""

    def __init__(self, planner: Planner, ticket: int, job: Job, blank: Blank, rack: Rack) -> None:
        super().__init__()
        self._planner, self._ticket = planner, ticket
        self._job, self._blank, self._rack = job, blank, rack
        self.stopped = threading.Event()

    def run(self) -> None:
        try:
            plan = make_plan(
                self._job,
                self._rack[self._job.brake],
                blank=self._blank,
                cancelled=self.stopped.is_set,
                progress=self._progress,
                at_once=self._show,
            )
            self._show(plan)
            # The verdict is shown at once; cures take longer and follow.
            if not (plan.complete or plan.open):
                self._tell("found", self._cured(plan))
            self._tell("ended", None)
        except Cancelled:
            return
        except Exception as error:
            self._tell("failed", fault(record_fault(error)))

    def _show(self, plan: Plan) -> None:
        for stroke in plan.strokes:
            _ = stroke.contact  # on show at once, and not the window's to work out
        self._tell("found", plan)

    def _cured(self, plan: Plan) -> Plan:
        return advise(plan, self._rack, cancelled=self.stopped.is_set)

    def _progress(self, judged: int, names: tuple[str, ...], of: int) -> None:
        if judged % 10 == 0:
            self._tell("advanced", (judged, names, of))

    def _tell(self, what: str, answer: object) -> None:
        """Hand an answer over, unless it was called off or the window is gone."""
        if not self.stopped.is_set():
            with contextlib.suppress(RuntimeError):
                self._planner._told.emit(self._ticket, what, answer)


def fault(log: Path | None) -> str:
    """What is said when planning broke."""
    where = f" What happened is written in {log}." if log is not None else ""
    return f"The bends could not be worked out: a fault of this program, not of your part. Your work is kept.{where}"
