"""Pages of a printed sheet: a vector PDF filled from the top."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, Qt
from PySide6.QtGui import QPagedPaintDevice, QPageLayout, QPageSize, QPainter, QPdfWriter

from ..files.atomic import write_atomically
from ..files.page_code import page_code
from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.words import tr
from .app import application
from .theme import PAPER, paper_text, pixels

DOTS = 144
"""Painter units per inch on paper."""

TEXT = 19.0
"""Height of plain text, painter units: about 9.5 point."""


@dataclass
class Page:
    """A page being filled from the top.

    Attributes:
        writer, painter: what is drawn on.
        name: printed at the foot of every page.
        caution: printed beside it.
        code: of the job, by which it is found again; empty where the page is of several.
        number: of the page, from 1.
    """

    writer: QPagedPaintDevice
    painter: QPainter
    name: str
    caution: str
    code: str = ""
    number: int = 1

    @property
    def rect(self) -> QRectF:
        shrink = DOTS / self.writer.logicalDpiX()
        return QRectF(0, 0, self.writer.width() * shrink, self.writer.height() * shrink)

    def turn(self) -> None:
        """Finish this page and begin the next."""
        self.foot()
        self.writer.newPage()
        self.number += 1

    def foot(self) -> None:
        """Name, page, and the caution that goes on every page."""
        p, r = self.painter, self.rect
        p.setFont(pixels(TEXT * 0.78))
        p.setPen(PAPER.color("faint"))
        line = QRectF(r.left(), r.bottom() - TEXT * 1.3, r.width(), TEXT * 1.3)
        p.drawText(line, Qt.AlignmentFlag.AlignRight, self.caution)

        def told(name: str) -> str:
            said = tr("{name}  ·  page {number}").format(name=name, number=self.number)
            return f"{said}  ·  {self.code}" if self.code else said

        # A long name gives way: page, code and caution are whole.
        wide = p.fontMetrics().horizontalAdvance
        room = int(line.width()) - wide(self.caution) - wide(told("")) - round(TEXT)
        p.drawText(
            line,
            Qt.AlignmentFlag.AlignLeft,
            told(p.fontMetrics().elidedText(self.name, Qt.TextElideMode.ElideRight, max(0, room))),
        )

    def text(self, rect: QRectF, said: str, *, size: float = TEXT, strong: bool = False, color: str = "ink") -> float:
        """Wrapped text at the top of a rectangle; the height it took."""
        p = self.painter
        p.setFont(pixels(size, strong=strong))
        p.setPen(PAPER.color(color))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        taken = p.boundingRect(rect, flags, said)
        p.drawText(rect, flags, said)
        return taken.height()

    def measured(self, said: str, wide: float, *, size: float = TEXT, strong: bool = False) -> float:
        """The height wrapped text takes on a width."""
        self.painter.setFont(pixels(size, strong=strong))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        return self.painter.boundingRect(QRectF(0, 0, wide, 1e6), flags, said).height()

    @property
    def body(self) -> float:
        """Height of what may be filled: the foot stands below it."""
        return self.rect.height() - TEXT * 2


Target = Path | QPagedPaintDevice
"""Where pages go: a PDF file, or a printer (also one that shows its pages first)."""


def usual_layout(job: Job) -> QPageLayout:
    """Paper and margins where nobody has chosen: letter in an inch shop, A4 else."""
    size = QPageSize.PageSizeId.Letter if job.units.is_inch else QPageSize.PageSizeId.A4
    return QPageLayout(
        QPageSize(size), QPageLayout.Orientation.Portrait, QMarginsF(14, 12, 14, 12), QPageLayout.Unit.Millimeter
    )


@contextmanager
def printed(job: Job, target: Target, caution: str, *, coded: bool = True) -> Iterator[Page]:
    """Fill pages. A file is written in one step when all is done; a printer prints them as it has paper for.

    Args:
        job: what the pages are of.
        target: where they go.
        caution: at the foot of every page.
        coded: the job's code stands there too; not where the pages are of several parts.

    Raises:
        FileError: the file could not be written; what stood there is untouched.
    """
    application()
    if isinstance(target, QPagedPaintDevice):
        with _filled(target, job, caution, coded) as page:
            yield page
        return
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(DOTS)
    writer.setTitle(job.name)
    writer.setCreator("Zealous Crane")
    writer.setPageLayout(usual_layout(job))
    try:
        with _filled(writer, job, caution, coded) as page:
            yield page
    finally:
        buffer.close()
    write_atomically(Path(target), bytes(data.data()))


@contextmanager
def _filled(device: QPagedPaintDevice, job: Job, caution: str, coded: bool) -> Iterator[Page]:
    painter = QPainter(device)
    # Everything is laid out in dots of the page, however fine the printer's own are.
    painter.scale(device.logicalDpiX() / DOTS, device.logicalDpiY() / DOTS)
    page = Page(device, painter, job.name, caution, page_code(job) if coded else "")
    try:
        with paper_text():
            yield page
            page.foot()
    finally:
        painter.end()
