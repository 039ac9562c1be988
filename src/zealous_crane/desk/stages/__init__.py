"""The stages of the work, each a page of the window."""

from .at_brake import AtBrake
from .bend import BendStage
from .layout import LayoutStage
from .shape import ShapeStage
from .tooling import ToolingStage

__all__ = ["AtBrake", "BendStage", "LayoutStage", "ShapeStage", "ToolingStage"]
