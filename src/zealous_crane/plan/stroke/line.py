"""Where a fold line lies under a nose, in words."""

from __future__ import annotations

from ...measure import Units, show_length


def line_place(line: float, units: Units) -> str:
    """Where the fold line lies that is ``line`` mm behind the nose; below zero in front of it."""
    if abs(line) < 0.02:
        return "right under the nose"
    return f"{show_length(abs(line), units.fine)} {'behind' if line > 0 else 'in front of'} the nose"
