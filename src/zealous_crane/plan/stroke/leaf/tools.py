"""A leaf brake's tools set for a bend, as the contact search needs them."""

from __future__ import annotations

from ....allowance import Bend
from ....brake import LeafBrake, Tools, tools_for
from ...geometry.outline import ToolOutline
from ...memory import kept
from ..packing import NONE, Packing


@kept(128, lasts=True)
def outlines_for(
    brake: LeafBrake,
    bend: Bend,
    keep: float,
    stop: float = 90.0,
    front: float = 0.0,
    packing: Packing = NONE,
    doubled: float = 0.0,
) -> tuple[Tools, dict[str, ToolOutline]]:
    """The tools set for a bend that is taken to ``stop`` degrees on a strip, grown by the clearance to keep."""
    tools = tools_for(brake, bend, stop, front, packing.thickness, packing.loaded, doubled)
    return tools, {p.name: ToolOutline.of(p, keep) for p in (tools.finger, tools.beam, tools.bed, tools.leaf)}
