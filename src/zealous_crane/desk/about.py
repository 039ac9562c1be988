"""What the program says of itself: what it is, its keys, what comes first, where its log is, and a report for whoever mends a fault."""

from __future__ import annotations

import io
import platform
import sys
import zipfile
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QMessageBox, QVBoxLayout, QWidget

from .. import __version__
from ..files.atomic import FileError, write_atomically
from ..job import Job
from ..measure.words import tr
from ..plan.geometry.native import COMPILED
from ..shop.caution import FIRST
from .ask_where import ask_where
from .commands import COMMANDS
from .log import log_path
from .palette import words_of
from .widget import Table, asked

KEYS_WIDE, KEYS_HIGH = 560, 520
"""Painter units of the table of keys: it fits a screen of 1024 × 700."""

LIBRARIES = ("PySide6-Essentials", "numpy", "scipy", "shapely", "pydantic", "ezdxf")


def versions() -> list[str]:
    """Everything that may make a difference, a line each."""

    def of(name: str) -> str:
        try:
            return version(name)
        except PackageNotFoundError:
            return "?"

    engine = tr("compiled") if COMPILED else tr("not compiled")
    return [
        *(f"{name} {of(name)}" for name in LIBRARIES),
        f"Python {sys.version.split()[0]}, {platform.platform(terse=True)}",
        tr("The contact search is {engine}.").format(engine=engine),
    ]


def show_about(window: QWidget) -> None:
    """What this is, and which versions it runs on."""
    said = tr(
        "Zealous Crane {version}\nPlans boxes, pans and strips of sheet metal: blank, cuts, bends, tools, checks."
    ).format(version=__version__)
    QMessageBox.information(window, tr("About Zealous Crane"), "\n".join([said, "", *versions()]))


def show_log(window: QWidget) -> None:
    """Say where the log is."""
    said = tr("When something goes wrong in the program itself, it is written in\n\n{log_path}").format(log_path=log_path())
    QMessageBox.information(window, tr("The log"), said)


def keys_dialog(window: QWidget) -> QDialog:
    """Every command with its key, to be scrolled: they are more than a small screen is high."""
    dialog = QDialog(window)
    dialog.setWindowTitle(tr("Keys"))
    table = Table(2, tr("Keys"))
    table.setHorizontalHeaderLabels([tr("What"), tr("Keys")])
    table.show_rows([(words_of(c), c.keys.replace("; ", ", ")) for c in COMMANDS], KEYS_HIGH)
    table.resizeColumnsToContents()
    table.horizontalHeader().setStretchLastSection(True)
    table.setMinimumWidth(KEYS_WIDE)
    buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
    buttons.rejected.connect(dialog.reject)
    box = QVBoxLayout(dialog)
    box.addWidget(table, 1)
    box.addWidget(buttons)
    return dialog


def show_keys(window: QWidget) -> None:
    """Show every command with its key."""
    asked(keys_dialog(window))


def show_safety(window: QWidget) -> None:
    """What comes before any plan."""
    rest = tr(
        "A plan is arithmetic, not permission: never exceed the rated thickness, keep hands clear of clamp and leaf, "
        "never reach past a guard, and bend a test strip before the part."
    )
    QMessageBox.information(window, tr("Safety first"), f"{FIRST}\n\n{rest}")


def write_report_of_fault(job: Job, path: Path) -> None:
    """Everything somebody needs who looks for a fault, in one ZIP file: the log, the versions, the job on the bench. Nothing is sent.

    Raises:
        FileError: it could not be written.
    """
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr("versions.txt", "\n".join([f"Zealous Crane {__version__}", *versions()]) + "\n")
        packed.writestr("job.crane", job.model_dump_json(indent=2) + "\n")
        for log in (log_path(), log_path().with_suffix(".before.txt")):
            if log.exists():
                packed.write(log, log.name)
    write_atomically(path, data.getvalue())


def ask_report(window: QWidget, job: Job) -> str | None:
    """Ask where the report goes and write it; what is to be said of it."""
    path = ask_where(window, tr("Save a report"), "zealous-crane-report.zip", "ZIP (*.zip)", "zip")
    if path is None:
        return None
    try:
        write_report_of_fault(job, path)
    except FileError as error:
        return str(error)
    return tr("{path} holds the log, the versions and this job. Nothing was sent.").format(path=path.name)
