"""The printed sheet: the blank with its dimensions, how it is marked out, then a card for each bend
with its picture, its tools, what is set and its cautions."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPainter

from ..cutting.summary import (
    MetalSummary,
    facts,
    kept_lines,
    lines_on,
    setting_lines,
    sheet_title,
)
from ..flat.blank import Blank
from ..flat.ruler import Striking
from ..i18n import msg, tr
from ..inspection.explain import Explained
from ..inspection.finishing import FinishingStep
from ..inspection.inspection import Inspection
from ..inspection.measures import Stands
from ..inspection.model import What
from ..inspection.wording import (
    advice,
    figure,
    show_measure,
    show_reading,
    show_spread,
    unit_of,
    verdict,
)
from ..job.job import Job
from ..paint.brake import paint_end, paint_front
from ..paint.flat import FlatOptions, paint_flat
from ..paint.folded import paint_folded
from ..paint.frame import paint_state, paint_tag
from ..paint.machine_view import Shot, paint_moment
from ..paint.sheets import SheetPicture, letter, paint_sheet_cut
from ..paint.sizes import paint_sizes
from ..paint.theme import PAPER, fitting
from ..paper.stroke_words import turn_text
from ..planning.motion import clamped
from ..planning.plan import Plan, PlannedStroke
from ..planning.setup import set_up_facts
from ..practice.exercise import Exercise, QuestionKind
from ..shop.safety_notes import FIRST, CautionStep, cautions_at, cautions_for
from ..units.length import Units, show_length
from ..units.quantities import show_angle, show_mass, signed_angle
from .flow import Boxes, Flow, FlowBlock, Picture, Rule, SideBySide, Space, Text
from .page import LABEL, TEXT, Target, print_pages
from .template import marking_pieces

FLAT = (0.3, 0.46)
"""Least and greatest share of a page's height the blank takes."""

FOLDED = 0.2
"""Share of a page's height the folded part takes."""

END, IN_ROUND = 0.11, 0.125
"""Shares of a page's height that a bend's two pictures take, one below the other: three cards go on
a page."""

FRONT = TEXT * 6
"""Height of the tools from the front."""


