"""The marking sheet, and the template at full size over as many pages as it takes."""

from __future__ import annotations

import math
from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPageLayout, QPainter, QPen

from ..flat.bend_lines import half_marks
from ..flat.blank import Blank
from ..flat.corner_instructions import CornerRecipe
from ..flat.marking import FILM_WORDS, mark_out
from ..flat.ruler import Striking
from ..i18n import tr
from ..job.job import Job
from ..paint.flat import FlatOptions, paint_corner, paint_flat, painter_path
from ..paint.frame import Scale, paint_tag
from ..paint.theme import PAPER, pixels
from ..shop.safety_notes import FIRST
from ..units.length import INCH, Units, show_length
from ..units.sums import SumKind
from .flow import Flow, FlowBlock, Picture, SideBySide, Space, Text
from .page import DOTS, FOOT, LABEL, TEXT, Page, Target, print_pages

OVERLAP = 12.0
"""mm of every page that its neighbour shows too."""


def write_marking(job: Job, blank: Blank, target: Target) -> None:
    """Write the marking sheet: the blank with its running dimensions, settings, points and steps.

    Args:
        job: the job.
        blank: the flat.
        target: the file or printer.

    Raises:
        FileError: it could not be written.
    """
    print_pages(job, target, FIRST, lambda page: fill_marking(Flow(page), job, blank))


def fill_marking(flow: Flow, job: Job, blank: Blank) -> None:
    """The marking sheet of one part from the top of a page.

    Args:
        flow: the pages.
        job: the job.
        blank: the flat.
    """
    painter, tall = flow.page.painter, flow.page.rect.height()
    size = " × ".join(show_length(v, job.units, pretty=True) for v in blank.sheared)
    facts = tr("{name}  ·  {quantity} off  ·  shear to {size}").format(
        name=blank.sheet.name, quantity=job.quantity, size=size
    )
    options = FlatOptions(text=LABEL, striking=Striking.of(job))
    flow.add(
        Text(
            tr("{name}: marking out").format(name=job.name), size=TEXT * 1.6, strong=True, after=4
        ),
        Text(facts, color="faint", after=6),
        Picture(
            tall * 0.46,
            lambda rect: paint_flat(painter, rect, blank, job.units, PAPER, options),
            10,
        ),
    )
    flow.every(marking_pieces(flow.page, job, blank, every=True))


def marking_pieces(page: Page, job: Job, blank: Blank, *, every: bool = False) -> list[FlowBlock]:
    """Settings, points, steps and sums; with ``every`` the pictures of corners, every point and
    every sum too.

    Args:
        page: the page.
        job: the job.
        blank: the flat.
        every: with the pictures of corners.
    """
    striking = Striking.of(job)
    marking, units = mark_out(blank, job.units, striking), job.units
    flow_blocks: list[FlowBlock] = [Text(tr("Set the scribe, in this order"), strong=True)]
    for setting in marking.scribe:
        purpose = tr("{purpose}, from {struck_from}").format(
            purpose=setting.purpose, struck_from=setting.struck_from
        )
        flow_blocks.append(
            SideBySide(
                ((0.24, (Text(setting.shown(units), strong=True),)), (0.76, (Text(purpose),)))
            )
        )
    if every:
        marks = half_marks(blank, job, [s.setting for s in marking.scribe])
        flow_blocks += [Text(half.says(units), color="faint") for half in marks]
    if marking.recipes:
        flow_blocks += [Space(6), Text(tr("Corners and notches"), strong=True)]
        flow_blocks += [Text(recipe.says(units, striking)) for recipe in marking.recipes]
        if every:
            flow_blocks += corner_pictures(page, marking.corners, units)
    points = marking.points if every else marking.points[:6]
    if points:
        flow_blocks += [Space(6), Text(tr("Holes and points"), strong=True)]
        flow_blocks += [
            Text(f"{point.with_size(units)}:  {point.place(blank, units, striking)}")
            for point in points
        ]
        if len(points) < len(marking.points):
            more = tr("… and {points} more on the marking sheet.").format(
                points=len(marking.points) - len(points)
            )
            flow_blocks.append(Text(more, color="faint"))
    flow_blocks.append(Space(6))
    flow_blocks += [Text(f"{i}.  {step}") for i, step in enumerate(marking.steps, start=1)]
    if job.film is not None:
        flow_blocks.append(Text(str(FILM_WORDS[job.film])))
    flow_blocks.append(Space(6))
    flow_blocks += [
        Text(f"{item.what}:  {item.text(units, pretty=True)}", color="faint")
        for item in blank.sums
        if every or item.kind in (SumKind.BLANK, SumKind.RELIEF)
    ]
    if every:
        flow_blocks += [Text(f"!  {doubt}") for doubt in blank.doubts]
    return flow_blocks


