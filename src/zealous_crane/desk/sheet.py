"""The printed sheet: the blank with its dimensions, then a card for each bend with its picture, fingers and cautions."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QPointF, QRectF, Qt
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter, QPen

from ..blank import mark_out
from ..files import write_atomically
from ..measure import show_angle
from ..plan import Plan, PlannedStroke
from ..shop import cautions_for
from .app import application
from .paint.end import paint_end
from .paint.flat import FlatOptions, paint_flat
from .paint.folded import paint_folded
from .paint.front import paint_front
from .paint.sign import paint_state, paint_tag
from .stages.tooling import set_up_facts
from .theme import PAPER, pixels

DOTS = 144
"""Painter units per inch on paper."""

TEXT = 19.0
"""Height of plain text, painter units: about 9.5 point."""

CARDS_PER_PAGE = 3


@dataclass
class _Page:
    """A page being filled from the top."""

    writer: QPdfWriter
    painter: QPainter
    plan: Plan
    number: int = 1

    @property
    def rect(self) -> QRectF:
        return QRectF(0, 0, self.writer.width(), self.writer.height())

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
        p.drawText(line, Qt.AlignmentFlag.AlignLeft, f"{self.plan.job.name}  ·  page {self.number}")
        p.drawText(line, Qt.AlignmentFlag.AlignRight, cautions_for(self.plan)[0].text)

    def text(self, rect: QRectF, said: str, *, size: float = TEXT, strong: bool = False, color: str = "ink") -> float:
        """Wrapped text at the top of a rectangle; the height it took."""
        p = self.painter
        p.setFont(pixels(size, strong=strong))
        p.setPen(PAPER.color(color))
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        taken = p.boundingRect(rect, flags, said)
        p.drawText(rect, flags, said)
        return taken.height()


def write_sheet(plan: Plan, path: Path) -> None:
    """Write the sheet as a vector PDF.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    application()
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(DOTS)
    writer.setTitle(plan.job.name)
    writer.setCreator("Zealous Crane")
    size = QPageSize.PageSizeId.Letter if plan.job.units.is_inch else QPageSize.PageSizeId.A4
    writer.setPageLayout(
        QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, QMarginsF(14, 12, 14, 12), QPageLayout.Unit.Millimeter)
    )
    painter = QPainter(writer)
    page = _Page(writer, painter, plan)
    _first_page(page)
    for i, stroke in enumerate(plan.strokes):
        if i % CARDS_PER_PAGE == 0:
            page.turn()
        _bend(page, stroke, i % CARDS_PER_PAGE)
    page.foot()
    painter.end()
    buffer.close()
    write_atomically(Path(path), bytes(data.data()))


def _first_page(page: _Page) -> None:
    p, plan, r = page.painter, page.plan, page.rect
    job, blank = plan.job, plan.blank
    y = page.text(QRectF(0, 0, r.width(), 200), job.name, size=TEXT * 1.9, strong=True) + 4
    facts = f"{blank.sheet.name}  ·  {job.quantity} off  ·  {plan.brake.name}  ·  {blank.mass:.2f} kg each"
    y += page.text(QRectF(0, y, r.width(), 100), facts, color="faint") + 10
    paint_state(p, QPointF(TEXT * 0.7, y + TEXT * 0.75), TEXT * 1.1, plan.state, PAPER)
    y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), plan.sentence, size=TEXT * 1.1, strong=True) + 6
    for said in (*plan.reasons, *(f"What works: {a}" for a in plan.advice), *blank.doubts):
        y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), said) + 2
    if job.note:
        y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), f"Note: {job.note}") + 2
    y += 8
    half = r.height() * 0.47
    numbers = {s.verdict.stroke.setting.fold: s.number for s in plan.strokes}
    paint_flat(p, QRectF(0, y, r.width(), half), blank, job.units, PAPER, FlatOptions(numbers=numbers, text=TEXT))
    y += half + 12
    left, right = r.width() * 0.56, r.width() * 0.4
    at = y
    at += page.text(QRectF(0, at, left, 100), "Set the scribe, in this order", strong=True) + 4
    for setting in mark_out(blank).scribe:
        page.text(QRectF(0, at, left * 0.24, 60), setting.shown(job.units), strong=True)
        at += page.text(QRectF(left * 0.24, at, left * 0.76, 60), f"{setting.purpose}, from {setting.struck_from}") + 2
    at += 8
    for i, step in enumerate(mark_out(blank).steps, start=1):
        at += page.text(QRectF(0, at, left, 200), f"{i}.  {step}") + 2
    at += 8
    for item in blank.sums:
        if item.what.startswith("Blank") or item.what == "Corner relief":
            at += page.text(QRectF(0, at, left, 100), f"{item.what}:  {item.text(job.units, pretty=True)}", color="faint") + 1
    paint_folded(p, QRectF(r.width() - right, y, right, right * 0.72), blank, PAPER)
    at = y + right * 0.72 + 6
    for caution in cautions_for(plan):
        # What belongs to a stroke stands on its card.
        if caution.step != "bending":
            at += page.text(QRectF(r.width() - right, at, right, 200), f"!  {caution.text}") + 3


def _bend(page: _Page, stroke: PlannedStroke, place: int) -> None:
    """One bend's card, a third of a page."""
    p, plan, r = page.painter, page.plan, page.rect
    height = (r.height() - TEXT * 2) / CARDS_PER_PAGE
    top = place * height
    p.setPen(QPen(PAPER.color("line"), 1))
    if place:
        p.drawLine(QPointF(0, top), QPointF(r.width(), top))
    angle = stroke.verdict.stroke.setting.line.angle
    tag = paint_tag(p, QPointF(TEXT * 2.2, top + TEXT * 1.7), TEXT * 2.1, str(stroke.number), angle, PAPER)
    p.setFont(pixels(TEXT * 1.35, strong=True))
    p.setPen(PAPER.color("ink"))
    title = f"{stroke.name}: stop at {show_angle(stroke.verdict.reach)}"
    p.drawText(QRectF(tag.right() + TEXT, top + TEXT * 0.6, r.width(), TEXT * 2.2), Qt.AlignmentFlag.AlignVCenter, title)
    paint_state(p, QPointF(r.width() - TEXT, top + TEXT * 1.7), TEXT * 1.2, stroke.state, PAPER)
    body = top + TEXT * 3.1
    room = height - TEXT * 3.6
    wide = r.width() * 0.38
    paint_end(p, QRectF(0, body, wide, room), stroke, stroke.verdict.reach, PAPER, plain=True)
    x = wide + TEXT
    y = body
    for what, value in set_up_facts(plan, stroke)[:5]:
        names = r.width() * 0.24
        page.text(QRectF(x, y, names, 100), what, size=TEXT * 0.85, color="faint")
        y += page.text(QRectF(x + names, y, r.width() - x - names, 100), value, size=TEXT * 0.9) + 2
    y += page.text(QRectF(x, y + 2, r.width() - x, 200), stroke.sentence(), size=TEXT * 0.9, strong=True) + 4
    step = "by hand" if stroke.verdict.by_hand > 1e-6 else "bending"
    words = [c.text for c in cautions_for(plan) if c.step == step]
    if words:
        y += page.text(QRectF(x, y, r.width() - x, 200), f"!  {words[stroke.number % len(words)]}", size=TEXT * 0.85) + 4
    front = QRectF(x, y, r.width() - x, max(body + room - y, TEXT * 4))
    paint_front(p, front, stroke, plan.job.units, PAPER, text=TEXT * 0.8)
