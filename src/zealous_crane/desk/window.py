"""The window: header, verdict, rail of stages, and the commands in menus and on keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from pathlib import Path
from typing import TypeVar

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QCloseEvent, QDragEnterEvent, QDropEvent, QKeySequence, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QHBoxLayout,
    QInputDialog,
    QMainWindow,
    QMenu,
    QMessageBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ..brake import Brake, BrakeError, read_brake
from ..brake.begin import NEW
from ..files import DrawingError, FileError, read_drawing, read_work
from ..files.page_code import beside, matches, page_code, read_code
from ..job import FlatPart, Job
from ..measure.words import tr
from ..shop.book import BookError
from ..work import Work
from .about import ask_report, show_about, show_keys, show_log, show_safety
from .begun import begun, told_apart
from .brake_dialog import BrakeDialog
from .commands import COMMANDS
from .device_dialog import DeviceDialog
from .dropped import Dropped, dropped_file, what_is
from .fitting_dialog import FittingDialog
from .handing_over import HandingOver, file_name, with_ending
from .header import Header
from .manual import page_for
from .manual_window import ManualWindow
from .pages import Pages
from .palette import Palette
from .practice_page import PracticePage
from .preferences import PreferencesDialog
from .rail import Rail
from .recovery import Recover, RecoveryDialog
from .remembered import Remembered
from .rows_dialog import RowsDialog
from .safety import Found, left_behind
from .session import ChangedOnDisk, Session, safety_folder
from .shop import ShopDialog, ShopDoors
from .stage import Doors, Stage
from .stages import STAGES, AtBrake, BendStage, LayoutStage, ShapeStage, ToolingStage
from .start import StartPage
from .strip_dialog import StripDialog
from .theme import DARK, LIGHT, Look, palette, style_sheet
from .verdict import VerdictBar
from .widget import asked
from .writers import WRITERS

JOBS = tr("Jobs (*.crane *.json)")

OPENING = STAGES[0].id
"""The stage a job opens on."""

P = TypeVar("P", bound=QWidget)


class Window(QMainWindow):
    """The one window.

    Args:
        session: the state behind it.
        look: its colours.
        remembered: where recent files, its place and its look are kept; None keeps none.
    """

    def __init__(self, session: Session, look: Look = LIGHT, remembered: Remembered | None = None) -> None:
        super().__init__()
        self.session = session
        self.look = look
        self.remembered = remembered
        self.handing = HandingOver(session, self, lambda: self.remembered, self.say, self._refuse)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self._build()
        self._commands()
        session.complained.connect(self.say)
        session.changed.connect(self._retitle)
        session.changed.connect(self.statusBar().clearMessage)
        # What is typed in another field is a step of undo of its own.
        QApplication.instance().focusChanged.connect(self._focus_moved)  # type: ignore[union-attr]
        QApplication.styleHints().colorSchemeChanged.connect(self._desktop_changed)
        self._retitle()

    def _focus_moved(self, _old: QWidget | None, _new: QWidget | None) -> None:
        self.session.settle()

    def _build(self) -> None:
        look, session = self.look, self.session
        QApplication.setPalette(palette(look))
        self.setStyleSheet(style_sheet(look))
        self.header = Header(session)
        self.verdict = VerdictBar(session, look)
        self.rail = Rail(look, STAGES)
        doors = Doors(lambda: self.show_start(adding=True), self.ask_edit_brake)
        self.stack = QStackedWidget()
        self.stages = Pages(self.stack, {stage.id: partial(self._make, stage, doors) for stage in STAGES})
        self.rail.chosen.connect(self.show_stage)
        middle = QHBoxLayout()
        middle.setContentsMargins(0, 0, 0, 0)
        middle.setSpacing(0)
        middle.addWidget(self.rail)
        middle.addWidget(self.stack, 1)
        whole = QWidget()
        box = QVBoxLayout(whole)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.header)
        box.addWidget(self.verdict)
        box.addLayout(middle, 1)
        self.setCentralWidget(whole)
        self.show_stage(OPENING)
        self.shape.focus_first()

    def _make(self, stage: Stage, doors: Doors) -> QWidget:
        return stage.make(self.session, self.look, doors)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.stages.make_ahead(self)

    @cached_property
    def start(self) -> StartPage:
        """The page where work begins; made when it is first wanted."""
        page = StartPage(
            self.look,
            self.begin,
            self.add_part,
            (self.ask_open, self.ask_drawing, self.ask_fitting),
            lambda: self.show_stage(OPENING),
        )
        self.stack.addWidget(page)
        return page

    @cached_property
    def at_brake(self) -> AtBrake:
        """The page for reading at the brake; made when it is first wanted."""
        page = AtBrake(self.session, self.look, lambda: self.show_stage("bend"))
        self.stack.addWidget(page)
        return page

    @cached_property
    def practice(self) -> PracticePage:
        """The place to learn; made when it is first wanted."""
        page = PracticePage(self.session, self.look, lambda: self.show_stage(OPENING))
        self.stack.addWidget(page)
        return page

    def show_practice(self) -> None:
        """The place to learn."""
        self._bench_shown(False)
        self.stack.setCurrentWidget(self.practice)
        self.practice.begin()

    @property
    def shape(self) -> ShapeStage:
        """The page of the shape."""
        return self._page("shape", ShapeStage)

    @property
    def layout_stage(self) -> LayoutStage:
        """The page of the blank."""
        return self._page("lay-out", LayoutStage)

    @property
    def tooling(self) -> ToolingStage:
        """The page of the set-up."""
        return self._page("tool-up", ToolingStage)

    @property
    def bend(self) -> BendStage:
        """The page of the bends."""
        return self._page("bend", BendStage)

    def _page(self, stage: str, kind: type[P]) -> P:
        page = self.stages[stage]
        assert isinstance(page, kind)
        return page

    def _commands(self) -> None:
        deeds = self._deeds()
        menus: dict[str, QMenu] = {}
        self.commands: dict[str, QAction] = {}
        for command in COMMANDS:
            if command.menu not in menus:
                menus[command.menu] = self.menuBar().addMenu(command.menu)
            action = QAction(command.text, self)
            action.setShortcuts([QKeySequence(keys) for keys in command.keys.split("; ")])
            action.triggered.connect(lambda _=False, run=deeds[command.id]: run())
            menus[command.menu].addAction(action)
            self.commands[command.id] = action
            if command.id == "job.open":
                self.recent = menus[command.menu].addMenu(tr("Open re&cent"))
                self.recent.aboutToShow.connect(self._list_recent)
        self.session.changed.connect(self._enable)
        self._enable()

    def _list_recent(self) -> None:
        self.recent.clear()
        for path in self.remembered.recent if self.remembered is not None else ():
            action = self.recent.addAction(path.name)
            action.setToolTip(str(path))
            action.triggered.connect(lambda _=False, path=path: self.may_leave() and self.open_file(path))
        if not self.recent.actions():
            self.recent.addAction(tr("nothing yet")).setEnabled(False)

    def _remember(self, path: Path) -> None:
        if self.remembered is not None:
            self.remembered.opened(path)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if dropped_file(event.mimeData()) is not None:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """A job, a drawing or a brake dropped on the window."""
        path = dropped_file(event.mimeData())
        if path is None:
            return
        event.acceptProposedAction()
        kind = what_is(path)
        if kind is Dropped.BRAKE:
            self.bring_brake(path)
        elif self.may_leave():
            self.open_drawing(path) if kind is Dropped.DRAWING else self.open_file(path)

    def full_screen(self) -> None:
        """The whole screen, or back."""
        self.showNormal() if self.isFullScreen() else self.showFullScreen()

    def _deeds(self) -> dict[str, Callable[[], object]]:
        """What every command does, by its id."""
        return {
            **{f"hand-over.{writer.id}": partial(self.handing.ask, writer) for writer in WRITERS},
            **{f"stage.{stage.id}": partial(self.show_stage, stage.id) for stage in STAGES},
            "job.new": self.show_start,
            "job.add-part": lambda: self.show_start(adding=True),
            "job.fitting": self.ask_fitting,
            "hand-over.work": self.handing.ask_work,
            "print.work": self.handing.print_work,
            "print.sheet": partial(self.handing.print_pages, "sheet"),
            "print.marking": partial(self.handing.print_pages, "marking"),
            "bench.rows": self.ask_rows,
            "job.open": self.ask_open,
            "job.by-code": self.ask_code,
            "job.read-drawing": self.ask_drawing,
            "job.save": self.save,
            "job.save-as": self.ask_save,
            "job.close": self.close,
            "edit.undo": self.session.undo,
            "edit.redo": self.session.redo,
            "shop.edit-brake": self.ask_edit_brake,
            "shop.new-brake": self.ask_new_brake,
            "shop.bring-in": self.ask_brake,
            "shop.open": self.show_shop,
            "shop.devices": lambda: asked(DeviceDialog(self.session.devices, self)),
            "shop.book": self.show_book,
            "shop.test-strip": self.ask_test_strip,
            "stage.at-the-brake": self.show_at_brake,
            "bend.order": self.ask_order,
            "bend.next": lambda: self.step_bend(1),
            "bend.before": lambda: self.step_bend(-1),
            "practice.open": self.show_practice,
            "view.look": self.toggle_look,
            "view.palette": lambda: Palette(self.commands, self).open(),
            "view.preferences": self.show_preferences,
            "view.full-screen": self.full_screen,
            "help.manual": self.show_manual,
            "help.safety": partial(show_safety, self),
            "help.keys": partial(show_keys, self),
            "help.about": partial(show_about, self),
            "help.log": partial(show_log, self),
            "help.report": self.save_report,
        }

    def _enable(self) -> None:
        self.commands["edit.undo"].setEnabled(self.session.can_undo)
        self.commands["edit.redo"].setEnabled(self.session.can_redo)

    def _retitle(self) -> None:
        where = self.session.path.name if self.session.path else tr("not saved yet")
        star = " •" if self.session.unsaved else ""
        self.setWindowTitle(
            tr("{name}{star} — {where} — Zealous Crane").format(name=self.session.job.name, star=star, where=where)
        )

    # --- stages -------------------------------------------------------------------------------------------------

    def show_stage(self, stage: str) -> None:
        """Open a stage, by its id."""
        self._bench_shown(True)
        self.stack.setCurrentWidget(self.stages[stage])
        self.rail.show_stage(stage)

    def show_at_brake(self) -> None:
        """The full window for reading at the brake."""
        self._bench_shown(False)
        self.rail.hide()
        self.stack.setCurrentWidget(self.at_brake)
        self.at_brake.begin()

    def step_bend(self, by: int) -> None:
        """Open the next bend, or the one before."""
        plan = self.session.plan
        if plan is not None and plan.strokes:
            self.show_stage("bend")
            self.bend.choose(max(0, min(self.bend.chosen + by, len(plan.strokes) - 1)))

    def set_dark(self, dark: bool | None) -> None:
        """Take the dark look, or the light one, and keep to it; None follows the desktop."""
        if self.remembered is not None:
            self.remembered.dark = dark
        self._take_look(looked_for(dark))

    def toggle_look(self) -> None:
        """Change between light and dark."""
        self.set_dark(not self.look.dark)

    def _desktop_changed(self) -> None:
        """The desktop went from light to dark, or back."""
        if self.remembered is not None and self.remembered.dark is None:
            self._take_look(looked_for(None))

    def _take_look(self, look: Look) -> None:
        if look is self.look:
            return
        self.look = look
        QApplication.setPalette(palette(self.look))
        self.setStyleSheet(style_sheet(self.look))
        for widget in self.findChildren(QWidget):
            if isinstance(getattr(widget, "look", None), Look):
                widget.look = self.look  # type: ignore[attr-defined]
                widget.update()
        self.bend.refresh()
        self.update()

    # --- files --------------------------------------------------------------------------------------------------

    def ask_code(self) -> None:
        """Open the job a printed page is of, by the code at its foot."""
        text, given = QInputDialog.getText(
            self, tr("Open by the code on a page"), tr("The code at the foot of the page, like K7QF-2MXA9:")
        )
        if given and text.strip():
            said = self.open_code(text)
            if said:
                self._refuse(said)

    def open_code(self, text: str) -> str | None:
        """Open the job of a code, among recent files and what lies beside them; why not, where it is not found."""
        code = read_code(text)
        if code is None:
            return tr("A page's code has four letters or figures, a stroke and five more; {text!r} has not.").format(text=text)
        found = matches(code, beside(self.remembered.recent if self.remembered is not None else ()))
        if not found:
            return tr("No job with the code {code} is among the recent files, nor beside them.").format(code=code)
        if self.may_leave():
            self.open_file(found[0].path)
            refused = self.session.choose_part(found[0].part)
            if refused:
                return refused
            if not found[0].same:
                self.say(tr("The job was changed since that page was printed: its code is {now} now.").format(
                    now=page_code(self.session.job)))  # fmt: skip
        return None

    def say(self, sentence: str) -> None:
        """Show a sentence at the foot of the window until the next one."""
        self.statusBar().showMessage(sentence, 20_000)

    def _refuse(self, sentence: str) -> None:
        self.say(sentence)
        # A name may look like markup; it is text.
        QMessageBox.warning(self, "Zealous Crane", sentence.replace("<", "‹"))

    def show_start(self, *, adding: bool = False) -> None:
        """The page where work begins, or where a part is added."""
        self.start.show_for(adding=adding)
        self._bench_shown(False)
        self.stack.setCurrentWidget(self.start)

    def _bench_shown(self, shown: bool) -> None:
        """What belongs to the work on the bench is hidden while another is chosen."""
        for widget in (self.header, self.verdict):
            widget.setVisible(shown)
        if not shown:
            self.rail.show_none()
        self.rail.show()

    def begin(self, work: Work) -> None:
        """Begin with work like this."""
        if self.may_leave():
            self.session.start_with(self._like(work))
            self.show_stage(OPENING)
            self.shape.focus_first()

    def _like(self, work: Work) -> Work:
        return begun(
            work, self.session.settings, self.session.rack, self.remembered.last if self.remembered is not None else {}
        )

    def add_part(self, work: Work) -> None:
        """Add the first part of this to the work on the bench."""
        part = self._like(Work.of(work.parts[0])).parts[0]
        name = told_apart(part.name, (p.name for p in self.session.work.parts))
        said = self.session.add_part(part.model_copy(update={"name": name}))
        if said:
            self._refuse(said)
        else:
            self.show_stage(OPENING)

    def ask_fitting(self) -> None:
        """Ask for the sizes of a duct fitting: those of the work on the bench, where it is one."""
        fitting, job = self.session.work.fitting, self.session.job
        if fitting is None and not self.may_leave():
            return
        dialog = FittingDialog(fitting, job, self)
        if dialog.exec() == FittingDialog.DialogCode.Accepted:
            if fitting is None:
                self.session.start_with(Work.of_fitting(dialog.fitting), unsaved=True)
            else:
                said = self.session.set_fitting(dialog.fitting)
                if said:
                    self._refuse(said)
            self.show_stage(OPENING)

    def ask_drawing(self) -> None:
        """Ask which drawing to read."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self, tr("Read a drawing"), "", tr("Drawings (*.dxf)"))
        if name:
            said = self.open_drawing(Path(name))
            if said:
                QMessageBox.information(self, tr("What was read"), "\n\n".join(said))

    def open_drawing(self, path: Path) -> tuple[str, ...]:
        """Begin with the flat of a drawing; what was assumed or left out, in sentences."""
        try:
            reading = read_drawing(path)
            job = self.session.job
            made = Job(
                name=path.stem, part=FlatPart(flat=reading.flat), **reading.tolerance.fields, metal=job.metal, own_metal=job.own_metal,
                thickness=job.thickness, radius=job.radius, school=job.school, brake=job.brake, units=job.units,
            )  # fmt: skip
            self.session.start_with(made)
        except (DrawingError, ValueError) as error:
            self._refuse(str(error))
            return ()
        self.show_stage(OPENING)
        self.say(tr("Read {name}.").format(name=path.name) + (f" {reading.said[0]}" if reading.said else ""))
        return reading.said

    def open_file(self, path: Path) -> bool:
        """Open a job file; the present job stays when it cannot be."""
        try:
            work = read_work(path)
            known = self._on_known_brakes(work)
            if known is None:
                return False
            self.session.start_with(known, path, unsaved=known != work)
            self._remember(path)
        except (ValueError, OSError) as error:
            self._refuse(str(error))
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
                self,
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

    def offer_recovery(self) -> None:
        """Offer work that a window left behind when it went down: restored, kept aside, or discarded."""
        found, said = left_behind(safety_folder())
        for sentence in said:
            self._refuse(sentence)
        for one in found:
            dialog = RecoveryDialog(one, self)
            dialog.exec()
            if dialog.choice is Recover.DISCARD:
                one.discard()
            elif dialog.choice is Recover.ASIDE:
                self.say(tr("Kept aside in {keep_aside}.").format(keep_aside=one.keep_aside()))
            elif dialog.choice is Recover.RESTORE and self._restore(one):
                return

    def _restore(self, found: Found) -> bool:
        try:
            work = self._on_known_brakes(found.work)
            if work is None:
                return False
            self.session.start_with(work, found.origin, unsaved=True, at=found.at)
        except (ValueError, OSError) as error:
            self._refuse(tr("{error} The copy is kept in {keep_aside}.").format(error=error, keep_aside=found.keep_aside()))
            return False
        self.session.keep_safe()
        found.discard()
        self.say(tr("Restored; not saved yet."))
        return True

    def ask_open(self) -> None:
        """Ask which job to open."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self, tr("Open a job"), "", JOBS)
        if name:
            self.open_file(Path(name))

    def save(self) -> bool:
        """Save where the job came from, or ask."""
        return self.save_to(self.session.path) if self.session.path else self.ask_save()

    def save_to(self, path: Path) -> bool:
        """Save the job to a file; False, with a sentence shown, when it could not be. A file that somebody else changed is asked
        about."""
        try:
            self.session.save(path)
            self._remember(path)
        except ChangedOnDisk as error:
            buttons = QMessageBox.StandardButton
            answer = QMessageBox.question(
                self, "Zealous Crane", tr("{error} Save over it? “No” asks for another place.").format(error=error),
                buttons.Yes | buttons.No | buttons.Cancel, buttons.Cancel,
            )  # fmt: skip
            if answer == buttons.No:
                return self.ask_save()
            if answer != buttons.Yes:
                return False
            return self._save_over(path)
        except FileError as error:
            self._refuse(str(error))
            return False
        self.say(tr("Saved {name}.").format(name=path.name))
        return True

    def _save_over(self, path: Path) -> bool:
        try:
            self.session.save(path, over=True)
        except FileError as error:
            self._refuse(str(error))
            return False
        self.say(tr("Saved {name}.").format(name=path.name))
        return True

    def ask_save(self) -> bool:
        """Ask where to save."""
        name, _ = QFileDialog.getSaveFileName(self, tr("Save the job"), f"{file_name(self.session.job.name)}.crane", JOBS)
        path = Path(name)
        return bool(name) and self.save_to(path if path.suffix.lower() == ".json" else with_ending(path, "crane"))

    def ask_brake(self) -> None:
        """Ask for a brake file and keep it in the shop."""
        name, _ = QFileDialog.getOpenFileName(self, tr("Bring in a brake"), "", tr("Brakes (*.json)"))
        if name:
            self.bring_brake(Path(name))

    def show_book(self) -> None:
        """Look into the shop's book."""
        # The store is loaded when the book is first opened.
        from .book_dialog import BookDialog

        try:
            BookDialog(self.session, self.look, self).open()
        except BookError as error:
            self._refuse(str(error))

    def ask_rows(self) -> None:
        """Ask for rows of rivets, spots and screws."""
        RowsDialog(self.session, self.look, self).exec()

    def ask_test_strip(self) -> None:
        """The test strip of the part on the bench: put on the bench, or its measures taken."""
        StripDialog(self.session, self.look, self, lambda: self.show_stage(OPENING)).open()

    def ask_order(self) -> None:
        """Let the person say what is wanted of the order of the bends."""
        self.bend.ask_order()

    def show_shop(self) -> None:
        """The shop: its machines, and what is in stock."""
        asked(ShopDialog(self.session, self.look, self, ShopDoors(self.ask_new_brake, self.ask_edit_brake, self.bring_brake)))
        self.header.refresh()

    def ask_new_brake(self) -> None:
        """A brake of the person's own: of a kind, from what is usual, with the sizes they take from it."""
        kinds = {kind.label: kind for kind in NEW}
        name, taken = QInputDialog.getItem(self, tr("Your own brake"), tr("What kind of machine is it?"), list(kinds), 0, False)
        if not taken:
            return
        brake = kinds[name].begin(self.session.rack)
        dialog = BrakeDialog(brake, self.session.job.units, self.look, self)
        if asked(dialog):
            self.keep_brake(dialog.brake)

    def ask_edit_brake(self) -> None:
        """Edit the brake in use; what is kept is written into the shop's own folder."""
        brake = self.session.rack[self.session.job.brake]
        dialog = BrakeDialog(brake, self.session.job.units, self.look, self)
        if asked(dialog) and dialog.brake != brake:
            self.keep_brake(dialog.brake)

    def bring_brake(self, path: Path) -> bool:
        """Take a brake file into the shop and plan on it."""
        try:
            return self.keep_brake(read_brake(path))
        except BrakeError as error:
            self._refuse(str(error))
            return False

    def keep_brake(self, brake: Brake) -> bool:
        """Keep a brake in the shop, in its own folder of files, and plan on it."""
        said = self.session.keep_brake(brake)
        if said:
            self._refuse(said)
            return False
        self.header.refresh()
        return True

    def show_preferences(self) -> None:
        """Preferences of the person and the shop."""

        def text(percent: int) -> None:
            if self.remembered is not None:
                self.remembered.text = percent
            self.say(tr("The text is {percent} % from the next start on.").format(percent=percent))

        PreferencesDialog(
            self.session, self, dark=self.remembered.dark if self.remembered is not None else self.look.dark,
            text=self.remembered.text if self.remembered is not None else 100,
            set_dark=self.set_dark, set_text=text,
        ).exec()  # fmt: skip
        self.header.refresh()

    @cached_property
    def manual(self) -> ManualWindow:
        """The manual; made when it is first wanted."""
        return ManualWindow(self.look, self)

    def show_manual(self) -> None:
        """The manual, at the page that tells of what is on the screen."""
        shown = self.stack.currentWidget()
        place = self.stages.of(shown) or "start"
        if "practice" in self.__dict__ and shown is self.practice:
            place = "practice"
        elif "at_brake" in self.__dict__ and shown is self.at_brake:
            place = "at-the-brake"
        self.manual.show_page(page_for(place))

    def save_report(self) -> None:
        """A report for whoever mends a fault."""
        said = ask_report(self, self.session.job)
        if said:
            self.say(said)

    def may_leave(self) -> bool:
        """Ask about unsaved work; True when it may be left."""
        if not self.session.unsaved:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            "Zealous Crane",
            tr("Save “{name}” first?").format(name=self.session.job.name),
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about unsaved work, then let go of everything."""
        if not self.may_leave():
            event.ignore()
            return
        if self.remembered is not None:
            self.remembered.leave(self.saveGeometry())
            job = self.session.job
            self.remembered.last = {
                "metal": job.metal,
                "thickness": job.thickness,
                "brake": job.brake,
                "units": job.units.value,
            }
        self.session.close()
        event.accept()


def looked_for(dark: bool | None) -> Look:
    """The look a person chose; None is what the desktop is in."""
    if dark is None:
        dark = QApplication.styleHints().colorScheme() is Qt.ColorScheme.Dark
    return DARK if dark else LIGHT
