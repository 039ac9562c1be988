"""The blank as a DXF drawing in true millimetres or inches."""

from __future__ import annotations

import io
from pathlib import Path

import ezdxf
import numpy as np
from ezdxf import units as dxf_units

from ..blank import Blank
from ..measure import INCH, show_angle
from .atomic import write_atomically

CUT, FOLD, MARK = "CUT", "FOLD", "MARK"


def write_dxf(blank: Blank, path: Path, *, inches: bool = False) -> None:
    """Write the blank: outline on CUT, bend lines on FOLD, relief centres and fold notes on MARK.

    Args:
        blank: what is drawn, inside face up, lower left corner at the origin.
        path: the file.
        inches: draw in inches instead of millimetres.

    Raises:
        FileError: it could not be written.
    """
    scale = 1 / INCH if inches else 1.0
    document = ezdxf.new("R2010", setup=["linetypes"])
    document.units = dxf_units.IN if inches else dxf_units.MM
    document.header["$MEASUREMENT"] = 0 if inches else 1
    document.layers.add(CUT, color=7)
    document.layers.add(FOLD, color=5, linetype="DASHED")
    document.layers.add(MARK, color=3)
    space = document.modelspace()
    corners = [
        (x * scale, y * scale, bulge)
        for (x, y), bulge in zip(blank.outline.points.tolist(), blank.outline.bulges.tolist(), strict=True)
    ]
    space.add_lwpolyline(corners, format="xyb", close=True, dxfattribs={"layer": CUT})
    height = max(2.0, min(blank.size) / 40) * scale
    for fold in blank.folds:
        start, end = fold.start * scale, fold.end * scale
        space.add_line(tuple(start), tuple(end), dxfattribs={"layer": FOLD})
        along = (end - start) / np.hypot(*(end - start))
        # Written along the line and turned so that it reads from the front or the right.
        turn = np.degrees(np.arctan2(along[1], along[0])) % 180
        way = "up" if fold.angle > 0 else "down"
        text = f"{fold.name.upper()} {way.upper()} {show_angle(abs(fold.angle)).replace('°', '%%d')}"
        note = space.add_text(text, height=height, rotation=turn, dxfattribs={"layer": MARK})
        note.set_placement(tuple((start + end) / 2 + fold.outward * height * 0.5))
    for relief in blank.reliefs:
        space.add_point(tuple(relief.centre * scale), dxfattribs={"layer": MARK})
    stream = io.StringIO()
    document.write(stream)
    write_atomically(Path(path), stream.getvalue().encode(document.output_encoding))
