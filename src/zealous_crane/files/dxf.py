"""DXF documents as other programs like to open them: a unit, a version, dashes to the part's size, and a view that shows all of it."""

from __future__ import annotations

import io
from collections.abc import Iterable
from pathlib import Path
from typing import Any, NamedTuple

from ..measure import INCH
from ..measure.input_error import InputError
from ..measure.words import tr
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
        self.file.set_modelspace_vport(height=max(high, wide / WIDE) * AROUND, center=(wide / 2, high / 2))
        stream = io.StringIO()
        self.file.write(stream)
        write_atomically(path, stream.getvalue().encode(self.file.output_encoding, errors="dxfreplace"))


def new_document(
    layers: Iterable[tuple[str, int]], size: tuple[float, float], *, inches: bool, version: str = USUAL, dashed: str = ""
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
    import ezdxf
    from ezdxf import units as dxf_units

    if version not in VERSIONS:
        raise InputError(
            tr("DXF {version!r} is not written. Known: {known}.").format(version=version, known=", ".join(VERSIONS))
        )
    scale = 1 / INCH if inches else 1.0
    file: Any = ezdxf.new(VERSIONS[version])
    file.units = dxf_units.IN if inches else dxf_units.MM
    file.header["$MEASUREMENT"] = 0 if inches else 1
    file.appids.add(APP)
    dash = min(max(min(size) * DASH, 2.0), 12.0) * scale
    file.linetypes.add("DASHED", [1.5 * dash, dash, -0.5 * dash], description="fold line")
    for name, color in layers:
        file.layers.add(name, color=color, linetype="DASHED" if name == dashed else "CONTINUOUS")
    return Document(file, file.modelspace(), scale, version)
