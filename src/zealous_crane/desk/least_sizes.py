"""What is my least flange? Asked of the brake and the sheet on the bench, worked out beside the window."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QHeaderView, QVBoxLayout, QWidget

from ..measure import Units, show_length
from ..measure.words import tr
from ..plan.advice.least import least_sizes
from ..plan.stroke.machine import Least
from .beside import Beside
from .session import Session
from .widget import Table, prose

WIDE = 720
"""Painter units of the table."""


def ask_least(beside: Beside, session: Session, then: Callable[[tuple[Least, ...]], None]) -> None:
    """Have the least sizes on the brake of the bench in its sheet worked out, and told."""

    def told(answer: object) -> None:
        then(answer if isinstance(answer, tuple) else ())

    beside.ask(told, (least_sizes, (session.brake, session.job.sheet)))


def least_line(found: tuple[Least, ...], units: Units) -> str:
    """All of them in a line."""
    sizes = "; ".join(f"{one.what} {show_length(one.size, units.fine, pretty=True)}" for one in found)
    return tr("Least here, outside: {least}.").format(least=sizes) if sizes else ""


class LeastDialog(QDialog):
    """The least sizes in a table, each with its reason.

    Args:
        session: the brake and the sheet.
        parent: the window.
    """

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Least sizes on this brake"))
        self._units = session.job.units
        self.says = prose()
        self.says.setText(
            tr("{brake}, {sheet}: outside, at 90°. Trying …").format(brake=session.brake.name, sheet=session.job.sheet.name)
        )
        self._of = tr("{brake}, {sheet}: outside, at 90°.").format(brake=session.brake.name, sheet=session.job.sheet.name)
        self.table = Table(3, tr("Least sizes"))
        self.table.setHorizontalHeaderLabels([tr("What"), tr("Least"), tr("Why")])
        modes = QHeaderView.ResizeMode
        for column, mode in enumerate((modes.ResizeToContents, modes.ResizeToContents, modes.Stretch)):
            self.table.horizontalHeader().setSectionResizeMode(column, mode)
        self.table.setMinimumWidth(WIDE)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        box = QVBoxLayout(self)
        box.addWidget(self.says)
        box.addWidget(self.table, 1)
        box.addWidget(buttons)
        self._beside = Beside(self, session.crew)
        ask_least(self._beside, session, self._show)

    def _show(self, found: tuple[Least, ...]) -> None:
        none = tr("Nothing is known of the least sizes on this machine in this sheet.")
        self.says.setText(self._of if found else none)
        rows = [(one.what, show_length(one.size, self._units.fine, pretty=True), one.why) for one in found]
        self.table.show_rows(rows)
