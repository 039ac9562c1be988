"""Sheet too thick for a machine that is rated by the thickness of mild steel."""

from __future__ import annotations

from ...blank import Blank
from ...measure import Units, show_length
from ...measure.words import tr, within


def too_thick(blank: Blank, rated: float, units: Units) -> tuple[str, tuple[str, ...]] | None:
    """Why a machine rated for ``rated`` mm of mild steel takes no stroke of a sheet: a short and a long way; None when it does."""
    allowed = blank.sheet.allowed_by(rated)
    if blank.thickness <= allowed + 1e-6:
        return None
    return tr("the metal is too thick for this brake"), (
        tr("{name} is {thickness} thick; this brake is rated for {rated} of mild steel, which is {allowed} of {lower}.").format(
            name=blank.sheet.name,
            thickness=show_length(blank.thickness, units.fine),
            rated=show_length(rated, units.fine),
            allowed=show_length(allowed, units.fine),
            lower=within(blank.sheet.metal.name),
        ),
    )
