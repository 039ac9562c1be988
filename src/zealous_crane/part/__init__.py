"""What is wanted: a base panel and a tree of flanges, with rules for its corners."""

from .corner import Corner, Relief, ReliefShape
from .design import Base, Design, Edge, Flange, Measured
from .open_box import OpenBox

__all__ = ["Base", "Corner", "Design", "Edge", "Flange", "Measured", "OpenBox", "Relief", "ReliefShape"]
