"""Lengths and angles: reading what a hand writes, showing it back, sums that can be opened.

Inside the program a length is a plain float in millimetres and an angle a float in degrees.
"""

from .angle import AngleError, AngleReading, parse_angle, show_angle, signed_angle
from .field import Angle, Length, LengthOrZero, PositiveLength
from .force import Tonnage, forces_said_in, say_forces_in, show_force
from .length import INCH, LengthError, Units, nearest_tick, parse_length, show_length
from .mass import show_mass
from .said import Force, ForceAlong, Long, Said
from .sums import Sum, SumKind, Term

__all__ = [
    "INCH",
    "Angle",
    "AngleError",
    "AngleReading",
    "Force",
    "ForceAlong",
    "Length",
    "LengthError",
    "LengthOrZero",
    "Long",
    "PositiveLength",
    "Said",
    "Sum",
    "SumKind",
    "Term",
    "Tonnage",
    "Units",
    "forces_said_in",
    "nearest_tick",
    "parse_angle",
    "parse_length",
    "say_forces_in",
    "show_angle",
    "show_force",
    "show_length",
    "show_mass",
    "signed_angle",
]
