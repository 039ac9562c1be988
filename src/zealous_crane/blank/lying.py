"""Where metal lies on a straight line across it."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

Array = NDArray[np.float64]

BESIDE = 1e-9
"""mm; metal is looked for this far on either side of the line, so that an edge which lies on it counts."""

SEEN = 1e-7
"""mm; less metal than this is none."""


def metal_on(metal: shapely.Polygon, origins: Array, along: Array, spans: Array) -> list[tuple[float, float] | None]:
    """From where to where a sheet's metal lies on straight lines: the first and the last of it, gaps in between not told.

    Args:
        metal: the sheet, with its holes.
        origins: (n, 2) mm, a point on every line.
        along: (n, 2) unit vectors, their directions.
        spans: (n, 2) mm from the origins, between which each line is looked at.

    Returns:
        from and to, mm from the origins; None where no metal lies on the line.
    """
    corners, of = shapely.get_coordinates(shapely.get_rings(metal), return_index=True)
    sides = np.flatnonzero(of[1:] == of[:-1])
    # Each ring comes closed: its last corner is its first.
    places = (corners @ along.T) - (origins * along).sum(axis=1)
    square = np.stack([-along[:, 1], along[:, 0]], axis=1)
    heights = (corners @ square.T) - (origins * square).sum(axis=1)
    found: list[tuple[float, float] | None] = []
    for k, (low, high) in enumerate(spans.tolist()):
        ends: list[tuple[float, float]] = []
        for off in (-BESIDE, BESIDE):
            height = heights[:, k] - off
            above = height > 0
            cut = sides[above[sides] != above[sides + 1]]
            a, b = height[cut], height[cut + 1]
            met = np.sort(places[cut, k] + (places[cut + 1, k] - places[cut, k]) * (a / (a - b)))
            inside = zip(met[::2].tolist(), met[1::2].tolist(), strict=True)
            ends += [(max(first, low), min(last, high)) for first, last in inside if min(last, high) - max(first, low) > SEEN]
        found.append((min(first for first, _ in ends), max(last for _, last in ends)) if ends else None)
    return found
