"""The window: header, verdict, rail of stages, and the commands in menus and on keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import (
    QAction,
    QCloseEvent,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
    QShowEvent,
)
from PySide6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QMainWindow,
    QMenu,
    QMessageBox,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ...demo import demo_job
from ...i18n import Message, tr
from ...paint.application import application, speak_to
from ...paint.theme import DARK, LIGHT, Theme, palette, style_sheet
from ...paper.writers import WRITERS
from ...units.length import Units
from ...work.work import Work
from ..pages.registry import STAGES
from ..pages.stage import Doors, Stage, StagePages
from ..state.session import Session
from ..state.user_settings import Remembered
from ..widgets.widget import LazyView, as_text, run_dialog
from .actions import Dialogs
from .commands import COMMANDS, Front
from .exporting import HandingOver
from .filing import Dropped, Filing, as_begun, begun, dropped_file, told_apart, what_is
from .header import Header, Rail, VerdictBar

if TYPE_CHECKING:
    from ...paper.work_steps import Station

OPENING = STAGES[0].id
"""The stage a job opens on."""

P = TypeVar("P", bound=QWidget)


class Window(QMainWindow):
    """The one window.

    Args:
        session: the state behind it.
        look: its colours.
        remembered: where recent files, its place and its look are kept; None keeps none.

    Signals:
        renewed: another window has taken its place around the same session.
    """

    renewed = Signal(object)

    def __init__(
        self, session: Session, look: Theme = LIGHT, remembered: Remembered | None = None
    ) -> None:
        super().__init__()
        self.session = session
        self.front = Front(
            window=self,
            look=look,
            remembered=remembered,
            say=self.say,
            refuse=self._refuse,
            open_bench=partial(self.show_stage, OPENING),
            brakes_changed=self._brakes_changed,
            set_dark=self.set_dark,
            renew=partial(QTimer.singleShot, 0, self.renew),
        )
        self.filing = Filing(session, self.front)
        self.handing = HandingOver(session, self.front)
        self.dialogs = Dialogs(session, self.front, self.filing)
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
        look, session = self.front.look, self.session
        QApplication.setPalette(palette(look))
        self.setStyleSheet(style_sheet(look))
        self.header = Header(session)
        self.verdict = VerdictBar(session, look)
        self.rail = Rail(look, STAGES)
        doors = Doors(lambda: self.show_start(adding=True), self.dialogs.ask_edit_brake)
        self.stack = QStackedWidget()
        self.stages = StagePages(
            self.stack, {stage.id: partial(self._make, stage, doors) for stage in STAGES}
        )
        self.others = StagePages(
            self.stack,
            {
                "start": self._make_start,
                "work": self._make_work,
                "practice": self._make_practice,
            },
        )
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
        self._open_bench()

    def _make(self, stage: Stage, doors: Doors) -> QWidget:
        return stage.make(self.session, self.front.look, doors)

    def _make_start(self) -> QWidget:
        from ..pages.start import StartPage

        filing, dialogs = self.filing, self.dialogs
        elsewhere = filing.ask_open, filing.ask_drawing, dialogs.ask_fitting, dialogs.show_shop
        return StartPage(
            self.front.look,
            self.begin,
            self.add_part,
            elsewhere,
            partial(self.show_stage, OPENING),
            (self._recent_files, self._go_on_with),
        )

    def _recent_files(self) -> tuple[Path, ...]:
        return self.front.remembered.recent if self.front.remembered is not None else ()

    def _go_on_with(self, path: Path) -> None:
        """Open a file of the start page."""
        if self.filing.may_leave() and self.filing.open_file(path):
            self.show_stage(OPENING)

    def ask_first(self) -> None:
        """Ask what new parts begin with, once; whoever skips it is not asked again."""
        from ..dialogs.first_start import FirstStart

        remembered = self.front.remembered
        if remembered is None or remembered.welcomed:
            return
        remembered.welcomed = True
        dialog = FirstStart(self.session.rack, self.front.look, self)
        if run_dialog(dialog):
            remembered.last = dialog.chosen
            settings = self.session.settings
            ways = settings.ways.model_copy(update={"units": Units(dialog.chosen["units"])})
            self.session.shop_edits.keep_settings(settings.model_copy(update={"ways": ways}))
            # Nothing was worked on yet: what was said counts, not the demonstration on the bench.
            self.session.start_with(demo_job())
        self.show_start()

    def _make_work(self) -> QWidget:
        from ..pages.work_mode import WorkMode

        return WorkMode(
            self.session,
            self.front.look,
            partial(self.show_stage, "bend"),
            self.front.remembered,
        )

    def _make_practice(self) -> QWidget:
        from ..pages.practice import PracticePage

        return PracticePage(self.session, self.front.look, partial(self.show_stage, OPENING))

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.stages.make_ahead(self)
        # What the book says stands on the first page; it is read beside the window once that is
        # painted.
        QTimer.singleShot(0, self.session.book.load)

    def changeEvent(self, event: QEvent) -> None:
        """What another window has written into the shop's folder is there when one turns to this
        one."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.session.shop_edits.take_others()

    def _open_bench(self) -> None:
        """The stage a job opens on, its first field waiting to be typed into."""
        from ..pages.shape import ShapeStage

        self.show_stage(OPENING)
        page(self.stages, OPENING, ShapeStage).focus_first()

    def _commands(self) -> None:
        deeds = self._deeds()
        menus: dict[Message, QMenu] = {}
        self.commands: dict[str, QAction] = {}
        for command in COMMANDS:
            if command.menu not in menus:
                menus[command.menu] = self.menuBar().addMenu(str(command.menu))
            action = QAction(str(command.text), self)
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
        for path in self._recent_files():
            action = self.recent.addAction(path.name)
            action.setToolTip(as_text(str(path)))
            action.triggered.connect(
                lambda _=False, path=path: self.filing.may_leave() and self.filing.open_file(path)
            )
        if not self.recent.actions():
            self.recent.addAction(tr("nothing yet")).setEnabled(False)

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
            self.dialogs.bring_brake(path)
        elif self.filing.may_leave():
            self.filing.open_drawing(path) if kind is Dropped.DRAWING else self.filing.open_file(
                path
            )

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
            "job.fitting": self.dialogs.ask_fitting,
            "hand-over.work": self.handing.ask_work,
            "print.work": self.handing.print_work,
            "print.sheet": partial(self.handing.print_pages, "sheet"),
            "print.marking": partial(self.handing.print_pages, "marking"),
            "print.template": partial(self.handing.print_pages, "template"),
            "bench.rows": self.dialogs.ask_rows,
            "job.open": self.filing.ask_open,
            "job.by-code": self.filing.ask_code,
            "job.read-drawing": self.filing.ask_drawing,
            "job.save": self.filing.save,
            "job.save-as": self.filing.ask_save,
            "job.close": self.close,
            "edit.undo": self.session.undo,
            "edit.redo": self.session.redo,
            "shop.edit-brake": self.dialogs.ask_edit_brake,
            "shop.new-brake": self.dialogs.ask_new_brake,
            "shop.bring-in": self.dialogs.ask_brake,
            "shop.open": self.dialogs.show_shop,
            "shop.devices": self.dialogs.show_devices,
            "shop.book": self.dialogs.show_book,
            "shop.test-strip": self.dialogs.ask_test_strip,
            "shop.least": self.dialogs.show_least_sizes,
            "stage.at-the-brake": self.show_at_brake,
            "stage.work": self.show_work,
            "bend.order": self.ask_order,
            "bend.next": lambda: self.step_bend(1),
            "bend.before": lambda: self.step_bend(-1),
            "practice.open": self.show_practice,
            "view.look": self.toggle_look,
            "view.palette": lambda: self.dialogs.show_palette(self.commands),
            "view.preferences": self.dialogs.show_preferences,
            "view.full-screen": self.full_screen,
            "help.manual": self.show_manual,
            "help.safety": self.dialogs.show_safety,
            "help.keys": self.dialogs.show_keys,
            "help.about": self.dialogs.show_about,
            "help.log": self.dialogs.show_log,
            "help.report": self.dialogs.save_report,
        }

    def _enable(self) -> None:
        self.commands["edit.undo"].setEnabled(self.session.can_undo)
        self.commands["edit.redo"].setEnabled(self.session.can_redo)

    def _retitle(self) -> None:
        where = self.session.path.name if self.session.path else tr("not saved yet")
        star = " •" if self.session.unsaved else ""
        self.setWindowTitle(
            tr("{name}{star} — {where} — Zealous Crane").format(
                name=self.session.job.name, star=star, where=where
            )
        )

    def show_stage(self, stage: str) -> None:
        """Open a stage, by its id."""
        self._bench_shown(True)
        self.stack.setCurrentWidget(self.stages[stage])
        self.rail.show_stage(stage)

    def show_at_brake(self) -> None:
        """The work mode, at the brake."""
        from ...paper.work_steps import Station

        self._show_work(Station.BRAKE)

    def show_work(self) -> None:
        """The work mode, where the work was left."""
        self._show_work(None)

    def _show_work(self, station: Station | None) -> None:
        from ..pages.work_mode import WorkMode

        shown = page(self.others, "work", WorkMode)
        self._bench_shown(False)
        self.rail.hide()
        self.stack.setCurrentWidget(shown)
        shown.begin(station)

    def show_practice(self) -> None:
        """The place to learn."""
        from ..pages.practice import PracticePage

        shown = page(self.others, "practice", PracticePage)
        self._bench_shown(False)
        self.stack.setCurrentWidget(shown)
        shown.begin()

    def step_bend(self, by: int) -> None:
        """Open the next bend, or the one before."""
        plan = self.session.plan
        if plan is not None and plan.strokes:
            from ..pages.bend import BendStage

            self.show_stage("bend")
            shown = page(self.stages, "bend", BendStage)
            shown.choose(max(0, min(shown.chosen + by, len(plan.strokes) - 1)))

    def ask_order(self) -> None:
        """Let the person say what is wanted of the order of the bends."""
        from ..pages.bend import BendStage

        page(self.stages, "bend", BendStage).ask_order()

    def renew(self) -> Window:
        """Make the window anew around the same session, at the same place: in another language, or
        with a text of another size. Words stand in every widget; what is worked on does not."""
        speak_to(application())
        new = Window(self.session, self.front.look, self.front.remembered)
        new.restoreGeometry(self.saveGeometry())
        shown = self.stack.currentWidget()
        other = {
            "start": new.show_start,
            "work": new.show_work,
            "practice": new.show_practice,
        }.get(self.others.of(shown) or "")
        if other is not None:
            other()
        else:
            new.show_stage(self.stages.of(shown) or OPENING)
        new.show()
        self.hide()
        self.renewed.emit(new)
        self.deleteLater()
        return new

    def set_dark(self, dark: bool | None) -> None:
        """Take the dark look, or the light one, and keep to it; None follows the desktop."""
        if self.front.remembered is not None:
            self.front.remembered.dark = dark
        self._take_look(looked_for(dark))

    def toggle_look(self) -> None:
        """Change between light and dark."""
        self.set_dark(not self.front.look.dark)

    def _desktop_changed(self) -> None:
        """The desktop went from light to dark, or back."""
        if self.front.remembered is not None and self.front.remembered.dark is None:
            self._take_look(looked_for(None))

    def _take_look(self, look: Theme) -> None:
        if look is self.front.look:
            return
        self.front.look = look
        QApplication.setPalette(palette(look))
        self.setStyleSheet(style_sheet(look))
        for widget in self.findChildren(QWidget):
            if isinstance(getattr(widget, "look", None), Theme):
                widget.look = look  # type: ignore[attr-defined]
                widget.update()
        page(self.stages, "bend", LazyView).refresh()
        self.update()

    def say(self, sentence: str) -> None:
        """Show a sentence at the foot of the window until the next one."""
        self.statusBar().showMessage(sentence, 20_000)

    def _refuse(self, sentence: str) -> None:
        self.say(sentence)
        QMessageBox.warning(self, "Zealous Crane", as_text(sentence))

    def show_start(self, *, adding: bool = False) -> None:
        """The page where work begins, or where a part is added."""
        from ..pages.start import StartPage

        shown = page(self.others, "start", StartPage)
        shown.show_for(adding=adding)
        self._bench_shown(False)
        self.stack.setCurrentWidget(shown)

    def _brakes_changed(self) -> None:
        self.header.refresh()

    def _bench_shown(self, shown: bool) -> None:
        """What belongs to the work on the bench is hidden while another is chosen."""
        for widget in (self.header, self.verdict):
            widget.setVisible(shown)
        if not shown:
            self.rail.show_none()
        self.rail.show()

    def begin(self, work: Work) -> None:
        """Begin with work like this."""
        if self.filing.may_leave():
            self.session.start_with(self._like(work))
            self._open_bench()

    def _like(self, work: Work) -> Work:
        # What is worked on tells more of the shop than the day before; the demonstration the window
        # opens with the first time tells nothing.
        if not self.session.untouched:
            last = as_begun(self.session.job)
        else:
            last = self.front.remembered.last if self.front.remembered is not None else {}
        return begun(work, self.session.settings, self.session.rack, last)

    def stand_where_left(self) -> None:
        """Open what was on the bench when the window was closed, at the same part and stage; the
        start page where that is in no file."""
        left = self.front.remembered.left if self.front.remembered is not None else {}
        path = Path(left.get("path", ""))
        if not left:
            return
        if not path.is_file() or not self.filing.open_file(path):
            self.show_start()
            return
        part, stage = left.get("part", ""), left.get("stage", "")
        if part.isdigit():
            self.session.parts.choose(int(part))
        if stage in {known.id for known in STAGES}:
            self.show_stage(stage)

    def add_part(self, work: Work) -> None:
        """Add the first part of this to the work on the bench."""
        part = self._like(Work.of(work.parts[0])).parts[0]
        name = told_apart(part.name, (p.name for p in self.session.work.parts))
        refusal = self.session.parts.add(part.model_copy(update={"name": name}))
        if refusal:
            self._refuse(refusal)
        else:
            self.show_stage(OPENING)

    def show_manual(self) -> None:
        """The manual, at the page that tells of what is on the screen."""
        shown = self.stack.currentWidget()
        self.dialogs.show_manual(self.stages.of(shown) or self.others.of(shown) or "start")

    def closeEvent(self, event: QCloseEvent) -> None:
        """Ask about unsaved work, then let go of everything."""
        if not self.filing.may_leave():
            event.ignore()
            return
        if self.front.remembered is not None:
            self.front.remembered.leave(self.saveGeometry())
            self.front.remembered.last = as_begun(self.session.job)
            path, shown = self.session.path, self.stages.of(self.stack.currentWidget()) or OPENING
            self.front.remembered.left = {
                "path": str(path or ""),
                "part": str(self.session.at),
                "stage": shown,
            }
        unwritten = self.session.close()
        event.accept()
        if unwritten:
            QMessageBox.warning(self, "Zealous Crane", as_text(unwritten))


def page(pages: StagePages, id_: str, kind: type[P]) -> P:
    """The page of a stage or another place, as what it is.

    Args:
        pages: the pages by their ids.
        id_: of the page.
        kind: the type of page expected.
    """
    result = pages[id_]
    assert isinstance(result, kind)
    return result


def looked_for(dark: bool | None) -> Theme:
    """The look a person chose; None is what the desktop is in."""
    if dark is None:
        dark = QApplication.styleHints().colorScheme() is Qt.ColorScheme.Dark
    return DARK if dark else LIGHT
