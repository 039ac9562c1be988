"""The flat: development of a job into panels, fold lines, notches and reliefs, and how it folds up."""

from .blank import Blank
from .cut_away import Hole, Notch, Relief
from .development import DevelopmentError, develop
from .element import MadeBy
from .finding import Finding
from .flat_key import flat_key
from .fold import Crease, Fold
from .folding import Pose, fold_pose, panel_poses, pole_height, strip_prisms, strip_section
from .half_mark import half_marks
from .handles import CornerHandle, EdgeHandle, Handles, handles
from .join_steps import join_steps
from .joined_row import JoinedRow
from .joining import edge_length
from .mark_line import MarkLine
from .marking import MarkedPoint, Marking, RunningDimension, ScribeSetting, mark_out
from .on_brake import check_flat, flat_for, on_brake, tool_radius
from .opening import hole_groups
from .panel import Panel
from .path import Path
from .recipe import CornerRecipe
from .rule import NEAREST, Striking
from .uncut import Uncut, uncut

__all__ = [
    "NEAREST",
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
    "JoinedRow",
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
    "Striking",
    "Uncut",
    "check_flat",
    "develop",
    "edge_length",
    "flat_for",
    "flat_key",
    "fold_pose",
    "half_marks",
    "handles",
    "hole_groups",
    "join_steps",
    "mark_out",
    "on_brake",
    "panel_poses",
    "pole_height",
    "strip_prisms",
    "strip_section",
    "tool_radius",
    "uncut",
]
