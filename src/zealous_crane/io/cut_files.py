"""A cutting plan handed on: its cuts as a list, its sheets as drawings."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from html import escape
from pathlib import Path

from ..cutting.layout import PlacedBlank, SheetCut
from ..cutting.summary import MetalSummary
from ..i18n import Phrase
from ..units.length import INCH
from .atomic import write_atomically
from .dxf_write import CUT, MARK, USUAL, new_document

TEXT = "TEXT"
"""Layer of the names."""

GAP = 100.0
"""mm between two sheets of a drawing."""

COLUMNS = (
    "sheet",
    "stock",
    "alike",
    "number",
    "what",
    "of",
    "gauge_mm",
    "length_mm",
    "times",
    "gives",
    "against",
)


def write_cuts(told: Sequence[MetalSummary], path: Path) -> None:
    """Every cut in order, then every off-cut that is kept, as comma-separated values; lengths in
    mm.

    Raises:
        FileError: it could not be written.
    """
    text = io.StringIO()
    out = csv.writer(text)
    out.writerow(COLUMNS)
    for one in told:
        for sheet in one.sheets:
            for number, cut in enumerate(sheet.cuts, start=1):
                out.writerow(
                    [
                        one.lot.name,
                        sheet.stock.name,
                        sheet.alike,
                        number,
                        cut.what,
                        cut.of,
                        f"{cut.gauge:.3f}",
                        f"{cut.length:.3f}",
                        cut.times,
                        cut.gives,
                        cut.against,
                    ]
                )
            for left in sheet.offcuts:
                out.writerow(
                    [
                        one.lot.name,
                        sheet.stock.name,
                        sheet.alike,
                        "",
                        "keep",
                        left.name,
                        f"{left.width:.3f}",
                        f"{left.length:.3f}",
                        1,
                        "",
                        "",
                    ]
                )
    write_atomically(path, text.getvalue().encode())


def _sheets(told: Sequence[MetalSummary]) -> Iterator[tuple[MetalSummary, SheetCut, float]]:
    """Every sheet with how far up the drawing it lies, mm."""
    up = 0.0
    for one in told:
        for sheet in one.sheets:
            yield one, sheet, up
            up += sheet.stock.width + GAP


def write_nest_svg(told: Sequence[MetalSummary], path: Path, *, inches: bool = False) -> None:
    """The sheets at 1 : 1 in millimetres or inches, one over the other: groups ``sheet``, ``blank``
    and ``off-cut``.

    Args:
        told: the cutting of each metal.
        path: the file.
        inches: lengths are in inches, not millimetres.

    Raises:
        FileError: it could not be written.
    """
    k, unit = (1 / INCH, "in") if inches else (1.0, "mm")
    sheets = list(_sheets(told))
    wide = max((s.stock.length for _, s, _ in sheets), default=1.0)
    high = max((up + s.stock.width for _, s, up in sheets), default=1.0)

    def box(kind: str, title: Phrase, x: float, y: float, length: float, width: float) -> str:
        return (
            f'<rect class="{kind}" x="{x * k:.5f}" y="{(high - y - width) * k:.5f}" '
            f'width="{length * k:.5f}" height="{width * k:.5f}">'
            f"<title>{escape(str(title))}</title></rect>"
        )

    body = []
    for one, sheet, up in sheets:
        body.append(
            box(
                "sheet",
                f"{sheet.alike} × {sheet.stock.name}, {one.lot.name}",
                0,
                up,
                sheet.stock.length,
                sheet.stock.width,
            )
        )
        body += [box("blank", p.name, p.x, p.y + up, p.length, p.width) for p in sheet.placed]
        body += [box("off-cut", p.name, p.x, p.y + up, p.length, p.width) for p in sheet.offcuts]
    style = f"rect{{fill:none;stroke:#000;stroke-width:{k:.4g}}} .off-cut{{stroke-dasharray:{8 * k:.4g} {6 * k:.4g}}}"  # noqa: E501
    text = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide * k:.5f}{unit}" '
        f'height="{high * k:.5f}{unit}" '
        f'viewBox="0 0 {wide * k:.5f} {high * k:.5f}">'
        f"<style>{style}</style>{''.join(body)}</svg>"
    )
    write_atomically(path, text.encode())


def write_nest_dxf(
    told: Sequence[MetalSummary], path: Path, *, inches: bool = False, version: str = USUAL
) -> None:
    """The sheets as a drawing: blanks on CUT, sheets and off-cuts on MARK, names on TEXT.

    Args:
        told: the cutting of each metal.
        path: the file.
        inches: lengths are in inches, not millimetres.
        version: of the drawing format.

    Raises:
        InputError: no such version is written.
        FileError: it could not be written.
    """
    sheets = list(_sheets(told))
    size = (
        max((sheet.stock.length for _, sheet, _ in sheets), default=1.0),
        max((up + sheet.stock.width for _, sheet, up in sheets), default=1.0),
    )
    document = new_document(((CUT, 7), (MARK, 3), (TEXT, 8)), size, inches=inches, version=version)
    scale = document.scale

    def box(layer: str, place: PlacedBlank, up: float) -> None:
        right, top = place.x + place.length, place.y + place.width + up
        document.closed(
            [
                (x, y, 0.0)
                for x, y in (
                    (place.x, place.y + up),
                    (right, place.y + up),
                    (right, top),
                    (place.x, top),
                )
            ],
            layer,
        )
        height = min(place.length, place.width, 200.0) / 8 * scale
        note = document.space.add_text(place.name, height=height, dxfattribs={"layer": TEXT})
        note.set_placement(
            ((place.x + place.length * 0.05) * scale, (place.y + up + place.width * 0.1) * scale)
        )

    for one, sheet, up in sheets:
        name = f"{sheet.alike} × {sheet.stock.name}, {one.lot.name}"
        box(MARK, PlacedBlank(name, -1, 0.0, 0.0, sheet.stock.length, sheet.stock.width), up)
        for place in sheet.placed:
            box(CUT, place, up)
        for place in sheet.offcuts:
            box(MARK, place, up)
    document.write(path, size)


def write_cutting(
    told: Sequence[MetalSummary], path: Path, *, inches: bool, version: str = USUAL
) -> bool:
    """Write a cutting plan as the ending of the file says: list, picture or drawing; False where it
    is none of these.

    Args:
        told: the plan of every lot.
        path: the file.
        inches: drawings are in inches, else in mm; the list names its unit.
        version: of DXF.

    Raises:
        InputError: no such version is written.
        FileError: it could not be written.
    """
    ending = path.suffix.lower()
    if ending == ".csv":
        write_cuts(told, path)
    elif ending == ".svg":
        write_nest_svg(told, path, inches=inches)
    elif ending == ".dxf":
        write_nest_dxf(told, path, inches=inches, version=version)
    else:
        return False
    return True
