"""The blank as a DXF drawing in true millimetres or inches."""

from __future__ import annotations

import io
from pathlib import Path as FilePath
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from ..blank import Blank, MadeBy, Path
from ..blank.fold import Fold
from ..measure import INCH, show_angle
from .atomic import write_atomically

Array = NDArray[np.float64]

CUT, LATER, FOLD, MARK = "CUT", "CUT-LATER", "FOLD", "MARK"

LETTER = 0.85
"""Widths of a letter by its height, widely reckoned."""

LEAST_NOTE = 0.4
"""mm; a note is not written smaller, even where it runs off the metal."""

APP = "ZEALOUS_CRANE"
"""Name under which a fold line carries its angle, inside radius and name."""


def write_dxf(blank: Blank, path: FilePath, *, inches: bool = False) -> None:
    """Write the blank: outline and holes on CUT, holes made after bending on CUT-LATER, bend lines on FOLD, all else on MARK.

    Every fold line carries ``angle`` (degrees, signed), ``radius`` (drawing units) and ``name`` as extended data, so that reading
    the drawing back gives the same blank.

    Args:
        blank: what is drawn, inside face up, lower left corner at the origin.
        path: the file.
        inches: draw in inches instead of millimetres.

    Raises:
        FileError: it could not be written.
    """
    # A large library: fetched when a drawing is asked for, not while the program starts.
    import ezdxf
    from ezdxf import units as dxf_units
    from ezdxf.enums import TextEntityAlignment

    scale = 1 / INCH if inches else 1.0
    document = ezdxf.new("R2010", setup=["linetypes"])
    document.units = dxf_units.IN if inches else dxf_units.MM
    document.header["$MEASUREMENT"] = 0 if inches else 1
    document.appids.add(APP)
    document.layers.add(CUT, color=7)
    document.layers.add(LATER, color=1)
    document.layers.add(FOLD, color=5, linetype="DASHED")
    document.layers.add(MARK, color=3)
    space = document.modelspace()
    _closed(space, blank.outline, scale)
    for opening, layer in [*((path, CUT) for path in blank.openings), *((path, LATER) for path in blank.openings_later)]:
        if opening.circle is not None:
            centre, radius = opening.circle
            space.add_circle(tuple(centre * scale), radius * scale, dxfattribs={"layer": layer})
        else:
            _closed(space, opening, scale, layer)
    height = max(2.0, min(blank.size) / 40) * scale
    for fold in blank.folds:
        start, end = fold.start * scale, fold.end * scale
        line = space.add_line(tuple(start), tuple(end), dxfattribs={"layer": FOLD})
        line.set_xdata(APP, [
            (1000, f"angle={fold.angle!r}"), (1000, f"radius={fold.bend.radius * scale!r}"), (1000, f"name={fold.name}"),
            *([(1000, "ear=1")] if fold.made_by is MadeBy.HAND and not fold.bend.radius else []),
        ])  # fmt: skip
        along = (end - start) / np.hypot(*(end - start))
        # Written along the line and turned so that it reads from the front or the right.
        turn = np.degrees(np.arctan2(along[1], along[0])) % 180
        way = "up" if fold.angle > 0 else "down"
        text = f"{fold.name.upper()} {way.upper()} {show_angle(abs(fold.angle)).replace('°', '%%d')}"
        high, at = _note_place(blank, fold, height, len(text), scale)
        note = space.add_text(text, height=high, rotation=turn, dxfattribs={"layer": MARK})
        note.set_placement(tuple(at), align=TextEntityAlignment.MIDDLE_CENTER)
    for crease in blank.creases:
        line = space.add_line(tuple(crease.start * scale), tuple(crease.end * scale), dxfattribs={"layer": FOLD})
        line.set_xdata(APP, [(1000, f"angle={crease.angle!r}"), (1000, f"name={crease.name}"), (1000, "crease=1")])
    for mark in blank.marks:
        if mark.kind == "spot":
            space.add_point(tuple(mark.start * scale), dxfattribs={"layer": MARK})
        else:
            space.add_line(tuple(mark.start * scale), tuple(mark.end * scale), dxfattribs={"layer": MARK})
    for relief in blank.reliefs:
        space.add_point(tuple(relief.centre * scale), dxfattribs={"layer": MARK})
    stream = io.StringIO()
    document.write(stream)
    write_atomically(FilePath(path), stream.getvalue().encode(document.output_encoding))


def _note_place(blank: Blank, fold: Fold, height: float, letters: int, scale: float) -> tuple[float, Array]:
    """How high the note of a fold is written and where its middle lies, in drawing units: on the metal of the panel that is folded up,
    beside the line, as large as it fits there."""
    metal = shapely.Polygon(blank.panels[fold.child].polygon)
    middle, along = (fold.start + fold.end) / 2, (fold.end - fold.start) / fold.length
    high = height / scale
    while True:
        half, gap = LETTER * letters * high / 2, 0.5 * high
        at = middle + fold.outward * (gap + high / 2)
        corners = [at + a * half * along + b * high / 2 * fold.outward for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        if high <= LEAST_NOTE or metal.contains(shapely.Polygon(corners)):
            return high * scale, at * scale
        high = max(high * 0.9, LEAST_NOTE)


def _closed(space: Any, path: Path, scale: float, layer: str = CUT) -> None:
    corners = [(x * scale, y * scale, bulge) for (x, y), bulge in zip(path.points.tolist(), path.bulges.tolist(), strict=True)]
    space.add_lwpolyline(corners, format="xyb", close=True, dxfattribs={"layer": layer})
