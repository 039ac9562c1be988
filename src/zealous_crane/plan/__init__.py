"""The heart: posing, exact clearance, sections, order, advice."""

from .advice import advise, greatest_depth
from .engine import stroke_for
from .flange import narrow_flanges
from .gauge import GaugeBy, best_stop, gauge_stops, gauging_lines, size_errors
from .leaf_stroke import LeafStroke
from .make import make_plan
from .obstacle import Contact, Obstacle
from .order import Search
from .plan import Cure, HandStep, Plan, PlannedStroke, Setup, State
from .pose import Setting, swung
from .press_stroke import PressStroke
from .route import Cancelled, Costs, Moves
from .scene import Piece, angle_of, direction, scene
from .sections import Block, width_text
from .set_up import Folded, Pressed, SetUp, set_up_of
from .setting_up import set_up_facts
from .slab import Slab, free_intervals
from .stroke import Stroke
from .tooling import LeafTooling, PressTooling, Tooling, toolings
from .verdict import Verdict, judge
from .wishes import WishError, Wishes

__all__ = [
    "Block",
    "Cancelled",
    "Contact",
    "Costs",
    "Cure",
    "Folded",
    "GaugeBy",
    "HandStep",
    "LeafStroke",
    "LeafTooling",
    "Moves",
    "Obstacle",
    "Piece",
    "Plan",
    "PlannedStroke",
    "PressStroke",
    "PressTooling",
    "Pressed",
    "Search",
    "SetUp",
    "Setting",
    "Setup",
    "Slab",
    "State",
    "Stroke",
    "Tooling",
    "Verdict",
    "WishError",
    "Wishes",
    "advise",
    "angle_of",
    "best_stop",
    "direction",
    "free_intervals",
    "gauge_stops",
    "gauging_lines",
    "greatest_depth",
    "judge",
    "make_plan",
    "narrow_flanges",
    "scene",
    "set_up_facts",
    "set_up_of",
    "size_errors",
    "stroke_for",
    "swung",
    "toolings",
    "width_text",
]
