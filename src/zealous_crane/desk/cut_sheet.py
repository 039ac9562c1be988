"""The cut sheet: every sheet as it is cut, every cut in order, what is kept; for the wall beside the shear."""

from __future__ import annotations

from collections.abc import Sequence

from ..cut.layout import SheetCut
from ..cut.told import Told
from ..job import Job
from ..measure import Units, show_length
from ..measure.words import tr
from ..shop.caution import FIRST
from .flow import Flow, Picture, Space, Text
from .page import TEXT, Target, printed
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
    for count, length, width in sheet.kept:
        found.append(
            tr("Keep {count} × {length} × {width}").format(
                count=count, length=show_length(length, units, pretty=True), width=show_length(width, units, pretty=True)
            )
            if count > 1
            else tr("Keep {length} × {width}").format(
                length=show_length(length, units, pretty=True), width=show_length(width, units, pretty=True)
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
    with printed(job, target, FIRST, coded=False) as page:
        fill_cut_sheet(Flow(page), told, job)


def fill_cut_sheet(flow: Flow, told: Sequence[Told], job: Job) -> None:
    """The cut sheet from the top of a page."""
    flow.add(
        Text(tr("{name}: cutting").format(name=job.name), size=TEXT * 1.6, strong=True, after=4),
        *(Text("!  " + text) for text in CAUTIONS),
    )
    for one in told:
        head = Text(f"{one.lot.name}: {one.says}", size=TEXT * 1.2, strong=True)
        if one.cannot:
            flow.add(Space(8), head)
            continue
        care = [Text("!  " + text) for text in one.care]
        flow.add(Space(8), head, Text(facts(one), color="faint"), *care)
        for sheet in one.sheets:
            _sheet(flow, sheet, job.units)


def _sheet(flow: Flow, sheet: SheetCut, units: Units) -> None:
    """One sheet: its picture, its cuts with a box each to tick."""
    page = flow.page
    tall = min(page.rect.width() * sheet.stock.width / sheet.stock.length + 40, page.rect.height() * 0.36)
    lines = [Text(f"[  ]  {line}") for line in cut_lines(sheet, units)]
    # A picture never stands at a page's end without its first cuts.
    flow.add(Space(6), Picture(tall, lambda rect: paint_sheet_cut(page.painter, rect, sheet, units, PAPER), 4), *lines[:6])
    flow.every(lines[6:])