ACROSS = 3
"""Corners enlarged that stand side by side."""


def corner_pictures(page: Page, corners: Sequence[CornerRecipe], units: Units) -> list[FlowBlock]:
    """Every kind of corner enlarged, some beside each other.

    Args:
        page: the page.
        corners: the instructions.
        units: what lengths are shown in.
    """
    # Where points are told by their numbers, the numbers need room.
    across, tall = (
        (2, TEXT * 17) if any(recipe.pointed for recipe in corners) else (ACROSS, TEXT * 12)
    )

    def picture(recipe: CornerRecipe) -> FlowBlock:
        return Picture(
            tall, lambda rect: paint_corner(page.painter, rect, recipe, units, PAPER, text=LABEL)
        )

    rows = [corners[first : first + across] for first in range(0, len(corners), across)]
    return [
        SideBySide(
            tuple((1.0, (picture(row[k]),) if k < len(row) else ()) for k in range(across)),
            gap=TEXT,
        )
        for row in rows
    ]


def write_template(
    job: Job, blank: Blank, target: Target, paper: QPageLayout | None = None
) -> None:
    """Write the blank at 1 : 1, page by page, with register marks where pages overlap and a bar to
    check with a rule.

    Args:
        job, blank: the part and its flat.
        target: a PDF file or a printer.
        paper: and its margins; None is what is usual in the job's units.

    Raises:
        FileError: it could not be written.
    """
    caution = tr("Print at 100 %, not fitted to the page; check the bar with a rule.")
    print_pages(job, target, caution, lambda page: _fill_template(page, job, blank), paper=paper)


def _fill_template(page: Page, job: Job, blank: Blank) -> None:
    unit = DOTS / INCH
    r = page.rect.adjusted(0, TEXT * 3.2, 0, -FOOT)
    wide, tall = r.width() / unit - OVERLAP, r.height() / unit - OVERLAP
    columns = max(1, math.ceil((blank.size[0] - OVERLAP) / wide))
    rows = max(1, math.ceil((blank.size[1] - OVERLAP) / tall))
    for number in range(rows * columns):
        if number:
            page.turn()
        row, column = divmod(number, columns)
        _tile(page, job, blank, r, unit, (column, row), (columns, rows), (wide, tall))
    _recipes(page, job, blank)


def _recipes(page: Page, job: Job, blank: Blank) -> None:
    """A last page with how the cuts are made whose waste is numbered on the pages before it."""
    striking = Striking.of(job)
    marking, units = mark_out(blank, job.units, striking), job.units
    if not marking.recipes:
        return
    page.turn()
    flow = Flow(page)
    flow.add(Text(tr("How the cuts are made"), size=TEXT * 1.4, strong=True, after=6))
    for i, recipe in enumerate(marking.recipes, start=1):
        flow.add(Text(f"{_cut_name(i)}:  {recipe.says(units, striking)}", after=4))
    flow.every(corner_pictures(page, marking.corners, units))


def _cut_name(number: int) -> str:
    """What a cut is called on the template and in its list."""
    return tr("cut {number}").format(number=number)


