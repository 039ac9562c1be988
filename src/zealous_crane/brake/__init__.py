"""Brakes as data: what a machine is, its cross-sections, its tools and their pieces, what it is rated for."""

from .air import air_radius, wanted_opening
from .brake import Brake
from .die import Die
from .force import (
    Bottoming,
    Load,
    bend_force,
    least_leg,
    load,
)
from .hand_folder import HandFolder
from .leaf_brake import LeafBrake
from .machine import BRAKE
from .plain import gooseneck_punch, hemming_punch, straight_punch, v_die
from .press_brake import PressBrake, bend_radius
from .profile import Profile, Tools, tools_for
from .punch import Punch, PunchStyle
from .rack import BrakeError, Rack, read_brake, shipped_rack, shop_rack
from .section import Section, Sections

__all__ = [
    "BRAKE",
    "Bottoming",
    "Brake",
    "BrakeError",
    "Die",
    "HandFolder",
    "LeafBrake",
    "Load",
    "PressBrake",
    "Profile",
    "Punch",
    "PunchStyle",
    "Rack",
    "Section",
    "Sections",
    "Tools",
    "air_radius",
    "bend_force",
    "bend_radius",
    "gooseneck_punch",
    "hemming_punch",
    "least_leg",
    "load",
    "read_brake",
    "shipped_rack",
    "shop_rack",
    "straight_punch",
    "tools_for",
    "v_die",
    "wanted_opening",
]
