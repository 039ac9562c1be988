"""Schools of bend allowance: how much flat a bend uses, and every form in which that is quoted."""

from .bend import FOLDED_BACK, Bend
from .school import BaseSchool
from .schools import (
    SCHOOLS,
    Din6935,
    FaaHandbook,
    Handbook90,
    InsideGain,
    NeutralLine,
    OnTheLine,
    School,
    default_school,
    is_pressed_flat,
    side_by_side,
)
from .shop_table import ShopTable, Spread, TestStrip
from .tool_radius import ToolRadius

__all__ = [
    "FOLDED_BACK",
    "SCHOOLS",
    "BaseSchool",
    "Bend",
    "Din6935",
    "FaaHandbook",
    "Handbook90",
    "InsideGain",
    "NeutralLine",
    "OnTheLine",
    "School",
    "ShopTable",
    "Spread",
    "TestStrip",
    "ToolRadius",
    "default_school",
    "is_pressed_flat",
    "side_by_side",
]
