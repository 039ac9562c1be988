"""The cut sheet: every sheet as it is cut, every cut in order, what is kept; for the wall beside the shear."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF

from ..cut.layout import SheetCut
from ..cut.told import Told
from ..job import Job
from ..measure import Units, show_length
from ..measure.words import tr
from ..shop.caution import FIRST
from .page import TEXT, Page, Target, printed
from .paint.sheet_cut import paint_sheet_cut
from .theme import PAPER

WORDS = {"square": tr("Square"), "rip": tr("Rip"), "across": tr("Cut across"), "trim": tr("Trim")}
"""What each kind of cut is called."""

CAUTIONS = (
    tr("Fingers clear of hold-down and blade; foot clear of the treadle; never reach past the guard."),
    tr("Gloves for edges and slivers, none near the moving blade. The shear's own manual and rating come first."),
)


def cut_lines(sheet: SheetCut, units: Units) -> list[str]:
    """Every cut of a sheet in order, then what is kept."""
    found = []
    for number, one in enumerate(sheet.cuts, start=1):
        found.append(
            tr("{number}. {what} at {gauge}, {times} ×: {gives}; {against}").format(
                number=number,
                what=WORDS[one.what],
                gauge=show_length(one.gauge, units, pretty=True),
                times=one.times,
                gives=one.gives,
                against=one.against,
            )
        )
    for left in sheet.offcuts:
        found.append(
            tr("Keep {length} × {width}").format(
                length=show_length(left.length, units, pretty=True), width=show_length(left.width, units, pretty=True)
            )
        )
    return found


def facts(one: Told) -> str:
    """Weights and cost of a lot."""
    said = tr("{blanks:.1f} kg of blanks from {sheets:.1f} kg").format(blanks=one.lot.weight, sheets=one.sheet_mass)
    return said if one.cost is None else tr("{said}, {cost:.2f} in metal").format(said=said, cost=one.cost)


def write_cut_sheet(told: Sequence[Told], job: Job, target: Target) -> None:
    """Write the cut sheet.

    Args:
        told: the cutting of every metal.
        job: whose name and units it carries.
        path: the file.

    Raises:
        FileError: it could not be written.
    """
    with printed(job, target, FIRST) as page:
        wide = page.rect.width()
        at = page.text(QRectF(0, 0, wide, 100), tr("{name}: cutting").format(name=job.name), size=TEXT * 1.6, strong=True) + 4
        for text in CAUTIONS:
            at += page.text(QRectF(0, at, wide, 100), "!  " + text) + 2
        for one in told:
            at = page.room(at + 8, TEXT * 5)
            at += page.text(QRectF(0, at, wide, 100), f"{one.lot.name}: {one.says}", size=TEXT * 1.2, strong=True) + 2
            if one.cannot:
                continue
            at += page.text(QRectF(0, at, wide, 60), facts(one), color="faint") + 2
            for text in one.care:
                at += page.text(QRectF(0, at, wide, 100), "!  " + text) + 2
            for sheet in one.sheets:
                at = _sheet(page, sheet, job.units, at + 6)


def _sheet(page: Page, sheet: SheetCut, units: Units, at: float) -> float:
    """One sheet: its picture, its cuts with a box each to tick."""
    wide = page.rect.width()
    tall = min(wide * sheet.stock.width / sheet.stock.length + 40, page.rect.height() * 0.36)
    lines = cut_lines(sheet, units)
    at = page.room(at, tall + TEXT * 1.4 * min(len(lines), 6))
    paint_sheet_cut(page.painter, QRectF(0, at, wide, tall), sheet, units, PAPER)
    at += tall + 4
    for line in lines:
        at = page.room(at, TEXT * 1.6)
        at += page.text(QRectF(0, at, wide, 100), f"[  ]  {line}") + 2
    return at
