"""Cross-sections of a press brake with one punch over one die, set for one thickness."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..measure.dataclass import dataclass
from .die import Die
from .press_brake import PressBrake
from .profile import Profile
from .punch import Punch

Array = NDArray[np.float64]


@dataclass(frozen=True)
class PressTools:
    """Ram, punch, die and table in the stroke's frame: fold line on x, the flat sheet from z = 0 to the thickness, the punch's
    tip on it and the die's top under it.

    Attributes:
        punch, ram, die, table: cross-sections with the press just touching the flat sheet.
        shoulder: half of the V, mm.
        depth: of the V, mm.
        opening: how far ram and punch rise, mm.
    """

    punch: Profile
    ram: Profile
    die: Profile
    table: Profile
    shoulder: float
    depth: float
    opening: float


def tip_zone(punch: Punch, thickness: float) -> float:
    """Height (mm) above the tip up to which the wings are meant to lie near the punch: 3·(tip radius + T)."""
    return 3 * (punch.radius + thickness)


@lru_cache(maxsize=256)
def press_tools_for(brake: PressBrake, punch: Punch, die: Die, thickness: float) -> PressTools:
    """Set the press's cross-sections up for a sheet."""
    t = thickness
    tip = np.array([0.0, t])
    zone = tip_zone(punch, t)
    corners: list[tuple[float, float]] = []
    parts: list[str] = []
    nose: list[int] = []
    ring = punch.outline
    for (y0, z0), (y1, z1) in zip(ring, (*ring[1:], ring[0]), strict=True):
        if z0 < zone:
            nose.append(len(corners))
        corners.append((y0, z0))
        low, high = min(z0, z1), max(z0, z1)
        if low < zone < high:
            share = (zone - z0) / (z1 - z0)
            parts.append("nose" if z0 < zone else "side")
            corners.append((y0 + (y1 - y0) * share, zone))
            parts.append("side" if z0 < zone else "nose")
        else:
            parts.append("nose" if high <= zone else "side")
    height, drop = punch.height, die.height
    ram = _box(brake.ram_front, brake.ram_back, t + height, t + height + brake.ram_height)
    table = _box(brake.table_front, brake.table_back, -drop - brake.table_height, -drop)
    return PressTools(
        punch=Profile("punch", np.array(corners) + tip, tuple(parts), tuple(nose)),
        ram=Profile("ram", ram, ("underside", "back", "top", "front")),
        die=Profile("die", np.array(die.outline), ("side",) * len(die.outline)),
        table=Profile("table", table, ("underside", "back", "top", "front")),
        shoulder=die.opening / 2,
        depth=die.depth,
        opening=brake.daylight(punch, die) - t,
    )


def _box(front: float, back: float, low: float, high: float) -> Array:
    return np.array([(front, low), (back, low), (back, high), (front, high)])
