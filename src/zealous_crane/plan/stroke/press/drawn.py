"""A press brake's section with its sizes."""

from __future__ import annotations

import numpy as np

from ....brake import PressBrake
from ..drawn import Array, Drawn

FIRST = (
    "name", "bed_length", "force", "open_height", "shut_height", "ram_front", "ram_back", "table_front", "table_back", "gauge_reach",
)  # fmt: skip
"""Force and the heights decide what is bent at all; ram and table what may stand beside the tools."""

TOOLS = 60.0
"""mm between ram and table where the press has no tools yet."""


def press_drawn(brake: PressBrake) -> Drawn:
    """Ram and table as far apart as the first punch and die put them, these between them."""
    outlines: list[tuple[str, Array]] = []
    punch = np.array(brake.punches[0].outline, dtype=float) if brake.punches else None
    die = np.array(brake.dies[0].outline, dtype=float) if brake.dies else None
    low = float(die[:, 1].min()) if die is not None else -TOOLS / 2
    high = float(punch[:, 1].max()) if punch is not None else TOOLS / 2
    ram = _box(brake.ram_front, high, brake.ram_back, high + brake.ram_height)
    table = _box(brake.table_front, low - brake.table_height, brake.table_back, low)
    outlines += [("table", table), ("ram", ram)]
    outlines += [("die", die)] if die is not None else []
    outlines += [("punch", punch)] if punch is not None else []
    left = min(brake.ram_front, brake.table_front)
    sizes = {
        "ram_front": ((0.0, high + 12.0), (brake.ram_front, high + 12.0)),
        "ram_back": ((0.0, high + 26.0), (brake.ram_back, high + 26.0)),
        "ram_height": ((brake.ram_back + 10.0, high), (brake.ram_back + 10.0, high + brake.ram_height)),
        "table_front": ((0.0, low - 12.0), (brake.table_front, low - 12.0)),
        "table_back": ((0.0, low - 26.0), (brake.table_back, low - 26.0)),
        "table_height": ((brake.table_back + 10.0, low - brake.table_height), (brake.table_back + 10.0, low)),
        "open_height": ((left - 14.0, low), (left - 14.0, low + brake.open_height)),
        "shut_height": ((left - 30.0, low), (left - 30.0, low + brake.shut_height)),
    }
    return Drawn(tuple(outlines), sizes, FIRST)


def _box(y0: float, z0: float, y1: float, z1: float) -> Array:
    return np.array([(y0, z0), (y1, z0), (y1, z1), (y0, z1)])
