"""Planning for one window: one run at a time counts, from its start until its cures are through."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ..blank import Blank, MadeBy
from ..brake import Rack
from ..job import Job
from ..measure import forces_said_in
from ..measure.words import tr
from ..plan.asked import Ask, Heard, Progress
from .asking import Asking
from .crew import Crew
from .log import record_text


class Planner(Asking):
    """Plans jobs; a newer one calls the older off.

    Attributes:
        judged, of: strokes judged so far; folds there are to make.

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

    def __init__(self, parent: QObject | None = None, crew: Crew | None = None) -> None:
        super().__init__(parent, crew)
        self._standing: tuple[str, ...] = ()
        self.judged, self.of = 0, 0

    @property
    def standing(self) -> tuple[str, ...]:
        """Names of the folds that stand in the farthest order so far."""
        return self._standing

    def start(self, job: Job, blank: Blank, rack: Rack) -> None:
        """Plan this job; whatever ran before is called off."""
        self._standing = ()
        self.judged, self.of = 0, sum(fold.made_by in (MadeBy.BRAKE, MadeBy.HEM) for fold in blank.folds)
        self._put(Ask(job, blank, rack, forces_said_in()))

    def _hear(self, heard: Heard, answer: object) -> None:
        if heard is Heard.FOUND:
            self.found.emit(answer)
        elif heard is Heard.ADVANCED:
            assert isinstance(answer, Progress)
            self.judged, names, self.of = answer
            if len(names) >= len(self._standing):
                self._standing = names
            self.advanced.emit(self.judged, self._standing, self.of)
        else:
            if heard is Heard.FAILED:
                self.failed.emit(fault(record_text(str(answer))))
            self.ended.emit()


def fault(log: Path | None) -> str:
    """What is said when planning broke."""
    where = tr(" What happened is written in {log}.").format(log=log) if log is not None else ""
    return tr("The bends could not be worked out: a fault of this program, not of your part. Your work is kept.{where}").format(
        where=where
    )
