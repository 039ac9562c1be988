"""General tolerances of linear sizes, where a drawing says nothing."""

from __future__ import annotations

from bisect import bisect_left

from .length import INCH

UP_TO = (6.0, 30.0, 120.0, 400.0, 1000.0, 2000.0, 4000.0)
"""mm; steps of the sizes in ISO 2768-1."""

GENERAL = {
    "f": (0.05, 0.1, 0.15, 0.2, 0.3, 0.5, 0.5),
    "m": (0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}
"""mm either way for linear sizes up to each step, by class; above, that of the last. ISO 2768-1, from memory; class f names none above
2 m, and up to 3 mm class c asks 0.2."""

LEAST_FOLDED = 0.25
"""mm; less than this is not asked of a size across a bend, whatever the general tolerance says. Common practice, no source."""

SIXTY_FOURTH = INCH / 64
"""mm; what a tray is held to in an inch shop. Common practice, no source."""


def general_tolerance(size: float, class_: str, *, inch: bool) -> float:
    """How far a size across bends may be off either way where nothing is said, mm.

    Args:
        size: mm.
        class_: of ISO 2768-1: ``f``, ``m``, ``c``, ``v``.
        inch: it is read on a rule in sixty-fourths, and never held to less.
    """
    at = bisect_left(UP_TO, abs(size))
    return max(SIXTY_FOURTH if inch else LEAST_FOLDED, GENERAL[class_][min(at, len(UP_TO) - 1)])
