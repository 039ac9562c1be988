"""Plans that were worked out to the end, so that undo finds its own again."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QObject, QTimer, Signal

from ...brake.library import MachineLibrary, with_available_pieces
from ...cache import RecentCache
from ...flat.blank import Blank
from ...flat.element import MadeBy
from ...flat.on_brake import check_flat, flat_for, tool_radius
from ...flat.panel_tree import flat_key
from ...i18n import tr
from ...job.job import Job
from ...units.sums import Sum
from ...workers.messages import Ask, EventKind, Progress
from ...workers.pool import Crew
from ..app import record_text
from .background_call import Asking

if TYPE_CHECKING:
    from ...planning.plan import Plan

MOST_PLANS = 24
"""Plans kept; the oldest go first."""


class KnownPlans:
    """Plans with their cures, by the job and the brakes they were made for."""

    def __init__(self) -> None:
        self._plans: deque[tuple[MachineLibrary, Plan]] = deque(maxlen=MOST_PLANS)

    def keep(self, plan: Plan, rack: MachineLibrary) -> None:
        """Keep a plan that was worked out to the end."""
        if self.find(plan.job, rack) is None:
            self._plans.append((rack, plan))

    def find(self, job: Job, rack: MachineLibrary) -> Plan | None:
        """The plan of a job among these brakes; None when none is kept."""
        return next(
            (plan for known, plan in self._plans if plan.job == job and known == rack), None
        )


MOST_FLATS = 12
"""Flats kept; the oldest go first."""


class KnownFlats:
    """The flats of a window's parts."""

    def __init__(self) -> None:
        self._kept: RecentCache[Blank] = RecentCache(MOST_FLATS)

    def of(self, job: Job, rack: MachineLibrary, sums: tuple[Sum, ...] = ()) -> Blank:
        """A part laid flat, with the inside radius its brake makes where it names none.

        Args:
            job: the part.
            rack: the brakes of the shop.
            sums: of the fits it follows, shown after those of the blank's own size.

        Raises:
            DevelopmentError: see :func:`flat_for`.
        """
        brake = rack[job.brake]
        key = flat_key(job), tool_radius(job, brake), sums

        def laid() -> Blank:
            if not sums:
                return flat_for(job, brake)
            blank = self.of(job, rack)
            return replace(blank, sums=(*blank.sums[:2], *sums, *blank.sums[2:]))

        return self._kept.of(key, laid)

    def must(self, job: Job, rack: MachineLibrary) -> None:
        """Refuse a part that cannot be developed, without the trouble of saying what it would be.

        Raises:
            DevelopmentError: as :meth:`of`.
        """
        brake = rack[job.brake]
        if (flat_key(job), tool_radius(job, brake), ()) not in self._kept:
            check_flat(job, brake)


class Planner(Asking):
    """Plans jobs; a newer job cancels the older one.

    Attributes:
        judged, of: strokes judged so far; folds there are to make.

    Signals:
        found: a plan: the first order that works, marked so; then the one that is kept; with its
        cures once they are known. advanced: how far the search is: strokes judged, names of the
        folds that stand in the farthest order, folds in all. failed: a sentence; planning broke.
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

    def start(self, job: Job, blank: Blank, rack: MachineLibrary) -> None:
        """Plan this job; whatever ran before is called off.

        Args:
            job: the job.
            blank: the flat.
            rack: the machines of the shop.
        """
        self._standing = ()
        self.judged, self.of = (
            0,
            sum(fold.made_by in (MadeBy.BRAKE, MadeBy.HEM) for fold in blank.folds),
        )
        self._put(Ask(job, blank, rack))

    def _hear(self, heard: EventKind, answer: object) -> None:
        if heard is EventKind.FOUND:
            self.found.emit(answer)
        elif heard is EventKind.ADVANCED:
            assert isinstance(answer, Progress)
            self.judged, names, self.of = answer
            if len(names) >= len(self._standing):
                self._standing = names
            self.advanced.emit(self.judged, self._standing, self.of)
        else:
            if heard is EventKind.FAILED:
                self.failed.emit(fault(record_text(str(answer))))
            self.ended.emit()


def fault(log: Path | None) -> str:
    """What is said when planning broke."""
    where = tr(" The details are in {log}.").format(log=log) if log is not None else ""
    return tr(
        "The bends could not be worked out: the program hit an error; your part is not at "
        "fault. Your work is kept.{where}"
    ).format(where=where)


class OnBench(NamedTuple):
    """What a plan is made of: the part on the bench, its blank, and the brakes of the shop."""

    job: Job
    blank: Blank
    rack: MachineLibrary


class BenchPlan(QObject):
    """A plan, its cures and its pictures count for the job and the brake they were made for, and
    for no other: :attr:`plan` is that of the job on the bench, or None. What stood there before the
    last edit is :attr:`before`, to be shown only marked as such.

    Args:
        bench: what lies on the bench now.
        crew: who plans; None takes the crew of the program.

    Signals:
        planned: a new plan is there, or it is known that there will be none.
        complained: a sentence the person should read.
        rested: nothing is worked out any more.
        advanced: planning goes on: strokes judged, names of folds that stand in the farthest order,
        folds in all.
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
        self._counted: tuple[tuple[Plan, Job, MachineLibrary], bool] | None = None
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
        if self._counted is None or any(
            one is not other for one, other in zip(asked, self._counted[0], strict=True)
        ):
            # Asked at every picture; what is compared are whole jobs and machines, which never
            # change.
            counts = self._plan.job == job and self._plan.brake == with_available_pieces(
                rack[job.brake], job
            )
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

    def keep(self, plan: Plan, rack: MachineLibrary) -> None:
        """Keep a plan that was made beside the bench, so that its part finds it; not one whose
        cures were never looked for."""
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
        """Plan the job anew; the last plan stays, marked as that of before, until the new one is
        there."""
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
        """Call off what is worked out: the verdict, or the cures; what is known of this job already
        stays."""
        if not self.planner.running:
            return
        self.planner.stop()
        if self._plan is not None:
            # What was found first works; it is kept, and nothing cheaper is looked for.
            self._plan = replace(self._plan, looking=False)
        self._called_off = self.plan is None
        self._before = None
        if self._called_off:
            self.complained.emit(
                tr(
                    "Planning was stopped: there is no plan of this part. Plan again, or "
                    "change something."
                )
            )
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
