"""The printed sheet: the blank with its dimensions, how it is marked out, then a card for each bend with its picture, its tools, what is
set and its cautions."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter

from ..blank import Striking
from ..measure import show_angle, show_mass
from ..measure.words import tr
from ..plan.result.facts import set_up_facts
from ..plan.result.plan import Plan, PlannedStroke
from ..shop.caution import cautions_at, cautions_for
from .flow import Columns, Flow, Picture, Piece, Rule, Space, Text
from .page import TEXT, Target, printed
from .paint.end import paint_end
from .paint.flat import FlatOptions, paint_flat
from .paint.folded import paint_folded
from .paint.front import paint_front
from .paint.sign import paint_state, paint_tag
from .template import marking_pieces
from .theme import PAPER, fitting

FLAT = (0.3, 0.46)
"""Least and greatest share of a page's height the blank takes."""

FOLDED = 0.16
"""Share of a page's height the folded part takes."""

END = 0.185
"""Share of a page's height a bend's picture takes: three cards go on a page."""

FRONT = TEXT * 6
"""Height of the tools from the front."""


def write_sheet(plan: Plan, target: Target) -> None:
    """Write the sheet as a vector PDF.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    with printed(plan.job, target, cautions_for(plan)[0].text) as page:
        fill_sheet(Flow(page), plan)


def fill_sheet(flow: Flow, plan: Plan) -> None:
    """The sheet of one part from the top of a page."""
    job, blank, tall = plan.job, plan.blank, flow.page.rect.height()
    painter = flow.page.painter
    facts = tr("{name}  ·  {quantity} off  ·  {name_2}  ·  {mass} each").format(
        name=blank.sheet.name, quantity=job.quantity, name_2=plan.brake.name, mass=show_mass(blank.mass, job.units)
    )
    flow.add(Text(job.name, size=TEXT * 1.9, strong=True, after=4), Text(facts, color="faint", after=10))
    flow.add(_state(painter, plan))
    said = (
        *(tr("After bend {after}: {says}").format(after=h.after, says=h.says) if h.after else h.says for h in plan.hand),
        *plan.reasons,
        *(tr("What works: {a}").format(a=a) for a in plan.advice),
        *blank.doubts,
        *([tr("Note: {note}").format(note=job.note)] if job.note else []),
    )
    flow.every([Text(each, left=TEXT * 2) for each in said])
    numbers = {fold: s.number for s in plan.strokes for fold in s.verdict.stroke.setting.folds}
    options = FlatOptions(numbers=numbers, text=TEXT, striking=Striking.of(job))
    # What belongs to a stroke stands on its card.
    cautions = tuple(Text(f"!  {c.text}", after=3) for c in cautions_for(plan) if c.step in ("always", "cutting"))
    folded = Picture(tall * FOLDED, lambda rect: paint_folded(painter, rect, blank, PAPER))
    marking = marking_pieces(flow.page, job, blank)
    beside = Columns(((0.57, tuple(marking)), (0.4, (folded, *cautions))))
    # The blank is drawn as large as leaves room for the rest of the page, if it need not be too small for that.
    room = flow.left - 20 - beside.height(flow.page, flow.page.rect.width())
    fits = room >= tall * FLAT[0]
    flat = min(room, tall * FLAT[1]) if fits else tall * FLAT[1]
    flow.add(Space(8), Picture(flat, lambda rect: paint_flat(painter, rect, blank, job.units, PAPER, options), 12))
    if fits:
        flow.add(beside)
    else:
        flow.add(Columns(((0.42, (folded,)), (0.58, cautions))))
        flow.every(marking)
    if plan.strokes:
        flow.turn()
    for stroke in plan.strokes:
        flow.add(Rule(), *_card(painter, tall, plan, stroke))


def _state(painter: QPainter, plan: Plan) -> Piece:
    """The verdict, with its sign."""
    size = TEXT * 1.1
    sign = Picture(
        size * 1.4, lambda r: paint_state(painter, QPointF(TEXT * 0.7, r.top() + TEXT * 0.75), size, plan.state, PAPER), 0
    )
    return Columns(((TEXT * 1.4, (sign,)), (TEXT * 40, (Text(plan.sentence, size=size, strong=True, after=6),))))


def _card(painter: QPainter, tall: float, plan: Plan, stroke: PlannedStroke) -> tuple[Piece, ...]:
    """One bend: what is set in figures to be read at arm's length, the part in the brake, every fact of the set-up."""
    facts = [
        Columns(
            (
                (0.3, (Text(fact.label, size=TEXT * 0.85, color="faint"),)),
                (0.7, (Text(fact.value, size=TEXT * 0.9, after=3),)),
            )
        )
        for fact in set_up_facts(plan, stroke)
    ]
    said: list[Piece] = [Text(stroke.sentence(), size=TEXT * 0.9, strong=True, after=4)]
    # On paper each caution stands where it first belongs; what goes for every stroke is not printed on all of them.
    said += [Text(f"!  {c.text}", size=TEXT * 0.85, after=4) for c in cautions_at(plan, stroke) if c.first]
    end = Picture(tall * END, lambda r: paint_end(painter, r, stroke, stroke.verdict.reach, PAPER, plain=True))
    front = Picture(FRONT, lambda r: paint_front(painter, r, stroke, plan.job.units, PAPER, text=TEXT * 0.8))
    return (
        Picture(TEXT * 2.6, partial(_title, painter, stroke), 4),
        Columns(((0.36, (end,)), (0.64, (*facts, Space(2), *said)))),
        front,
    )


def _title(painter: QPainter, stroke: PlannedStroke, rect: QRectF) -> None:
    """Number, name, angle to stop at, and whether it is reached."""
    middle = rect.center().y()
    angle = stroke.verdict.stroke.setting.line.angle
    tag = paint_tag(painter, QPointF(rect.left() + TEXT * 2.2, middle), TEXT * 2.1, str(stroke.number), angle, PAPER)
    words = QRectF(tag.right() + TEXT, rect.top(), rect.right() - tag.right() - TEXT * 4, rect.height())
    title, letters = heading_of(stroke, words.width())
    painter.setFont(letters)
    painter.setPen(PAPER.color("ink"))
    painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, title)
    paint_state(painter, QPointF(rect.right() - TEXT, middle), TEXT * 1.2, stroke.state, PAPER)


def heading_of(stroke: PlannedStroke, room: float) -> tuple[str, QFont]:
    """A bend's name and the angle to stop at, in letters with which both have room; a name too long even so gives way to the figure."""

    def said(name: str) -> str:
        return tr("{name}: stop at {reach}").format(name=name, reach=show_angle(stroke.machine_stop))

    letters = fitting(said(stroke.name), room, TEXT * 1.6, strong=True)
    measure = QFontMetricsF(letters)
    left = room - measure.horizontalAdvance(said(""))
    return said(measure.elidedText(stroke.name, Qt.TextElideMode.ElideRight, left)), letters
