"""Brakes as data: what a machine is, its cross-sections, the fingers in its rack, what it is rated for."""

from .leaf_brake import Finger, LeafBrake
from .least import least_flange
from .profile import Profile, Tools, tools_for
from .rack import BrakeError, Rack, read_brake, shipped_rack, shop_rack

__all__ = [
    "BrakeError",
    "Finger",
    "LeafBrake",
    "Profile",
    "Rack",
    "Tools",
    "least_flange",
    "read_brake",
    "shipped_rack",
    "shop_rack",
    "tools_for",
]
