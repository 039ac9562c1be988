"""What a brake makes of a fold by itself: the inside radius, and the school that fits."""

from __future__ import annotations

from functools import lru_cache

from ..allowance import ToolRadius
from ..metal import Sheet
from .force import air_radius, usable_dies
from .leaf_brake import LeafBrake
from .machine import Brake


@lru_cache(maxsize=256)
def tool_radius(brake: Brake, sheet: Sheet) -> ToolRadius | None:
    """What a brake makes of a fold in this sheet; None where no tool of it suits the sheet."""
    if isinstance(brake, LeafBrake):
        return ToolRadius(brake.nose_radius, False, "The radius of the nose, or what the metal stands.")
    dies = usable_dies(brake, sheet)
    if not dies:
        return None
    radius = air_radius(sheet, dies[0].opening)
    share = 100 * radius / dies[0].opening
    return ToolRadius(radius, True, f"Bent in air over {dies[0].name}: {share:.3g} % of its opening, or what the metal stands.")
