"""The cut sheet: every sheet as it is cut, every cut in order, what is kept; for the wall beside the shear."""

from __future__ import annotations

from collections.abc import Sequence

from ..cut.saying import facts, kept_lines, setting_lines, sheet_title
from ..cut.told import Told
from ..job import Job
from ..measure import Units, show_length
from ..measure.words import tr
from ..shop.caution import FIRST
from .flow import Columns, Flow, Picture, Piece, Space, Text
from .page import LABEL, TEXT, Target, print_pages
from .paint.sheet_cut import letter, paint_sheet_cut
from .theme import PAPER

CAUTIONS = (
    tr("Fingers clear of hold-down and blade; foot clear of the treadle; never reach past the guard."),
    tr("Gloves for edges and slivers, none near the moving blade. The shear's own manual and rating come first."),
)


def write_cut_sheet(told: Sequence[Told], job: Job, target: Target) -> None:
    """Write the cut sheet.

    Args:
        told: the cutting of every metal.
        job: whose name and units it carries.
        path: the file.

    Raises:
        FileError: it could not be written.
    """
    print_pages(job, target, FIRST, lambda page: fill_cut_sheet(Flow(page), told, job), coded=False)


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
        flow.add(*_blanks(one, job.units), Space(4))
        flow.every([Text(f"[  ]  {line}", after=4) for line in setting_lines(one, job.units)])
        for number in range(len(one.sheets)):
            _sheet(flow, one, number, job.units)


def _blanks(one: Told, units: Units) -> list[Piece]:
    """What is cut: how many, of which size, for which part; read at arm's length."""
    return [
        Columns(
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


def _sheet(flow: Flow, one: Told, number: int, units: Units) -> None:
    """One sheet: what it is, its picture, and what is kept of it."""
    page, sheet = flow.page, one.sheets[number]
    tall = min(page.rect.width() * sheet.stock.width / sheet.stock.length + 40, page.rect.height() * 0.36)
    lines, title = [Text(line) for line in kept_lines(sheet, units)], sheet_title(one, number, units)
    flow.add(
        Space(6),
        Picture(tall, lambda rect: paint_sheet_cut(page.painter, rect, sheet, units, PAPER, title, LABEL), 4),
        *lines[:3],
    )
    flow.every(lines[3:])
