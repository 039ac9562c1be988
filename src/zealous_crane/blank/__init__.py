"""The flat: development of a job into panels, fold lines, notches and reliefs, and how it folds up."""

from .blank import Blank, Crease, Finding, Fold, Hole, MarkLine, Notch, Panel, Relief
from .development import DevelopmentError, develop
from .element import MadeBy
from .folding import Pose, fold_pose, panel_poses, pole_height, strip_section
from .handles import CornerHandle, EdgeHandle, Handles, handles
from .marking import MarkedPoint, Marking, RunningDimension, ScribeSetting, hole_groups, mark_out
from .path import Path
from .recipe import CornerRecipe

__all__ = [
    "Blank",
    "CornerHandle",
    "CornerRecipe",
    "Crease",
    "DevelopmentError",
    "EdgeHandle",
    "Finding",
    "Fold",
    "Handles",
    "Hole",
    "MadeBy",
    "MarkLine",
    "MarkedPoint",
    "Marking",
    "Notch",
    "Panel",
    "Path",
    "Pose",
    "Relief",
    "RunningDimension",
    "ScribeSetting",
    "develop",
    "fold_pose",
    "handles",
    "hole_groups",
    "mark_out",
    "panel_poses",
    "pole_height",
    "strip_section",
]
