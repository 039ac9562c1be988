"""The report of a part as it was made: what was measured, what explains it, what was done and what to change."""

from __future__ import annotations

from collections.abc import Iterable

from ..check.explain import Explained
from ..check.finishing import Step
from ..check.inspection import Inspection
from ..check.line import Stands
from ..check.model import What
from ..check.saying import advice, figure, show_measure, show_spread, unit_of, verdict
from ..measure import signed_angle
from ..measure.words import tr
from ..shop.caution import FIRST
from .flow import Columns, Flow, Picture, Piece, Space, Text
from .page import TEXT, Target, print_pages
from .paint.folded import paint_folded
from .theme import PAPER

SIGNS = {Stands.OPEN: "–", Stands.GOOD: "●", Stands.NEAR: "▲", Stands.OUT: "■"}
COLUMNS = (0.44, 0.15, 0.1, 0.15, 0.1, 0.06)
"""How wide each column of the table is, as shares of the page."""


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
    done = tuple(steps)
    print_pages(
        inspection.job, target, FIRST, lambda page: _fill(Flow(page), inspection, measured, found, done, next_time, part)
    )


def _fill(
    flow: Flow, inspection: Inspection, measured: dict[str, float], found: Explained | None, steps: Iterable[tuple[Step, bool]],
    next_time: str, part: int,
) -> None:  # fmt: skip
    job, blank, painter = inspection.job, inspection.blank, flow.page.painter
    title = tr("{name}: as made, part {part} of {quantity}").format(name=job.name, part=part, quantity=job.quantity)
    flow.add(Text(title, size=TEXT * 1.6, strong=True, after=4))
    if found is not None:
        flow.add(Text(verdict(found, blank, job, len(inspection.out(measured))), strong=True, after=6))
    flow.add(Picture(flow.page.rect.height() * 0.2, lambda rect: paint_folded(painter, rect, blank, PAPER)))
    rows = _table(inspection, measured)
    flow.add(*rows[:3])
    flow.every(rows[3:])
    for each in found.causes[:3] if found is not None else ():
        told = advice(each, blank, job)
        said = tr("{odds} in 100:  {what}").format(odds=round(100 * each.odds), what=told.what), told.this_part, told.next_part
        flow.add(Space(4), *(Text(text) for text in said if text))
    done = [Text(f"{'[x]' if ticked else '[  ]'}  {step.says}") for step, ticked in steps]
    flow.add(Space(8), Text(tr("Joining and finishing"), strong=True), *done[:2])
    flow.every(done[2:])
    if next_time:
        flow.add(Space(8), Text(tr("Next time"), strong=True), Text(next_time))


def _table(inspection: Inspection, measured: dict[str, float]) -> list[Piece]:
    job = inspection.job
    heads = (tr("What"), tr("Wanted, {unit}").format(unit=unit_of(job.units)), "±", tr("Got"), tr("Off"), "")
    rows: list[Piece] = [_row(heads, strong=True)]
    for line in inspection.lines:
        key = line.measure.key
        if key not in measured and line not in inspection.first:
            continue
        got = measured.get(key)
        angle = line.measure.what is What.ANGLE
        plus = show_spread(line.measure, line.allowed, job.units)
        off = "" if got is None else signed_angle(got - line.wanted) if angle else _signed(got - line.wanted, inspection)
        texts = (
            line.measure.says, show_measure(line.measure, line.wanted, job), plus,
            "" if got is None else show_measure(line.measure, got, job), off, SIGNS[line.stands(got)],
        )  # fmt: skip
        rows.append(_row(texts))
    return rows


def _signed(off: float, inspection: Inspection) -> str:
    return ("+" if off >= 0 else "−") + figure(abs(off), inspection.job.units)


def _row(texts: tuple[str, ...], *, strong: bool = False) -> Piece:
    cells = zip(texts, COLUMNS, strict=True)
    return Columns(tuple((share, (Text(text, strong=strong, after=3),)) for text, share in cells), gap=4.0)
