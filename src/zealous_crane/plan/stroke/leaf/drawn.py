"""A leaf brake's section with its sizes."""

from __future__ import annotations

from ....allowance import Bend
from ....brake import LeafBrake, tools_for
from ..drawn import Drawn

SHEET = 1.0
"""mm of the sheet it is drawn with."""

FIRST = (
    "name", "bed_length", "rated", "finger_height", "leaf_bar", "bare_bar", "nose_radius", "rake", "throat", "foot", "beam_front",
    "opening", "bed_depth", "leaf_depth", "greatest_angle",
)  # fmt: skip
"""The depth limit, the leaf's bar and the nose decide most; the rest is seldom far from what is usual."""


def leaf_drawn(brake: LeafBrake) -> Drawn:
    """The brake clamped on a sheet 1 mm thick, its leaf down."""
    tools = tools_for(brake, Bend(angle=90.0, radius=0.0, thickness=SHEET, allowance=0.0))
    edge, nose = float(tools.bed.outline[:, 0].min()), float(tools.nose[0])
    low, top = SHEET, SHEET + brake.finger_height
    front = nose + brake.beam_front
    bar = (edge - brake.leaf_bar, edge)
    right, beside = nose + max(brake.foot, brake.throat) + 8.0, front + brake.beam_depth + 8.0
    sizes = {
        "finger_height": ((right, low), (right, top)),
        "nose_radius": ((nose, low + brake.nose_radius), (nose + brake.nose_radius, low + brake.nose_radius)),
        "throat": ((nose, low + brake.face_height), (nose + brake.throat, low + brake.face_height)),
        "foot": ((nose, low + 4.0), (nose + brake.foot, low + 4.0)),
        "head_drop": ((nose + brake.head_front - 6.0, top - brake.head_drop), (nose + brake.head_front - 6.0, top)),
        "head_front": ((nose, top - 3.0), (nose + brake.head_front, top - 3.0)),
        "beam_front": ((nose, top + 8.0), (front, top + 8.0)),
        "beam_depth": ((front, top + brake.beam_height / 2), (front + brake.beam_depth, top + brake.beam_height / 2)),
        "beam_height": ((beside, top), (beside, top + brake.beam_height)),
        "bed_depth": ((edge, -10.0), (edge + brake.bed_depth, -10.0)),
        "leaf_bar": ((bar[0], -brake.leaf_depth / 2), (bar[1], -brake.leaf_depth / 2)),
        "leaf_depth": ((bar[0] - 8.0, -brake.leaf_depth), (bar[0] - 8.0, 0.0)),
        "opening": ((bar[0] - 26.0, 0.0), (bar[0] - 26.0, brake.opening)),
        "extra_setback": ((edge, 0.5), (nose, 0.5)),
    }
    if brake.bare_bar is not None:
        z = -0.8 * brake.leaf_depth
        sizes["bare_bar"] = ((edge - brake.bare_bar, z), (edge, z))
    outlines = tuple((p.name, p.outline) for p in (tools.bed, tools.leaf, tools.beam, tools.finger))
    return Drawn(outlines, sizes, FIRST)
