"""The plan of the part on the bench: worked out off the window's thread, kept, and found again when an edit is taken back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from ..blank import Blank
from ..brake import Rack
from ..job import Job
from ..measure.words import tr
from ..plan.today import as_today
from .crew import Crew
from .known_plans import KnownPlans
from .planning import Planner

if TYPE_CHECKING:  # whoever only hands plans on brings no engine in
    from ..plan.result.plan import Plan


class OnBench(NamedTuple):
    """What a plan is made of: the part on the bench, its blank, and the brakes of the shop."""

    job: Job
    blank: Blank
    rack: Rack


class BenchPlan(QObject):
    """A plan, its cures and its pictures count for the job and the brake they were made for, and for no other: :attr:`plan` is that
    of the job on the bench, or None. What stood there before the last edit is :attr:`before`, to be shown only marked as such.

    Args:
        bench: what lies on the bench now.
        crew: who plans; None takes the crew of the program.

    Signals:
        planned: a new plan is there, or it is known that there will be none.
        complained: a sentence the person should read.
        rested: nothing is worked out any more.
        advanced: planning goes on: strokes judged, names of folds that stand in the farthest order, folds in all.
    """

    planned = Signal()
    complained = Signal(str)
    rested = Signal()
    advanced = Signal(int, object, int)

    def __init__(self, bench: Callable[[], OnBench], crew: Crew | None, parent: QObject) -> None:
        super().__init__(parent)
        self._bench = bench
        self._plan: Plan | None = None
        self._before: Plan | None = None
        self._counted: tuple[tuple[Plan, Job, Rack], bool] | None = None
        self._called_off = False
        self._known = KnownPlans()
        self.planner = Planner(self, crew)
        self.planner.found.connect(self._found)
        self.planner.failed.connect(self._failed)
        self.planner.ended.connect(self._ended)
        self.planner.moved.connect(self.complained)
        self.planner.advanced.connect(self.advanced)

    @property
    def plan(self) -> Plan | None:
        """The plan of the job on the bench, on its brake as it is; None while there is none."""
        if self._plan is None:
            return None
        job, _, rack = self._bench()
        asked = (self._plan, job, rack)
        if self._counted is None or any(one is not other for one, other in zip(asked, self._counted[0], strict=True)):
            # Asked at every picture; what is compared are whole jobs and machines, which never change.
            counts = self._plan.job == job and self._plan.brake == as_today(rack[job.brake], job)
            self._counted = asked, counts
        return self._plan if self._counted[1] else None

    @property
    def before(self) -> Plan | None:
        """The plan of this part as it was before the last edit, while no newer one is there."""
        return self._before

    def find(self, job: Job) -> Plan | None:
        """The plan of a job on the brakes of the shop, where it was worked out to the end."""
        on_bench = self._bench()
        if job == on_bench.job and self.plan is not None and not self.looking:
            return self.plan
        return self._known.find(job, on_bench.rack)

    def keep(self, plan: Plan, rack: Rack) -> None:
        """Keep a plan that was made beside the bench, so that its part finds it; not one whose cures were never looked for."""
        if not plan.wants_cures:
            self._known.keep(plan, rack)

    @property
    def planning(self) -> bool:
        """True while the verdict on the job is being worked out."""
        return self.plan is None and self.planner.running

    @property
    def looking(self) -> bool:
        """True while an order that works is on show and a cheaper one is looked for."""
        plan = self.plan
        return plan is not None and plan.looking and self.planner.running

    @property
    def busy(self) -> bool:
        """True while anything is worked out: the verdict, or cures."""
        return self.planner.running

    @property
    def called_off(self) -> bool:
        """True when the person stopped the planning of this job."""
        return self._called_off and self.plan is None

    def again(self) -> None:
        """Plan the job anew; the last plan stays, marked as that of before, until the new one is there."""
        if self._plan is not None:
            self._before = self._plan
        if self.plan is None:
            self._plan = None
        self._called_off = False
        job, blank, rack = self._bench()
        known = self._known.find(job, rack)
        if known is None:
            self.planner.start(job, blank, rack)
            return
        # It was worked out before: an edit taken back, or an order tried again.
        self.planner.stop()
        self._plan, self._before = known, None
        QTimer.singleShot(0, self, self._known_again)

    def _known_again(self) -> None:
        if self.plan is not None and not self.planner.running:
            self.planned.emit()
            self.rested.emit()

    def forget(self) -> None:
        """Another part comes on the bench: what was there before is nothing of it."""
        self._plan = self._before = None

    def stop(self) -> None:
        """Call off what is worked out: the verdict, or the cures; what is known of this job already stays."""
        if not self.planner.running:
            return
        self.planner.stop()
        if self._plan is not None:
            # What was found first works; it is kept, and nothing cheaper is looked for.
            self._plan = replace(self._plan, looking=False)
        self._called_off = self.plan is None
        self._before = None
        if self._called_off:
            self.complained.emit(tr("Planning was called off: there is no plan of this part. Plan again, or change something."))
        self.planned.emit()

    def close(self) -> None:
        """Nothing is worked out any more."""
        self.planner.stop()

    def _found(self, plan: Plan) -> None:
        self._plan, self._before = plan, None
        self.planned.emit()

    def _failed(self, sentence: str) -> None:
        self._called_off = self.plan is None
        self._before = None
        self.complained.emit(sentence)
        self.planned.emit()

    def _ended(self) -> None:
        if self.plan is not None:
            self._known.keep(self.plan, self._bench().rack)
        self.rested.emit()
