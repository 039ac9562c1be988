"""The state behind the window: one immutable work, the part of it on the bench, their history, and the plan of that part, worked
out off the window's thread."""

from __future__ import annotations

import contextlib
import time
from dataclasses import replace
from pathlib import Path

import platformdirs
from PySide6.QtCore import QObject, QThreadPool, QTimer, Signal

from ..blank import Blank, develop
from ..brake import Brake, Rack, shop_rack
from ..demo import demo_job
from ..files import FileError, JobFileError, read_work, write_work
from ..job import Job, OrderWishes
from ..measure.report import plain
from ..plan import Cure, Plan
from ..work import Fit, Work
from .planning import Planning

SAME_EDIT = 2.0
"""Seconds within which further typing in one field belongs to the same step of undo."""


class Session(QObject):
    """The job being worked on.

    Signals:
        changed: the job, or what follows from it on the flat, is another one.
        planned: a new plan is there.
        complained: a sentence the person should read.
        advanced: planning goes on: strokes judged, folds that stand in the farthest order, folds in all.
        answered, broke, progressed: internal, from the planning thread.
    """

    changed = Signal()
    planned = Signal()
    complained = Signal(str)
    answered = Signal(int, object)
    broke = Signal(int, str)
    progressed = Signal(int, object)
    advanced = Signal(int, int, int)

    def __init__(self, job: Job | Work, rack: Rack, autosave: Path | None = None) -> None:
        super().__init__()
        work = job if isinstance(job, Work) else Work.of(job)
        self.rack = rack
        self.autosave = autosave
        self.path: Path | None = None
        self.plan: Plan | None = None
        self._history: list[tuple[Work, int]] = [(work, 0)]
        self._at = 0
        self._saved: Work = work
        self._last_edit: tuple[str, float] = ("", 0.0)
        self._ticket = 0
        self._running: Planning | None = None
        self._pool = QThreadPool()
        self._pool.setMaxThreadCount(1)
        self.answered.connect(self._answer)
        self.broke.connect(self._break)
        self.progressed.connect(self._advance)
        self._autosave_timer = QTimer(self)
        self._autosave_timer.setSingleShot(True)
        self._autosave_timer.setInterval(400)
        self._autosave_timer.timeout.connect(self._write_autosave)
        self.blank = self._developed(self.job)
        self.replan()

    def _developed(self, job: Job, step: tuple[Work, int] | None = None) -> Blank:
        """The blank, with the sums of the fits it follows."""
        work, at = step or self._history[self._at]
        blank = develop(job)
        sums = work.fit_sums(at)
        return replace(blank, sums=(*blank.sums[:2], *sums, *blank.sums[2:])) if sums else blank

    @classmethod
    def for_shop(cls) -> Session:
        """A session with the shop's brakes, and the work that was open if the program stopped without closing."""
        data = Path(platformdirs.user_data_dir("zealous-crane", appauthor=False))
        rack, complaints = shop_rack(data / "brakes")
        kept = Path(platformdirs.user_state_dir("zealous-crane", appauthor=False)) / "autosave.json"
        work = Work.of(demo_job())
        if kept.exists():
            with contextlib.suppress(JobFileError):
                work = read_work(kept)
        try:
            session = cls(work, rack, kept)
        except ValueError:
            session = cls(demo_job(), rack, kept)
        for complaint in complaints:
            QTimer.singleShot(0, lambda text=complaint: session.complained.emit(text))
        return session

    # --- the job ------------------------------------------------------------------------------------------------

    @property
    def work(self) -> Work:
        return self._history[self._at][0]

    @property
    def at(self) -> int:
        """Number of the part on the bench, from 0."""
        return self._history[self._at][1]

    @property
    def job(self) -> Job:
        """The part on the bench."""
        return self.work.parts[self.at]

    @property
    def planning(self) -> bool:
        """True while the plan on show is not yet that of the job."""
        return self._running is not None

    @property
    def unsaved(self) -> bool:
        return self.work != self._saved

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
            parts = list(self.work.parts)
            parts[self.at] = job
            name = job.name if len(parts) == 1 else self.work.name
            work = self.work.model_copy(update={"parts": tuple(parts), "name": name}).resolved()
            if work.parts[self.at].part != job.part:
                masters = ", ".join(sorted({work.parts[f.master].name for f in work.follows(self.at)}))
                return f"This size follows from {masters}; change it there, or loosen the fit first."
            return self._take(work, self.at, what)
        except ValueError as error:
            return str(error)

    def _take(self, work: Work, at: int, what: str) -> str | None:
        """Make this the work with that part on the bench, as a step of undo.

        Raises:
            ValueError: a part of it cannot be developed.
        """
        for number, part in enumerate(work.parts):
            if number != at and (number >= len(self.work.parts) or part != self.work.parts[number]):
                develop(part)
        blank = self._developed(work.parts[at], (work, at))
        now = time.monotonic()
        joins = what and self._last_edit[0] == what and now - self._last_edit[1] < SAME_EDIT and self._at > 0
        del self._history[self._at + 1 :]
        if joins:
            self._history[self._at] = (work, at)
        else:
            self._history.append((work, at))
            self._at += 1
        self._last_edit = (what, now)
        self._show(blank)
        return None

    def choose_part(self, number: int) -> None:
        """Put another part of the work on the bench."""
        if number != self.at and 0 <= number < len(self.work.parts):
            self._take(self.work, number, "")

    def add_part(self, job: Job) -> str | None:
        """Add a part and put it on the bench; a sentence when it cannot be developed."""
        try:
            work = self.work.model_copy(update={"parts": (*self.work.parts, job)})
            return self._take(work, len(work.parts) - 1, "")
        except ValueError as error:
            return str(error)

    def remove_part(self) -> str | None:
        """Take the part on the bench out of the work, with its fits."""
        if len(self.work.parts) == 1:
            return "The work has only this part."
        gone = self.at

        def number(n: int) -> int:
            return n - 1 if n > gone else n

        fits = tuple(
            f.model_copy(update={"follower": number(f.follower), "master": number(f.master)})
            for f in self.work.fits
            if gone not in (f.follower, f.master)
        )
        parts = tuple(p for i, p in enumerate(self.work.parts) if i != gone)
        try:
            work = self.work.model_copy(update={"parts": parts, "fits": fits})
            return self._take(work, min(gone, len(parts) - 1), "")
        except ValueError as error:
            return str(error)

    def set_fits(self, fits: tuple[Fit, ...], what: str = "") -> str | None:
        """Change what follows from what; a sentence when it cannot hold."""
        try:
            work = Work.model_validate({**self.work.model_dump(), "fits": [f.model_dump() for f in fits]}).resolved()
            return self._take(work, self.at, what)
        except ValueError as error:
            return plain(error)

    def edit(self, what: str, **fields: object) -> str | None:
        """Change fields of the job, checked as a file would be; like :meth:`change`."""
        try:
            job = Job.model_validate({**self.job.model_dump(), **fields})
        except ValueError as error:
            return plain(error)
        return self.change(job, what)

    def start_with(self, job: Job | Work, path: Path | None = None) -> None:
        """Open another job or work; the history begins anew.

        Raises:
            DevelopmentError, BrakeError: the job cannot be worked on; the present one stays.
        """
        work = job if isinstance(job, Work) else Work.of(job)
        for part in work.parts:
            self.rack[part.brake]
            develop(part)
        blank = self._developed(work.parts[0], (work, 0))
        self._history, self._at, self._saved, self.path = [(work, 0)], 0, work, path
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
        self._show(self._developed(self.job))

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
        self._running = Planning(self, self.job, self.blank, self._ticket)
        self._pool.start(self._running)

    def _answer(self, ticket: int, plan: Plan) -> None:
        if ticket == self._ticket:
            self._running = None
            self.plan = plan
            self.planned.emit()

    def _advance(self, ticket: int, seen: tuple[int, int, int]) -> None:
        if ticket == self._ticket and self._running is not None:
            self.advanced.emit(*seen)

    def stop_planning(self) -> None:
        """Call the planning off; the last plan stays on show."""
        if self._running is not None:
            self._running.stopped.set()
            self._running = None
            self._ticket += 1
            self.complained.emit("Planning was called off; the plan shown is the one before. Change anything to plan again.")
            self.planned.emit()

    def take(self, cure: Cure) -> str | None:
        """Take a cure: its job, on its brake, as one step of undo."""
        if cure.brake is not None and cure.brake not in self.rack.brakes:
            self.rack = self.rack.with_brakes([cure.brake])
            self.replan()
        if cure.also is None:
            return self.change(cure.job)
        try:
            parts = list(self.work.parts)
            parts[self.at : self.at + 1] = [cure.job, cure.also]
            return self._take(
                Work.model_validate({**dict(self.work), "parts": tuple(parts), "fits": self._fits_past(self.at)}), self.at, ""
            )
        except ValueError as error:
            return str(error)

    def _fits_past(self, at: int) -> tuple[Fit, ...]:
        """The fits once a part is made in two: those of other parts, which move up by one behind it."""
        return tuple(
            fit.model_copy(update={"follower": fit.follower + (fit.follower > at), "master": fit.master + (fit.master > at)})
            for fit in self.work.fits
            if at not in (fit.follower, fit.master)
        )

    def order_bends(self, sequence: tuple[str, ...]) -> str | None:
        """Ask for the bends in this order (folds by name); empty leaves it to the program."""
        return self.wish(self.job.order.model_copy(update={"sequence": sequence}))

    def wish(self, order: OrderWishes) -> str | None:
        """Ask this of the order."""
        return self.change(self.job.model_copy(update={"order": order}))

    def hold(self, fold: str, side: str | None) -> str | None:
        """Ask for one side of a fold to be clamped, ``base`` or ``far``; None leaves it to the program."""
        clamp = {name: s for name, s in self.job.order.clamp.items() if name != fold}
        if side is not None:
            clamp[fold] = side  # type: ignore[assignment]
        return self.edit("", order={**self.job.order.model_dump(), "clamp": clamp})

    def free_order(self) -> str | None:
        """Take back everything asked for about the order."""
        return self.wish(OrderWishes())

    def keep_brake(self, brake: Brake) -> None:
        """Put a changed brake into the shop for this session and plan on it."""
        self.rack = self.rack.with_brakes([brake])
        if self.job.brake != brake.key:
            self.edit("", brake=brake.key)
        else:
            self.replan()
            self.changed.emit()

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
        write_work(self.work, path)
        self.path = path
        self.mark_saved()
        self.changed.emit()

    def mark_saved(self) -> None:
        """Hold the present work for saved."""
        self._saved = self.work

    def _write_autosave(self) -> None:
        if self.autosave is None:
            return
        try:
            self.autosave.parent.mkdir(parents=True, exist_ok=True)
            write_work(self.work, self.autosave)
        except (OSError, FileError) as error:
            self.complained.emit(f"The safety copy could not be kept: {error}")
