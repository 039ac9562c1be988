"""What stands in the way of a part, and at which angle of a swing."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .contact import Touch


@dataclass(frozen=True)
class Obstacle:
    """What stands in the way.

    Attributes:
        body: name of the panel or fold that is met.
        tool: what it meets, in shop words.
        phase: ``sliding in``, ``clamping``, ``swing``, ``opening`` or ``taking out``.
        at: (y, z) mm in the stroke frame where they meet, when known.
    """

    body: str
    tool: str
    phase: str
    at: tuple[float, float] | None = None

    def sentence(self) -> str:
        """``left wall meets the beam while clamping``."""
        while_ = {"swing": "as the leaf swings up"}.get(self.phase, f"while {self.phase}")
        return f"the {self.body} meets the {self.tool} {while_}"


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
