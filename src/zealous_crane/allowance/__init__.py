"""Schools of bend allowance: how much flat a bend uses, and every form in which that is quoted."""

from .bend import Bend
from .schools import FaaHandbook, NeutralLine, OnTheLine, School, default_school

__all__ = ["Bend", "FaaHandbook", "NeutralLine", "OnTheLine", "School", "default_school"]