def write_sheet(plan: Plan, target: Target) -> None:
    """Write the sheet as a vector PDF.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    print_pages(
        plan.job, target, cautions_for(plan)[0].text, lambda page: fill_sheet(Flow(page), plan)
    )


def fill_sheet(flow: Flow, plan: Plan) -> None:
    """The sheet of one part from the top of a page."""
    job, blank, tall = plan.job, plan.blank, flow.page.rect.height()
    painter = flow.page.painter
    facts = tr("{name}  ·  {quantity} off  ·  {name_2}  ·  {mass} each").format(
        name=blank.sheet.name,
        quantity=job.quantity,
        name_2=plan.brake.name,
        mass=show_mass(blank.mass, job.units),
    )
    flow.add(
        Text(job.name, size=TEXT * 1.9, strong=True, after=4), Text(facts, color="faint", after=10)
    )
    flow.add(_state(painter, plan))
    text = (
        *(
            tr("After bend {after}: {says}").format(after=h.after, says=h.says)
            if h.after
            else h.says
            for h in plan.hand
        ),
        *plan.reasons,
        *(tr("What would work: {a}").format(a=a) for a in plan.advice),
        *blank.doubts,
        *([tr("Note: {note}").format(note=job.note)] if job.note else []),
    )
    flow.every([Text(each, left=TEXT * 2) for each in text])
    numbers = {fold: s.number for s in plan.strokes for fold in s.verdict.stroke.setting.folds}
    options = FlatOptions(numbers=numbers, text=TEXT, striking=Striking.of(job))
    # What belongs to a stroke stands on its card.
    cautions = tuple(
        Text(f"!  {c.text}", after=3)
        for c in cautions_for(plan)
        if c.step in (CautionStep.ALWAYS, CautionStep.CUTTING)
    )

    def paint_part(rect: QRectF) -> None:
        scale = paint_folded(painter, rect, blank, PAPER)
        paint_sizes(painter, rect, blank, job, PAPER, scale, turn=28.0, tilt=35.0, letters=LABEL)

    folded = Picture(tall * FOLDED, paint_part)
    marking = marking_pieces(flow.page, job, blank)
    beside = SideBySide(((0.57, tuple(marking)), (0.4, (folded, *cautions))))
    # The blank is drawn as large as leaves room for the rest of the page, if it need not be too
    # small for that.
    room = flow.left - 20 - beside.height(flow.page, flow.page.rect.width())
    fits = room >= tall * FLAT[0]
    flat = min(room, tall * FLAT[1]) if fits else tall * FLAT[1]
    flow.add(
        Space(8),
        Picture(flat, lambda rect: paint_flat(painter, rect, blank, job.units, PAPER, options), 12),
    )
    if fits:
        flow.add(beside)
    else:
        flow.add(SideBySide(((0.42, (folded,)), (0.58, cautions))))
        flow.every(marking)
    wanted = sizes_wanted(job, blank)
    flow.add(Space(8), *wanted[:3])
    flow.every(wanted[3:])
    if plan.strokes:
        flow.turn()
    for stroke in plan.strokes:
        flow.add(Rule(), *_card(painter, tall, plan, stroke))


SIZES = (0.5, 0.16, 0.12, 0.22)
"""Shares of the width: what is measured, what is wanted, how far it may be off, and the box for
what was got."""

MOST_SIZES = 14
"""Sizes that stand on the sheet, those first that tell most; the rest are in Check."""


def sizes_wanted(job: Job, blank: Blank) -> list[FlowBlock]:
    """What to measure on the finished part: the size, its tolerance, and a box for what was got."""
    inspection = Inspection(job, blank)
    lines = [line for line in inspection.lines if line in inspection.first][:MOST_SIZES]
    if not lines:
        return []
    heads = (
        tr("Measure on the finished part"),
        tr("Wanted, {unit}").format(unit=unit_of(job.units)),
        "±",
        tr("Got"),
    )
    rows: list[FlowBlock] = [
        SideBySide(
            tuple(
                (share, (Text(text, strong=True, after=3),))
                for share, text in zip(SIZES, heads, strict=True)
            ),
            gap=4.0,
        )
    ]
    for line in lines:
        cells: tuple[FlowBlock, ...] = (
            Text(line.measure.says, after=3),
            Text(show_measure(line.measure, line.wanted, job), after=3),
            Text(show_spread(line.measure, line.allowed, job.units), after=3),
            Boxes(("",), tall=TEXT * 1.4),
        )
        rows.append(
            SideBySide(
                tuple((share, (cell,)) for share, cell in zip(SIZES, cells, strict=True)), gap=4.0
            )
        )
    return rows


def _state(painter: QPainter, plan: Plan) -> FlowBlock:
    """The verdict, with its sign."""
    size = TEXT * 1.1
    sign = Picture(
        size * 1.4,
        lambda r: paint_state(
            painter, QPointF(TEXT * 0.7, r.top() + TEXT * 0.75), size, plan.state, PAPER
        ),
        0,
    )
    return SideBySide(
        (
            (TEXT * 1.4, (sign,)),
            (TEXT * 40, (Text(plan.sentence, size=size, strong=True, after=6),)),
        )
    )


def _card(
    painter: QPainter, tall: float, plan: Plan, stroke: PlannedStroke
) -> tuple[FlowBlock, ...]:
    """One bend: what is set in figures to be read at arm's length, the part in the brake, every
    fact of the set-up."""
    facts = [
        SideBySide(
            (
                (0.3, (Text(fact.label, size=LABEL, color="faint"),)),
                (0.7, (Text(fact.value, after=3),)),
            )
        )
        for fact in set_up_facts(plan, stroke)
    ]
    flow_blocks: list[FlowBlock] = [
        Text(turn_text(plan, stroke) + stroke.sentence(), strong=True, after=4)
    ]
    # On paper each caution stands where it first belongs; what goes for every stroke is not printed
    # on all of them.
    flow_blocks += [Text(f"!  {c.text}", after=4) for c in cautions_at(plan, stroke) if c.first]
    if not stroke.verdict.flattens:
        flow_blocks.append(Boxes((tr("angle got"), tr("second hit"))))
    end = Picture(
        tall * END, lambda r: paint_end(painter, r, stroke, stroke.verdict.reach, PAPER, plain=True)
    )
    in_round = Picture(
        tall * IN_ROUND,
        lambda r: paint_moment(painter, r, clamped(stroke, stroke.verdict.reach), PAPER, Shot()),
    )
    front = Picture(
        FRONT, lambda r: paint_front(painter, r, stroke, plan.job.units, PAPER, text=LABEL)
    )
    return (
        Picture(TEXT * 2.6, partial(_title, painter, stroke), 4),
        SideBySide(((0.36, (end, in_round)), (0.64, (*facts, Space(2), *flow_blocks)))),
        front,
    )


def _title(painter: QPainter, stroke: PlannedStroke, rect: QRectF) -> None:
    """Number, name, angle to stop at, and whether it is reached."""
    middle = rect.center().y()
    angle = stroke.verdict.stroke.setting.line.angle
    tag = paint_tag(
        painter,
        QPointF(rect.left() + TEXT * 2.2, middle),
        TEXT * 2.1,
        str(stroke.number),
        angle,
        PAPER,
    )
    words = QRectF(
        tag.right() + TEXT, rect.top(), rect.right() - tag.right() - TEXT * 4, rect.height()
    )
    title, letters = heading_of(stroke, words.width())
    painter.setFont(letters)
    painter.setPen(PAPER.color("ink"))
    painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, title)
    paint_state(painter, QPointF(rect.right() - TEXT, middle), TEXT * 1.2, stroke.state, PAPER)


def heading_of(stroke: PlannedStroke, room: float) -> tuple[str, QFont]:
    """A bend's name and the angle to stop at, in letters with which both have room; a name too long
    even so gives way to the figure."""

    def said(name: str) -> str:
        return tr("{name}: stop at {reach}").format(
            name=name, reach=show_angle(stroke.machine_stop)
        )

    letters = fitting(said(stroke.name), room, TEXT * 1.6, strong=True)
    measure = QFontMetricsF(letters)
    left = room - measure.horizontalAdvance(said(""))
    return said(measure.elidedText(stroke.name, Qt.TextElideMode.ElideRight, left)), letters


CAUTIONS = (
    msg(
        "Fingers clear of hold-down and blade; foot clear of the treadle; never reach past the "
        "guard."
    ),
    msg(
        "Gloves for edges and slivers, none near the moving blade. The shear's own manual and "
        "rating come first."
    ),
)


def write_cut_sheet(told: Sequence[MetalSummary], job: Job, target: Target) -> None:
    """Write the cut sheet.

    Args:
        told: the cutting of every metal.
        job: whose name and units it carries.
        target: the file.

    Raises:
        FileError: it could not be written.
    """
    print_pages(job, target, FIRST, lambda page: fill_cut_sheet(Flow(page), told, job), coded=False)


def fill_cut_sheet(flow: Flow, told: Sequence[MetalSummary], job: Job) -> None:
    """The cut sheet from the top of a page.

    Args:
        flow: the pages.
        told: the cutting of each metal.
        job: the job.
    """
    flow.add(
        Text(tr("{name}: cutting").format(name=job.name), size=TEXT * 1.6, strong=True, after=4),
        *(Text(f"!  {text}") for text in CAUTIONS),
    )
    for one in told:
        head = Text(f"{one.lot.name}: {one.says}", size=TEXT * 1.2, strong=True)
        if one.cannot:
            flow.add(Space(8), head)
            continue
        care = [Text(f"!  {text}") for text in one.care]
        flow.add(Space(8), head, Text(facts(one), color="faint"), *care)
        flow.add(*_blanks(one, job.units), Space(4))
        flow.every([Text(f"[  ]  {line}", after=4) for line in setting_lines(one, job.units)])
        for number in range(len(one.sheets)):
            _sheet(flow, one, number, job.units)


def _blanks(one: MetalSummary, units: Units) -> list[FlowBlock]:
    """What is cut: how many, of which size, for which part; read at arm's length."""
    return [
        SideBySide(
            (
                (0.12, (Text(f"{blank.count} ×", size=TEXT * 1.25, strong=True),)),
                (
                    0.44,
                    (
                        Text(
                            tr("{length} × {width}").format(
                                length=show_length(blank.length, units, pretty=True),
                                width=show_length(blank.width, units, pretty=True),
                            ),
                            size=TEXT * 1.25,
                            strong=True,
                        ),
                    ),
                ),
                (0.44, (Text(f"{letter(number)}  {blank.name}"),)),
            )
        )
        for number, blank in enumerate(one.lot.blanks)
    ]


