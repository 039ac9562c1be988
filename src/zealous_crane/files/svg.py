"""The blank as an SVG drawing in true size."""

from __future__ import annotations

import math
from html import escape
from pathlib import Path as FilePath

import numpy as np
from numpy.typing import NDArray

from ..blank import Blank, Path
from ..measure import INCH
from .atomic import write_atomically

Array = NDArray[np.float64]

_STYLE = (
    ".cut{{fill:none;stroke:#000;stroke-width:{line}}}.fold{{stroke:#00f;stroke-width:{line};stroke-dasharray:{dash} {gap}}}"
    ".later{{fill:none;stroke:#c00;stroke-width:{line};stroke-dasharray:{dot} {dot}}}.mark{{stroke:#080;stroke-width:{line}}}"
    ".spot{{fill:#080}}"
)


def write_svg(blank: Blank, path: FilePath, *, inches: bool = False) -> None:
    """Write the blank at 1 : 1: groups ``cut``, ``cut-later`` (when the part is bent), ``fold`` and ``mark``.

    Args:
        blank: what is drawn.
        path: the file.
        inches: its figures are inches instead of millimetres.

    Raises:
        FileError: it could not be written.
    """
    write_atomically(FilePath(path), svg_text(blank, inches=inches).encode())


def svg_text(blank: Blank, *, inches: bool = False) -> str:
    """The drawing as text; y runs down, as SVG has it."""
    k, unit = (1 / INCH, "in") if inches else (1.0, "mm")
    wide, high = (side * k for side in blank.size)

    def line(kind: str, name: str, start: Array, end: Array) -> str:
        (x1, y1), (x2, y2) = (start * k).tolist(), (end * k).tolist()
        if kind == "spot":
            return f'<circle class="spot" cx="{x1:.5f}" cy="{high - y1:.5f}" r="{k:.5f}"><title>{escape(name)}</title></circle>'
        ends = f'x1="{x1:.5f}" y1="{high - y1:.5f}" x2="{x2:.5f}" y2="{high - y2:.5f}"'
        return f'<line class="{kind}" {ends}><title>{escape(name)}</title></line>'

    cut = "".join(f'<path class="cut" d="{_path(path, high, k)}"/>' for path in (blank.outline, *blank.openings))
    later = "".join(f'<path class="later" d="{_path(path, high, k)}"/>' for path in blank.openings_later)
    folds = "".join(line("fold", f"{f.name} {f.angle:g}°", f.start, f.end) for f in blank.folds)
    marks = "".join(line("spot" if m.kind == "spot" else "mark", m.name, m.start, m.end) for m in blank.marks)
    marks += "".join(line("mark", c.name, c.start, c.end) for c in blank.creases)
    style = _STYLE.format(
        **{name: f"{size * k:.4g}" for name, size in (("line", 0.25), ("dash", 3.0), ("gap", 1.5), ("dot", 1.0))}
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.5f}{unit}" height="{high:.5f}{unit}" viewBox="0 0 {wide:.5f} {high:.5f}">'
        f'<style>{style}</style><g id="cut">{cut}</g><g id="cut-later">{later}</g><g id="fold">{folds}</g><g id="mark">{marks}</g></svg>\n'
    )


def _path(path: Path, high: float, k: float) -> str:
    points = path.points * k
    text = f"M{points[0][0]:.5f} {high - points[0][1]:.5f}"
    for i in range(len(points)):
        x, y = points[(i + 1) % len(points)]
        arc = path.arc(i)
        if arc is None:
            text += f"L{x:.5f} {high - y:.5f}"
        else:
            _, radius, _, sweep = arc
            # With y turned over a counter-clockwise arc runs the other way.
            text += f"A{radius * k:.5f} {radius * k:.5f} 0 {int(abs(sweep) > math.pi)} {int(sweep < 0)} {x:.5f} {high - y:.5f}"
    return text + "Z"
