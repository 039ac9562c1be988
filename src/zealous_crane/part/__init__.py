"""What is wanted: a base panel and a tree of flanges, with rules for corners, edges, holes; ready kinds that return one."""

from .corner import Corner, CornerAt, CornerRule, Fastening, Relief, ReliefShape, Tab, Walls
from .cutout import Cutout, HoleShape, Mark, MarkForm, Place
from .design import Base, Design, Facet, Flange, PolygonBase, Standing
from .drawn_flat import DrawnFlat, DrawnFold
from .edge import Edge, Measured, edge_names
from .edging import End, FoldSlots, Hem, HemForm, Joggle, Seam, SeamForm
from .kinds import KINDS, OpenBox
from .ready import Ready
from .row import Drilled, Joined, Row

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
    "Drilled",
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
    "Joined",
    "Mark",
    "MarkForm",
    "Measured",
    "OpenBox",
    "Place",
    "PolygonBase",
    "Ready",
    "Relief",
    "ReliefShape",
    "Row",
    "Seam",
    "SeamForm",
    "Standing",
    "Tab",
    "Walls",
    "edge_names",
]