def _sheet(flow: Flow, one: MetalSummary, number: int, units: Units) -> None:
    """One sheet: what it is, its picture, and what is kept of it."""
    page, sheet = flow.page, one.sheets[number]
    tall = min(
        page.rect.width() * sheet.stock.width / sheet.stock.length + 40, page.rect.height() * 0.36
    )
    lines = [Text(line) for line in kept_lines(sheet, units)]
    picture = SheetPicture(sheet, sheet_title(one, number, units), units, lines_on(one, number))
    flow.add(
        Space(6),
        Picture(
            tall,
            lambda rect: paint_sheet_cut(page.painter, rect, picture, PAPER, LABEL),
            4,
        ),
        *lines[:3],
    )
    flow.every(lines[3:])


LINE = 30
"""Underscores of a line to write on."""


def write_exercise(exercise: Exercise, target: Target, *, answers: bool) -> None:
    """Write an exercise as a PDF.

    Args:
        exercise: the exercise.
        target: the file or printer.
        answers: with the answers.

    Raises:
        FileError: it could not be written.
    """
    # What stands at a machine is told in full below the questions.
    caution = FIRST if exercise.cautions else tr("Gloves for cut edges, none near turning tools.")
    print_pages(
        exercise.job, target, caution, lambda page: _fill_exercise(Flow(page), exercise, answers)
    )


