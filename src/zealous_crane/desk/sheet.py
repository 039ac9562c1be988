"""The printed sheet: the blank with its dimensions, how it is marked out, then a card for each bend with its picture, its tools, what is
set and its cautions."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter

from ..blank import Blank, Striking
from ..check.inspection import Inspection
from ..check.saying import show_measure, show_spread, unit_of
from ..job import Job
from ..measure import show_angle, show_mass
from ..measure.words import tr
from ..plan.result.facts import set_up_facts
from ..plan.result.plan import Plan, PlannedStroke
from ..shop.caution import cautions_at, cautions_for
from .flow import Boxes, Columns, Flow, Picture, Piece, Rule, Space, Text
from .page import LABEL, TEXT, Target, print_pages
from .paint.end import paint_end
from .paint.flat import FlatOptions, paint_flat
from .paint.folded import paint_folded
from .paint.front import paint_front
from .paint.part_sizes import paint_sizes
from .paint.sign import paint_state, paint_tag
from .stages.step_words import turn_text
from .template import marking_pieces
from .theme import PAPER, fitting

FLAT = (0.3, 0.46)
"""Least and greatest share of a page's height the blank takes."""

FOLDED = 0.2
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
    print_pages(plan.job, target, cautions_for(plan)[0].text, lambda page: fill_sheet(Flow(page), plan))


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

    def paint_part(rect: QRectF) -> None:
        scale = paint_folded(painter, rect, blank, PAPER)
        paint_sizes(painter, rect, blank, job, PAPER, scale, turn=28.0, tilt=35.0, letters=LABEL)

    folded = Picture(tall * FOLDED, paint_part)
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
    wanted = sizes_wanted(job, blank)
    flow.add(Space(8), *wanted[:3])
    flow.every(wanted[3:])
    if plan.strokes:
        flow.turn()
    for stroke in plan.strokes:
        flow.add(Rule(), *_card(painter, tall, plan, stroke))


SIZES = (0.5, 0.16, 0.12, 0.22)
"""Shares of the width: what is measured, what is wanted, how far it may be off, and the box for what was got."""

MOST_SIZES = 14
"""Sizes that stand on the sheet, those first that tell most; the rest are in Check."""


def sizes_wanted(job: Job, blank: Blank) -> list[Piece]:
    """What to measure on the finished part: the size, its tolerance, and a box for what was got."""
    inspection = Inspection(job, blank)
    lines = [line for line in inspection.lines if line in inspection.first][:MOST_SIZES]
    if not lines:
        return []
    heads = (tr("Measure on the finished part"), tr("Wanted, {unit}").format(unit=unit_of(job.units)), "±", tr("Got"))
    rows: list[Piece] = [
        Columns(tuple((share, (Text(text, strong=True, after=3),)) for share, text in zip(SIZES, heads, strict=True)), gap=4.0)
    ]
    for line in lines:
        cells: tuple[Piece, ...] = (
            Text(line.measure.says, after=3),
            Text(show_measure(line.measure, line.wanted, job), after=3),
            Text(show_spread(line.measure, line.allowed, job.units), after=3),
            Boxes(("",), tall=TEXT * 1.4),
        )
        rows.append(Columns(tuple((share, (cell,)) for share, cell in zip(SIZES, cells, strict=True)), gap=4.0))
    return rows


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
                (0.3, (Text(fact.label, size=LABEL, color="faint"),)),
                (0.7, (Text(fact.value, after=3),)),
            )
        )
        for fact in set_up_facts(plan, stroke)
    ]
    said: list[Piece] = [Text(turn_text(plan, stroke) + stroke.sentence(), strong=True, after=4)]
    # On paper each caution stands where it first belongs; what goes for every stroke is not printed on all of them.
    said += [Text(f"!  {c.text}", after=4) for c in cautions_at(plan, stroke) if c.first]
    if not stroke.verdict.flattens:
        said.append(Boxes((tr("angle got"), tr("second hit"))))
    end = Picture(tall * END, lambda r: paint_end(painter, r, stroke, stroke.verdict.reach, PAPER, plain=True))
    front = Picture(FRONT, lambda r: paint_front(painter, r, stroke, plan.job.units, PAPER, text=LABEL))
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
