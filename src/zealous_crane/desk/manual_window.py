"""The manual in a window of its own, open beside the work."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QRectF, Qt, QUrl
from PySide6.QtGui import QImage, QPainter, QTextDocument
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QTextBrowser, QWidget

from ..blank import flat_for
from ..demo import DEMOS, demo_work
from ..files.atomic import write_atomically
from ..measure.words import tr
from .manual import PAGES, page_text, page_title
from .paint.folded import paint_folded
from .theme import LIGHT, Look

PICTURE = 260, 170
"""Width and height of a picture, pixels."""


class Pages(QTextBrowser):
    """Shows a page; pictures of kinds are drawn by the program itself."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.look = look
        self.setAccessibleName(tr("The manual"))
        self.setOpenLinks(False)

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        url = QUrl(name) if isinstance(name, str) else name
        if kind == QTextDocument.ResourceType.ImageResource.value and url.scheme() == "kind":
            return kind_picture(url.path(), self.look)
        return super().loadResource(kind, url)


@lru_cache(maxsize=64)
def kind_picture(kind: str, look: Look) -> QImage:
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

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self.setWindowTitle(tr("Manual"))
        self.resize(920, 680)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Pages of the manual"))
        self.list.addItems([page_title(name) for name in PAGES])
        self.list.setMaximumWidth(230)
        self.list.setWordWrap(True)
        self.browser = Pages(look)
        self.list.currentRowChanged.connect(lambda row: self.browser.setMarkdown(page_text(PAGES[row])))
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
        for kind in _kinds_shown(text):
            picture = folder / f"{kind}.png"
            kind_picture(kind, LIGHT).save(str(picture))
            written.append(picture)
            text = text.replace(f"(kind:{kind})", f"({kind}.png)")
        document.setMarkdown(text)
        body = document.toHtml().split("<body", 1)[1].split(">", 1)[1].rsplit("</body>", 1)[0]
        page = (
            f'<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>{page_title(name)}</title></head>'
            f'<body style="font-family:sans-serif;max-width:48em;margin:auto"><p>{links}</p>{body}</body></html>'
        )
        path = folder / f"{name}.html"
        write_atomically(path, page.encode())
        written.append(path)
    return written


def _kinds_shown(text: str) -> list[str]:
    return [part.split(")", 1)[0] for part in text.split("(kind:")[1:]]
