"""Pages of a printed sheet: a vector PDF filled from the top."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import (
    QFontMetrics,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
)

from ..errors import InputError
from ..i18n import Phrase, to_text, tr
from ..io.atomic import write_atomically
from ..io.job_file import page_code
from ..job.job import Job
from ..paint.application import application
from ..paint.theme import PAPER, paper_text, pixels

DOTS = 144
"""Painter units per inch on paper."""

TEXT = 19.0
"""Height of plain text, painter units: 9.5 point."""

LABEL = 17.0
"""Height of labels and of what stands beside, painter units: 8.5 point."""

SMALL = 16.0
"""Height of the foot's letters, painter units: 8 point; nothing is smaller on paper."""

FOOT = SMALL * 3
"""What the foot takes of a page, painter units."""


@dataclass
class Page:
    """A page being filled from the top.

    Attributes:
        writer, painter: what is drawn on.
        name: printed at the foot of every page.
        caution: printed beside it.
        code: of the job, by which it is found again; empty where the page is of several.
        number, of: which page, from 1, and of how many; 0 while they are counted.
    """

    writer: QPagedPaintDevice
    painter: QPainter
    name: str
    caution: str
    code: str = ""
    number: int = 1
    of: int = 0

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
        """The caution that goes on every page; below it name, page, day and code."""
        p, r = self.painter, self.rect
        p.setFont(pixels(SMALL))
        p.setPen(PAPER.color("faint"))
        line = QRectF(r.left(), r.bottom() - SMALL * 1.4, r.width(), SMALL * 1.4)
        p.drawText(line.translated(0, -line.height()), Qt.AlignmentFlag.AlignRight, self.caution)
        text = tr("page {number} of {of}  ·  {day}").format(
            number=self.number, of=self.of or self.number, day=date.today().isoformat()
        )
        text = f"{text}  ·  {self.code}" if self.code else text
        # A long name gives way: the rest is whole. Measured without the device, so that a printer's
        # dots cut no name otherwise.
        metrics = QFontMetrics(pixels(SMALL))
        room = round(line.width() / 10) * 10 - metrics.horizontalAdvance(text) - round(TEXT)
        name = metrics.elidedText(self.name, Qt.TextElideMode.ElideRight, max(0, room))
        p.drawText(line, Qt.AlignmentFlag.AlignLeft, name)
        p.drawText(line, Qt.AlignmentFlag.AlignRight, text)

    def text(
        self,
        rect: QRectF,
        sentence: str,
        *,
        size: float = TEXT,
        strong: bool = False,
        color: str = "ink",
    ) -> float:
        """Wrapped text at the top of a rectangle; the height it took.

        Args:
            rect: where it is drawn.
            sentence: the words.
            size: of letters, points.
            strong: in the stronger weight.
            color: of the letters; None takes the usual.
        """
        p = self.painter
        p.setFont(pixels(size, strong=strong))
        p.setPen(PAPER.color(color))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        taken = p.boundingRect(rect, flags, sentence)
        p.drawText(rect, flags, sentence)
        return taken.height()

    def measured(
        self, text: str, wide: float, *, size: float = TEXT, strong: bool = False
    ) -> float:
        """The height wrapped text takes on a width.

        Args:
            text: the words.
            wide: the width there is.
            size: of letters, points.
            strong: in the stronger weight.
        """
        self.painter.setFont(pixels(size, strong=strong))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        return self.painter.boundingRect(QRectF(0, 0, wide, 1e6), flags, text).height()

    @property
    def body(self) -> float:
        """Height of what may be filled: the foot stands below it."""
        return self.rect.height() - FOOT


Target = Path | QPagedPaintDevice
"""Where pages go: a PDF file, or a printer (also one that shows its pages first)."""


Fill = Callable[[QPagedPaintDevice], None]
"""Draws pages on a file or a printer."""


def usual_layout(job: Job) -> QPageLayout:
    """Paper and margins where nobody has chosen: letter in an inch shop, A4 else."""
    size = QPageSize.PageSizeId.Letter if job.units.is_inch else QPageSize.PageSizeId.A4
    return QPageLayout(
        QPageSize(size),
        QPageLayout.Orientation.Portrait,
        QMarginsF(14, 12, 14, 12),
        QPageLayout.Unit.Millimeter,
    )


ROLL = 914.0
"""mm; width of the roll in most plotters: 36 inches."""

PAPERS = {
    "a4": QPageSize.PageSizeId.A4,
    "a3": QPageSize.PageSizeId.A3,
    "letter": QPageSize.PageSizeId.Letter,
    "tabloid": QPageSize.PageSizeId.Tabloid,
}
"""Papers by name; ``roll`` is as long as what is printed on it."""


