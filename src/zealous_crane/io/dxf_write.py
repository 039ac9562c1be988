"""DXF documents as other programs like to open them: a unit, a version, dashes to the part's size,
and a view that shows all of it."""

from __future__ import annotations

import io
import math
from collections.abc import Iterable
from html import escape
from pathlib import Path
from pathlib import Path as FilePath
from typing import Any, NamedTuple

import numpy as np
import shapely

from .._typing import Array
from ..errors import InputError
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..flat.features import Fold
from ..flat.path import ClosedPath
from ..i18n import tr
from ..units.length import INCH
from ..units.quantities import show_angle
from .atomic import write_atomically

APP = "ZEALOUS_CRANE"
"""Name under which entities carry what a drawing has no word for."""

VERSIONS = {"r12": "R12", "r2010": "R2010", "r2018": "R2018"}
"""Versions that are written, by what a person chooses."""

USUAL = "r2010"

DASH = 1 / 25
"""Length of a dash, in widths of the part's shorter side; between 2 and 12 mm."""

AROUND = 1.1
"""Height of the first view, in heights of what it shows."""

WIDE = 1.6
"""Width of most views by their height."""


class Document(NamedTuple):
    """A drawing that is being made.

    Attributes:
        file: the library's document.
        space: its model space.
        scale: drawing units in a mm.
        version: as chosen.
    """

    file: Any
    space: Any
    scale: float
    version: str

    def closed(self, corners: Iterable[tuple[float, float, float]], layer: str) -> Any:
        """Draw a closed line: corners (x, y, bulge), mm."""
        scaled = [(x * self.scale, y * self.scale, bulge) for x, y, bulge in corners]
        # The oldest version knows no light polyline.
        draw = self.space.add_polyline2d if self.version == "r12" else self.space.add_lwpolyline
        line = draw(scaled, format="xyb", close=True, dxfattribs={"layer": layer})
        if self.version == "r12":
            # It has no word for a unit either.
            line.set_xdata(APP, [(1000, f"unit={1 / self.scale!r}")])
        return line

    def write(self, path: Path, size: tuple[float, float]) -> None:
        """Write the file; it opens on a box of ``size`` (mm) from the origin.

        Raises:
            FileError: it could not be written.
        """
        wide, high = (side * self.scale for side in size)
        for name, corner in (("$EXTMIN", (0.0, 0.0, 0.0)), ("$EXTMAX", (wide, high, 0.0))):
            self.file.header[name] = corner
        for name, point in (("$LIMMIN", (0.0, 0.0)), ("$LIMMAX", (wide, high))):
            self.file.header[name] = point
        self.space.reset_extents((0.0, 0.0, 0.0), (wide, high, 0.0))
        self.space.reset_limits((0.0, 0.0), (wide, high))
        self.file.set_modelspace_vport(
            height=max(high, wide / WIDE) * AROUND, center=(wide / 2, high / 2)
        )
        stream = io.StringIO()
        self.file.write(stream)
        write_atomically(
            path, stream.getvalue().encode(self.file.output_encoding, errors="dxfreplace")
        )


def new_document(
    layers: Iterable[tuple[str, int]],
    size: tuple[float, float],
    *,
    inches: bool,
    version: str = USUAL,
    dashed: str = "",
) -> Document:
    """An empty drawing.

    Args:
        layers: their names and colours.
        size: of what is drawn, mm.
        inches: it is drawn in inches, else in mm.
        version: one of :data:`VERSIONS`.
        dashed: the layer whose lines are dashed.

    Raises:
        InputError: no such version is written.
    """
    # A large library: fetched when a drawing is asked for, not while the program starts.
    from ezdxf import units as dxf_units
    from ezdxf.filemanagement import new

    if version not in VERSIONS:
        raise InputError(
            tr("DXF {version!r} is not written. Known: {known}.").format(
                version=version, known=", ".join(VERSIONS)
            )
        )
    scale = 1 / INCH if inches else 1.0
    file: Any = new(VERSIONS[version])
    file.units = dxf_units.IN if inches else dxf_units.MM
    file.header["$MEASUREMENT"] = 0 if inches else 1
    file.appids.add(APP)
    dash = min(max(min(size) * DASH, 2.0), 12.0) * scale
    file.linetypes.add("DASHED", [1.5 * dash, dash, -0.5 * dash], description="fold line")
    for name, color in layers:
        file.layers.add(name, color=color, linetype="DASHED" if name == dashed else "CONTINUOUS")
    return Document(file, file.modelspace(), scale, version)


