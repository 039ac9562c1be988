"""The state behind the window: one immutable work, the part of it on the bench, the shop's brakes,
their history, and the plan of that part, worked out off the window's thread."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs
from PySide6.QtCore import QTimer, Signal

from ...brake.library import MachineLibrary, shop_rack
from ...demo import demo_job
from ...flat.blank import Blank
from ...i18n import tr
from ...job.job import Job
from ...shop.settings import ShopSettings, book_place, brakes_place, read_settings
from ...units.quantities import say_forces_in
from ...work.work import Work
from ...workers.pool import Crew
from .autosave import Keeper, SafetyCopy
from .bench import Bench
from .bench_plan import BenchPlan, OnBench
from .bookkeeper import BookKeeper
from .device_desk import DeviceDesk
from .history import History, HistoryStep
from .order_edits import OrderEdits
from .part_edits import PartEdits
from .shop_edits import ShopEdits
from .shop_files import ShopFolder
from .user_settings import Saved

if TYPE_CHECKING:
    from ...planning.plan import Plan
    from .part_survey import PartSurvey
    from .work_cutting import WorkCutting


class Session(Bench):
    """The job being worked on, its plan, the shop and its book.

    Args:
        job: what is begun with.
        rack: the brakes of the shop.
        safety: where the work is kept as it changes; None keeps none.
        shop: folder of the shop's own brake files; None writes none.
        crew: who plans; None takes the crew of the program.
        settings: what the shop says of itself besides its brakes; None takes what is usual.

    Signals:
        planned: a new plan is there, or it is known that there will be none.
        rested: nothing is worked out any more.
        advanced: planning goes on: strokes judged, names of folds that stand in the farthest order,
        folds in all.

    Attributes:
        parts: what is changed of the work's parts and what ties them.
        orders: what is asked of the order of the bends.
        shop_edits: what is changed of the shop.
    """

    planned = Signal()
    rested = Signal()
    advanced = Signal(int, object, int)

    def __init__(
        self,
        job: Job | Work,
        rack: MachineLibrary,
        safety: SafetyCopy | None = None,
        shop: Path | None = None,
        crew: Crew | None = None,
        settings: ShopSettings | None = None,
    ) -> None:
        work = job if isinstance(job, Work) else Work.of(job)
        super().__init__(HistoryStep(work, 0, rack, settings or ShopSettings()))
        self.shop = shop
        self.crew = crew
        self.book = BookKeeper(
            None if shop is None else book_place(shop.parent), None if shop is None else shop.parent
        )
        self.book.complained.connect(self.complained)
        self.devices = DeviceDesk(lambda: self.job.units)
        self.devices.reported.connect(self.complained)
        self.devices.alarm.connect(lambda text: self.complained.emit(text) if text else None)
        folder = None if shop is None else ShopFolder(shop, rack, self.settings)
        self.parts, self.orders = PartEdits(self), OrderEdits(self)
        self.shop_edits = ShopEdits(self, folder)
        self._saved = Saved(work)
        self.keeper = Keeper(
            safety, lambda: (self.work, self.at, self.path, self._saved.stamp), self
        )
        self.keeper.complained.connect(self.complained)
        self.bench_plan = BenchPlan(lambda: OnBench(self.job, self.blank, self.rack), crew, self)
        self.bench_plan.planned.connect(self.planned)
        self.bench_plan.complained.connect(self.complained)
        self.bench_plan.rested.connect(self.rested)
        self.bench_plan.advanced.connect(self.advanced)
        say_forces_in(self.settings.ways.tonnage)
        self.bench_plan.again()

    @cached_property
    def cutting(self) -> WorkCutting:
        """How the work is cut."""
        # Fetched when it is first wanted, not while the program starts.
        from .work_cutting import WorkCutting

        return WorkCutting(self)

    @cached_property
    def survey(self) -> PartSurvey:
        """What is measured of the part on the bench, and what was."""
        from .part_survey import PartSurvey

        return PartSurvey(self)

    def plan_of(self, at: int) -> Plan | None:
        """The plan of a part of the work, where it was worked out to the end."""
        return self.bench_plan.find(self.work.parts[at])

    @classmethod
    def for_shop(cls) -> Session:
        """A session with the shop's brakes and a safety copy of its own."""
        shop = brakes_place()
        rack, complaints = shop_rack(shop)
        try:
            safety: SafetyCopy | None = SafetyCopy.claim(safety_folder())
        except OSError as error:
            safety = None
            complaints = (
                *complaints,
                tr("No safety copy can be kept: {value}.").format(value=error.strerror or error),
            )
        settings, sentence = read_settings(shop.parent)
        complaints = (*complaints, sentence) if sentence else complaints
        session = cls(demo_job(), rack, safety, shop, settings=settings)
        for complaint in complaints:
            QTimer.singleShot(0, session, lambda text=complaint: session.complained.emit(text))
        return session

    @property
    def unsaved(self) -> bool:
        return not self._saved.holds(self.work)

    @property
    def untouched(self) -> bool:
        """True while what the window opened with the first time stands as it came."""
        return self.path is None and not self.can_undo and self.work == Work.of(demo_job())

    @property
    def path(self) -> Path | None:
        """The file it came from, or was saved to; None while there is none."""
        return self._saved.path

    def start_with(
        self,
        job: Job | Work,
        path: Path | None = None,
        *,
        unsaved: bool = False,
        at: int = 0,
        stamp: str | None = None,
    ) -> None:
        """Open another job or work; the history begins anew, and no plan of the one before is kept.

        Args:
            job: what is opened.
            path: the file it came from.
            unsaved: it counts as not saved: found again after a crash, or changed on the way in.
            at: number of the part put on the bench.
            stamp: what the file held when the work was read from it; None takes what it holds now.

        Raises:
            DevelopmentError, BrakeError: the job cannot be worked on; the present one stays.
        """
        work = (job if isinstance(job, Work) else Work.of(job)).resolved(self.on_brakes)
        for part in work.parts:
            self.flats.must(part, self.rack)
        step = self.step_with(work, at)
        blank = self.developed(step)
        self.history, self._saved = History(step), Saved(None if unsaved else work, path, stamp)
        self.forget_plans()
        self.show(blank)

    def undo(self) -> None:
        """One step back."""
        self.shop_edits.take_others()
        if self.can_undo:
            self._stepped(-1)

    def redo(self) -> None:
        """One step forward again."""
        self.shop_edits.take_others()
        if self.can_redo:
            self._stepped(1)

    def _stepped(self, by: int) -> None:
        before = self.step
        self.history.move(by)
        if before.at != self.at or len(before.work.parts) != len(self.work.parts):
            self.forget_plans()
        self.shop_edits.write(before)
        self.show(self.developed(self.step))

    def show(self, blank: Blank) -> None:
        self.blank = blank
        say_forces_in(self.settings.ways.tonnage)
        self.bench_plan.again()
        super().show(blank)
        self.keeper.soon()

    def forget_plans(self) -> None:
        self.bench_plan.forget()

    @property
    def plan(self) -> Plan | None:
        """See :attr:`BenchPlan.plan`."""
        return self.bench_plan.plan

    def close(self) -> str:
        """Stop planning and, the work being closed on purpose, forget the safety copy. Returns what
        the book could not take, or nothing."""
        self.bench_plan.close()
        text = self.book.close()
        self.devices.close()
        self.keeper.close()
        return text

    def save(self, path: Path, *, over: bool = False) -> None:
        """Save the job.

        Args:
            path: the file.
            over: write also over what somebody else has changed.

        Raises:
            ChangedOnDisk: the file is not as this window read or wrote it last.
            FileError: it could not be written; nothing is lost.
        """
        self._saved.write(self.work, path, over=over)
        self.changed.emit()

    def mark_saved(self) -> None:
        """Hold the present work for saved."""
        self._saved.mark(self.work)


def safety_folder() -> Path:
    """Where safety copies are kept."""
    return Path(platformdirs.user_state_dir("zealous-crane", appauthor=False)) / "benches"
