"""What lies closed flat under the sheet, and the strip laid under the line so that it lies clear.

A closed hem or a stepped edge on the outside hangs a thickness or two below the sheet. It is lifted over the bed's edge, and a
strip as thick as it is deep is laid under the sheet along the line: the sheet then lies level, on the strip and on what hangs below.
"""

from __future__ import annotations

from collections.abc import Iterable

from ...measure import Units, show_length
from ...measure.dataclass import dataclass
from ...measure.words import tr
from ..geometry.outline import ToolOutline
from ..geometry.solid import HAIR, Solid

DEEPEST = 3.2
"""mm below the sheet that a strip still makes up for. Common practice, no source."""

STRIP = 12.0
"""mm; how wide the strip is, from the bed's edge back: half an inch holds what is clamped. Common practice, no source."""

LOW = 1e-6
"""mm below the sheet from which something hangs."""


@dataclass(frozen=True)
class Packing:
    """A strip under the sheet along the line.

    Attributes:
        thickness: mm; 0 where none is needed.
        loaded: something that hangs below the sheet lies on the leaf, too.
        under: names of what lies under the sheet.
    """

    thickness: float = 0.0
    loaded: bool = False
    under: tuple[str, ...] = ()


NONE = Packing()


def packing_text(packing: Packing, units: Units) -> str:
    """What strip is laid, and what it makes up for."""
    return tr("a strip {thickness} thick and {wide} wide along the line: the {under} {lies} under the sheet").format(
        thickness=show_length(round(packing.thickness, 2), units.fine),
        wide=show_length(STRIP, units),
        under=tr(" and the ").join((*([tr(", ").join(packing.under[:-1])] if packing.under[1:] else []), *packing.under[-1:])),
        lies=tr("lie") if len(packing.under) > 1 else tr("lies"),
    )


def packing_for(
    solids: Iterable[Solid],
    bed: ToolOutline,
    leaf: ToolOutline | None,
    over: tuple[float, float] | None,
    span: tuple[float, float],
) -> Packing:
    """The strip that a stroke needs.

    Args:
        solids: the part with the fold flat.
        bed: what it lies on, not lowered yet.
        leaf: what lifts the other side, where that is a tool.
        over: interval of x (mm) in which bed and leaf are; None when they go on past the part.
        span: interval of x along the fold, mm.

    Returns:
        no strip where nothing would lie on bed or leaf, where it is too deep to be packed, or where it lies in the strip's own place.
    """
    hanging = [s for s in solids if s.box[0][2] < -LOW]
    depth, loaded, under = 0.0, False, []
    for solid in hanging:
        deep = -solid.box[0][2]
        shadow = solid.shadow if over is None else solid.clipped(*over)
        if deep > DEEPEST or len(shadow) < 3:
            continue
        on_bed, on_leaf = bed.meets(shadow), leaf is not None and leaf.meets(shadow)
        if on_bed or on_leaf:
            depth, loaded = max(depth, deep), loaded or on_leaf
            if solid.panel >= 0:
                under.append(solid.name)
    if depth == 0.0:
        return NONE
    edge = float(bed.outline[:, 0][bed.outline[:, 1] > -0.1].min())
    for solid in hanging:
        points = solid.within(span[0] + HAIR, span[1] - HAIR)
        points = points[points[:, 1] < -LOW] if len(points) else points
        if len(points) and points[:, 0].min() < edge + STRIP and points[:, 0].max() > edge:
            return NONE
    return Packing(depth, loaded, tuple(dict.fromkeys(under)))
