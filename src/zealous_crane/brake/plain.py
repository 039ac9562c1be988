"""A plain set of punches and dies, for a shop that has not drawn its own yet. Sizes are ours, of no maker."""

from __future__ import annotations

import math

from ..measure.input_error import InputError
from ..measure.words import tr
from .die import Die
from .punch import Punch, PunchStyle
from .section import Section

Points = list[tuple[float, float]]

DOUBLING = tuple(Section(width=w) for w in (20.0, 40.0, 80.0, 160.0, 320.0))


def _tip(angle: float, radius: float, width: float) -> Points:
    """Front half of a tip up to half the width: corners (y, z) from the flat under the tip up the flank; z up, y negative."""
    lean = math.radians(angle) / 2
    flat = radius * math.tan((math.pi / 2 - lean) / 2)
    reach = width / 2
    return [(-flat, 0.0), (-reach, (reach - flat) / math.tan(lean))]


def straight_punch(
    name: str, *, angle: float = 85.0, radius: float = 0.8, width: float = 14.0, height: float = 100.0,
    style: PunchStyle = PunchStyle.STRAIGHT, limit: float = 1000.0, pieces: tuple[Section, ...] = DOUBLING,
) -> Punch:  # fmt: skip
    """A punch that goes straight up from its tip."""
    front = _tip(angle, radius, width)
    side = [*front, (-width / 2, height)]
    outline = [*((-y, z) for y, z in side), *reversed(side)]
    return Punch(name=name, style=style, angle=angle, radius=radius, outline=outline, limit=limit, pieces=pieces)


def gooseneck_punch(
    name: str, *, angle: float = 85.0, radius: float = 0.8, throat: float = 30.0, height: float = 120.0, neck: float = 20.0,
    limit: float = 500.0, pieces: tuple[Section, ...] = DOUBLING,
) -> Punch:  # fmt: skip
    """A punch cut back in front so that an earlier flange can come up.

    Args:
        throat: how far the hollow goes behind the tip, mm.
        neck: thickness of metal behind the hollow, mm.
    """
    lip, back = 5.0, throat + neck
    (flat_y, _), (lip_y, lip_z) = _tip(angle, radius, 2 * lip)
    # The floor of the hollow runs along the back flank with the neck's metal between them.
    rise = 1 / math.tan(math.radians(angle) / 2)
    low = throat * rise + 0.6 * neck
    high = max(low + 5.0, back * rise + 5.0, height - throat - 12.0)
    if high > height - 12.0:
        raise InputError(
            tr("{name}: a throat of {throat:g} mm with a neck of {neck:g} mm needs a punch {high:.0f} mm high").format(
                name=name, throat=throat, neck=neck, high=high + 12
            )
        )
    outline = [
        (-flat_y, 0.0), (back, (back + flat_y) * rise), (back, high), (lip + 5, height - 8.0),
        (lip + 5, height), (-lip - 5, height), (-lip - 5, height - 10.0), (throat, high), (throat, low), (lip_y, lip_z + 4.0),
        (lip_y, lip_z), (flat_y, 0.0),
    ]  # fmt: skip
    return Punch(
        name=name, style=PunchStyle.GOOSENECK, angle=angle, radius=radius, outline=tuple(outline), limit=limit, pieces=pieces
    )


def hemming_punch(
    name: str, *, width: float = 30.0, height: float = 90.0, limit: float = 1500.0, pieces: tuple[Section, ...] = DOUBLING
) -> Punch:
    """A flat punch that closes hems."""
    half = width / 2
    outline = ((-half, 0.0), (half, 0.0), (half, 25.0), (8.0, 35.0), (8.0, height), (-8.0, height), (-8.0, 35.0), (-half, 25.0))
    return Punch(name=name, style=PunchStyle.HEMMING, angle=180, radius=0, outline=outline, limit=limit, pieces=pieces)


def v_die(
    name: str, opening: float, *, angle: float = 85.0, radius: float = 0.8, land: float = 6.0, height: float = 60.0,
    limit: float = 1000.0, pieces: tuple[Section, ...] = DOUBLING,
) -> Die:  # fmt: skip
    """A block with one V.

    Args:
        land: flat top beside each shoulder, mm.
    """
    half, edge = opening / 2, opening / 2 + land
    depth = half / math.tan(math.radians(angle) / 2)
    height = max(height, depth + 12.0)
    outline = ((-edge, -height), (edge, -height), (edge, 0.0), (half, 0.0), (0.0, -depth), (-half, 0.0), (-edge, 0.0))
    return Die(name=name, angle=angle, radius=radius, outline=outline, limit=limit, pieces=pieces)
