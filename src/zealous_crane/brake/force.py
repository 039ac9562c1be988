"""Forces of bending in a V, and the least leg it carries.

Common practice unless a source stands beside the figure; the press maker's own chart wins.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from ..i18n import Message, msg
from ..metal.sheet import Sheet
from ..units.figures import Force, ForceAlong
from .press_brake import PressBrake
from .tools import Die, Punch


class Bottoming(StrEnum):
    """How far the punch goes."""

    AIR = "air"
    BOTTOMED = "bottomed"


BOTTOM_FACTOR = 4.0
"""Bottoming takes three to five times the force of air bending."""

MARGIN = 1.0
"""mm of leg wanted beyond the die's shoulder when the bend is done."""


def bend_force(sheet: Sheet, opening: float, bottoming: Bottoming = Bottoming.AIR) -> float:
    """Force per length of bend, N/mm (which is kN per metre): (1 + 4T/V)·Rm·T²/V, four times as
    much bottomed.

    The formula press makers' charts follow, from memory; their own chart wins.

    Args:
        sheet: metal and thickness.
        opening: of the V, mm.
        bottoming: where the punch is driven home; None bends in air.
    """
    t = sheet.thickness
    air = (1 + 4 * t / opening) * sheet.metal.force_tensile * t**2 / opening
    return air * (BOTTOM_FACTOR if bottoming is Bottoming.BOTTOMED else 1.0)


def least_leg(opening: float, angle: float) -> float:
    """Least outside leg (mm, from the corner where the outside faces meet) that still lies on the
    shoulder: (V/2)/cos(θ/2), and a margin. By geometry: at θ both outside faces pass the shoulders
    V/2 from the middle, and the corner lies in the middle."""
    return opening / 2 / math.cos(math.radians(min(angle, 170.0)) / 2) + MARGIN


CARE = 0.9
"""Share of a rating from which care is taken. Common practice, no source."""


PRESS = "press"
"""Whose rating it is where it is the press's own."""


HAIR = 1.0
"""kN, and kN per metre, by which a force that is too much is at least told above what it is held
against."""


@dataclass(frozen=True)
class Load:
    """The force of one bend against what press, punch and die stand.

    Attributes:
        per_length: kN per metre.
        total: kN.
        share: the largest share of a rating it takes.
        whose: whose rating that is: :data:`PRESS`, or the name of the punch or die.
        says: None when all stand it, else who does not.
    """

    per_length: float
    total: float
    share: float
    whose: str
    says: Message | None


def load(
    brake: PressBrake,
    punch: Punch,
    die: Die,
    sheet: Sheet,
    length: float,
    bottoming: Bottoming = Bottoming.AIR,
) -> Load:
    """Force of a bend of ``length`` mm, and whether press, punch and die stand it.

    Args:
        brake: the machine.
        punch: the punch.
        die: the die.
        sheet: metal and thickness.
        length: of the bend, mm.
        bottoming: where the punch is driven home; None bends in air.
    """
    per = bend_force(sheet, die.opening, bottoming)
    total = per * length / 1000
    shares = [
        (total / brake.force, PRESS),
        (per / punch.limit, punch.name),
        (per / die.limit, die.name),
    ]
    says = None
    if total > brake.force:
        # Rounding does not hide the reason.
        shown = max(total, brake.force + HAIR)
        says = msg(
            "it needs {total} and the press gives {force}",
            total=Force(shown),
            force=Force(brake.force),
        )
    else:
        for tool, sentence in (
            (punch, msg("it needs {along} and the punch {name} stands {limit}")),
            (die, msg("it needs {along} and the die {name} stands {limit}")),
        ):
            if per > tool.limit:
                along = ForceAlong(max(per, tool.limit + HAIR))
                limit = ForceAlong(tool.limit)
                says = sentence.filled(along=along, name=tool.name, limit=limit)
                break
    return Load(per, total, *max(shares), says)
