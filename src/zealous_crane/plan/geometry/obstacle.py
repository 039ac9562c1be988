"""What stands in the way of a part, and at which angle of a swing."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...measure.words import the, tr
from .contact import Touch

MEETS = {
    "sliding in": tr("{body} meets {tool} while sliding in"),
    "clamping": tr("{body} meets {tool} while clamping"),
    "swing": tr("{body} meets {tool} as it is bent"),
    "opening": tr("{body} meets {tool} while opening"),
    "taking out": tr("{body} meets {tool} while taking out"),
}

TOOLS = {
    "bar": tr("the bar"), "beam": tr("the beam"), "bed": tr("the bed"), "bench": tr("the bench"), "board": tr("the board"),
    "bottom of the V": tr("the bottom of the V"), "die": tr("the die"), "end of the bed": tr("the end of the bed"),
    "finger": tr("the finger"), "finger clamp": tr("the finger clamp"), "finger nose": tr("the finger nose"),
    "back of the finger": tr("the back of the finger"), "its stop": tr("its stop"), "leaf": tr("the leaf"),
    "punch": tr("the punch"), "ram": tr("the ram"), "table": tr("the table"),
}  # fmt: skip
"""Parts of machines in words; what is not among them has a name of its own."""

BODIES = {"fold": tr("the fold"), "part": tr("the part"), "leaf": tr("the leaf")}
"""What meets something and is no panel."""


def tool_words(tool: str) -> str:
    """A tool that is met, as it is said: ``the finger clamp``."""
    return TOOLS.get(tool) or the(tool)


@dataclass(frozen=True)
class Obstacle:
    """What stands in the way.

    Attributes:
        body: name of the panel or fold that is met.
        tool: what it meets, as :data:`TOOLS` names it.
        phase: ``sliding in``, ``clamping``, ``swing``, ``opening`` or ``taking out``.
        at: (y, z) mm in the stroke frame where they meet, when known.
    """

    body: str
    tool: str
    phase: str
    at: tuple[float, float] | None = None

    @property
    def bodily(self) -> str:
        """The panel or fold, as it is said: ``the left wall``."""
        return BODIES.get(self.body) or the(self.body)

    @property
    def meeting(self) -> str:
        """``the left wall meets the beam``."""
        return tr("{body} meets {tool}").format(body=self.bodily, tool=tool_words(self.tool))

    def sentence(self) -> str:
        """``the left wall meets the beam while clamping``."""
        return MEETS[self.phase].format(body=self.bodily, tool=tool_words(self.tool))


@dataclass(frozen=True)
class Contact:
    """Where a swing is stopped: degrees, and by what."""

    angle: float
    obstacle: Obstacle


def met(touch: Touch, body: str, tool: str) -> Contact:
    """A touch of the plane geometry, said of a part and a tool."""
    return Contact(math.degrees(touch.angle), Obstacle(body, tool, "swing", touch.place))


def earliest(*contacts: Contact | None) -> Contact | None:
    """The contact at the least angle; None when there is none."""
    found = [contact for contact in contacts if contact is not None]
    return min(found, key=lambda c: c.angle) if found else None
