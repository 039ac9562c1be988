"""Round tools on the wall: hand punches, and the drills that go on where they end."""

from __future__ import annotations

import math

from ..measure import INCH, Units

PUNCHES_INCH = (3 / 32, 1 / 8, 5 / 32, 3 / 16, 7 / 32, 1 / 4, 9 / 32)
"""in; the usual set of a hand punch. Common practice, from memory."""

PUNCHES_MM = (2.5, 3.0, 3.5, 4.0, 4.5, 5.0, 5.5, 6.0, 7.0)
"""mm; the same for a shop that works in millimetres. Common practice, from memory."""

DRILLS_INCH, DRILLS_MM = 1 / 16, 1.0
"""Steps of the drills above the punches, in and mm."""

RULE_INCH, RULE_MM = 1 / 64, 0.5
"""What a rule can set, in and mm."""


def next_punch(size: float, units: Units) -> float:
    """A diameter or side rounded up to the next hand punch, above these to the next drill, mm."""
    unit, punches, step = (INCH, PUNCHES_INCH, DRILLS_INCH) if units.is_inch else (1.0, PUNCHES_MM, DRILLS_MM)
    wanted = size / unit - 1e-9
    return unit * next((p for p in punches if p >= wanted), math.ceil(wanted / step) * step)


def last_punch(size: float, units: Units) -> float:
    """A diameter or side rounded down to a hand punch, above these to a drill, mm; 0 where even the smallest is too large."""
    unit, punches, step = (INCH, PUNCHES_INCH, DRILLS_INCH) if units.is_inch else (1.0, PUNCHES_MM, DRILLS_MM)
    wanted = size / unit + 1e-9
    drill = math.floor(wanted / step) * step
    return unit * max((p for p in (*punches, drill if drill > punches[-1] else 0.0) if p <= wanted), default=0.0)


def next_mark(size: float, units: Units) -> float:
    """A width rounded up to what a rule can set, mm."""
    tick = INCH * RULE_INCH if units.is_inch else RULE_MM
    return math.ceil(size / tick - 1e-9) * tick
