"""The blank as an SVG drawing in true size."""

from __future__ import annotations

import math
from html import escape
from pathlib import Path as FilePath

from ..blank import Blank, MarkLine, Path
from .atomic import write_atomically

_STYLE = (
    ".cut{fill:none;stroke:#000;stroke-width:.25}.fold{stroke:#00f;stroke-width:.25;stroke-dasharray:3 1.5}"
    ".later{fill:none;stroke:#c00;stroke-width:.25;stroke-dasharray:1 1}.mark{stroke:#080;stroke-width:.2}text{font:4px sans-serif;fill:#00f}"
)


def write_svg(blank: Blank, path: FilePath) -> None:
    """Write the blank at 1 : 1, millimetres, groups ``cut``, ``cut-later`` (when the part is bent), ``fold`` and ``mark``.

    Raises:
        FileError: it could not be written.
    """
    write_atomically(FilePath(path), svg_text(blank).encode())


def svg_text(blank: Blank) -> str:
    """The drawing as text; y runs down, as SVG has it."""
    wide, high = blank.size
    paths = [_path(blank.outline, high), *(_path(path, high) for path in blank.openings)]
    cut = "".join(f'<path class="cut" d="{d}"/>' for d in paths)
    later = "".join(f'<path class="later" d="{_path(path, high)}"/>' for path in blank.openings_later)
    folds = "".join(
        f'<line class="fold" x1="{f.start[0]:.4f}" y1="{high - f.start[1]:.4f}" x2="{f.end[0]:.4f}" y2="{high - f.end[1]:.4f}">'
        f"<title>{escape(f.name)} {f.angle:g}°</title></line>"
        for f in blank.folds
    )
    marks = "".join(
        f'<line class="mark" x1="{m.start[0]:.4f}" y1="{high - m.start[1]:.4f}" x2="{m.end[0]:.4f}" y2="{high - m.end[1]:.4f}">'
        f"<title>{escape(m.name)}</title></line>"
        for m in [*blank.marks, *(MarkLine(c.name, c.start, c.end, "crease") for c in blank.creases)]
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm" viewBox="0 0 {wide:.4f} {high:.4f}">'
        f'<style>{_STYLE}</style><g id="cut">{cut}</g><g id="cut-later">{later}</g><g id="fold">{folds}</g><g id="mark">{marks}</g></svg>\n'
    )


def _path(path: Path, high: float) -> str:
    points = path.points
    text = f"M{points[0][0]:.4f} {high - points[0][1]:.4f}"
    for i in range(len(points)):
        x, y = points[(i + 1) % len(points)]
        arc = path.arc(i)
        if arc is None:
            text += f"L{x:.4f} {high - y:.4f}"
        else:
            _, radius, _, sweep = arc
            # With y turned over a counter-clockwise arc runs the other way.
            text += f"A{radius:.4f} {radius:.4f} 0 {int(abs(sweep) > math.pi)} {int(sweep < 0)} {x:.4f} {high - y:.4f}"
    return text + "Z"
