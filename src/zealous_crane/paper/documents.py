"""The whole work in one document: what it is made of, how its sheets are cut, then every part's own
sheet."""

from __future__ import annotations

from collections.abc import Sequence

from ..cutting.summary import MetalSummary
from ..i18n import tr
from ..io.job_file import page_code
from ..job.job import Job
from ..planning.plan import Plan
from ..shop.safety_notes import cautions_for
from ..units.length import show_length
from ..work.work import Work
from .flow import Flow, Rule, SideBySide, Space, Text
from .page import LABEL, TEXT, Page, Target, print_pages
from .sheets import fill_cut_sheet, fill_sheet

COLUMNS = (0.06, 0.34, 0.1, 0.5)
"""Shares of the width: number, name and blank, how many, what is said of it."""


def write_work_pages(
    work: Work, plans: Sequence[Plan], told: Sequence[MetalSummary], target: Target
) -> None:
    """Write the document.

    Args:
        work: all its parts.
        plans: one for every part, in their order.
        told: how its sheets are cut; empty leaves that out.
        target: a PDF file or a printer.

    Raises:
        FileError: it could not be written; what stood there is untouched.
    """
    whole = work.parts[0].model_copy(update={"name": work.name or work.parts[0].name})
    caution = cautions_for(plans[0])[0].text

    def fill(page: Page) -> None:
        flow = Flow(page)
        _contents(flow, whole, plans)
        if told:
            flow.turn()
            fill_cut_sheet(flow, told, whole)
        for plan in plans:
            flow.turn()
            # From here on the foot is that of the part: its name, its code, its machine's caution.
            page.name, page.code, page.caution = (
                plan.job.name,
                page_code(plan.job),
                str(cautions_for(plan)[0].text),
            )
            fill_sheet(flow, plan)

    print_pages(whole, target, caution, fill, coded=False)


def _contents(flow: Flow, whole: Job, plans: Sequence[Plan]) -> None:
    flow.add(Text(whole.name, size=TEXT * 1.9, strong=True, after=10))
    for number, plan in enumerate(plans, start=1):
        length, width = (
            show_length(side, plan.job.units, pretty=True) for side in plan.blank.sheared
        )
        cells = (
            (Text(str(number), strong=True),),
            (
                Text(plan.job.name, strong=True),
                Text(
                    tr("{length} × {width}, {sheet}").format(
                        length=length, width=width, sheet=plan.blank.sheet.name
                    ),
                    color="faint",
                ),
                Text(page_code(plan.job), size=LABEL, color="faint"),
            ),
            (Text(tr("{count} off").format(count=plan.job.quantity)),),
            (Text(plan.sentence), Text(plan.brake.name, size=LABEL, color="faint")),
        )
        flow.add(Rule(), SideBySide(tuple(zip(COLUMNS, cells, strict=True))), Space(4))
