"""The stages of the work, each a page of the window, in working order."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from ...measure.words import tr
from ..session import Session
from ..stage import Doors, Stage
from ..theme import Look
from .at_brake import AtBrake
from .bend import BendStage
from .layout import LayoutStage
from .shape import ShapeStage
from .tooling import ToolingStage

__all__ = ["STAGES", "AtBrake", "BendStage", "LayoutStage", "ShapeStage", "ToolingStage"]

_BOX = (
    ((0.05, 0.55), (0.4, 0.75), (0.95, 0.5), (0.6, 0.3), (0.05, 0.55)),
    ((0.05, 0.55), (0.05, 0.8), (0.4, 1.0), (0.95, 0.75), (0.95, 0.5)),
    ((0.4, 0.75), (0.4, 1.0)),
)
_FLAT = (
    (
        (0.25, 0.1), (0.75, 0.1), (0.75, 0.3), (1, 0.3), (1, 0.75), (0.75, 0.75), (0.75, 0.95), (0.25, 0.95), (0.25, 0.75),
        (0, 0.75), (0, 0.3), (0.25, 0.3), (0.25, 0.1),
    ),
)  # fmt: skip
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
_BEND = (((1, 0.85), (0.42, 0.85), (0.3, 0.12)), ((0.0, 0.85), (0.05, 0.6), (0.12, 0.45), (0.2, 0.33)))


def _cutting(session: Session, look: Look, _: Doors) -> QWidget:
    # What cuts and checks is brought in when its page is made: no window waits for it.
    from .cutting import CuttingStage

    return CuttingStage(session, look)


def _checking(session: Session, look: Look, _: Doors) -> QWidget:
    from .checking import CheckingStage

    return CheckingStage(session, look)


STAGES = (
    Stage("shape", tr("Shape"), _BOX, lambda session, look, doors: ShapeStage(session, look, doors.add_part)),
    Stage("lay-out", tr("Lay out"), _FLAT, lambda session, look, doors: LayoutStage(session, look)),
    Stage("cut", tr("Cut"), _SHEETS, _cutting),
    Stage("tool-up", tr("Tool up"), _FINGERS, lambda session, look, doors: ToolingStage(session, look, doors.edit_brake)),
    Stage("bend", tr("Bend"), _BEND, lambda session, look, doors: BendStage(session, look)),
    Stage("check", tr("Check"), _CALIPER, _checking),
)
"""A new stage is one line here and one in the commands; rail, keys, pictures and the window's stack follow."""
