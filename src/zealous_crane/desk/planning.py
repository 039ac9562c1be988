"""Planning for one window: one run at a time counts, from its start until its cures are through."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ..blank import Blank, MadeBy
from ..brake import Rack
from ..job import Job
from ..measure.words import tr
from ..plan.run import Ask, Heard, Progress
from .crew import CREW, Crew
from .log import record_text


class Planner(QObject):
    """Plans jobs; a newer one calls the older off.

    Args:
        crew: who does the work; None takes that of the program.

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
    _told = Signal(int, object, object)

    def __init__(self, parent: QObject | None = None, crew: Crew | None = None) -> None:
        super().__init__(parent)
        self._crew = crew or CREW
        self._run = 0
        self._standing: tuple[str, ...] = ()
        self.judged, self.of = 0, 0
        self._told.connect(self._hear)

    # judged: strokes judged so far; of: folds there are to make.

    @property
    def running(self) -> bool:
        """True until the run, cures included, is through."""
        return self._run != 0

    @property
    def standing(self) -> tuple[str, ...]:
        """Names of the folds that stand in the farthest order so far."""
        return self._standing

    def start(self, job: Job, blank: Blank, rack: Rack) -> None:
        """Plan this job; whatever ran before is called off."""
        self.stop()
        self._standing = ()
        self.judged, self.of = 0, sum(fold.made_by in (MadeBy.BRAKE, MadeBy.HEM) for fold in blank.folds)
        self._run = self._crew.ask(Ask(job, blank, rack), self._tell)

    def stop(self) -> None:
        """Call off what runs: nothing more is heard of it."""
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
            self.found.emit(answer)
        elif heard is Heard.ADVANCED:
            assert isinstance(answer, Progress)
            self.judged, names, self.of = answer
            if len(names) >= len(self._standing):
                self._standing = names
            self.advanced.emit(self.judged, self._standing, self.of)
        else:
            self._run = 0
            if heard is Heard.FAILED:
                self.failed.emit(fault(record_text(str(answer))))
            self.ended.emit()


def fault(log: Path | None) -> str:
    """What is said when planning broke."""
    where = tr(" What happened is written in {log}.").format(log=log) if log is not None else ""
    return tr("The bends could not be worked out: a fault of this program, not of your part. Your work is kept.{where}").format(
        where=where
    )
