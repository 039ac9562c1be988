"""Outlines of tools as a shop writes them down: corners across the brake, in order, closing on themselves."""

from __future__ import annotations

from typing import Annotated

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import Field

from ..measure import Length
from ..measure.checked import Checked
from ..measure.input_error import InputError
from ..measure.words import tr

Array = NDArray[np.float64]

LEAST_SIDE = 0.01
"""mm; corners nearer together than this are one."""


def _sound(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """The corners counter-clockwise, doubles left out.

    Raises:
        InputError: there are too few, they cut across each other, or they enclose nothing.
    """
    kept: list[tuple[float, float]] = []
    for corner in corners:
        if not kept or np.hypot(corner[0] - kept[-1][0], corner[1] - kept[-1][1]) > LEAST_SIDE:
            kept.append(corner)
    if len(kept) > 1 and np.hypot(kept[0][0] - kept[-1][0], kept[0][1] - kept[-1][1]) <= LEAST_SIDE:
        kept.pop()
    if len(kept) < 3:
        raise InputError(tr("an outline needs at least three corners"))
    polygon = shapely.Polygon(kept)
    if not polygon.is_valid:
        where = shapely.is_valid_reason(polygon)
        raise InputError(
            tr("the outline cuts across itself ({lower}); its corners must run round the tool in order").format(
                lower=where.lower()
            )
        )
    if polygon.area < 1.0:
        raise InputError(tr("the outline encloses no metal"))
    return tuple(kept) if polygon.exterior.is_ccw else tuple(kept[::-1])


Outline = Annotated[tuple[tuple[Length, Length], ...], Field(max_length=400), Checked((_sound,))]
"""Corners (y, z), mm; y to the back of the brake, z up. Kept counter-clockwise."""


def mirrored(corners: tuple[tuple[float, float], ...]) -> tuple[tuple[float, float], ...]:
    """The outline of the tool turned end for end: front and back change places."""
    return tuple((-y, z) for y, z in reversed(corners))


def shifted(corners: tuple[tuple[float, float], ...], y: float, z: float) -> tuple[tuple[float, float], ...]:
    """The outline moved by (y, z) mm."""
    return tuple((a + y, b + z) for a, b in corners)
