"""Cutting: blanks from sheets and off-cuts by shear cuts alone. What solves it is loaded when it is first asked."""

from .piece import Blank, CutError, Shear, Stock

__all__ = ["Blank", "CutError", "Shear", "Stock"]
