"""The heart: posing, exact clearance, sections, order, advice."""

from .advice.advise import advise
from .advice.depth import greatest_depth
from .geometry.interval import Slab, free_intervals
from .geometry.obstacle import Contact, Obstacle
from .make import as_today, make_plan
from .order.route import Cancelled, Costs, Moves
from .order.search import Search
from .order.wishes import WishError, Wishes
from .result.facts import set_up_facts
from .result.gauging import GaugeBy, best_stop, gauge_stops, gauging_lines, size_errors
from .result.plan import Cure, HandStep, Plan, PlannedStroke, Setup, State
from .result.set_up import SetUp, set_up_of
from .stroke.judge import judge
from .stroke.machine import Fact, FactKey, Machine
from .stroke.machines import MACHINES, machine_of, narrow_flanges, stroke_for, toolings
from .stroke.piece import Piece, PieceKind
from .stroke.scene import angle_of, direction, scene
from .stroke.sections import Block, width_text
from .stroke.setting import Setting, swung
from .stroke.stroke import Stroke
from .stroke.tooling import Tooling
from .stroke.verdict import Verdict

__all__ = [
    "MACHINES",
    "Block",
    "Cancelled",
    "Contact",
    "Costs",
    "Cure",
    "Fact",
    "FactKey",
    "GaugeBy",
    "HandStep",
    "Machine",
    "Moves",
    "Obstacle",
    "Piece",
    "PieceKind",
    "Plan",
    "PlannedStroke",
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
    "as_today",
    "best_stop",
    "direction",
    "free_intervals",
    "gauge_stops",
    "gauging_lines",
    "greatest_depth",
    "judge",
    "machine_of",
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
