"""The state behind the window: one immutable work, the part of it on the bench, the shop's brakes,
their history, and the plan of that part, worked out off the window's thread."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING

import platformdirs
from PySide6.QtCore import QObject, QTimer, Signal

from ...brake.brake import Brake
from ...brake.library import MachineLibrary, shop_rack
from ...cutting.piece import CutFrom
from ...demo import demo_job
from ...errors import INPUT_ERRORS
from ...flat.blank import Blank
from ...flat.on_brake import OnBrake, on_brakes
from ...i18n import tr
from ...job.job import DrawnPart, Job, OrderWishes
from ...part.hole import FastenerRow
from ...schema.reading import plain
from ...shop.settings import ShopSettings, book_place, brakes_place, read_settings
from ...units.length import show_length
from ...units.quantities import say_forces_in
from ...work.duct_fitting import DuctFitting
from ...work.fit import Fit, Joint
from ...work.work import Work
from ...workers.pool import Crew
from .autosave import Keeper, SafetyCopy
from .bench_plan import BenchPlan, KnownFlats, OnBench
from .bookkeeper import BookKeeper
from .device_desk import DeviceDesk
from .history import History, HistoryStep
from .shop_files import ShopFolder, merged_brake, merged_settings
from .user_settings import Saved

if TYPE_CHECKING:
    from ...planning.plan import Plan, Remedy


class Session(QObject):
    """The job being worked on.

    Args:
        job: what is begun with.
        rack: the brakes of the shop.
        safety: where the work is kept as it changes; None keeps none.
        shop: folder of the shop's own brake files; None writes none.
        crew: who plans; None takes the crew of the program.
        settings: what the shop says of itself besides its brakes; None takes what is usual.

    Signals:
        changed: the job, or what follows from it on the flat, is another one.
        planned: a new plan is there, or it is known that there will be none.
        complained: a sentence the person should read.
        rested: nothing is worked out any more.
        advanced: planning goes on: strokes judged, names of folds that stand in the farthest order,
        folds in all.
    """

    changed = Signal()
    planned = Signal()
    complained = Signal(str)
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
        super().__init__()
        work = job if isinstance(job, Work) else Work.of(job)
        self.shop = shop
        self.crew = crew
        self.book = BookKeeper(
            None if shop is None else book_place(shop.parent), None if shop is None else shop.parent
        )
        self.book.complained.connect(self.complained)
        self.devices = DeviceDesk(lambda: self.job.units)
        self.devices.said.connect(self.complained)
        self.devices.alarm.connect(lambda said: self.complained.emit(said) if said else None)
        self._history = History(HistoryStep(work, 0, rack, settings or ShopSettings()))
        self._folder = None if shop is None else ShopFolder(shop, rack, self.settings)
        self._saved = Saved(work)
        self._flats = KnownFlats()
        self.keeper = Keeper(
            safety, lambda: (self.work, self.at, self.path, self._saved.stamp), self
        )
        self.keeper.complained.connect(self.complained)
        self.blank = self._developed(self.step)
        self.bench_plan = BenchPlan(lambda: OnBench(self.job, self.blank, self.rack), crew, self)
        self.bench_plan.planned.connect(self.planned)
        self.bench_plan.complained.connect(self.complained)
        self.bench_plan.rested.connect(self.rested)
        self.bench_plan.advanced.connect(self.advanced)
        say_forces_in(self.settings.ways.tonnage)
        self.bench_plan.again()

    def _developed(self, step: HistoryStep) -> Blank:
        """The blank of the part on the bench, with the sums of the fits it follows."""
        return self._flats.of(
            step.work.parts[step.at],
            step.rack,
            tuple(step.work.fit_sums(step.at, on_brakes(step.rack.find))),
        )

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
        settings, said = read_settings(shop.parent)
        complaints = (*complaints, said) if said else complaints
        session = cls(demo_job(), rack, safety, shop, settings=settings)
        for complaint in complaints:
            QTimer.singleShot(0, session, lambda text=complaint: session.complained.emit(text))
        return session

    # --- the job ---------------------------------------------------------------------------------

    @property
    def step(self) -> HistoryStep:
        """Where the work stands."""
        return self._history.step

    @property
    def work(self) -> Work:
        return self.step.work

    @property
    def rack(self) -> MachineLibrary:
        """The brakes of the shop."""
        return self.step.rack

    @property
    def settings(self) -> ShopSettings:
        """What the shop says of itself besides its brakes."""
        return self.step.settings

    def _step(
        self,
        work: Work,
        at: int | None = None,
        rack: MachineLibrary | None = None,
        settings: ShopSettings | None = None,
    ) -> HistoryStep:
        """The present state with another work; what is not named stays."""
        return HistoryStep(
            work, self.at if at is None else at, rack or self.rack, settings or self.settings
        )

    @property
    def at(self) -> int:
        """Number of the part on the bench, from 0."""
        return self.step.at

    @property
    def job(self) -> Job:
        """The part on the bench."""
        return self.work.parts[self.at]

    @property
    def brake(self) -> Brake:
        """The brake the job is planned on."""
        return self.rack[self.job.brake]

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

    @property
    def _on(self) -> OnBrake:
        """Parts as the brakes of this shop bend them."""
        return on_brakes(self.rack.find)

    def change(self, job: Job, what: str = "") -> str | None:
        """Make this the job, as one step of undo.

        Args:
            job: the new job.
            what: the field that was edited; quick further edits of the same one join the step.

        Returns:
            a sentence when the job cannot be developed; the last good one then stays.
        """
        return self._changed_to(job, self.rack, what)

    def _changed_to(self, job: Job, rack: MachineLibrary, what: str = "") -> str | None:
        if job == self.job and rack == self.rack:
            return None
        try:
            if job.brake != self.job.brake:
                rack[job.brake]
            parts = list(self.work.parts)
            parts[self.at] = job
            name = job.name if len(parts) == 1 else self.work.name
            opened = isinstance(job.part, DrawnPart) and not isinstance(self.job.part, DrawnPart)
            fits = self.work.opened(self.at) if opened else self.work.fits
            work = self.work.model_copy(
                update={"parts": tuple(parts), "name": name, "fits": fits}
            ).resolved(on_brakes(rack.find))
            if work.parts[self.at].part != job.part:
                masters = ", ".join(
                    sorted({work.parts[f.master].name for f in work.follows(self.at)})
                )
                return tr(
                    "This size follows from {masters}; change it there, or loosen the fit first."
                ).format(masters=masters)
            before = self.job
            said = self._take(self._step(work, rack=rack), what)
        except INPUT_ERRORS as error:
            return plain(error)
        if said is None:
            self._tell_moved_gauge(before)
        return said

    def _tell_moved_gauge(self, before: Job) -> None:
        """Say so where another metal's own table makes the same gauge another thickness."""
        old, new = before.sheet, self.job.sheet
        if (
            old.metal != new.metal
            and old.written == new.written
            and abs(old.thickness - new.thickness) > 1e-6
        ):
            units = self.job.units.fine
            said = tr("{written} of {metal} is {thickness}; of {metal_2} it was {thickness_2}.")
            self.complained.emit(
                said.format(
                    written=new.written,
                    metal=new.metal.name,
                    thickness=show_length(new.thickness, units),
                    metal_2=old.metal.name,
                    thickness_2=show_length(old.thickness, units),
                )
            )

    def _take(self, step: HistoryStep, what: str, *, another: bool = False) -> str | None:
        """Make this the present state, as a step of undo; ``another`` part may be on the bench
        then.

        Raises:
            InputError: a part of it cannot be developed.
        """
        for number, part in enumerate(step.work.parts):
            if number != step.at and (
                number >= len(self.work.parts) or part != self.work.parts[number]
            ):
                self._flats.must(part, step.rack)
        blank = self._developed(step)
        self._history.take(step, what)
        if another:
            self.bench_plan.forget()
        self._show(blank)
        return None

    def settle(self) -> None:
        """What is typed from now on is a step of its own: another field is being edited."""
        self._history.settle()

    def choose_part(self, number: int) -> str | None:
        """Put another part of the work on the bench; a sentence when it cannot be worked on, and
        the one before then stays."""
        if number == self.at or not 0 <= number < len(self.work.parts):
            return None
        return self._made(lambda: self._step(self.work, number), another=True)

    def _made(
        self, step: Callable[[], HistoryStep], what: str = "", *, another: bool = False
    ) -> str | None:
        """Make a state and take it; a sentence when it cannot be made or developed, and all stays
        as it was."""
        try:
            return self._take(step(), what, another=another)
        except INPUT_ERRORS as error:
            return plain(error)

    def add_part(self, job: Job) -> str | None:
        """Add a part and put it on the bench; a sentence when it cannot be developed."""

        def added() -> HistoryStep:
            self.rack[job.brake]
            return self._step(
                self.work.model_copy(update={"parts": (*self.work.parts, job)}),
                len(self.work.parts),
            )

        return self._made(added, another=True)

    def remove_part(self) -> str | None:
        """Take the part on the bench out of the work, with its fits."""
        if len(self.work.parts) == 1:
            return tr("The work has only this part.")
        return self._made(
            lambda: self._still_on_bench(self.work.without(self.at, self._on)), another=True
        )

    def set_fitting(self, fitting: DuctFitting) -> str | None:
        """Make the pieces of a duct fitting anew; a sentence when they cannot be made."""
        return self._made(
            lambda: self._still_on_bench(Work.of_fitting(fitting, self.work).resolved(self._on)),
            another=True,
        )

    def _still_on_bench(self, work: Work) -> HistoryStep:
        """The state with another work, the part of the same number on the bench, or the last."""
        return self._step(work, min(self.at, len(work.parts) - 1))

    def set_cut_from(self, cut_from: CutFrom) -> str | None:
        """Say what the work is cut from."""
        return self._made(
            lambda: self._step(self.work.model_copy(update={"cut_from": cut_from})), "cut from"
        )

    def set_fits(self, fits: tuple[Fit, ...], what: str = "") -> str | None:
        """Change what follows from what; a sentence when it cannot hold."""
        return self._set_tied(what, fits=[f.model_dump() for f in fits])

    def set_joints(self, joints: tuple[Joint, ...], what: str = "") -> str | None:
        """Change which parts are joined to which; a sentence when that cannot be."""
        return self._set_tied(what, joints=[j.model_dump() for j in joints])

    def join(self, rows: tuple[FastenerRow, ...], joints: tuple[Joint, ...]) -> str | None:
        """Change the rows of the part on the bench and the joints of the work in one step."""
        job = self.job.model_copy(update={"rows": rows})
        parts = [*self.work.parts[: self.at], job, *self.work.parts[self.at + 1 :]]
        return self._set_tied(
            "", parts=[p.model_dump() for p in parts], joints=[j.model_dump() for j in joints]
        )

    def blank_of(self, number: int) -> Blank:
        """The blank of any part of the work."""
        return self._flats.of(self.work.parts[number], self.rack)

    def unsaid(self, fits: tuple[Fit, ...] | None = None) -> dict[int, str]:
        """What has to be said of parts before they are cut, by their number; with other ``fits``
        where these are given."""
        work = self.work if fits is None else self.work.model_copy(update={"fits": fits})
        return work.unsaid(self._on)

    def _set_tied(self, what: str, **fields: object) -> str | None:
        return self._made(
            lambda: self._step(
                Work.model_validate({**self.work.model_dump(), **fields}).resolved(self._on)
            ),
            what,
        )

    def edit(self, what: str, **fields: object) -> str | None:
        """Change fields of the job, checked as a file would be; like :meth:`change`."""
        if "metal" in fields:
            # A metal of the shop's own goes with the job, so that it is the same job in another
            # shop.
            key = str(fields["metal"])
            mine = self.job.own_metal
            fields.setdefault(
                "own_metal",
                self.settings.own_metal(key) or (mine if mine and mine.key == key else None),
            )
        try:
            job = Job.model_validate({**self.job.model_dump(), **fields})
        except INPUT_ERRORS as error:
            return plain(error)
        return self.change(job, what)

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
        work = (job if isinstance(job, Work) else Work.of(job)).resolved(self._on)
        for part in work.parts:
            self._flats.must(part, self.rack)
        step = self._step(work, at)
        blank = self._developed(step)
        self._history, self._saved = History(step), Saved(None if unsaved else work, path, stamp)
        self.bench_plan.forget()
        self._show(blank)

    @property
    def can_undo(self) -> bool:
        return self._history.can_undo

    @property
    def can_redo(self) -> bool:
        return self._history.can_redo

    def undo(self) -> None:
        """One step back."""
        self.take_others()
        if self.can_undo:
            self._stepped(-1)

    def redo(self) -> None:
        """One step forward again."""
        self.take_others()
        if self.can_redo:
            self._stepped(1)

    def _stepped(self, by: int) -> None:
        before = self.step
        self._history.move(by)
        if before.at != self.at or len(before.work.parts) != len(self.work.parts):
            self.bench_plan.forget()
        self._write_shop(before)
        self._show(self._developed(self.step))

    def _show(self, blank: Blank) -> None:
        self.blank = blank
        say_forces_in(self.settings.ways.tonnage)
        self.bench_plan.again()
        self.changed.emit()
        self.keeper.soon()

    # --- the plan --------------------------------------------------------------------------------

    @property
    def plan(self) -> Plan | None:
        """See :attr:`BenchPlan.plan`."""
        return self.bench_plan.plan

    def plan_of(self, at: int) -> Plan | None:
        """The plan of a part of the work, where it was worked out to the end."""
        return self.bench_plan.find(self.work.parts[at])

    def take(self, cure: Remedy) -> str | None:
        """Take a cure: its job, on its brake, as one step of undo."""
        rack = self.rack if cure.brake is None else self.rack.with_brakes([cure.brake])
        if cure.also is None:
            return self._changed_to(cure.job, rack)
        one, other = cure.job, cure.also
        return self._made(
            lambda: self._step(
                self.work.in_two(self.at, one, other, on_brakes(rack.find)), rack=rack
            )
        )

    def order_bends(self, sequence: tuple[str, ...]) -> str | None:
        """Ask for the bends in this order (folds by name); empty leaves it to the program."""
        return self.wish(self.job.order.model_copy(update={"sequence": sequence}))

    def wish(self, order: OrderWishes) -> str | None:
        """Ask this of the order."""
        return self.change(self.job.model_copy(update={"order": order}))

    def hold(self, fold: str, side: str | None) -> str | None:
        """Ask for one side of a fold to be clamped, ``base`` or ``far``; None leaves it to the
        program."""
        clamp = {name: s for name, s in self.job.order.clamp.items() if name != fold}
        if side is not None:
            clamp[fold] = side  # type: ignore[assignment]
        return self.edit("", order={**self.job.order.model_dump(), "clamp": clamp})

    def free_order(self) -> str | None:
        """Take back everything asked for about the order."""
        return self.wish(OrderWishes())

    # --- the shop's brakes -----------------------------------------------------------------------

    def take_others(self) -> None:
        """Take in what another window has made of the shop's machines and settings since, in every
        step of this one's history."""
        changed = self._folder.taken() if self._folder is not None else None
        if changed is None:
            return
        self._history.rebase(changed)
        try:
            self._show(self._developed(self.step))
        except INPUT_ERRORS as error:
            self.complained.emit(plain(error))
            return
        self.complained.emit(
            tr("Another window changed the shop's machines or settings; they are taken in here.")
        )

    def keep_brake(self, brake: Brake) -> str | None:
        """Put a changed brake into the shop and plan on it, as one step of undo."""
        known = self.rack.find(brake.key)
        self.take_others()
        theirs = self.rack.find(brake.key)
        if theirs is not None:
            # One that another window has begun under this key meanwhile is another machine.
            brake = (
                merged_brake(known, brake, theirs)
                if known is not None
                else self.rack.under_a_free_key(brake)
            )
        before = self.step
        rack = self.rack.with_brakes([brake], own=True)
        said = self._changed_to(self.job.model_copy(update={"brake": brake.key}), rack)
        if said is None:
            self._write_shop(before, always=(brake.key,))
        return said

    def retire(self, key: str, *, retired: bool) -> str | None:
        """Offer a brake no more, or again, as one step of undo."""
        self.take_others()
        before = self.step
        said = self._changed_to(self.job, self.rack.with_retired(key, retired=retired))
        if said is None:
            self._write_shop(before)
        return said

    def keep_settings(self, settings: ShopSettings, what: str = "") -> str | None:
        """Change what the shop says of itself, as one step of undo; parts that stand as the shop
        said follow.

        Args:
            settings: as it shall be.
            what: the field that was edited; quick further edits of the same one join the step.
        """
        known = self.settings
        if settings == known:
            return None
        self.take_others()
        before, settings = self.step, merged_settings(known, settings, self.settings)

        def following() -> HistoryStep:
            parts = tuple(settings.follows(part, before.settings) for part in self.work.parts)
            return self._step(
                self.work.model_copy(update={"parts": parts}).resolved(self._on), settings=settings
            )

        said = self._made(following, what)
        if said is None:
            self._write_shop(before)
        return said

    def _write_shop(self, before: HistoryStep, always: Iterable[str] = ()) -> None:
        """Bring the shop's own files in line with what is known here, for what changed and is kept
        there."""
        if self._folder is not None:
            for said in self._folder.write(before, self.step, always):
                self.complained.emit(said)

    # --- files -----------------------------------------------------------------------------------

    def close(self) -> str:
        """Stop planning and, the work being closed on purpose, forget the safety copy. Returns what
        the book could not take, or nothing."""
        self.bench_plan.close()
        said = self.book.close()
        self.devices.close()
        self.keeper.close()
        return said

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