def _fill_exercise(flow: Flow, exercise: Exercise, answers: bool) -> None:
    painter = flow.page.painter
    title = tr("{skill}, grade {grade}").format(skill=exercise.skill.words, grade=exercise.grade)
    flow.add(
        Text(title, size=TEXT * 1.7, strong=True, after=6),
        Text(exercise.task, size=TEXT * 1.15, after=8),
    )
    lines: list[FlowBlock] = [Text(line, after=3) for line in exercise.given]
    if exercise.table:
        lines += [Space(TEXT * 0.6), *(Text(line, after=3) for line in exercise.table)]
    folded = Picture(TEXT * 14, lambda rect: paint_folded(painter, rect, exercise.blank, PAPER), 12)
    flow.add(SideBySide(((0.53, tuple(lines)), (0.45, (folded,)))), Space(TEXT * 0.6))
    for number, question in enumerate(exercise.questions, start=1):
        asked: list[FlowBlock] = [Text(f"{number}.  {question.says}", strong=True, after=4)]
        lettered = {
            option: f"{chr(97 + i)})  {option}" for i, option in enumerate(question.options)
        }
        asked += [Text(line, left=TEXT * 1.5, after=3) for line in lettered.values()]
        if answers:
            answer = tr("Answer:  {answer}").format(
                answer=lettered.get(question.answer, question.answer)
            )
            asked.append(Text(answer, strong=True, left=TEXT * 1.5, after=10))
        else:
            rows = 2 if question.kind is QuestionKind.ORDER else 1
            asked += [
                Space(TEXT * 0.6),
                Text("\n".join(["_" * LINE * 2] * rows), left=TEXT * 1.5, after=12),
            ]
        flow.add(*asked)
    flow.every([Text(str(caution), color="faint", after=3) for caution in exercise.cautions])


