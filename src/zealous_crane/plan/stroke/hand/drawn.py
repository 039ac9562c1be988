"""A hand folder's section with its sizes."""

from __future__ import annotations

from ....allowance import Bend
from ....brake import HandFolder
from ....brake.hand_profile import hand_tools_for
from ..drawn import Drawn

SHEET = 1.0
"""mm of the sheet it is drawn with."""

FIRST = ("name", "bed_length", "rated", "bar_height", "bar_depth", "rake", "nose_radius", "bed_depth", "least_edge")
"""The bar decides what may stand behind it."""


def hand_drawn(folder: HandFolder) -> Drawn:
    """Bar and bench with a sheet 1 mm thick between them."""
    tools = hand_tools_for(folder, Bend(angle=90.0, radius=0.0, thickness=SHEET, allowance=0.0))
    nose, edge, top = float(tools.nose[0]), float(tools.bed.outline[:, 0].min()), SHEET + folder.bar_height
    beside = nose + folder.bar_depth + 5.0
    sizes = {
        "bar_height": ((beside, SHEET), (beside, top)),
        "bar_depth": ((nose, top + 4.0), (nose + folder.bar_depth, top + 4.0)),
        "nose_radius": ((nose, SHEET + folder.nose_radius), (nose + folder.nose_radius, SHEET + folder.nose_radius)),
        "bed_depth": ((edge, -6.0), (edge + folder.bed_depth, -6.0)),
        "least_edge": ((edge - folder.least_edge, SHEET / 2), (edge, SHEET / 2)),
    }
    return Drawn((("bed", tools.bed.outline), ("bar", tools.bar.outline)), sizes, FIRST)
