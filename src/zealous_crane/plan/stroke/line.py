"""Where a fold line lies under a nose, in words."""

from __future__ import annotations

from ...measure import Units, show_length
from ...measure.words import tr


def line_place(line: float, units: Units) -> str:
    """Where the fold line lies that is ``line`` mm behind the nose; below zero in front of it."""
    if abs(line) < 0.02:
        return tr("right under the nose")
    return tr("{length} {which} the nose").format(
        length=show_length(abs(line), units.fine), which=tr("behind") if line > 0 else tr("in front of")
    )