def paper_layout(name: str, size: tuple[float, float]) -> QPageLayout:
    """Paper and margins for a template.

    Args:
        name: one of :data:`PAPERS`, or ``roll``.
        size: length and width of what is printed, mm: a sheet is laid along the longer side, a roll
            is cut off behind it.

    Raises:
        InputError: no such paper is known.
    """
    margins = QMarginsF(10, 10, 10, 10)
    if name == "roll":
        # It lies along the roll, with its margins and what neighbouring pages share.
        long = QSizeF(ROLL, size[0] + 40.0)
        page = QPageSize(
            long, QPageSize.Unit.Millimeter, "roll", QPageSize.SizeMatchPolicy.ExactMatch
        )
        return QPageLayout(
            page, QPageLayout.Orientation.Landscape, margins, QPageLayout.Unit.Millimeter
        )
    if name not in PAPERS:
        known = ", ".join((*PAPERS, "roll"))
        raise InputError(
            tr("{name!r} is no paper that is known here. Known: {known}.").format(
                name=name, known=known
            )
        )
    lies = (
        QPageLayout.Orientation.Landscape if size[0] > size[1] else QPageLayout.Orientation.Portrait
    )
    return QPageLayout(QPageSize(PAPERS[name]), lies, margins, QPageLayout.Unit.Millimeter)


def print_pages(
    job: Job,
    target: Target,
    caution: Phrase,
    fill: Callable[[Page], None],
    *,
    coded: bool = True,
    paper: QPageLayout | None = None,
) -> None:
    """Fill pages. A file is written in one step when all is done; a printer prints them as it has
    paper for.

    Args:
        job: what the pages are of.
        target: where they go.
        caution: at the foot of every page.
        fill: fills them from the first to the last; asked twice, since every page says how many
            there are.
        coded: the job's code stands there too; not where the pages are of several parts.
        paper: and its margins; None is what is usual in the job's units, and a printer's own on a
            printer.

    Raises:
        FileError: the file could not be written; what stood there is untouched.
    """
    application()
    if isinstance(target, QPagedPaintDevice):
        count = _counted(job, to_text(caution), coded, fill, target.pageLayout())
        _filled(target, job, to_text(caution), coded, fill, count)
        return
    layout = paper or usual_layout(job)
    count = _counted(job, to_text(caution), coded, fill, layout)
    data, _ = _written(
        job, layout, lambda device: _filled(device, job, to_text(caution), coded, fill, count)
    )
    write_atomically(Path(target), searchable(data))


_MEANT = {
    f"{ord(sign):04X}": f"{ord(plain):04X}"
    for sign, plain in zip("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉⁄", "01234567890123456789/", strict=True)
}
"""Raised and lowered figures and the stroke between them, by what a reader types to find them; code
points as a PDF writes them."""


def searchable(data: bytes) -> bytes:
    """A PDF whose fractions are found and copied as they are typed, ``14 1/2``, and look as before:
    a font's table of what its characters mean (``ToUnicode``, ISO 32000-1, 9.10.3) names the plain
    figures."""
    # Read for a file alone, not while the program starts.
    from pypdf import PdfReader, PdfWriter

    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(data)))
    for page in writer.pages:
        resources: Any = page["/Resources"]
        for font in resources.get("/Font", {}).values():
            table = font.get_object()["/ToUnicode"].get_object()
            meant = re.sub(
                r"\[[^]]*\]",
                lambda m: re.sub(r"<(\w{4})>", _plain_figure, m[0]),
                table.get_data().decode("ascii"),
            )
            table.set_data(meant.encode("ascii"))
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _plain_figure(match: re.Match[str]) -> str:
    return f"<{_MEANT.get(match[1].upper(), match[1])}>"


def _written(
    job: Job, layout: QPageLayout, draw: Callable[[QPagedPaintDevice], int]
) -> tuple[bytes, int]:
    """A vector PDF in memory, and how many pages it has."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    try:
        writer = QPdfWriter(buffer)
        writer.setResolution(DOTS)
        writer.setTitle(job.name)
        writer.setCreator("Zealous Crane")
        writer.setPageLayout(layout)
        count = draw(writer)
    finally:
        buffer.close()
    return bytes(data.data()), count


def _counted(
    job: Job, caution: str, coded: bool, fill: Callable[[Page], None], layout: QPageLayout
) -> int:
    """How many pages there are: they are filled once and thrown away."""
    return _written(
        job, layout, lambda device: _filled(device, job, to_text(caution), coded, fill, 0)
    )[1]


def _filled(
    device: QPagedPaintDevice,
    job: Job,
    caution: str,
    coded: bool,
    fill: Callable[[Page], None],
    of: int,
) -> int:
    """Fill the pages of a device; how many they were."""
    painter = QPainter(device)
    # Everything is laid out in dots of the page, however fine the printer's own are.
    painter.scale(device.logicalDpiX() / DOTS, device.logicalDpiY() / DOTS)
    page = Page(device, painter, job.name, caution, page_code(job) if coded else "", of=of)
    try:
        with paper_text():
            fill(page)
            page.foot()
    finally:
        painter.end()
    return page.number
