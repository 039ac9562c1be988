"""What the commands open over the window. Each dialog is brought in when it is first asked for: no
window waits for it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from pathlib import Path

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QFileDialog, QInputDialog

from ...brake.brake import Brake
from ...brake.library import BrakeError, read_brake
from ...i18n import language, speak_as_asked, tr
from ...paint.theme import scale_text, text_scale
from ...shop.book.record import BookError
from ...work.work import Work
from ..manual import page_for
from ..state.session import Session
from ..widgets.widget import run_dialog
from .commands import Front
from .filing import Filing


class Dialogs:
    """Opens them.

    Args:
        session: the work and the shop.
        front: what they stand before.
        filing: asked whether unsaved work may be left.
    """

    def __init__(self, session: Session, front: Front, filing: Filing) -> None:
        self.session, self.front, self.filing = session, front, filing
        self._manual: Callable[[str], None] | None = None

    def show_book(self) -> None:
        """Look into the shop's book."""
        from ..dialogs.book import BookDialog

        try:
            BookDialog(self.session, self.front.look, self.front.window).open()
        except BookError as error:
            self.front.refuse(str(error))

    def ask_rows(self) -> None:
        """Ask for rows of rivets, spots and screws."""
        from ..dialogs.rows import RowsDialog

        RowsDialog(self.session, self.front.look, self.front.window).exec()

    def ask_test_strip(self) -> None:
        """The test strip of the part on the bench: put on the bench, or its measures taken."""
        from ..dialogs.strip import StripDialog

        StripDialog(self.session, self.front.look, self.front.window, self.front.open_bench).open()

    def ask_fitting(self) -> None:
        """Ask for the sizes of a duct fitting: those of the work on the bench, where it is one."""
        from ..dialogs.fitting import FittingDialog

        fitting, job = self.session.work.fitting, self.session.job
        if fitting is None and not self.filing.may_leave():
            return
        dialog = FittingDialog(fitting, job, self.session.rack, self.front.window)
        if dialog.exec() == FittingDialog.DialogCode.Accepted:
            if fitting is None:
                self.session.start_with(Work.of_fitting(dialog.fitting), unsaved=True)
            else:
                text = self.session.parts.set_fitting(dialog.fitting)
                if text:
                    self.front.refuse(text)
            self.front.open_bench()

    def show_shop(self) -> None:
        """The shop: its machines, and what is in stock."""
        from ..dialogs.shop.dialog import ShopDialog
        from ..dialogs.shop.machines import ShopDoors

        run_dialog(
            ShopDialog(
                self.session,
                self.front.look,
                self.front.window,
                ShopDoors(self.ask_new_brake, self.ask_edit_brake, self.bring_brake),
            )
        )
        self.front.brakes_changed()

    def ask_new_brake(self) -> None:
        """A brake of the person's own: of a kind, from what is usual, with the sizes they take from
        it."""
        from ...brake.library import NEW

        kinds = {str(kind.label): kind for kind in NEW}
        name, taken = QInputDialog.getItem(
            self.front.window,
            tr("Your own brake"),
            tr("What kind of machine is it?"),
            list(kinds),
            0,
            False,
        )
        if not taken:
            return
        edited = self._edited(kinds[name].begin(self.session.rack, self.session.job.units))
        if edited is not None:
            self.keep_brake(edited)

    def ask_edit_brake(self) -> None:
        """Edit the brake in use; what is kept is written into the shop's own folder."""
        brake = self.session.rack[self.session.job.brake]
        edited = self._edited(brake)
        if edited is not None and edited != brake:
            self.keep_brake(edited)

    def _edited(self, brake: Brake) -> Brake | None:
        """A brake as the person leaves it; None when they think better of it."""
        from ..dialogs.brake import BrakeDialog

        dialog = BrakeDialog(brake, self.session.job.units, self.front.look, self.front.window)
        return dialog.brake if run_dialog(dialog) else None

    def ask_brake(self) -> None:
        """Ask for a brake file and keep it in the shop."""
        name, _ = QFileDialog.getOpenFileName(
            self.front.window, tr("Import a brake"), "", tr("Brakes (*.json)")
        )
        if name:
            self.bring_brake(Path(name))

    def bring_brake(self, path: Path) -> bool:
        """Take a brake file into the shop and plan on it."""
        try:
            return self.keep_brake(read_brake(path))
        except BrakeError as error:
            self.front.refuse(str(error))
            return False

    def keep_brake(self, brake: Brake) -> bool:
        """Keep a brake in the shop, in its own folder of files, and plan on it."""
        text = self.session.shop_edits.keep_brake(brake)
        if text:
            self.front.refuse(text)
            return False
        self.front.brakes_changed()
        return True

    def show_preferences(self) -> None:
        """Preferences of the person and the shop."""
        from ..dialogs.preferences import PreferencesDialog

        def text(percent: int) -> None:
            if self.front.remembered is not None:
                self.front.remembered.text = percent

        remembered = self.front.remembered
        before = text_scale(), language()
        PreferencesDialog(
            self.session,
            self.front.window,
            dark=remembered.dark if remembered is not None else self.front.look.dark,
            text=remembered.text if remembered is not None else 100,
            set_dark=self.front.set_dark,
            set_text=text,
        ).exec()
        if remembered is not None:
            scale_text(remembered.text)
        speak_as_asked()
        if (text_scale(), language()) != before:
            self.front.renew()
        self.front.brakes_changed()

    def show_devices(self) -> None:
        """The instrument that is read and the stop that is driven."""
        from ..dialogs.preferences import DeviceDialog

        run_dialog(DeviceDialog(self.session.devices, self.front.window))

    def show_least_sizes(self) -> None:
        """The least sizes on this brake in this sheet."""
        from ..pages.tool_choices import LeastDialog

        run_dialog(LeastDialog(self.session, self.front.window))

    def show_palette(self, commands: Mapping[str, QAction]) -> None:
        """Every command in one list.

        Args:
            commands: by their ids.
        """
        from .commands import Palette

        Palette(commands, self.front.window).open()

    def show_manual(self, place: str) -> None:
        """The manual, at the page that tells of a place of the window, by the place's id."""
        from ..dialogs.about import ManualWindow

        if self._manual is None:
            self._manual = ManualWindow(self.front.look, self.front.window).show_page
        self._manual(page_for(place))

    def show_safety(self) -> None:
        """What comes first."""
        from ..dialogs.about import show_safety

        show_safety(self.front.window)

    def show_keys(self) -> None:
        """Every command and its keys."""
        from ..dialogs.about import show_keys

        show_keys(self.front.window)

    def show_about(self) -> None:
        """What the program is."""
        from ..dialogs.about import show_about

        show_about(self.front.window)

    def show_log(self) -> None:
        """Where the log is."""
        from ..dialogs.about import show_log

        show_log(self.front.window)

    def save_report(self) -> None:
        """A report for whoever mends a fault."""
        from ..dialogs.about import ask_report

        text = ask_report(self.front.window, self.session.job)
        if text:
            self.front.say(text)
