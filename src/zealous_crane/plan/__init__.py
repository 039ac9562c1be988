"""The heart: posing, exact clearance, fingers, order, advice."""

from .advice import advise, greatest_depth
from .fingers import Block, width_text
from .flange import narrow_flanges
from .obstacle import Contact, Obstacle
from .order import Search, Verdict, judge
from .plan import Cancelled, Plan, PlannedStroke, Setup, State, make_plan
from .pose import Setting, swung
from .slab import Slab, free_intervals
from .stroke import Stroke

__all__ = [
    "Block",
    "Cancelled",
    "Contact",
    "Obstacle",
    "Plan",
    "PlannedStroke",
    "Search",
    "Setting",
    "Setup",
    "Slab",
    "State",
    "Stroke",
    "Verdict",
    "advise",
    "free_intervals",
    "greatest_depth",
    "judge",
    "make_plan",
    "narrow_flanges",
    "swung",
    "width_text",
]
