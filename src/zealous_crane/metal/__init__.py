"""Sheet metals: strengths, gauge tables, springback, what a brake's rating allows."""

from .gauge import GaugeTable, gauge_table
from .material import MATERIALS, Material, material
from .rating import SteelRating, is_rating, read_rating
from .sheet import Sheet
from .springback import Springback, elastic_springback, overbend

__all__ = [
    "MATERIALS",
    "GaugeTable",
    "Material",
    "Sheet",
    "Springback",
    "SteelRating",
    "elastic_springback",
    "gauge_table",
    "is_rating",
    "material",
    "overbend",
    "read_rating",
]
