"""Everything that can be exported: files without pages, and the pages. What writes one is imported
when it is asked for."""

from __future__ import annotations

from collections.abc import Generator
from typing import Any

from ..i18n import msg
from ..io.formats import WRITERS as FILES
from ..io.formats import Needs, Subject, Writer, at_once


def _sheet(subject: Subject, target: Any) -> None:
    from .sheets import write_sheet

    write_sheet(subject.planned, target)


def _marking(subject: Subject, target: Any) -> None:
    from .template import write_marking

    write_marking(subject.job, subject.blank, target)


def _template(subject: Subject, target: Any) -> None:
    from .template import write_template

    write_template(subject.job, subject.blank, target)


def _film(subject: Subject, target: Any) -> Generator[float]:
    from .film import film_frames

    return film_frames(subject.planned, target)


WRITERS = (
    Writer(
        "sheet",
        "pdf",
        Needs.PLAN,
        _sheet,
        msg("&Sheet for bench and brake (PDF) …"),
        "Ctrl+Shift+B",
        pages=True,
    ),
    Writer(
        "marking",
        "pdf",
        Needs.BLANK,
        _marking,
        msg("&Marking sheet (PDF) …"),
        "Ctrl+M",
        "-marking",
        pages=True,
    ),
    Writer(
        "template",
        "pdf",
        Needs.BLANK,
        _template,
        msg("&Template at full size (PDF) …"),
        "Ctrl+T",
        "-template",
        pages=True,
    ),
    *FILES,
    Writer(
        "film",
        "png",
        Needs.PLAN,
        at_once(_film),
        msg("&Film of the bends (animated PNG) …"),
        "Ctrl+Alt+F",
        "-film",
        steps=_film,
    ),
)
"""In the order of the menu. Where several have one ending, a file that only has its ending gets the
first."""


def writer_of(id_: str) -> Writer:
    """The writer of an id."""
    return next(writer for writer in WRITERS if writer.id == id_)


def writer_for(ending: str) -> Writer | None:
    """What is written into a file of an ending (without its dot); None when nothing is."""
    return next((writer for writer in WRITERS if writer.ending == ending), None)
