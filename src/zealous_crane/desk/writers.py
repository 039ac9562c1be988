"""Everything that can be handed over: files without pages, and the pages."""

from __future__ import annotations

from ..files.writer import WRITERS as FILES
from ..files.writer import Needs, Writer
from .sheet import write_sheet
from .template import write_marking, write_template

WRITERS = (
    Writer("sheet", "pdf", Needs.PLAN, lambda subject, path: write_sheet(subject.planned, path), pages=True),
    Writer("marking", "pdf", Needs.BLANK, lambda s, path: write_marking(s.job, s.blank, path), "-marking", True),
    Writer("template", "pdf", Needs.BLANK, lambda s, path: write_template(s.job, s.blank, path), "-template", True),
    *FILES,
)
"""In the order of the menu. Where several have one ending, a file that only has its ending gets the first."""


def writer_of(id_: str) -> Writer:
    """The writer of an id."""
    return next(writer for writer in WRITERS if writer.id == id_)


def writer_for(ending: str) -> Writer | None:
    """What is written into a file of an ending (without its dot); None when nothing is."""
    return next((writer for writer in WRITERS if writer.ending == ending), None)