SIGNS = {Stands.OPEN: "–", Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■"}
COLUMNS = (0.44, 0.15, 0.1, 0.15, 0.1, 0.06)
"""How wide each column of the table is, as shares of the page."""


def write_report(  # noqa: PLR0913
    inspection: Inspection,
    measured: dict[str, float],
    explained: Explained | None,
    steps: Iterable[tuple[FinishingStep, bool]],
    next_time: str,
    part: int,
    target: Target,
) -> None:
    """Write the report.

    Args:
        inspection: the part and its sizes.
        measured: what was got, by key.
        explained: what explains it; None when nothing was measured.
        steps: of joining and finishing, and whether each was ticked.
        next_time: what to change.
        part: number of the part in the lot.
        target: the file.

    Raises:
        FileError: it could not be written.
    """
    done = tuple(steps)
    print_pages(
        inspection.job,
        target,
        FIRST,
        lambda page: _fill_report(
            Flow(page), inspection, measured, explained, done, next_time, part
        ),
    )


def _fill_report(  # noqa: PLR0913
    flow: Flow,
    inspection: Inspection,
    measured: dict[str, float],
    explained: Explained | None,
    steps: Iterable[tuple[FinishingStep, bool]],
    next_time: str,
    part: int,
) -> None:
    job, blank, painter = inspection.job, inspection.blank, flow.page.painter
    title = tr("{name}: as made, part {part} of {quantity}").format(
        name=job.name, part=part, quantity=job.quantity
    )
    flow.add(Text(title, size=TEXT * 1.6, strong=True, after=4))
    if explained is not None:
        flow.add(
            Text(
                verdict(explained, blank, job, len(inspection.out(measured))), strong=True, after=6
            )
        )
    flow.add(
        Picture(
            flow.page.rect.height() * 0.2, lambda rect: paint_folded(painter, rect, blank, PAPER)
        )
    )
    rows = _table(inspection, measured)
    flow.add(*rows[:3])
    flow.every(rows[3:])
    for each in explained.causes[:3] if explained is not None else ():
        told = advice(each, blank, job)
        sentence = (
            tr("{odds} in 100:  {what}").format(odds=round(100 * each.odds), what=told.what),
            told.this_part,
            told.next_part,
        )
        flow.add(Space(4), *(Text(text) for text in sentence if text))
    done = [Text(f"{'[x]' if ticked else '[  ]'}  {step.says}") for step, ticked in steps]
    flow.add(Space(8), Text(tr("Joining and finishing"), strong=True), *done[:2])
    flow.every(done[2:])
    if next_time:
        flow.add(Space(8), Text(tr("Next time"), strong=True), Text(next_time))


def _table(inspection: Inspection, measured: dict[str, float]) -> list[FlowBlock]:
    job = inspection.job
    heads = (
        tr("What"),
        tr("Wanted, {unit}").format(unit=unit_of(job.units)),
        "±",
        tr("Got"),
        tr("Off"),
        "",
    )
    rows: list[FlowBlock] = [_row(heads, strong=True)]
    for line in inspection.lines:
        key = line.measure.key
        if key not in measured and line not in inspection.first:
            continue
        got = measured.get(key)
        angle = line.measure.what is What.ANGLE
        plus = show_spread(line.measure, line.allowed, job.units)
        off = (
            ""
            if got is None
            else signed_angle(got - line.wanted)
            if angle
            else _signed(got - line.wanted, inspection)
        )
        texts = (
            line.measure.says,
            show_measure(line.measure, line.wanted, job),
            plus,
            "" if got is None else show_reading(line.measure, got, job),
            off,
            SIGNS[line.stands(got)],
        )
        rows.append(_row(texts))
    return rows


def _signed(off: float, inspection: Inspection) -> str:
    return ("+" if off >= 0 else "−") + figure(abs(off), inspection.job.units)


def _row(texts: tuple[str, ...], *, strong: bool = False) -> FlowBlock:
    cells = zip(texts, COLUMNS, strict=True)
    return SideBySide(
        tuple((share, (Text(text, strong=strong, after=3),)) for text, share in cells), gap=4.0
    )
