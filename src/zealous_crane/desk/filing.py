"""Where work comes from and goes to: jobs opened and saved, drawings read, pages' codes, and what a window that went down left behind."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMessageBox

from ..files.atomic import FileError
from ..files.job_file import read_work
from ..job import FlatPart, Job
from ..measure import INCH
from ..measure.input_error import INPUT_ERRORS
from ..measure.words import tr
from ..work import Work
from .ask_where import ask_where
from .front import Front
from .handing_over import file_name
from .safety import Found, left_behind
from .saved import ChangedOnDisk, stamp_of
from .session import Session, safety_folder
from .widget import as_text, asked

if TYPE_CHECKING:  # no drawing is read while the window starts
    from ..files.drawing_in import Reading, Taken

JOBS = tr("Jobs (*.crane *.json)")


class Filing:
    """Opens and saves the work of a session.

    Args:
        session: the work.
        front: what stands before it.
    """

    def __init__(self, session: Session, front: Front) -> None:
        self.session, self.front = session, front

    def remember(self, path: Path) -> None:
        """A file was opened or saved."""
        if self.front.remembered is not None:
            self.front.remembered.opened(path)

    def ask_open(self) -> None:
        """Ask which job to open."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self.front.window, tr("Open a job"), "", JOBS)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> bool:
        """Open a job file; the present job stays when it cannot be."""
        try:
            work = read_work(path)
            known = self._on_known_brakes(work)
            if known is None:
                return False
            self.session.start_with(known, path, unsaved=known != work)
            self.remember(path)
        except (*INPUT_ERRORS, OSError) as error:
            self.front.refuse(str(error))
            return False
        return True

    def _on_known_brakes(self, work: Work) -> Work | None:
        """The work, with a brake of this shop chosen by the person where it names one the shop does not have; None when they would
        rather not."""
        brakes = {brake.key: brake.name for brake in self.session.rack.in_use}
        missing = sorted({part.brake for part in work.parts} - {brake.key for brake in self.session.rack.brakes})
        for key in missing:
            names = list(brakes.values())
            name, taken = QInputDialog.getItem(
                self.front.window,
                tr("Another brake"),
                tr("This work was planned on the brake “{key}”, which this shop does not have.\nPlan it on:").format(key=key),
                names,
                0,
                False,
            )
            if not taken:
                return None
            chosen = list(brakes)[names.index(name)]
            parts = tuple(p.model_copy(update={"brake": chosen}) if p.brake == key else p for p in work.parts)
            work = work.model_copy(update={"parts": parts})
        return work

    def ask_code(self) -> None:
        """Open the job a printed page is of, by the code at its foot."""
        text, given = QInputDialog.getText(
            self.front.window, tr("Open by the code on a page"), tr("The code at the foot of the page, like K7QF-2MXA9:")
        )
        if given and text.strip():
            said = self.open_code(text)
            if said:
                self.front.refuse(said)

    def open_code(self, text: str) -> str | None:
        """Open the job of a code, among recent files and what lies beside them; why not, where it is not found."""
        from ..files.page_code import beside, matches, page_code, read_code

        code = read_code(text)
        if code is None:
            return tr("A page's code has four letters or figures, a stroke and five more; {text!r} has not.").format(text=text)
        found = matches(code, beside(self.front.remembered.recent if self.front.remembered is not None else ()))
        if not found:
            return tr("No job with the code {code} is among the recent files, nor beside them.").format(code=code)
        if self.may_leave():
            self.open_file(found[0].path)
            refused = self.session.choose_part(found[0].part)
            if refused:
                return refused
            if not found[0].same:
                self.front.say(tr("The job was changed since that page was printed: its code is {now} now.").format(
                    now=page_code(self.session.job)))  # fmt: skip
        return None

    def ask_drawing(self) -> None:
        """Ask which drawing to read."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self.front.window, tr("Read a drawing"), "", tr("Drawings (*.dxf)"))
        if name:
            said = self.open_drawing(Path(name))
            if said:
                QMessageBox.information(self.front.window, tr("What was read"), as_text("\n\n".join(said)))

    def open_drawing(self, path: Path) -> tuple[str, ...]:
        """Begin with the flat of a drawing; what was assumed or left out, in sentences."""
        from ..files.drawing_in import UnitNotNamedError, read_drawing

        unit: float | None = None
        try:
            try:
                reading = read_drawing(path)
            except UnitNotNamedError as error:
                unit = self._ask_unit(str(error))
                if unit is None:
                    return ()
                reading = read_drawing(path, unit=unit)
            if reading.left_out:
                seen = self._ask_left_out(reading, lambda taken: read_drawing(path, unit=unit, taken=taken))
                if seen is None:
                    return ()
                reading = seen
            job = self.session.job
            made = Job(
                name=path.stem, part=FlatPart(flat=reading.flat), **reading.tolerance.fields, metal=job.metal, own_metal=job.own_metal,
                thickness=job.thickness, radius=job.radius, school=job.school, brake=job.brake, units=job.units,
            )  # fmt: skip
            # The shop's ways, but the units and tolerances that the drawing itself names.
            named = {"units": reading.units(job.units), **reading.tolerance.fields}
            self.session.start_with(self.session.settings.taken_by(made).model_copy(update=named))
        except INPUT_ERRORS as error:
            self.front.refuse(str(error))
            return ()
        self.front.open_bench()
        self.front.say(tr("Read {name}.").format(name=path.name) + (f" {reading.said[0]}" if reading.said else ""))
        # What was asked about has been read already.
        return () if reading.left_out else reading.said

    def _ask_left_out(self, reading: Reading, again: Callable[[dict[int, Taken]], Reading]) -> Reading | None:
        """Show what was left out, and let it be said what it is; None where the drawing is rather not taken."""
        from .drawing_dialog import DrawingDialog

        dialog = DrawingDialog(reading, again, self.front.look, self.front.window)
        return dialog.reading if asked(dialog) else None

    def _ask_unit(self, said: str) -> float | None:
        """Ask in which unit a drawing is drawn, both sizes shown; mm per unit, None where nobody knows."""
        asked = QMessageBox(self.front.window)
        asked.setIcon(QMessageBox.Icon.Question)
        asked.setWindowTitle("Zealous Crane")
        asked.setText(said)
        asked.setTextFormat(Qt.TextFormat.PlainText)
        millimetres = asked.addButton(tr("Millimetres"), QMessageBox.ButtonRole.AcceptRole)
        inches = asked.addButton(tr("Inches"), QMessageBox.ButtonRole.AcceptRole)
        asked.addButton(QMessageBox.StandardButton.Cancel)
        asked.exec()
        clicked = asked.clickedButton()
        return 1.0 if clicked is millimetres else INCH if clicked is inches else None

    def save(self) -> bool:
        """Save where the job came from, or ask."""
        return self.save_to(self.session.path) if self.session.path else self.ask_save()

    def save_to(self, path: Path) -> bool:
        """Save the job to a file; False, with a sentence shown, when it could not be. A file that somebody else changed is asked
        about."""
        try:
            self.session.save(path)
            self.remember(path)
        except ChangedOnDisk as error:
            buttons = QMessageBox.StandardButton
            answer = QMessageBox.question(
                self.front.window, "Zealous Crane", as_text(tr("{error} Save over it? “No” asks for another place.").format(error=error)),
                buttons.Yes | buttons.No | buttons.Cancel, buttons.Cancel,
            )  # fmt: skip
            if answer == buttons.No:
                return self.ask_save()
            if answer != buttons.Yes:
                return False
            return self._save_over(path)
        except FileError as error:
            self.front.refuse(str(error))
            return False
        self.front.say(tr("Saved {name}.").format(name=path.name))
        return True

    def _save_over(self, path: Path) -> bool:
        try:
            self.session.save(path, over=True)
        except FileError as error:
            self.front.refuse(str(error))
            return False
        self.front.say(tr("Saved {name}.").format(name=path.name))
        return True

    def ask_save(self) -> bool:
        """Ask where to save."""
        name = f"{file_name(self.session.job.name)}.crane"
        path = ask_where(self.front.window, tr("Save the job"), name, JOBS, "crane", "json")
        return path is not None and self.save_to(path)

    def may_leave(self) -> bool:
        """Ask about unsaved work; True when it may be left."""
        if not self.session.unsaved:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self.front.window,
            "Zealous Crane",
            as_text(tr("Save “{name}” first?").format(name=self.session.job.name)),
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def offer_recovery(self) -> bool:
        """Offer work that a window left behind when it went down: restored, kept aside, or discarded. True when some was restored."""
        found, said = left_behind(safety_folder())
        for sentence in said:
            self.front.refuse(sentence)
        if not found:
            return False
        from .recovery import Recover, RecoveryDialog

        for one in found:
            dialog = RecoveryDialog(one, self.front.window)
            dialog.exec()
            if dialog.choice is Recover.DISCARD:
                one.discard()
            elif dialog.choice is Recover.ASIDE:
                self.front.say(tr("Kept aside in {keep_aside}.").format(keep_aside=one.keep_aside()))
            elif dialog.choice is Recover.RESTORE and self._restore(one):
                return True
        return False

    def _restore(self, found: Found) -> bool:
        try:
            work = self._on_known_brakes(found.work)
            if work is None:
                return False
            self.session.start_with(work, found.origin, unsaved=True, at=found.at, stamp=found.stamp)
        except (*INPUT_ERRORS, OSError) as error:
            self.front.refuse(
                tr("{error} The copy is kept in {keep_aside}.").format(error=error, keep_aside=found.keep_aside())
            )
            return False
        # The copy found goes when the one in its place is on disk.
        if self.session.keeper.at_once():
            found.discard()
        changed = found.origin is not None and found.stamp is not None and stamp_of(found.origin) != found.stamp
        self.front.say(
            tr("Restored; not saved yet. {name} was changed since, or is gone: saving will ask.").format(name=found.origin.name)
            if changed and found.origin is not None
            else tr("Restored; not saved yet.")
        )
        return True
