"""The work on the bench: one immutable state, its history, and every change as one step of undo."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ...brake.brake import Brake
from ...brake.library import MachineLibrary
from ...errors import INPUT_ERRORS
from ...flat.blank import Blank
from ...flat.on_brake import OnBrake, on_brakes
from ...i18n import tr
from ...job.job import DrawnPart, Job
from ...schema.reading import plain
from ...shop.settings import ShopSettings
from ...units.length import show_length
from ...work.work import Work
from .bench_plan import KnownFlats
from .history import History, HistoryStep


class Bench(QObject):
    """The work, the part of it that is worked on, and the shop around it.

    Args:
        step: what is begun with.

    Signals:
        changed: the job, or what follows from it on the flat, is another one.
        complained: a sentence the person should read.

    Attributes:
        blank: the flat of the part on the bench.
        flats: flats of all parts, as they were last laid out.
        history: steps of undo.
    """

    changed = Signal()
    complained = Signal(str)

    def __init__(self, step: HistoryStep) -> None:
        super().__init__()
        self.history = History(step)
        self.flats = KnownFlats()
        self.blank = self.developed(step)

    def show(self, blank: Blank) -> None:
        """Another state is on the bench.

        Args:
            blank: the flat of its part.
        """
        self.blank = blank
        self.changed.emit()

    def forget_plans(self) -> None:
        """Another part is on the bench: nothing worked out for the one before counts."""

    @property
    def step(self) -> HistoryStep:
        """Where the work stands."""
        return self.history.step

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

    def step_with(
        self,
        work: Work,
        at: int | None = None,
        rack: MachineLibrary | None = None,
        settings: ShopSettings | None = None,
    ) -> HistoryStep:
        """The present state with another work; what is not named stays.

        Args:
            work: the other work.
            at: number of the part on the bench.
            rack: brakes of the shop.
            settings: what the shop says of itself.
        """
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
    def on_brakes(self) -> OnBrake:
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
        return self.change_on(job, self.rack, what)

    def change_on(self, job: Job, rack: MachineLibrary, what: str = "") -> str | None:
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
                    "This size follows from {masters}; change it there, or unlink the fit first."
                ).format(masters=masters)
            before = self.job
            refusal = self._take(self.step_with(work, rack=rack), what)
        except INPUT_ERRORS as error:
            return plain(error)
        if refusal is None:
            self._tell_moved_gauge(before)
        return refusal

    def _tell_moved_gauge(self, before: Job) -> None:
        """Say so where another metal's own table makes the same gauge another thickness."""
        old, new = before.sheet, self.job.sheet
        if (
            old.metal != new.metal
            and old.written == new.written
            and abs(old.thickness - new.thickness) > 1e-6
        ):
            units = self.job.units.fine
            text = tr("{written} of {metal} is {thickness}; of {metal_2} it was {thickness_2}.")
            self.complained.emit(
                text.format(
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
                self.flats.must(part, step.rack)
        blank = self.developed(step)
        self.history.take(step, what)
        if another:
            self.forget_plans()
        self.show(blank)
        return None

    def settle(self) -> None:
        """What is typed from now on is a step of its own: another field is being edited."""
        self.history.settle()

    def make(
        self, step: Callable[[], HistoryStep], what: str = "", *, another: bool = False
    ) -> str | None:
        """Make a state and take it; a sentence when it cannot be made or developed, and all stays
        as it was.

        Args:
            step: makes the state.
            what: the field that was edited.
            another: another part may be on the bench then.
        """
        try:
            return self._take(step(), what, another=another)
        except INPUT_ERRORS as error:
            return plain(error)

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

    @property
    def can_undo(self) -> bool:
        return self.history.can_undo

    @property
    def can_redo(self) -> bool:
        return self.history.can_redo

    def developed(self, step: HistoryStep) -> Blank:
        """The blank of the part on the bench, with the sums of the fits it follows."""
        return self.flats.of(
            step.work.parts[step.at],
            step.rack,
            tuple(step.work.fit_sums(step.at, on_brakes(step.rack.find))),
        )
