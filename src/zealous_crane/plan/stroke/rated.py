"""Sheet too thick for a machine that is rated by the thickness of mild steel."""

from __future__ import annotations

from ...blank import Blank
from ...measure import Units, show_length


def too_thick(blank: Blank, rated: float, units: Units) -> tuple[str, tuple[str, ...]] | None:
    """Why a machine rated for ``rated`` mm of mild steel takes no stroke of a sheet: a short and a long way; None when it does."""
    allowed = blank.sheet.allowed_by(rated)
    if blank.thickness <= allowed + 1e-6:
        return None
    return "the metal is too thick for this brake", (
        f"{blank.sheet.name} is {show_length(blank.thickness, units.fine)} thick; this brake is rated for "
        f"{show_length(rated, units.fine)} of mild steel, which is {show_length(allowed, units.fine)} of "
        f"{blank.sheet.metal.name.lower()}.",
    )
