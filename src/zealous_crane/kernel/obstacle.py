"""The stretch of a piece along the fold that is looked at, and how far away is out of reach."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import NamedTuple

import numpy as np

from .._typing import Array
from ..cache import cached
from ..i18n import the, tr
from .contact import Touch, following
from .native import exact
from .outline import ToolOutline, nearest
from .solid import Body, Met, Solid

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


@cached(16384)
def ring_of(solid: Solid, y: float, z: float) -> Ring:
    """The ring of a piece's shadow about (y, z) mm.

    Args:
        solid: a convex piece of the part.
        y: mm.
        z: mm.
    """
    if exact is not None:
        return _round_about(*exact.ring(solid.shadow, (y, z), BELOW_FRONT))
    pole = np.array([y, z])
    return _ring(
        solid.shadow, pole, 0.0 if _holds(solid.shadow, pole) else nearest(solid.shadow, pole)
    )


@cached(1024)
def tool_ring(tool: ToolOutline, y: float, z: float) -> Ring:
    """The ring of a tool about (y, z) mm.

    Args:
        tool: the outline.
        y: mm.
        z: mm.
    """
    if exact is not None:
        return _round_about(*exact.ring(tool.outline, (y, z), BELOW_FRONT))
    return _ring(tool.outline, np.array([y, z]), tool.distance(y, z))


def _ring(outline: Array, pole: Array, least: float) -> Ring:
    arm = outline - pole
    far = float(np.hypot(arm[:, 0], arm[:, 1]).max())
    turn = (np.arctan2(arm[:, 1], -arm[:, 0]) + BELOW_FRONT) % (2 * math.pi)
    return _round_about(least, far, float(turn.min()), float(turn.max()))


def _round_about(least: float, far: float, low: float, high: float) -> Ring:
    """The ring of distances and directions of corners: those seen within half a turn hold
    everything between them, unless the pole lies inside."""
    return (
        (least, far, 0.0, 2 * math.pi)
        if least < 1e-6 or high - low > math.pi
        else (least, far, low, high)
    )


def _holds(outline: Array, point: Array) -> bool:
    """True when a convex outline holds a point."""
    side = following(outline) - outline
    away = point - outline
    return bool((side[:, 0] * away[:, 1] - side[:, 1] * away[:, 0] >= 0).all())


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


class Phase(StrEnum):
    """When of a stroke something is met."""

    SLIDING_IN = "sliding in"
    CLAMPING = "clamping"
    SWING = "swing"
    OPENING = "opening"
    TAKING_OUT = "taking out"


MEETS = {
    Phase.SLIDING_IN: tr("{body} meets {tool} while sliding in"),
    Phase.CLAMPING: tr("{body} meets {tool} while clamping"),
    Phase.SWING: tr("{body} meets {tool} as it is bent"),
    Phase.OPENING: tr("{body} meets {tool} while opening"),
    Phase.TAKING_OUT: tr("{body} meets {tool} while taking out"),
}

TOOLS = {
    "bar": tr("the bar"),
    "beam": tr("the beam"),
    "bed": tr("the bed"),
    "bench": tr("the bench"),
    "board": tr("the board"),
    "bottom of the V": tr("the bottom of the V"),
    "die": tr("the die"),
    "end of the bed": tr("the end of the bed"),
    "finger": tr("the finger"),
    "finger clamp": tr("the finger clamp"),
    "finger nose": tr("the finger nose"),
    "back of the finger": tr("the back of the finger"),
    "end of a hand's reach": tr("the end of a hand's reach"),
    "its stop": tr("its stop"),
    "leaf": tr("the leaf"),
    "punch": tr("the punch"),
    "ram": tr("the ram"),
    "table": tr("the table"),
}
"""Parts of machines in words; what is not among them has a name of its own."""


def tool_words(tool: Met) -> str:
    """What is met, as it is said: ``the finger clamp``, ``the left wall``."""
    return tool.said if not isinstance(tool, str) else TOOLS.get(tool) or the(tool)


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
    def meeting(self) -> str:
        """``the left wall meets the beam``."""
        return tr("{body} meets {tool}").format(body=self.body.said, tool=tool_words(self.tool))

    def sentence(self) -> str:
        """``the left wall meets the beam while clamping``."""
        return MEETS[self.phase].format(body=self.body.said, tool=tool_words(self.tool))


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
    found = [contact for contact in contacts if contact is not None]
    return min(found, key=lambda c: c.angle) if found else None
