"""A cutting plan handed on: its cuts as a list, its sheets as drawings."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from html import escape
from pathlib import Path

from ..cut.layout import Placed, SheetCut
from ..cut.told import Told
from ..measure import INCH
from .atomic import write_atomically
from .drawing import CUT, MARK

TEXT = "TEXT"
"""Layer of the names."""

GAP = 100.0
"""mm between two sheets of a drawing."""

COLUMNS = ("sheet", "stock", "alike", "number", "what", "of", "gauge_mm", "length_mm", "times", "gives", "against")


def write_cuts(told: Sequence[Told], path: Path) -> None:
    """Every cut in order, then every off-cut that is kept, as comma-separated values; lengths in mm.

    Raises:
        FileError: it could not be written.
    """
    text = io.StringIO()
    out = csv.writer(text)
    out.writerow(COLUMNS)
    for one in told:
        for sheet in one.sheets:
            for number, cut in enumerate(sheet.cuts, start=1):
                out.writerow([
                    one.lot.name, sheet.stock.name, sheet.alike, number, cut.what, cut.of, f"{cut.gauge:.3f}", f"{cut.length:.3f}",
                    cut.times, cut.gives, cut.against,
                ])  # fmt: skip
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


def _sheets(told: Sequence[Told]) -> Iterator[tuple[Told, SheetCut, float]]:
    """Every sheet with how far up the drawing it lies, mm."""
    up = 0.0
    for one in told:
        for sheet in one.sheets:
            yield one, sheet, up
            up += sheet.stock.width + GAP


def write_nest_svg(told: Sequence[Told], path: Path) -> None:
    """The sheets at 1 : 1 in millimetres, one over the other: groups ``sheet``, ``blank`` and ``off-cut``.

    Raises:
        FileError: it could not be written.
    """
    sheets = list(_sheets(told))
    wide = max((s.stock.length for _, s, _ in sheets), default=1.0)
    high = max((up + s.stock.width for _, s, up in sheets), default=1.0)

    def box(kind: str, title: str, x: float, y: float, length: float, width: float) -> str:
        return (
            f'<rect class="{kind}" x="{x:.4f}" y="{high - y - width:.4f}" width="{length:.4f}" height="{width:.4f}">'
            f"<title>{escape(title)}</title></rect>"
        )

    body = []
    for one, sheet, up in sheets:
        body.append(
            box("sheet", f"{sheet.alike} × {sheet.stock.name}, {one.lot.name}", 0, up, sheet.stock.length, sheet.stock.width)
        )
        body += [box("blank", p.name, p.x, p.y + up, p.length, p.width) for p in sheet.placed]
        body += [box("off-cut", p.name, p.x, p.y + up, p.length, p.width) for p in sheet.offcuts]
    style = "rect{fill:none;stroke:#000;stroke-width:1} .off-cut{stroke-dasharray:8 6}"
    text = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm" viewBox="0 0 {wide:.4f} {high:.4f}">'
        f"<style>{style}</style>{''.join(body)}</svg>"
    )
    write_atomically(path, text.encode())


def write_nest_dxf(told: Sequence[Told], path: Path, *, inches: bool = False) -> None:
    """The sheets as a drawing: blanks on CUT, sheets and off-cuts on MARK, names on TEXT.

    Raises:
        FileError: it could not be written.
    """
    import ezdxf
    from ezdxf import units as dxf_units

    scale = 1 / INCH if inches else 1.0
    document = ezdxf.new("R2010")
    document.units = dxf_units.IN if inches else dxf_units.MM
    for layer, color in ((CUT, 7), (MARK, 3), (TEXT, 8)):
        document.layers.add(layer, color=color)
    space = document.modelspace()

    def box(layer: str, place: Placed, up: float) -> None:
        corners = [
            (place.x, place.y + up), (place.x + place.length, place.y + up),
            (place.x + place.length, place.y + place.width + up), (place.x, place.y + place.width + up),
        ]  # fmt: skip
        space.add_lwpolyline([(x * scale, y * scale) for x, y in corners], close=True, dxfattribs={"layer": layer})
        height = min(place.length, place.width, 200.0) / 8 * scale
        note = space.add_text(place.name, height=height, dxfattribs={"layer": TEXT})
        note.set_placement(((place.x + place.length * 0.05) * scale, (place.y + up + place.width * 0.1) * scale))

    for one, sheet, up in _sheets(told):
        name = f"{sheet.alike} × {sheet.stock.name}, {one.lot.name}"
        box(MARK, Placed(name, -1, 0.0, 0.0, sheet.stock.length, sheet.stock.width), up)
        for place in sheet.placed:
            box(CUT, place, up)
        for place in sheet.offcuts:
            box(MARK, place, up)
    stream = io.StringIO()
    document.write(stream)
    write_atomically(path, stream.getvalue().encode(document.output_encoding))


def write_cutting(told: Sequence[Told], path: Path, *, inches: bool) -> bool:
    """Write a cutting plan as the ending of the file says: list, picture or drawing; False where it is none of these.

    Raises:
        FileError: it could not be written.
    """
    ending = path.suffix.lower()
    if ending == ".csv":
        write_cuts(told, path)
    elif ending == ".svg":
        write_nest_svg(told, path)
    elif ending == ".dxf":
        write_nest_dxf(told, path, inches=inches)
    else:
        return False
    return True
