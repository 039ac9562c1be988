"""The cut at one corner: two straight cuts along the bend lines and a relief where they would meet.

Worked in a corner frame: ``a`` runs along the first edge towards the corner, ``b`` outwards from it; both are
measured from the centre of the base. Seen with ``b`` pointing down the frame is an ordinary drawing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..allowance import Bend
from ..measure import Units, show_length
from ..part import Relief, ReliefShape

Pair = tuple[float, float]


@dataclass(frozen=True)
class Cut:
    """One corner's cut, in the corner frame.

    Attributes:
        path: (a, b, bulge) from the free edge of the first wall round to the free edge of the second.
        point: where the two straight cuts meet.
        centre: centre of the relief, where the bend lines cross.
        size: diameter or side of the relief, mm.
        line_end: how far (a) the second wall's line frame and (b→a) the first wall's bend line run before the
            relief: ``(for the second wall along its own edge, for the first wall along a)``.
        rule: the sentence that gives the relief its size.
    """

    path: tuple[tuple[float, float, float], ...]
    point: Pair
    centre: Pair
    size: float
    line_end: Pair
    rule: str


def relief_rule(bends: tuple[Bend, Bend], gap: float) -> float:
    """Least diameter or side of a relief, mm.

    It reaches r + T past both tangent lines from the crossing of the bend lines, is at least 1.5 T wide and
    covers the point of the notch. Common practice, no source.
    """
    reach = max(b.allowance / 2 + b.radius + b.thickness for b in bends)
    point = max(gap + b.line_to_inside for b in bends)
    return 2 * max(reach, math.sqrt(2) * point, 0.75 * bends[0].thickness)


def corner_cut(
    *, corner: Pair, line: Pair, top: Pair, bends: tuple[Bend, Bend], gap: float, relief: Relief, tick: float, units: Units
) -> Cut:
    """Cut the corner between two walls.

    Args:
        corner: inside corners (a of the second wall, b of the first), mm from the centre.
        line: bend lines, likewise.
        top: free edges on the flat, likewise.
        bends: bend of the second wall and of the first.
        gap: end of each wall to its neighbour's inside face, mm.
        relief: shape and size; no size takes :func:`relief_rule` rounded up to ``tick``.
        tick: step of drill or punch sizes, mm.
        units: for messages.

    Raises:
        ValueError: a typed relief does not cover the point of the notch, or is larger than a wall.
    """
    pa, pb = corner[0] - gap, corner[1] - gap
    path: tuple[tuple[float, float, float], ...]
    if relief.shape is ReliefShape.NONE:
        path = ((pa, top[1], 0.0), (pa, pb, 0.0), (top[0], pb, 0.0))
        return Cut(path, (pa, pb), line, 0.0, (pb, pa), "No relief.")
    ruled = relief_rule(bends, gap)
    size = relief.size if relief.size is not None else math.ceil(ruled / tick - 1e-9) * tick
    rule = (
        f"Rule: r + T past the tangent lines, at least 1.5 T, and past the point of the notch: {ruled:.2f} mm"
        + (", rounded up to the next drill." if relief.size is None else "; the size was given.")
        + " Common practice, no source."
    )
    half = size / 2
    da, db = line[0] - pa, line[1] - pb
    reaches = math.hypot(da, db) <= half if relief.shape is ReliefShape.ROUND else max(da, db) <= half
    if half <= 0 or not reaches:
        raise ValueError(
            f"A relief of {show_length(size, units)} does not reach the point of the notch. "
            f"Make it at least {show_length(math.ceil(ruled / tick - 1e-9) * tick, units)}, or let the rule choose."
        )
    if half >= min(top[0] - line[0], top[1] - line[1]):
        raise ValueError(f"A relief of {show_length(size, units)} cuts right through the wall. Make it smaller.")
    ca, cb = line
    if relief.shape is ReliefShape.SQUARE:
        path = (
            (pa, top[1], 0.0), (pa, cb + half, 0.0), (ca - half, cb + half, 0.0), (ca - half, cb - half, 0.0),
            (ca + half, cb - half, 0.0), (ca + half, pb, 0.0), (top[0], pb, 0.0),
        )  # fmt: skip
    else:
        first = (pa, cb + math.sqrt(half**2 - da**2))
        last = (ca + math.sqrt(half**2 - db**2), pb)
        # In a drawing b points down, hence the minus; the tool walks clockwise round the hole.
        sweep = math.atan2(-(first[1] - cb), first[0] - ca) - math.atan2(-(last[1] - cb), last[0] - ca)
        sweep %= 2 * math.pi
        path = ((pa, top[1], 0.0), (*first, -math.tan(sweep / 4)), (*last, 0.0), (top[0], pb, 0.0))
    return Cut(path, (pa, pb), line, size, (cb - half, ca - half), rule)
