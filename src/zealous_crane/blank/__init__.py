"""The flat: development of a job into panels, fold lines, notches and reliefs, and how it folds up."""

from .blank import Blank, Crease, Finding, Fold, Hole, JoinedRow, MarkLine, Notch, Panel, Relief
from .development import DevelopmentError, develop, folded_only, must_develop
from .element import MadeBy
from .flat_key import flat_key
from .folding import Pose, fold_pose, panel_poses, pole_height, strip_prisms, strip_section
from .half_mark import half_marks
from .handles import CornerHandle, EdgeHandle, Handles, handles
from .join_steps import join_steps
from .joining import edge_length
from .marking import MarkedPoint, Marking, RunningDimension, ScribeSetting, hole_groups, mark_out
from .path import Path
from .recipe import CornerRecipe
from .rule import NEAREST, Striking

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
    "develop",
    "edge_length",
    "flat_key",
    "fold_pose",
    "folded_only",
    "half_marks",
    "handles",
    "hole_groups",
    "join_steps",
    "mark_out",
    "must_develop",
    "panel_poses",
    "pole_height",
    "strip_prisms",
    "strip_section",
]