CUT, LATER, FOLD, MARK, SPOT = "CUT", "CUT-LATER", "FOLD", "MARK", "SPOT"

LETTER = 0.85
"""Widths of a letter by its height, widely reckoned."""

LEAST_NOTE = 0.4
"""mm; a note is not written smaller, even where it runs off the metal."""


def write_dxf(blank: Blank, path: FilePath, *, inches: bool = False, version: str = USUAL) -> None:
    """Write the blank: outline and holes on CUT, holes made after bending on CUT-LATER, bend lines
    on FOLD, spot welds on SPOT, all else on MARK.

    Every fold line carries ``angle`` (degrees, signed), ``radius`` (drawing units) and ``name`` as
    extended data, so that reading the drawing back gives the same blank.

    Args:
        blank: what is drawn, inside face up, lower left corner at the origin.
        path: the file.
        inches: draw in inches instead of millimetres.
        version: of DXF, one of :data:`VERSIONS`.

    Raises:
        InputError: no such version is written.
        FileError: it could not be written.
    """
    from ezdxf.enums import TextEntityAlignment

    layers = ((CUT, 7), (LATER, 1), (FOLD, 5), (MARK, 3), (SPOT, 6))
    document = new_document(layers, blank.size, inches=inches, version=version, dashed=FOLD)
    space, scale = document.space, document.scale
    document.closed(_corners(blank.outline), CUT)
    for opening, layer in [
        *((path, CUT) for path in blank.openings),
        *((path, LATER) for path in blank.openings_later),
    ]:
        if opening.circle is not None:
            centre, radius = opening.circle
            space.add_circle(tuple(centre * scale), radius * scale, dxfattribs={"layer": layer})
        else:
            document.closed(_corners(opening), layer)
    height = max(2.0, min(blank.size) / 40) * scale
    for fold in blank.folds:
        start, end = fold.start * scale, fold.end * scale
        line = space.add_line(tuple(start), tuple(end), dxfattribs={"layer": FOLD})
        line.set_xdata(
            APP,
            [
                (1000, f"angle={fold.angle!r}"),
                (1000, f"radius={fold.bend.radius * scale!r}"),
                (1000, f"name={fold.name}"),
                *(
                    [(1000, "ear=1")]
                    if fold.made_by is MadeBy.HAND and not fold.bend.radius
                    else []
                ),
            ],
        )
        along = (end - start) / np.hypot(*(end - start))
        # Written along the line and turned so that it reads from the front or the right.
        turn = np.degrees(np.arctan2(along[1], along[0])) % 180
        way = "up" if fold.angle > 0 else "down"
        text = (
            f"{fold.name.upper()} {way.upper()} {show_angle(abs(fold.angle)).replace('°', '%%d')}"
        )
        high, at = _note_place(blank, fold, height, len(text), scale)
        note = space.add_text(text, height=high, rotation=turn, dxfattribs={"layer": MARK})
        note.set_placement(tuple(at), align=TextEntityAlignment.MIDDLE_CENTER)
    for crease in blank.creases:
        line = space.add_line(
            tuple(crease.start * scale), tuple(crease.end * scale), dxfattribs={"layer": FOLD}
        )
        line.set_xdata(
            APP,
            [(1000, f"angle={crease.angle!r}"), (1000, f"name={crease.name}"), (1000, "crease=1")],
        )
    for mark in blank.marks:
        if mark.kind == "spot":
            space.add_point(tuple(mark.start * scale), dxfattribs={"layer": SPOT})
        else:
            space.add_line(
                tuple(mark.start * scale), tuple(mark.end * scale), dxfattribs={"layer": MARK}
            )
    for relief in blank.reliefs:
        space.add_point(tuple(relief.centre * scale), dxfattribs={"layer": MARK})
    document.write(FilePath(path), blank.size)


