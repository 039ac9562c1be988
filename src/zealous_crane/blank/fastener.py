"""Fasteners: what is drilled for which rivet or screw, and how near each other they may sit."""

from __future__ import annotations

from ..measure import INCH

HOLES = (
    # Inch sizes: drills 41, 30, 20, 11 and F, as IFI 114 and the drill tables beside it have them.
    (3 / 32 * INCH, 0.0960 * INCH), (1 / 8 * INCH, 0.1285 * INCH), (5 / 32 * INCH, 0.1610 * INCH), (3 / 16 * INCH, 0.1910 * INCH),
    (1 / 4 * INCH, 0.2570 * INCH),
    # Metric sizes: ISO 15977, a tenth over.
    (2.4, 2.5), (3.0, 3.1), (3.2, 3.3), (4.0, 4.1), (4.8, 4.9), (5.0, 5.1), (6.0, 6.1), (6.4, 6.5),
)  # fmt: skip
"""(rivet, hole) diameters of blind rivets, mm; published tables from memory."""

PILOTS = ((2.9, 2.3), (3.5, 2.8), (3.9, 3.1), (4.2, 3.3), (4.8, 3.8), (5.5, 4.5), (6.3, 5.2))
"""(thread, hole it bites in) of tapping screws in thin sheet, mm: DIN 7975 for sheet of about a millimetre, from memory."""

PITCH = 3.0
"""Least distance between two rivets in a row, in diameters: FAA AC 43.13-1B, 4-57, from memory. Spots nearer than that let the
current pass by the new one through the old (common practice, no source)."""

CLEARANCE = 0.1
"""mm a hole is larger than a rivet the tables do not have."""

SCREW_ROOM = 0.1
"""Share of its diameter by which a screw's hole in the nearer sheet is larger. Common practice, no source."""

SOLID_SHANK = 1.5
"""Diameters of shank that a solid rivet's head is driven from: FAA-H-8083-31, from memory."""


def rivet_hole(rivet: float) -> float:
    """Diameter drilled for a rivet of this diameter, mm."""
    return next((hole for size, hole in HOLES if abs(size - rivet) < 0.005), rivet + CLEARANCE)


def screw_hole(screw: float, *, bites: bool) -> float:
    """Diameter drilled for a tapping screw, mm: where its thread bites, or in the sheet it passes through."""
    if not bites:
        return screw * (1 + SCREW_ROOM)
    return next((hole for size, hole in PILOTS if abs(size - screw) < 0.005), 0.8 * screw)
