"""Plans for every part of the work, one after the other: for what is handed over of all of them at once."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QElapsedTimer, QObject, Qt
from PySide6.QtWidgets import QProgressDialog, QWidget

from ..measure.words import counted, tr
from ..plan.result.plan import Plan
from .planning import Planner
from .session import Session

SHOWN_AFTER = 500
"""Milliseconds after which it is said how far it is."""


class EveryPart(QObject):
    """Finds or makes the plan of every part; says how far it is, and stops when it is told to.

    Args:
        session: its work as it is now; a change meanwhile does not matter.
        done: called with the plans in the order of the parts, once all are there.
        failed: called with a sentence when one could not be planned.
        parent: the window.
    """

    def __init__(
        self, session: Session, done: Callable[[tuple[Plan, ...]], None], failed: Callable[[str], None], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._done, self._failed, self._rack = done, failed, session.rack
        self._keep = session.bench_plan.keep
        self._jobs = session.work.parts
        self._flats = [session.blank_of(at) for at in range(len(self._jobs))]
        self._plans: list[Plan | None] = [session.plan_of(at) for at in range(len(self._jobs))]
        self._at = 0
        self._clock = QElapsedTimer()
        self._planned = 0
        self._planner = Planner(self, session.crew)
        self._planner.found.connect(self._found)
        self._planner.failed.connect(self._broke)
        self.progress = QProgressDialog("", tr("Stop"), 0, len(self._jobs), parent)
        self.progress.setWindowTitle(tr("Every part"))
        self.progress.setWindowModality(Qt.WindowModality.WindowModal)
        self.progress.setMinimumDuration(SHOWN_AFTER)
        self.progress.setAutoClose(False)
        self.progress.setAutoReset(False)
        self.progress.canceled.connect(self._stop)

    def begin(self) -> None:
        """Go through the parts."""
        self._clock.start()
        self._next()

    def _next(self) -> None:
        missing = [at for at, plan in enumerate(self._plans) if plan is None]
        self.progress.setValue(len(self._jobs) - len(missing))
        if not missing:
            self._end()
            self._done(tuple(plan for plan in self._plans if plan is not None))
            return
        self._at = missing[0]
        said = tr("Planning {name} …").format(name=self._jobs[self._at].name)
        if self._planned:
            left = self._clock.elapsed() / 1000 / self._planned * len(missing)
            said += "\n" + counted("about {count} s left", "about {count} s left", max(1, round(left)))
        self.progress.setLabelText(said)
        self._planner.start(self._jobs[self._at], self._flats[self._at], self._rack)

    def _found(self, plan: Plan) -> None:
        """The first order that works is not the last word; the one that is kept comes without that mark."""
        if not plan.looking:
            self._plans[self._at] = plan
            self._keep(plan, self._rack)
            self._planned += 1
            # What would cure it is not waited for.
            self._planner.stop()
            self._next()

    def _broke(self, sentence: str) -> None:
        self._end()
        self._failed(sentence)

    def _stop(self) -> None:
        self._end()
        self._failed(tr("Called off: nothing was written."))

    def _end(self) -> None:
        self._planner.stop()
        self.progress.canceled.disconnect(self._stop)
        self.progress.close()
        self.progress.deleteLater()
        self.deleteLater()
