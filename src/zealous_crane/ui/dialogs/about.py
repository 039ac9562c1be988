"""The manual in a window of its own, open beside the work."""

from __future__ import annotations

import io
import platform
import sys
import zipfile
from importlib.metadata import PackageNotFoundError, version
from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QUrl
from PySide6.QtGui import QImage, QPainter, QTextDocument
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QListWidget,
    QMessageBox,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from ... import __version__
from ...cache import cached
from ...demo import DEMOS, demo_work
from ...flat.on_brake import flat_for
from ...i18n import tr
from ...io.atomic import FileError, write_atomically
from ...job.job import Job
from ...kernel.back_end import COMPILED
from ...paint.folded import paint_folded
from ...paint.theme import LIGHT, Theme
from ...shop.safety_notes import FIRST
from ..app import log_path
from ..manual import PAGES, page_text, page_title, picture_data
from ..widgets.save_as import ask_where
from ..widgets.widget import Table, run_dialog
from ..window.commands import COMMANDS, words_of

PICTURE = 260, 170
"""Width and height of a picture, pixels."""


class ManualBrowser(QTextBrowser):
    """Shows a page; pictures of kinds are drawn as they are wanted, others ship with the page."""

    def __init__(self, look: Theme) -> None:
        super().__init__()
        self.look = look
        self.setAccessibleName(tr("The manual"))
        self.setOpenLinks(False)

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        url = QUrl(name) if isinstance(name, str) else name
        if kind == QTextDocument.ResourceType.ImageResource.value and url.scheme() == "kind":
            return kind_picture(url.path(), self.look)
        if kind == QTextDocument.ResourceType.ImageResource.value and url.scheme() == "picture":
            return QImage.fromData(picture_data(url.path()))
        return super().loadResource(kind, url)


@cached(64, lasts=True)
def kind_picture(kind: str, look: Theme) -> QImage:
    """A part of a kind, folded; an empty picture where no demonstration shows it."""
    image = QImage(*PICTURE, QImage.Format.Format_ARGB32)
    image.fill(Qt.GlobalColor.transparent)
    jobs = (job for name in DEMOS for job in demo_work(name, resolved=False).parts)
    job = next((job for job in jobs if job.part.kind == kind), None)
    if job is not None:
        p = QPainter(image)
        paint_folded(p, QRectF(0, 0, *PICTURE), flat_for(job, None), look)
        p.end()
    return image


class ManualWindow(QWidget):
    """Pages at the left, the page chosen at the right.

    Args:
        look: colours.
    """

    def __init__(self, look: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle(tr("Manual"))
        self.resize(920, 680)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Pages of the manual"))
        self.list.addItems([page_title(name) for name in PAGES])
        self.list.setMaximumWidth(230)
        self.list.setWordWrap(True)
        self.browser = ManualBrowser(look)
        self.list.currentRowChanged.connect(
            lambda row: self.browser.setMarkdown(page_text(PAGES[row]))
        )
        row = QHBoxLayout(self)
        row.addWidget(self.list)
        row.addWidget(self.browser, 1)

    def show_page(self, name: str) -> None:
        """Open at a page."""
        self.list.setCurrentRow(PAGES.index(name))
        self.show()
        self.raise_()
        self.activateWindow()


def write_manual(folder: Path) -> list[Path]:
    """Write the manual as HTML with its pictures; the files written.

    Raises:
        FileError: one could not be written.
    """
    folder.mkdir(parents=True, exist_ok=True)
    links = " · ".join(f'<a href="{name}.html">{page_title(name)}</a>' for name in PAGES)
    written = []
    for name in PAGES:
        document = QTextDocument()
        text = page_text(name)
        for kind in _shown(text, "kind"):
            picture = folder / f"{kind}.png"
            kind_picture(kind, LIGHT).save(str(picture))
            written.append(picture)
            text = text.replace(f"(kind:{kind})", f"({kind}.png)")
        for shown in _shown(text, "picture"):
            picture = folder / f"page-{shown}.png"
            write_atomically(picture, picture_data(shown))
            written.append(picture)
            text = text.replace(f"(picture:{shown})", f"({picture.name})")
        document.setMarkdown(text)
        body = document.toHtml().split("<body", 1)[1].split(">", 1)[1].rsplit("</body>", 1)[0]
        page = (
            f'<!DOCTYPE html><html lang="en"><head><meta '
            f'charset="utf-8"><title>{page_title(name)}</title></head>'
            f'<body style="font-family:sans-serif;max-width:48em;margin:auto"><p>{links}</p>{body}</body></html>'  # noqa: E501
        )
        path = folder / f"{name}.html"
        write_atomically(path, page.encode())
        written.append(path)
    return written


def _shown(text: str, scheme: str) -> list[str]:
    """The pictures of a page that are found in one way."""
    return [part.split(")", 1)[0] for part in text.split(f"({scheme}:")[1:]]


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
    text = tr(
        "Zealous Crane {version}\nPlans boxes, pans and strips of sheet metal: blank, cuts, "
        "bends, tools, checks."
    ).format(version=__version__)
    QMessageBox.information(window, tr("About Zealous Crane"), "\n".join([text, "", *versions()]))


def show_log(window: QWidget) -> None:
    """Say where the log is."""
    text = tr("Errors of the program are written to\n\n{log_path}").format(log_path=log_path())
    QMessageBox.information(window, tr("The log"), text)


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
    run_dialog(keys_dialog(window))


def show_safety(window: QWidget) -> None:
    """What comes before any plan."""
    rest = tr(
        "A plan is arithmetic, not permission: never exceed the rated thickness, keep hands clear "
        "of clamp and leaf, "
        "never reach past a guard, and bend a test strip before the part."
    )
    QMessageBox.information(window, tr("Safety first"), f"{FIRST}\n\n{rest}")


def write_report_of_fault(job: Job, path: Path) -> None:
    """Everything somebody needs who looks for a fault, in one ZIP file: the log, the versions, the
    job on the bench. Nothing is sent.

    Raises:
        FileError: it could not be written.
    """
    data = io.BytesIO()
    with zipfile.ZipFile(data, "w", zipfile.ZIP_DEFLATED) as packed:
        packed.writestr(
            "versions.txt", "\n".join([f"Zealous Crane {__version__}", *versions()]) + "\n"
        )
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
    return tr("{path} holds the log, the versions and this job. Nothing was sent.").format(
        path=path.name
    )
