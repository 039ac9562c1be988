"""The stages of the work, each a page of the window, in working order."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from ...i18n import msg
from ...paint.theme import Theme
from ..state.session import Session
from .stage import Doors, Stage

_BOX = (
    ((0.05, 0.55), (0.4, 0.75), (0.95, 0.5), (0.6, 0.3), (0.05, 0.55)),
    ((0.05, 0.55), (0.05, 0.8), (0.4, 1.0), (0.95, 0.75), (0.95, 0.5)),
    ((0.4, 0.75), (0.4, 1.0)),
)
_FLAT = (
    (
        (0.25, 0.1),
        (0.75, 0.1),
        (0.75, 0.3),
        (1, 0.3),
        (1, 0.75),
        (0.75, 0.75),
        (0.75, 0.95),
        (0.25, 0.95),
        (0.25, 0.75),
        (0, 0.75),
        (0, 0.3),
        (0.25, 0.3),
        (0.25, 0.1),
    ),
)
_SHEETS = (
    ((0, 0.15), (1, 0.15), (1, 0.9), (0, 0.9), (0, 0.15)),
    ((0, 0.55), (1, 0.55)),
    ((0.4, 0.15), (0.4, 0.55)),
    ((0.65, 0.55), (0.65, 0.9)),
)
_FINGERS = (
    ((0, 0.15), (1, 0.15)),
    ((0.05, 0.15), (0.05, 0.8), (0.3, 0.8), (0.3, 0.15)),
    ((0.36, 0.15), (0.36, 0.8), (0.72, 0.8), (0.72, 0.15)),
    ((0, 0.95), (1, 0.95)),
)
_CALIPER = (
    ((0.05, 0.95), (0.05, 0.2), (0.95, 0.2), (0.95, 0.45)),
    ((0.05, 0.2), (0.2, 0.35), (0.2, 0.95), (0.05, 0.95)),
    ((0.6, 0.2), (0.6, 0.95), (0.75, 0.95), (0.75, 0.35), (0.6, 0.2)),
)
_BEND = (
    ((1, 0.85), (0.42, 0.85), (0.3, 0.12)),
    ((0.0, 0.85), (0.05, 0.6), (0.12, 0.45), (0.2, 0.33)),
)


# What a page shows with is brought in when it is made: the window stands before the pages nobody
# looks at yet.


def _shape(session: Session, look: Theme, doors: Doors) -> QWidget:
    from .shape import ShapeStage

    return ShapeStage(session, look, doors.add_part)


def _layout(session: Session, look: Theme, _: Doors) -> QWidget:
    from .layout import LayoutStage

    return LayoutStage(session, look)


def _cutting(session: Session, look: Theme, _: Doors) -> QWidget:
    from .cutting import CuttingStage

    return CuttingStage(session, look)


def _tooling(session: Session, look: Theme, doors: Doors) -> QWidget:
    from .tooling import ToolingStage

    return ToolingStage(session, look, doors.edit_brake)


def _bend(session: Session, look: Theme, _: Doors) -> QWidget:
    from .bend import BendStage

    return BendStage(session, look)


def _checking(session: Session, look: Theme, _: Doors) -> QWidget:
    from .checking import CheckingStage

    return CheckingStage(session, look)


STAGES = (
    Stage("shape", msg("Shape"), msg("&Shape"), "Ctrl+1", _BOX, _shape),
    Stage("lay-out", msg("Lay out"), msg("&Lay out"), "Ctrl+2", _FLAT, _layout),
    Stage("cut", msg("Cut"), msg("&Cut"), "Ctrl+3", _SHEETS, _cutting),
    Stage("tool-up", msg("Tool up"), msg("&Tool up"), "Ctrl+4", _FINGERS, _tooling),
    Stage("bend", msg("Bend"), msg("&Bend"), "Ctrl+5", _BEND, _bend),
    Stage("check", msg("Check"), msg("Chec&k"), "Ctrl+6", _CALIPER, _checking),
)
"""A new stage is one line here; its command, rail, keys, pictures and the window's stack follow."""