def _note_place(
    blank: Blank, fold: Fold, height: float, letters: int, scale: float
) -> tuple[float, Array]:
    """How high the note of a fold is written and where its middle lies, in drawing units: on the
    metal of the panel that is folded up, beside the line, as large as it fits there."""
    metal = shapely.Polygon(blank.panels[fold.child].polygon)
    middle, along = (fold.start + fold.end) / 2, (fold.end - fold.start) / fold.length
    high = height / scale
    while True:
        half, gap = LETTER * letters * high / 2, 0.5 * high
        at = middle + fold.outward * (gap + high / 2)
        corners = [
            at + a * half * along + b * high / 2 * fold.outward
            for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        ]
        if high <= LEAST_NOTE or metal.contains(shapely.Polygon(corners)):
            return high * scale, at * scale
        high = max(high * 0.9, LEAST_NOTE)


def _corners(path: ClosedPath) -> list[tuple[float, float, float]]:
    return [
        (x, y, bulge)
        for (x, y), bulge in zip(path.points.tolist(), path.bulges.tolist(), strict=True)
    ]


_STYLE = (
    ".cut{{fill:none;stroke:#000;stroke-width:{line}}}.fold{{stroke:#00f;stroke-width:{line};stroke-dasharray:{dash} {gap}}}"  # noqa: E501
    ".later{{fill:none;stroke:#c00;stroke-width:{line};stroke-dasharray:{dot} {dot}}}.mark{{stroke:#080;stroke-width:{line}}}"  # noqa: E501
    ".spot{{fill:#080}}"
)


def write_svg(blank: Blank, path: FilePath, *, inches: bool = False) -> None:
    """Write the blank at 1 : 1: groups ``cut``, ``cut-later`` (when the part is bent), ``fold`` and
    ``mark``.

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
            return f'<circle class="spot" cx="{x1:.5f}" cy="{high - y1:.5f}" r="{k:.5f}"><title>{escape(name)}</title></circle>'  # noqa: E501
        ends = f'x1="{x1:.5f}" y1="{high - y1:.5f}" x2="{x2:.5f}" y2="{high - y2:.5f}"'
        return f'<line class="{kind}" {ends}><title>{escape(name)}</title></line>'

    cut = "".join(
        f'<path class="cut" d="{_path(path, high, k)}"/>'
        for path in (blank.outline, *blank.openings)
    )
    later = "".join(
        f'<path class="later" d="{_path(path, high, k)}"/>' for path in blank.openings_later
    )
    folds = "".join(line("fold", f"{f.name} {f.angle:g}°", f.start, f.end) for f in blank.folds)
    marks = "".join(
        line("spot" if m.kind == "spot" else "mark", m.name, m.start, m.end) for m in blank.marks
    )
    marks += "".join(line("mark", c.name, c.start, c.end) for c in blank.creases)
    style = _STYLE.format(
        **{
            name: f"{size * k:.4g}"
            for name, size in (("line", 0.25), ("dash", 3.0), ("gap", 1.5), ("dot", 1.0))
        }
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.5f}{unit}" '
        f'height="{high:.5f}{unit}" viewBox="0 0 {wide:.5f} {high:.5f}">'
        f'<style>{style}</style><g id="cut">{cut}</g><g id="cut-later">{later}</g><g '
        f'id="fold">{folds}</g><g id="mark">{marks}</g></svg>\n'
    )


def _path(path: ClosedPath, high: float, k: float) -> str:
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
            text += f"A{radius * k:.5f} {radius * k:.5f} 0 {int(abs(sweep) > math.pi)} {int(sweep < 0)} {x:.5f} {high - y:.5f}"  # noqa: E501
    return text + "Z"
