"""Files dropped on the window: jobs, drawings, brakes."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QDateTime, QLocale, QMimeData, Qt
from PySide6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ...brake.library import MachineLibrary
from ...errors import INPUT_ERRORS, InputError
from ...flat.on_brake import check_flat, on_brakes
from ...i18n import msg, tr
from ...io.atomic import FileError
from ...io.job_file import read_work
from ...job.job import FlatPart, Job
from ...paint.theme import font
from ...part.size import in_round_figures
from ...part.template import PartTemplate
from ...schema.reading import read_json
from ...shop.settings import ShopSettings
from ...units.length import INCH, Units, round_figure
from ...work.work import Work
from ..state.autosave import Found, left_behind
from ..state.session import Session, safety_folder
from ..state.user_settings import ChangedOnDisk, stamp_of
from ..widgets.save_as import ask_where
from ..widgets.widget import Wrapped, as_text, run_dialog
from .commands import Front
from .exporting import file_name

if TYPE_CHECKING:
    from ...io.dxf_read import DrawingResult, Taken

LARGEST = 20_000_000
"""Bytes; more is no file of this program."""


class Dropped(StrEnum):
    """What a dropped file is."""

    WORK = "work"
    DRAWING = "drawing"
    BRAKE = "brake"


def dropped_file(data: QMimeData) -> Path | None:
    """The first file of a drop that the program can take; None when there is none."""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
    return next(
        (path for path in paths if path.suffix.lower() in (".json", ".crane", ".dxf")), None
    )


def what_is(path: Path) -> Dropped:
    """What a file is: a drawing by its ending, a brake by its key and kind, else a job or work."""
    if path.suffix.lower() == ".dxf":
        return Dropped.DRAWING
    try:
        data = read_json(path, LARGEST)
    except (OSError, InputError):
        return Dropped.WORK  # reading it as a job says what is wrong with it
    brake = (
        isinstance(data, dict)
        and "parts" not in data
        and "part" not in data
        and "key" in data
        and "kind" in data
    )
    return Dropped.BRAKE if brake else Dropped.WORK


def begun(
    work: Work, settings: ShopSettings, rack: MachineLibrary, last: Mapping[str, str]
) -> Work:
    """Work of the same kinds and sizes, one of each, called after its kind, in the metal and on the
    brake used last, as the shop measures.

    Args:
        work: the demonstration.
        settings: of the shop.
        rack: its machines.
        last: metal, thickness, brake and units of the last new part, as far as they are known.
    """
    several = len(work.parts) > 1
    parts = []
    for part in work.parts:
        name = part.name if several else tr(part.part.label)
        parts.append(
            _in_the_shop(
                part.model_copy(update={"name": name, "quantity": 1, "note": ""}),
                settings,
                rack,
                last,
            )
        )
    made = work.model_copy(
        update={"name": work.name if several else parts[0].name, "parts": tuple(parts)}
    )
    return _in_round_figures(made, rack)


def _in_round_figures(work: Work, rack: MachineLibrary) -> Work:
    """The work with sizes and clearances as somebody in its units would choose them; as it is where
    it could not be made so, or where its pieces follow from a duct fitting."""
    if work.fitting is not None:
        return work
    parts = tuple(
        job.model_copy(update={"part": in_round_figures(job.part, job.units)})
        if isinstance(job.part, PartTemplate)
        else job
        for job in work.parts
    )
    fits = tuple(
        fit.model_copy(
            update={"clearance": round_figure(fit.clearance, work.parts[fit.follower].units)}
        )
        for fit in work.fits
    )
    try:
        made = work.model_copy(update={"parts": parts, "fits": fits}).resolved(on_brakes(rack.find))
        for job in made.parts:
            check_flat(job, rack.find(job.brake))
    except INPUT_ERRORS:
        return work
    return made


def as_begun(job: Job) -> dict[str, str]:
    """Metal, thickness, brake and units of a job, as the next new part takes them."""
    return {
        "metal": job.metal,
        "thickness": job.thickness,
        "brake": job.brake,
        "units": job.units.value,
    }


def _in_the_shop(
    job: Job, settings: ShopSettings, rack: MachineLibrary, last: Mapping[str, str]
) -> Job:
    job = settings.apply_to_new_job(job)
    fields: dict[str, object] = {}
    offered = [brake.key for brake in rack.in_use]
    if last.get("brake") in offered:
        fields["brake"] = last["brake"]
    elif job.brake not in offered:
        # The examples give way to the shop's own machines.
        fields["brake"] = offered[0]
    if last.get("units") in {unit.value for unit in Units}:
        fields["units"] = last["units"]
    if last.get("metal") in settings.every_metal and last.get("thickness"):
        fields |= {
            "metal": last["metal"],
            "own_metal": settings.own_metal(last["metal"]),
            "thickness": last["thickness"],
            "radius": None,
            "school": None,
            "springback": None,
            "springback_from": "",
        }
    try:
        made = Job.model_validate({**job.model_dump(), **fields})
        check_flat(made, rack.find(made.brake))
        return made
    except INPUT_ERRORS:
        # The demonstration's sizes are not to be had in that metal: it begins in its own.
        return job


def told_apart(name: str, taken: Iterable[str]) -> str:
    """A name nobody has yet: itself, or with a number behind it."""
    known = set(taken)
    return next(n for n in (name, *(f"{name} {i}" for i in range(2, 10_000))) if n not in known)


class Recover(StrEnum):
    """What becomes of it."""

    RESTORE = "restore"
    ASIDE = "aside"
    DISCARD = "discard"
    LATER = "later"


class RecoveryDialog(QDialog):
    """Says from when the work is and which parts it has; asks what to do. Closed without an answer
    it is offered again next time.

    Args:
        found: the work.
        parent: the window.
    """

    def __init__(self, result: Found, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.choice = Recover.LATER
        self.setWindowTitle(tr("Recovered work"))
        head = QLabel(tr("The program closed unexpectedly with this job open:"))
        head.setFont(font(12, strong=True))
        parts = "\n".join(f"·  {part.name} — {part.sheet.name}" for part in result.work.parts)
        origin = (
            tr("It belongs to {origin}.").format(origin=result.origin)
            if result.origin is not None
            else tr("It was never saved to a file.")
        )
        when = QLocale().toString(
            QDateTime.fromSecsSinceEpoch(int(result.saved.timestamp())),
            "dddd d MMMM yyyy, HH:mm:ss",
        )
        self.says = Wrapped(
            tr("{parts}\n\nWritten {when}. {origin}\nRestored, it counts as not saved yet.").format(
                parts=parts, when=when, origin=origin
            )
        )
        self.says.setTextFormat(Qt.TextFormat.PlainText)
        self.says.setFixedWidth(560)
        self.says.setMinimumHeight(self.says.heightForWidth(560))
        row = QHBoxLayout()
        self.buttons: dict[Recover, QPushButton] = {}
        for choice, text in (
            (Recover.RESTORE, tr("Restore it")),
            (Recover.ASIDE, tr("Keep it aside")),
            (Recover.DISCARD, tr("Discard it")),
            (Recover.LATER, tr("Ask me later")),
        ):
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, choice=choice: self._choose(choice))
            self.buttons[choice] = button
            row.addWidget(button)
        self.buttons[Recover.RESTORE].setDefault(True)
        box = QVBoxLayout(self)
        box.setSpacing(14)
        box.addWidget(head)
        box.addWidget(self.says)
        box.addLayout(row)

    def _choose(self, choice: Recover) -> None:
        self.choice = choice
        self.accept()


JOBS = msg("Jobs (*.crane *.json)")


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
        name, _ = QFileDialog.getOpenFileName(self.front.window, tr("Open a job"), "", str(JOBS))
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
        """The work, with a brake of this shop chosen by the person where it names one the shop does
        not have; None when they would rather not."""
        brakes = {brake.key: brake.name for brake in self.session.rack.in_use}
        missing = sorted(
            {part.brake for part in work.parts} - {brake.key for brake in self.session.rack.brakes}
        )
        for key in missing:
            names = list(brakes.values())
            name, taken = QInputDialog.getItem(
                self.front.window,
                tr("Another brake"),
                tr(
                    "This work was planned on the brake “{key}”, which this shop does not "
                    "have.\nPlan it on:"
                ).format(key=key),
                names,
                0,
                False,
            )
            if not taken:
                return None
            chosen = list(brakes)[names.index(name)]
            parts = tuple(
                p.model_copy(update={"brake": chosen}) if p.brake == key else p for p in work.parts
            )
            work = work.model_copy(update={"parts": parts})
        return work

    def ask_code(self) -> None:
        """Open the job a printed page is of, by the code at its foot."""
        text, given = QInputDialog.getText(
            self.front.window,
            tr("Open by the code on a page"),
            tr("The code at the foot of the page, like K7QF-2MXA9:"),
        )
        if given and text.strip():
            sentence = self.open_code(text)
            if sentence:
                self.front.refuse(sentence)

    def open_code(self, text: str) -> str | None:
        """Open the job of a code, among recent files and what lies beside them; why not, where it
        is not found."""
        from ...io.job_file import beside, matches, page_code, read_code

        code = read_code(text)
        if code is None:
            return tr(
                "A page's code has four letters or figures, a stroke and five more; {text!r} has "
                "not."
            ).format(text=text)
        result = matches(
            code, beside(self.front.remembered.recent if self.front.remembered is not None else ())
        )
        if not result:
            return tr(
                "No job with the code {code} is among the recent files, nor beside them."
            ).format(code=code)
        if self.may_leave():
            self.open_file(result[0].path)
            refused = self.session.parts.choose(result[0].part)
            if refused:
                return refused
            if not result[0].same:
                self.front.say(
                    tr(
                        "The job was changed since that page was printed: its code is {now} now."
                    ).format(now=page_code(self.session.job))
                )
        return None

    def ask_drawing(self) -> None:
        """Ask which drawing to read."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(
            self.front.window, tr("Read a drawing"), "", tr("Drawings (*.dxf)")
        )
        if name:
            text = self.open_drawing(Path(name))
            if text:
                QMessageBox.information(
                    self.front.window, tr("What was read"), as_text("\n\n".join(text))
                )

    def open_drawing(self, path: Path) -> tuple[str, ...]:
        """Begin with the flat of a drawing; what was assumed or left out, in sentences."""
        from ...io.dxf_read import UnitNotNamedError, read_drawing

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
                seen = self._ask_left_out(
                    reading, lambda taken: read_drawing(path, unit=unit, taken=taken)
                )
                if seen is None:
                    return ()
                reading = seen
            job = self.session.job
            made = Job(
                name=path.stem,
                part=FlatPart(flat=reading.flat),
                metal=job.metal,
                own_metal=job.own_metal,
                thickness=job.thickness,
                radius=job.radius,
                school=job.school,
                brake=job.brake,
                units=job.units,
            )
            # The shop's ways, but the units and tolerances that the drawing itself names.
            named = {"units": reading.units(job.units), **reading.tolerance.fields}
            self.session.start_with(
                self.session.settings.apply_to_new_job(made).model_copy(update=named)
            )
        except INPUT_ERRORS as error:
            self.front.refuse(str(error))
            return ()
        self.front.open_bench()
        self.front.say(
            tr("Read {name}.").format(name=path.name)
            + (f" {reading.notes[0]}" if reading.notes else "")
        )
        # What was asked about has been read already.
        return () if reading.left_out else reading.notes

    def _ask_left_out(
        self, reading: DrawingResult, again: Callable[[dict[int, Taken]], DrawingResult]
    ) -> DrawingResult | None:
        """Show what was left out, and let it be said what it is; None where the drawing is rather
        not taken."""
        from ..dialogs.drawing import DrawingDialog

        dialog = DrawingDialog(reading, again, self.front.look, self.front.window)
        return dialog.reading if run_dialog(dialog) else None

    def _ask_unit(self, text: str) -> float | None:
        """Ask in which unit a drawing is drawn, both sizes shown; mm per unit, None where nobody
        knows."""
        run_dialog = QMessageBox(self.front.window)
        run_dialog.setIcon(QMessageBox.Icon.Question)
        run_dialog.setWindowTitle("Zealous Crane")
        run_dialog.setText(text)
        run_dialog.setTextFormat(Qt.TextFormat.PlainText)
        millimetres = run_dialog.addButton(tr("Millimetres"), QMessageBox.ButtonRole.AcceptRole)
        inches = run_dialog.addButton(tr("Inches"), QMessageBox.ButtonRole.AcceptRole)
        run_dialog.addButton(QMessageBox.StandardButton.Cancel)
        run_dialog.exec()
        clicked = run_dialog.clickedButton()
        return 1.0 if clicked is millimetres else INCH if clicked is inches else None

    def save(self) -> bool:
        """Save where the job came from, or ask."""
        return self.save_to(self.session.path) if self.session.path else self.ask_save()

    def save_to(self, path: Path) -> bool:
        """Save the job to a file; False, with a sentence shown, when it could not be. A file that
        somebody else changed is asked about."""
        try:
            self.session.save(path)
            self.remember(path)
        except ChangedOnDisk as error:
            buttons = QMessageBox.StandardButton
            answer = QMessageBox.question(
                self.front.window,
                "Zealous Crane",
                as_text(
                    tr("{error} Save over it? “No” asks for another place.").format(error=error)
                ),
                buttons.Yes | buttons.No | buttons.Cancel,
                buttons.Cancel,
            )
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
        path = ask_where(self.front.window, tr("Save the job"), name, str(JOBS), "crane", "json")
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
        """Offer work that a window left behind when it went down: restored, kept aside, or
        discarded. True when some was restored."""
        result, text = left_behind(safety_folder())
        for sentence in text:
            self.front.refuse(sentence)
        if not result:
            return False

        for one in result:
            dialog = RecoveryDialog(one, self.front.window)
            dialog.exec()
            if dialog.choice is Recover.DISCARD:
                one.discard()
            elif dialog.choice is Recover.ASIDE:
                self.front.say(
                    tr("Kept aside in {keep_aside}.").format(keep_aside=one.keep_aside())
                )
            elif dialog.choice is Recover.RESTORE and self._restore(one):
                return True
        return False

    def _restore(self, result: Found) -> bool:
        try:
            work = self._on_known_brakes(result.work)
            if work is None:
                return False
            self.session.start_with(
                work, result.origin, unsaved=True, at=result.at, stamp=result.stamp
            )
        except (*INPUT_ERRORS, OSError) as error:
            self.front.refuse(
                tr("{error} The copy is kept in {keep_aside}.").format(
                    error=error, keep_aside=result.keep_aside()
                )
            )
            return False
        # The copy found goes when the one in its place is on disk.
        if self.session.keeper.write_now():
            result.discard()
        changed = (
            result.origin is not None
            and result.stamp is not None
            and stamp_of(result.origin) != result.stamp
        )
        self.front.say(
            tr(
                "Restored; not saved yet. {name} was changed since, or is gone: saving will ask."
            ).format(name=result.origin.name)
            if changed and result.origin is not None
            else tr("Restored; not saved yet.")
        )
        return True
