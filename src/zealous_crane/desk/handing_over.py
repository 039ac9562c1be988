"""What the window hands over: files of the part on the bench, its pages on paper, the whole work in one document.

What writes the pages is brought in when something is handed over: no window waits for it.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from ..files.atomic import FileError
from ..files.writer import Needs, Subject, Writer
from ..measure.words import tr
from ..work import Work
from .ask_where import ask_where
from .front import Front
from .page import Target
from .session import Session
from .widget import asked
from .writers import writer_for, writer_of

if TYPE_CHECKING:  # whoever only hands plans on brings no engine in
    from ..plan.result.plan import Plan


class HandingOver:
    """Writes and prints what stands on the bench.

    Args:
        session: the work.
        front: what stands before it.
    """

    def __init__(self, session: Session, front: Front) -> None:
        self.session, self.front = session, front

    def ask(self, writer: Writer) -> None:
        """Ask where to put a sheet, a drawing or a plan. What is asked for is written, whatever the name ends in."""
        ending = writer.ending
        stem = file_name(self.session.job.name) + writer.suffix
        path = ask_where(self.front.window, tr("Hand over"), f"{stem}.{ending}", f"{ending.upper()} (*.{ending})", ending)
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
                tr("{name}: pages are written as .pdf, drawings as .dxf or .svg, plans as .json.").format(name=path.name)
            )
            return False
        if writer.needs is Needs.PLAN and (session.plan is None or session.bench_plan.looking):
            # Only a plan of this very job is ever written, and not one that may change on the screen in a moment.
            self.front.refuse(
                tr("The bends of this part are still being worked out; try again in a moment.")
                if session.bench_plan.planning or session.bench_plan.looking
                else tr("There is no plan of this part yet: planning was called off. Plan again first.")
            )
            return False
        try:
            writer.write(Subject(session.job, session.blank, session.plan, dxf=session.settings.ways.drawings), path)
        except FileError as error:
            self.front.refuse(str(error))
            return False
        self.front.say(tr("Wrote {name}.").format(name=path.name))
        return True

    def ask_work(self) -> None:
        """Ask where to put every part's sheet in one document."""
        stem = file_name(self.session.work.name or self.session.job.name)
        path = ask_where(self.front.window, tr("Hand over"), f"{stem}.pdf", "PDF (*.pdf)", "pdf")
        if path:

            def write(work: Work, plans: tuple[Plan, ...]) -> None:
                self._write_work(work, plans, path)
                self.front.say(tr("Wrote {name}.").format(name=path.name))

            self._every_part(write)

    def print_work(self) -> None:
        """Show every part's sheet as it will be printed, and print them."""

        from .printing import Preview

        def show(work: Work, plans: tuple[Plan, ...]) -> None:
            asked(
                Preview(
                    lambda printer: self._write_work(work, plans, printer),
                    self.session,
                    self.front.remembered,
                    self.front.window,
                )
            )

        self._every_part(show)

    def _every_part(self, then: Callable[[Work, tuple[Plan, ...]], None]) -> None:
        from .every_part import EveryPart

        work = self.session.work

        def done(plans: tuple[Plan, ...]) -> None:
            try:
                then(work, plans)
            except FileError as error:
                self.front.refuse(str(error))

        EveryPart(self.session, done, self.front.refuse, self.front.window).begin()

    def _write_work(self, work: Work, plans: tuple[Plan, ...], target: Target) -> None:
        from ..cut.told import worked_out
        from .work_pages import write_work_pages

        cut_from = work.cut_from or self.session.settings.cut_from
        write_work_pages(work, plans, worked_out(work.parts, self.session.rack, cut_from, work.parts[0].units, 0.0), target)

    def print_pages(self, kind: str) -> None:
        """Show the pages of a kind as they will be printed, and print them."""
        from .printing import Preview

        session, writer = self.session, writer_of(kind)
        if writer.needs is Needs.PLAN and (session.plan is None or session.bench_plan.looking):
            self.front.refuse(tr("The bends of this part are not planned yet; try again in a moment."))
            return
        subject = Subject(session.job, session.blank, session.plan)
        preview = Preview(lambda printer: writer.write(subject, printer), session, self.front.remembered, self.front.window)
        asked(preview)


def file_name(name: str) -> str:
    """A part's name as a file may be called."""
    kept = "".join(c if c.isalnum() else "-" for c in name.lower())
    return "-".join(filter(None, kept.split("-"))) or "job"
