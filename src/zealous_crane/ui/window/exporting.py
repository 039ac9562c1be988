"""Plans for every part of the work, one after the other: for what is handed over of all of them at
once."""

from __future__ import annotations

from collections.abc import Callable, Generator
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QElapsedTimer, QObject, Qt, QTimer
from PySide6.QtWidgets import QProgressDialog, QWidget

from ...i18n import counted, tr
from ...io.atomic import FileError
from ...io.formats import Needs, Subject, Writer
from ...paper.page import Target
from ...paper.writers import writer_for, writer_of
from ...work.work import Work
from ..state.bench_plan import Planner
from ..state.session import Session
from ..widgets.save_as import ask_where
from ..widgets.widget import run_dialog
from .commands import Front

if TYPE_CHECKING:
    from ...planning.plan import Plan

SHOWN_AFTER = 500
"""Milliseconds after which it is said how far it is."""


def _progress(title: str, text: str, most: int, parent: QWidget) -> QProgressDialog:
    """How far something is, with a way to stop it; it stays until it is closed."""
    progress = QProgressDialog(text, tr("Stop"), 0, most, parent)
    progress.setWindowTitle(title)
    progress.setWindowModality(Qt.WindowModality.WindowModal)
    progress.setMinimumDuration(SHOWN_AFTER)
    progress.setAutoClose(False)
    progress.setAutoReset(False)
    return progress


