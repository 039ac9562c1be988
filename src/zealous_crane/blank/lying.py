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
    # Each ring comes closed: its last corner is its first.
    sides = (of[1:] == of[:-1])[:, None]
    places = (corners @ along.T) - (origins * along).sum(axis=1)
    square = np.stack([-along[:, 1], along[:, 0]], axis=1)
    heights = (corners @ square.T) - (origins * square).sum(axis=1)
    begins, ends = np.full(len(spans), np.inf), np.full(len(spans), -np.inf)
    for off in (-BESIDE, BESIDE):
        above = heights > off
        here, line = np.divmod(np.flatnonzero((above[1:] != above[:-1]) & sides), len(spans))
        a, b = heights[here, line] - off, heights[here + 1, line] - off
        met = places[here, line] + (places[here + 1, line] - places[here, line]) * (a / (a - b))
        # Along every line the metal begins at the first meeting with the outline, ends at the second, and so on.
        order = np.lexsort((met, line))
        line, first, last = line[order[::2]], met[order[::2]], met[order[1::2]]
        low, high = np.maximum(first, spans[line, 0]), np.minimum(last, spans[line, 1])
        seen = high - low > SEEN
        np.minimum.at(begins, line[seen], low[seen])
        np.maximum.at(ends, line[seen], high[seen])
    return [(low, high) if low < high else None for low, high in zip(begins.tolist(), ends.tolist(), strict=True)]
