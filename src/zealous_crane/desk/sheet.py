"""The printed sheet: the blank with its dimensions, then a card for each bend with its picture, fingers and cautions."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPen

from ..blank import Striking
from ..measure import show_angle, show_mass
from ..measure.words import tr
from ..plan import Plan, PlannedStroke, set_up_facts
from ..shop import cautions_for
from .page import TEXT, Page, Target, printed
from .paint.end import paint_end
from .paint.flat import FlatOptions, paint_flat
from .paint.folded import paint_folded
from .paint.front import paint_front
from .paint.sign import paint_state, paint_tag
from .template import print_marking
from .theme import PAPER, pixels

CARDS_PER_PAGE = 3


def write_sheet(plan: Plan, target: Target) -> None:
    """Write the sheet as a vector PDF.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    with printed(plan.job, target, cautions_for(plan)[0].text) as page:
        _first_page(page, plan)
        for i, stroke in enumerate(plan.strokes):
            if i % CARDS_PER_PAGE == 0:
                page.turn()
            _bend(page, plan, stroke, i % CARDS_PER_PAGE)


def _first_page(page: Page, plan: Plan) -> None:
    p, r = page.painter, page.rect
    job, blank = plan.job, plan.blank
    y = page.text(QRectF(0, 0, r.width(), 200), job.name, size=TEXT * 1.9, strong=True) + 4
    facts = tr("{name}  ·  {quantity} off  ·  {name_2}  ·  {mass} each").format(
        name=blank.sheet.name, quantity=job.quantity, name_2=plan.brake.name, mass=show_mass(blank.mass, job.units)
    )
    y += page.text(QRectF(0, y, r.width(), 100), facts, color="faint") + 10
    paint_state(p, QPointF(TEXT * 0.7, y + TEXT * 0.75), TEXT * 1.1, plan.state, PAPER)
    y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), plan.sentence, size=TEXT * 1.1, strong=True) + 6
    for said in (
        *(tr("After bend {after}: {says}").format(after=h.after, says=h.says) if h.after else h.says for h in plan.hand),
        *plan.reasons,
        *(tr("What works: {a}").format(a=a) for a in plan.advice),
        *blank.doubts,
    ):
        y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), said) + 2
    if job.note:
        y += page.text(QRectF(TEXT * 2, y, r.width() - TEXT * 2, 200), tr("Note: {note}").format(note=job.note)) + 2
    y += 8
    half = r.height() * 0.47
    numbers = {fold: s.number for s in plan.strokes for fold in s.verdict.stroke.setting.folds}
    paint_flat(
        p,
        QRectF(0, y, r.width(), half),
        blank,
        job.units,
        PAPER,
        FlatOptions(numbers=numbers, text=TEXT, striking=Striking.of(job)),
    )
    y += half + 12
    left, right = r.width() * 0.56, r.width() * 0.4
    print_marking(page, job, blank, QRectF(0, y, left, r.height() - y))
    paint_folded(p, QRectF(r.width() - right, y, right, right * 0.72), blank, PAPER)
    at = y + right * 0.72 + 6
    for caution in cautions_for(plan):
        # What belongs to a stroke stands on its card.
        if caution.step != "bending":
            at += page.text(QRectF(r.width() - right, at, right, 200), f"!  {caution.text}") + 3


def _bend(page: Page, plan: Plan, stroke: PlannedStroke, place: int) -> None:
    """One bend's card, a third of a page."""
    p, r = page.painter, page.rect
    height = (r.height() - TEXT * 2) / CARDS_PER_PAGE
    top = place * height
    p.setPen(QPen(PAPER.color("line"), 1))
    if place:
        p.drawLine(QPointF(0, top), QPointF(r.width(), top))
    angle = stroke.verdict.stroke.setting.line.angle
    tag = paint_tag(p, QPointF(TEXT * 2.2, top + TEXT * 1.7), TEXT * 2.1, str(stroke.number), angle, PAPER)
    p.setFont(pixels(TEXT * 1.35, strong=True))
    p.setPen(PAPER.color("ink"))
    title = tr("{name}: stop at {reach}").format(name=stroke.name, reach=show_angle(stroke.verdict.reach))
    p.drawText(QRectF(tag.right() + TEXT, top + TEXT * 0.6, r.width(), TEXT * 2.2), Qt.AlignmentFlag.AlignVCenter, title)
    paint_state(p, QPointF(r.width() - TEXT, top + TEXT * 1.7), TEXT * 1.2, stroke.state, PAPER)
    body = top + TEXT * 3.1
    room = height - TEXT * 3.6
    wide = r.width() * 0.38
    paint_end(p, QRectF(0, body, wide, room), stroke, stroke.verdict.reach, PAPER, plain=True)
    x = wide + TEXT
    y = body
    for fact in set_up_facts(plan, stroke)[:6]:
        names = r.width() * 0.24
        page.text(QRectF(x, y, names, 100), fact.label, size=TEXT * 0.85, color="faint")
        y += page.text(QRectF(x + names, y, r.width() - x - names, 100), fact.value, size=TEXT * 0.9) + 2
    y += page.text(QRectF(x, y + 2, r.width() - x, 200), stroke.sentence(), size=TEXT * 0.9, strong=True) + 4
    step = "by hand" if stroke.verdict.by_hand > 0 else "bending"
    words = [c.text for c in cautions_for(plan) if c.step == step]
    if words:
        y += page.text(QRectF(x, y, r.width() - x, 200), f"!  {words[stroke.number % len(words)]}", size=TEXT * 0.85) + 4
    front = QRectF(x, y, r.width() - x, max(body + room - y, TEXT * 4))
    paint_front(p, front, stroke, plan.job.units, PAPER, text=TEXT * 0.8)