class EveryPart(QObject):
    """Finds or makes the plan of every part; says how far it is, and stops when it is told to.

    Args:
        session: its work as it is now; a change meanwhile does not matter.
        done: called with the plans in the order of the parts, once all are there.
        failed: called with a sentence when one could not be planned.
        parent: the window.
    """

    def __init__(
        self,
        session: Session,
        done: Callable[[tuple[Plan, ...]], None],
        failed: Callable[[str], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._done, self._failed, self._rack = done, failed, session.rack
        self._keep = session.bench_plan.keep
        self._jobs = session.work.parts
        self._flats = [session.parts.blank_of(at) for at in range(len(self._jobs))]
        self._plans: list[Plan | None] = [session.plan_of(at) for at in range(len(self._jobs))]
        self._at = 0
        self._clock = QElapsedTimer()
        self._planned = 0
        self._planner = Planner(self, session.crew)
        self._planner.found.connect(self._found)
        self._planner.failed.connect(self._broke)
        self.progress = _progress(tr("Every part"), "", len(self._jobs), parent)
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
        text = tr("Planning {name} …").format(name=self._jobs[self._at].name)
        if self._planned:
            left = self._clock.elapsed() / 1000 / self._planned * len(missing)
            text += "\n" + counted(
                "about {count} s left", "about {count} s left", max(1, round(left))
            )
        self.progress.setLabelText(text)
        self._planner.start(self._jobs[self._at], self._flats[self._at], self._rack)

    def _found(self, plan: Plan) -> None:
        """The first order that works is not the last word; the one that is kept comes without that
        mark."""
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
        self._failed(tr("Cancelled; nothing was saved."))

    def _end(self) -> None:
        self._planner.stop()
        self.progress.canceled.disconnect(self._stop)
        self.progress.close()
        self.progress.deleteLater()
        self.deleteLater()


class StepByStep(QObject):
    """Writes a file that takes long, a step in each turn of the loop; says how far it is, and stops
    when it is told to.

    Args:
        steps: write it, and yield the share that is done.
        done: called once it is written.
        failed: called with a sentence when it could not be.
        parent: the window.
    """

    def __init__(
        self,
        steps: Generator[float],
        done: Callable[[], None],
        failed: Callable[[str], None],
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._steps, self._done, self._failed = steps, done, failed
        self._stopped = False
        self.progress = _progress(tr("Export"), tr("Writing …"), 1000, parent)
        self.progress.canceled.connect(self._stop)

    def begin(self) -> None:
        """Write it."""
        QTimer.singleShot(0, self, self._next)

    def _next(self) -> None:
        if self._stopped:
            return
        try:
            share = next(self._steps)
        except StopIteration:
            self._end()
            self._done()
        except FileError as error:
            self._end()
            self._failed(str(error))
        else:
            # A modal dialog takes in what has happened meanwhile: it may have been stopped.
            self.progress.setValue(round(1000 * share))
            if not self._stopped:
                QTimer.singleShot(0, self, self._next)

    def _stop(self) -> None:
        self._end()
        self._failed(tr("Cancelled; nothing was saved."))

    def _end(self) -> None:
        self._stopped = True
        self._steps.close()
        self.progress.canceled.disconnect(self._stop)
        self.progress.close()
        self.progress.deleteLater()
        self.deleteLater()


class HandingOver:
    """Writes and prints what stands on the bench.

    Args:
        session: the work.
        front: what stands before it.
    """

    def __init__(self, session: Session, front: Front) -> None:
        self.session, self.front = session, front

    def ask(self, writer: Writer) -> None:
        """Ask where to put a sheet, a drawing or a plan. What is asked for is written, whatever the
        name ends in."""
        ending = writer.ending
        stem = file_name(self.session.job.name) + writer.suffix
        path = ask_where(
            self.front.window,
            tr("Export"),
            f"{stem}.{ending}",
            f"{ending.upper()} (*.{ending})",
            ending,
        )
        if path:
            self.export(path, writer)

    def export(self, path: Path, writer: Writer | None = None) -> bool:
        """Write a file of the job on the bench; False, with a sentence, when it could not be.

        Args:
            path: the file.
            writer: what is written; None goes by the file's ending.
        """
        session = self.session
        writer = writer or writer_for(path.suffix.lower().removeprefix("."))
        if writer is None:
            self.front.refuse(
                tr(
                    "{name}: pages are written as .pdf, drawings as .dxf or .svg, plans as .json."
                ).format(name=path.name)
            )
            return False
        if writer.needs is Needs.PLAN and (session.plan is None or session.bench_plan.looking):
            # Only a plan of this very job is ever written, and not one that may change on the
            # screen in a moment.
            self.front.refuse(
                tr("The bends of this part are still being worked out; try again in a moment.")
                if session.bench_plan.planning or session.bench_plan.looking
                else tr(
                    "There is no plan of this part yet: planning was stopped. Plan again first."
                )
            )
            return False
        subject = Subject(
            session.job, session.blank, session.plan, dxf=session.settings.ways.drawings
        )
        wrote = tr("Wrote {name}.").format(name=path.name)
        if writer.steps is not None:
            steps = writer.steps(subject, path)
            StepByStep(
                steps, lambda: self.front.say(wrote), self.front.refuse, self.front.window
            ).begin()
            return True
        try:
            writer.write(subject, path)
        except FileError as error:
            self.front.refuse(str(error))
            return False
        self.front.say(wrote)
        return True

    def ask_work(self) -> None:
        """Ask where to put every part's sheet in one document."""
        stem = file_name(self.session.work.name or self.session.job.name)
        path = ask_where(self.front.window, tr("Export"), f"{stem}.pdf", "PDF (*.pdf)", "pdf")
        if path:

            def write(work: Work, plans: tuple[Plan, ...]) -> None:
                self._write_work(work, plans, path)
                self.front.say(tr("Wrote {name}.").format(name=path.name))

            self._every_part(write)

    def print_work(self) -> None:
        """Show every part's sheet as it will be printed, and print them."""
        from ..dialogs.printing import Preview

        def show(work: Work, plans: tuple[Plan, ...]) -> None:
            run_dialog(
                Preview(
                    lambda printer: self._write_work(work, plans, printer),
                    self.session,
                    self.front.remembered,
                    self.front.window,
                )
            )

        self._every_part(show)

    def _every_part(self, then: Callable[[Work, tuple[Plan, ...]], None]) -> None:
        work = self.session.work

        def done(plans: tuple[Plan, ...]) -> None:
            try:
                then(work, plans)
            except FileError as error:
                self.front.refuse(str(error))

        EveryPart(self.session, done, self.front.refuse, self.front.window).begin()

    def _write_work(self, work: Work, plans: tuple[Plan, ...], target: Target) -> None:
        from ...cutting.summary import worked_out
        from ...paper.documents import write_work_pages

        cut_from = work.cut_from or self.session.settings.cut_from
        write_work_pages(
            work,
            plans,
            worked_out(work.parts, self.session.rack, cut_from, work.parts[0].units, 0.0),
            target,
        )

    def print_pages(self, kind: str) -> None:
        """Show the pages of a kind as they will be printed, and print them."""
        from ..dialogs.printing import Preview

        session, writer = self.session, writer_of(kind)
        if writer.needs is Needs.PLAN and (session.plan is None or session.bench_plan.looking):
            self.front.refuse(
                tr("The bends of this part are not planned yet; try again in a moment.")
            )
            return
        subject = Subject(session.job, session.blank, session.plan)
        preview = Preview(
            lambda printer: writer.write(subject, printer),
            session,
            self.front.remembered,
            self.front.window,
        )
        run_dialog(preview)


def file_name(name: str) -> str:
    """A part's name as a file may be called."""
    kept = "".join(c if c.isalnum() else "-" for c in name.lower())
    return "-".join(filter(None, kept.split("-"))) or "job"