def _tile(  # noqa: C901, PLR0913
    page: Page,
    job: Job,
    blank: Blank,
    r: QRectF,
    unit: float,
    at: tuple[int, int],
    count: tuple[int, int],
    step: tuple[float, float],
) -> None:
    """One page of the template: columns from the left, rows from the back."""
    p = page.painter
    name = f"{chr(ord('A') + at[0] % 26)}{at[1] + 1}"
    total = tr("page {name} of {chr}{count}").format(
        name=name, chr=chr(ord("A") + (count[0] - 1) % 26), count=count[1]
    )
    page.text(
        QRectF(0, 0, r.width() * 0.62, TEXT * 3),
        tr("{name}: template, {total}, inside face up").format(name=job.name, total=total),
        strong=True,
    )
    _bar(
        p, QRectF(r.width() * 0.64, 0, r.width() * 0.36, TEXT * 2.6), unit, inches=job.units.is_inch
    )
    left_mm, top_mm = at[0] * step[0], blank.size[1] - at[1] * step[1]
    # The page's own frame: its left edge at left_mm of the blank, its top at top_mm.
    scale = Scale(unit, r.left() - left_mm * unit, r.top() + top_mm * unit)
    p.save()
    p.setClipRect(r)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(PAPER.color("waste"), 1))
    for notch in blank.notches:
        p.drawPath(painter_path(notch.waste, scale))
    p.setFont(pixels(LABEL))
    for number, recipe in enumerate(mark_out(blank, job.units, Striking.of(job)).recipes, start=1):
        for of in recipe.notches:
            box = painter_path(blank.notches[of].waste, scale).boundingRect()
            p.drawText(
                box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextDontClip, _cut_name(number)
            )
    p.setPen(QPen(PAPER.color("ink"), 1.2))
    p.drawPath(painter_path(blank.outline, scale))
    for opening in blank.openings:
        p.drawPath(painter_path(opening, scale))
    p.setPen(QPen(PAPER.color("ink"), 1.0, Qt.PenStyle.DashLine))
    for opening in blank.openings_later:
        p.drawPath(painter_path(opening, scale))
    p.setPen(QPen(PAPER.color("ink"), 1.2))
    for hole in blank.holes:
        _cross(p, scale.point(*hole.centre), TEXT * 0.5)
    for relief in blank.reliefs:
        _cross(p, scale.point(*relief.centre), TEXT * 0.5)
    pen = QPen(PAPER.color("accent"), 1.1)
    pen.setDashPattern([8, 5])
    for fold in blank.folds:
        p.setPen(pen)
        p.drawLine(scale.point(*fold.start), scale.point(*fold.end))
        middle = scale.point(*(fold.start * 0.7 + fold.end * 0.3))
        paint_tag(p, middle, TEXT * 1.2, "", fold.angle, PAPER)
    p.setPen(QPen(PAPER.color("faint"), 1, Qt.PenStyle.DotLine))
    lines = [(mark.start, mark.end) for mark in blank.marks] + [
        (crease.start, crease.end) for crease in blank.creases
    ]
    for start, end in lines:
        p.drawLine(scale.point(*start), scale.point(*end))
    # Register marks lie where four pages meet, half an overlap inside each page.
    half = OVERLAP / 2
    for i in range(count[0] + 1):
        for j in range(count[1] + 1):
            mark_at = scale.point(i * step[0] + half, blank.size[1] - j * step[1] - half)
            if r.contains(mark_at):
                p.setPen(QPen(PAPER.color("ink"), 1))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(mark_at, TEXT * 0.35, TEXT * 0.35)
                _cross(p, mark_at, TEXT * 0.7)
                p.setFont(pixels(TEXT * 0.6))
                p.drawText(
                    mark_at + QPointF(TEXT * 0.5, -TEXT * 0.3), f"{chr(ord('a') + i % 26)}{j + 1}"
                )
    p.restore()


def _cross(p: QPainter, at: QPointF, size: float) -> None:
    p.drawLine(at - QPointF(size, 0), at + QPointF(size, 0))
    p.drawLine(at - QPointF(0, size), at + QPointF(0, size))


def _bar(p: QPainter, rect: QRectF, unit: float, *, inches: bool) -> None:
    """A bar of known length: two inches or 50 mm."""
    length, ticks, words = (2 * INCH, 8, '2"') if inches else (50.0, 10, "50 mm")
    p.setPen(QPen(PAPER.color("ink"), 1.2))
    y = rect.top() + TEXT * 0.9
    p.drawLine(QPointF(rect.left(), y), QPointF(rect.left() + length * unit, y))
    for i in range(ticks + 1):
        x = rect.left() + length * unit * i / ticks
        p.drawLine(QPointF(x, y), QPointF(x, y - TEXT * (0.6 if i % (ticks // 2) == 0 else 0.35)))
    p.setFont(pixels(LABEL))
    p.drawText(QPointF(rect.left(), y + TEXT), tr("This bar is {words} long.").format(words=words))
