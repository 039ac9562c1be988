"""What a brake makes of a fold by itself: the inside radius, and the school that fits."""

from __future__ import annotations

from functools import lru_cache

from ..allowance import ToolRadius
from ..metal import Sheet
from .brake import Brake


@lru_cache(maxsize=256)
def tool_radius(brake: Brake, sheet: Sheet) -> ToolRadius | None:
    """What a brake makes of a fold in this sheet; None where no tool of it suits the sheet."""
    return brake.radius(sheet)
