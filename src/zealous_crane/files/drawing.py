"""The blank as a DXF drawing in true millimetres or inches."""

from __future__ import annotations

from pathlib import Path as FilePath

import numpy as np
import shapely
from numpy.typing import NDArray

from ..blank import Blank, MadeBy, Path
from ..blank.fold import Fold
from ..measure import show_angle
from .dxf import APP, USUAL, new_document

Array = NDArray[np.float64]

CUT, LATER, FOLD, MARK, SPOT = "CUT", "CUT-LATER", "FOLD", "MARK", "SPOT"

LETTER = 0.85
"""Widths of a letter by its height, widely reckoned."""

LEAST_NOTE = 0.4
"""mm; a note is not written smaller, even where it runs off the metal."""


def write_dxf(blank: Blank, path: FilePath, *, inches: bool = False, version: str = USUAL) -> None:
    """Write the blank: outline and holes on CUT, holes made after bending on CUT-LATER, bend lines on FOLD, spot welds on SPOT, all else
    on MARK.

    Every fold line carries ``angle`` (degrees, signed), ``radius`` (drawing units) and ``name`` as extended data, so that reading
    the drawing back gives the same blank.

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
    for opening, layer in [*((path, CUT) for path in blank.openings), *((path, LATER) for path in blank.openings_later)]:
        if opening.circle is not None:
            centre, radius = opening.circle
            space.add_circle(tuple(centre * scale), radius * scale, dxfattribs={"layer": layer})
        else:
            document.closed(_corners(opening), layer)
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
            space.add_point(tuple(mark.start * scale), dxfattribs={"layer": SPOT})
        else:
            space.add_line(tuple(mark.start * scale), tuple(mark.end * scale), dxfattribs={"layer": MARK})
    for relief in blank.reliefs:
        space.add_point(tuple(relief.centre * scale), dxfattribs={"layer": MARK})
    document.write(FilePath(path), blank.size)


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


def _corners(path: Path) -> list[tuple[float, float, float]]:
    return [(x, y, bulge) for (x, y), bulge in zip(path.points.tolist(), path.bulges.tolist(), strict=True)]
