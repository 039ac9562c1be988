"""The stretch of a piece along the fold that is looked at, and how far away is out of reach."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import NamedTuple

from ..cache import cached
from ..i18n import Message, Phrase, msg
from .back_end import geometry
from .contact import Touch
from .outline import ToolOutline
from .solid import Body, Met, Solid, ToolPart

Clip = tuple[float, float] | None
"""Interval of x (mm) of a piece that is looked at; None is all of it."""

AWAY = 50_000.0
"""How far (mm) a part must slide to be out: past any part."""


def narrowed(solid: Solid, clip: Clip) -> Clip:
    """None where a piece does not change along the fold and some of it is in the interval: one
    answer serves them all."""
    same = clip is not None and solid.uniform and solid.reaches(*clip)
    return None if same else clip


Ring = tuple[float, float, float, float]
"""Where an outline lies about the pole: least and greatest distance, mm, and first and last
direction, radians; directions grow with the swing from a little below the front, and go all the way
round where the pole is near."""

BELOW_FRONT = 1.2
"""Radians below the front at which directions begin to be counted."""


# Saves 4 to 5 % of planning, least where remedies are tried.
@cached(16384)
def ring_of(solid: Solid, y: float, z: float) -> Ring:
    """The ring of a piece's shadow about (y, z) mm.

    Args:
        solid: a convex piece of the part.
        y: mm.
        z: mm.
    """
    return _round_about(*geometry.ring(solid.shadow, (y, z), BELOW_FRONT))


# Saves 2 % of planning.
@cached(1024)
def tool_ring(tool: ToolOutline, y: float, z: float) -> Ring:
    """The ring of a tool about (y, z) mm.

    Args:
        tool: the outline.
        y: mm.
        z: mm.
    """
    return _round_about(*geometry.ring(tool.outline, (y, z), BELOW_FRONT))


def _round_about(least: float, far: float, low: float, high: float) -> Ring:
    """The ring of distances and directions of corners: those seen within half a turn hold
    everything between them, unless the pole lies inside."""
    return (
        (least, far, 0.0, 2 * math.pi)
        if least < 1e-6 or high - low > math.pi
        else (least, far, low, high)
    )


# Saves 2 to 3 % of planning, least where remedies are tried.
@cached(65536)
def may_meet(one: Ring, other: Ring, slack: float, limit: float) -> bool:
    """False when what turns by up to ``limit`` radians cannot meet what rests: their rings or their
    directions never overlap.

    Args:
        one: turns, given at angle 0.
        other: rests.
        slack: mm that must be left between them.
        limit: radians.
    """
    if one[1] < other[0] - slack or other[1] < one[0] - slack:
        return False
    least = max(min(one[0], other[0]), 1e-9)
    spare = math.asin(min(1.0, slack / least)) if least > slack else math.pi
    return any(
        one[2] - spare <= other[3] + turn and one[3] + limit + spare >= other[2] + turn
        for turn in (-2 * math.pi, 0.0, 2 * math.pi)
    )


class Way(StrEnum):
    """How a part goes into the brake and out of it."""

    FRONT = "front"
    """Straight from the front."""
    LIFTED = "lifted"
    """Over what it lies on, so that what hangs down passes."""
    TIPPED = "tipped"
    """Its front up, so that what stands at its back passes under."""
    SIDE = "side"
    """From the end of the brake."""
    ALONG = "along"
    """On and off along the punch."""
    DRAWN = "drawn"
    """To the front as it stands, and tipped there."""


class Phase(StrEnum):
    """When of a stroke something is met."""

    SLIDING_IN = "sliding in"
    CLAMPING = "clamping"
    SWING = "swing"
    OPENING = "opening"
    TAKING_OUT = "taking out"


MEETS = {
    Phase.SLIDING_IN: msg("{body} meets {tool} while sliding in"),
    Phase.CLAMPING: msg("{body} meets {tool} while clamping"),
    Phase.SWING: msg("{body} meets {tool} as it is bent"),
    Phase.OPENING: msg("{body} meets {tool} while opening"),
    Phase.TAKING_OUT: msg("{body} meets {tool} while taking out"),
}

TOOLS = {
    ToolPart.BAR: msg("the bar"),
    ToolPart.BEAM: msg("the beam"),
    ToolPart.BED: msg("the bed"),
    ToolPart.BENCH: msg("the bench"),
    ToolPart.BOARD: msg("the board"),
    ToolPart.BOTTOM_OF_V: msg("the bottom of the V"),
    ToolPart.DIE: msg("the die"),
    ToolPart.END_OF_BED: msg("the end of the bed"),
    ToolPart.FINGER: msg("the finger"),
    ToolPart.FINGER_CLAMP: msg("the finger clamp"),
    ToolPart.FINGER_NOSE: msg("the finger nose"),
    ToolPart.FINGER_HEEL: msg("the back of the finger"),
    ToolPart.END_OF_REACH: msg("the end of a hand's reach"),
    ToolPart.STOP: msg("its stop"),
    ToolPart.LEAF: msg("the leaf"),
    ToolPart.PUNCH: msg("the punch"),
    ToolPart.RAM: msg("the ram"),
    ToolPart.TABLE: msg("the table"),
}
"""Parts of machines in words."""


def tool_words(tool: Met) -> Phrase:
    """What is met, as it is said: ``the finger clamp``, ``the left wall``."""
    return TOOLS[tool] if isinstance(tool, ToolPart) else tool.label


class Obstacle(NamedTuple):
    """What stands in the way.

    Attributes:
        body: what of the part it is.
        tool: what it meets: a part of the machine, as :data:`TOOLS` names it, or what has a name.
        phase: when.
        at: (y, z) mm in the stroke frame where they meet, when known.
    """

    body: Body
    tool: Met
    phase: Phase
    at: tuple[float, float] | None = None

    @property
    def meeting(self) -> Message:
        """``the left wall meets the beam``."""
        return msg("{body} meets {tool}", body=self.body.label, tool=tool_words(self.tool))

    def sentence(self) -> Message:
        """``the left wall meets the beam while clamping``."""
        return MEETS[self.phase].filled(body=self.body.label, tool=tool_words(self.tool))


class Contact(NamedTuple):
    """Where a swing is stopped: degrees, and by what."""

    angle: float
    obstacle: Obstacle


def met(touch: Touch, body: Body, tool: Met) -> Contact:
    """A touch of the plane geometry, said of a part and a tool.

    Args:
        touch: where and when they touch.
        body: the piece of the part.
        tool: the tool.
    """
    return Contact(math.degrees(touch.angle), Obstacle(body, tool, Phase.SWING, touch.place))


def earliest(*contacts: Contact | None) -> Contact | None:
    """The contact at the least angle; None when there is none."""
    result = [contact for contact in contacts if contact is not None]
    return min(result, key=lambda c: c.angle) if result else None
