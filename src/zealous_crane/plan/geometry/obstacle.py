"""What stands in the way of a part, and at which angle of a swing."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import NamedTuple

from ...measure.words import the, tr
from .body import Body, Met
from .contact import Touch


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
    "bar": tr("the bar"), "beam": tr("the beam"), "bed": tr("the bed"), "bench": tr("the bench"), "board": tr("the board"),
    "bottom of the V": tr("the bottom of the V"), "die": tr("the die"), "end of the bed": tr("the end of the bed"),
    "finger": tr("the finger"), "finger clamp": tr("the finger clamp"), "finger nose": tr("the finger nose"),
    "back of the finger": tr("the back of the finger"), "end of a hand's reach": tr("the end of a hand's reach"),
    "its stop": tr("its stop"), "leaf": tr("the leaf"),
    "punch": tr("the punch"), "ram": tr("the ram"), "table": tr("the table"),
}  # fmt: skip
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
    """A touch of the plane geometry, said of a part and a tool."""
    return Contact(math.degrees(touch.angle), Obstacle(body, tool, Phase.SWING, touch.place))


def earliest(*contacts: Contact | None) -> Contact | None:
    """The contact at the least angle; None when there is none."""
    found = [contact for contact in contacts if contact is not None]
    return min(found, key=lambda c: c.angle) if found else None
