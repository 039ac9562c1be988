"""The report of a part as it was made: what was measured, what explains it, what was done and what to change."""

from __future__ import annotations

from collections.abc import Iterable

from PySide6.QtCore import QRectF

from ..check.explain import Explained
from ..check.finishing import Step
from ..check.inspection import Inspection
from ..check.line import Stands
from ..check.model import What
from ..check.saying import advice, figure, show_measure, unit_of, verdict
from ..measure import show_angle
from ..measure.words import tr
from ..shop.caution import FIRST
from .page import TEXT, Page, Target, printed
from .paint.folded import paint_folded
from .theme import PAPER

SIGNS = {Stands.OPEN: "–", Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■"}
COLUMNS = ((0.0, 0.44), (0.44, 0.15), (0.59, 0.1), (0.69, 0.15), (0.84, 0.1), (0.94, 0.06))
"""Where each column of the table begins, and how wide it is, as shares of the page."""


def write_report(
    inspection: Inspection, measured: dict[str, float], found: Explained | None, steps: Iterable[tuple[Step, bool]], next_time: str,
    part: int, target: Target,
) -> None:  # fmt: skip
    """Write the report.

    Args:
        inspection: the part and its sizes.
        measured: what was got, by key.
        found: what explains it; None when nothing was measured.
        steps: of joining and finishing, and whether each was ticked.
        next_time: what to change.
        part: number of the part in the lot.
        path: the file.

    Raises:
        FileError: it could not be written.
    """
    job, blank = inspection.job, inspection.blank
    with printed(job, target, FIRST) as page:
        wide = page.rect.width()
        title = tr("{name}: as made, part {part} of {quantity}").format(name=job.name, part=part, quantity=job.quantity)
        at = page.text(QRectF(0, 0, wide, 100), title, size=TEXT * 1.6, strong=True) + 4
        if found is not None:
            said = verdict(found, blank, job, len(inspection.out(measured)))
            at += page.text(QRectF(0, at, wide, 200), said, strong=True) + 6
        tall = page.rect.height() * 0.2
        paint_folded(page.painter, QRectF(0, at, wide, tall), blank, PAPER)
        at += tall + 6
        at = _table(page, inspection, measured, at)
        for each in found.causes[:3] if found is not None else ():
            told = advice(each, blank, job)
            at = page.room(at, TEXT * 4)
            for text in (
                tr("{odds} in 100:  {what}").format(odds=round(100 * each.odds), what=told.what), told.this_part, told.next_part,
            ):  # fmt: skip
                if text:
                    at += page.text(QRectF(0, at, wide, 200), text) + 2
            at += 4
        at = page.room(at + 4, TEXT * 4)
        at += page.text(QRectF(0, at, wide, 60), tr("Joining and finishing"), strong=True) + 2
        for step, done in steps:
            at = page.room(at, TEXT * 3)
            at += page.text(QRectF(0, at, wide, 200), f"{'[x]' if done else '[  ]'}  {step.says}") + 2
        if next_time:
            at = page.room(at + 4, TEXT * 4)
            at += page.text(QRectF(0, at, wide, 60), tr("Next time"), strong=True) + 2
            page.text(QRectF(0, at, wide, 300), next_time)


def _table(page: Page, inspection: Inspection, measured: dict[str, float], at: float) -> float:
    wide, job = page.rect.width(), inspection.job
    heads = (tr("What"), tr("Wanted, {unit}").format(unit=unit_of(job.units)), "±", tr("Got"), tr("Off"), "")
    at += _row(page, heads, at, wide, strong=True)
    for line in inspection.lines:
        key = line.measure.key
        if key not in measured and line not in inspection.first:
            continue
        got = measured.get(key)
        angle = line.measure.what is What.ANGLE
        plus = show_angle(line.allowed) if angle else figure(line.allowed, job.units)
        off = "" if got is None else f"{got - line.wanted:+.1f}°" if angle else _signed(got - line.wanted, inspection)
        texts = (
            line.measure.says, show_measure(line.measure, line.wanted, job), plus,
            "" if got is None else show_measure(line.measure, got, job), off, SIGNS[line.stands(got)],
        )  # fmt: skip
        at = page.room(at, TEXT * 2.4)
        at += _row(page, texts, at, wide)
    return at + 8


def _signed(off: float, inspection: Inspection) -> str:
    return ("+" if off >= 0 else "−") + figure(abs(off), inspection.job.units)


def _row(page: Page, texts: tuple[str, ...], at: float, wide: float, *, strong: bool = False) -> float:
    tall = 0.0
    for text, (start, width) in zip(texts, COLUMNS, strict=True):
        if text:
            tall = max(tall, page.text(QRectF(start * wide, at, width * wide - 4, 200), text, strong=strong))
    return tall + 3
