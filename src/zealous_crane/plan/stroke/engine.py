"""Which engine judges a stroke on which machine."""

from __future__ import annotations

from .leaf.stroke import LeafStroke
from .press.stroke import PressStroke
from .setting import Setting
from .stroke import Stroke
from .tooling import LeafTooling, Tooling


def stroke_for(
    setting: Setting, tooling: Tooling, keep: float = 0.0, until: float | None = None, stop: float | None = None
) -> Stroke:
    """The stroke of a setting on a brake as it is set up; see :class:`Stroke`."""
    if isinstance(tooling, LeafTooling):
        return LeafStroke(setting, tooling, keep, until, stop)
    return PressStroke(setting, tooling, keep, until, stop)
