"""The shop in the window: machines, metals, small tools and shear, ways of measuring, stock."""

from .dialog import ShopDialog
from .machines import ShopDoors

__all__ = ["ShopDialog", "ShopDoors"]
