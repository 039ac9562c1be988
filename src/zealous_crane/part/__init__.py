"""What is wanted: a base panel and a tree of flanges, with rules for corners, edges, holes; ready kinds that return one."""

from .corner import Corner, CornerAt, CornerRule, Fastening, Relief, ReliefShape, Tab, Walls
from .cutout import Cutout, HoleShape, Mark, MarkForm, Place
from .design import Base, Design, Facet, Flange, PolygonBase, Standing
from .drawn_flat import DrawnFlat, DrawnFold
from .edge import Edge, Measured, edge_names
from .edging import End, FoldSlots, Hem, HemForm, Joggle, Seam, SeamForm
from .kinds import KINDS, OpenBox
from .ready import Ready

__all__ = [
    "KINDS",
    "Base",
    "Corner",
    "CornerAt",
    "CornerRule",
    "Cutout",
    "Design",
    "DrawnFlat",
    "DrawnFold",
    "Edge",
    "End",
    "Facet",
    "Fastening",
    "Flange",
    "FoldSlots",
    "Hem",
    "HemForm",
    "HoleShape",
    "Joggle",
    "Mark",
    "MarkForm",
    "Measured",
    "OpenBox",
    "Place",
    "PolygonBase",
    "Ready",
    "Relief",
    "ReliefShape",
    "Seam",
    "SeamForm",
    "Standing",
    "Tab",
    "Walls",
    "edge_names",
]
