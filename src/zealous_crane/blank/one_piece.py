"""The metal of a flat in one piece: panels and bend strips joined along the lines they share, without overlaying them."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from .node import Node
from .ring import Point

Array = NDArray[np.float64]

ON_LINE = 1e-7
"""mm; a side nearer than this to a line lies on it."""

HOLDS = 1e-6
"""mm; a shorter stretch of a line holds nothing together."""

ONE_CORNER = 1e-9
"""mm; corners nearer to each other than this are one."""


class _Piece:
    """A panel or a strip, and what hangs on its sides.

    Attributes:
        corners: counter-clockwise.
        foot: the side it hangs by; side k runs from corner k to the next.
        hung: what hangs on it: the side, how far along it, mm, and the piece.
    """

    def __init__(self, corners: list[Point], foot: int = -1) -> None:
        self.corners, self.foot = corners, foot
        self.hung: list[tuple[int, float, _Piece]] = []

    def ends(self, side: int) -> tuple[Point, Point]:
        return self.corners[side], self.corners[(side + 1) % len(self.corners)]

    def against(self, start: Point, end: Point) -> int | None:
        """The side that runs back along the longest stretch from ``start`` to ``end``; None where none lies there."""
        (x, y), long = start, math.hypot(end[0] - start[0], end[1] - start[1])
        if long <= HOLDS:
            return None
        along, across = (end[0] - x) / long, (end[1] - y) / long
        found, most = None, HOLDS
        u, v = self.corners[-1]
        before, off = (u - x) * along + (v - y) * across, (v - y) * along - (u - x) * across
        for k, (u, v) in enumerate(self.corners):
            at, beside = (u - x) * along + (v - y) * across, (v - y) * along - (u - x) * across
            if -ON_LINE < beside < ON_LINE and -ON_LINE < off < ON_LINE:
                shared = min(before, long) - max(at, 0.0)
                if shared > most:
                    found, most = k - 1, shared
            before, off = at, beside
        return None if found is None else found % len(self.corners)

    def round(self, into: list[Point]) -> None:
        """Append the corners from the end of its foot round to where that begins, with all that hangs on its other sides."""
        hung: dict[int, list[_Piece]] = {}
        for side, _, piece in sorted(self.hung, key=lambda one: one[:2]) if len(self.hung) > 1 else self.hung:
            hung.setdefault(side, []).append(piece)
        count = len(self.corners)
        for k in range(self.foot + 1, self.foot + 1 + count):
            into.append(self.corners[k % count])
            for piece in hung.get(k % count, ()):
                piece.round(into)


def one_piece(nodes: Sequence[Node], panels: Sequence[Array | None], strips: Sequence[Array | None]) -> shapely.Polygon | None:
    """The panels of a part and the strips between them, in one walk round all of them.

    Args:
        nodes: the panels, each after the one that carries it.
        panels: (n, 2) their metal on the flat, counter-clockwise; None for metal that belongs to its carrier.
        strips: (4, 2) their bend strips, from the carrier's side round to their own; None where there is none.

    Returns:
        the metal, counter-clockwise; None where a piece does not lie along its carrier, or pieces lie over or against each other
        elsewhere: these have to be overlaid.
    """
    of: list[_Piece] = []
    for node, panel, strip in zip(nodes, panels, strips, strict=True):
        if node.parent < 0:
            assert panel is not None
            of.append(_Piece(panel.tolist()))
            continue
        carrier = of[node.parent]
        if panel is None:
            of.append(carrier)
            continue
        if strip is None:
            return None
        bent, own = _Piece(strip.tolist(), foot=0), _Piece(panel.tolist())
        side, foot = carrier.against(*bent.ends(0)), own.against(*bent.ends(2))
        if side is None or foot is None:
            return None
        own.foot = foot
        bent.hung.append((2, 0.0, own))
        # How far along its carrier's side it begins; less than nothing where it is wider.
        (x, y), (ax, ay), (bx, by) = carrier.corners[side], *bent.ends(0)
        carrier.hung.append((side, ((bx - x) * (ax - bx) + (by - y) * (ay - by)) / math.hypot(ax - bx, ay - by), bent))
        of.append(own)
    corners: list[Point] = []
    of[0].round(corners)
    kept = [here for here, before in zip(corners, [corners[-1], *corners], strict=False) if _apart(here, before)]
    whole: shapely.Polygon = shapely.polygons(np.array(kept))
    return whole if shapely.is_valid(whole) else None


def _apart(one: Point, other: Point) -> bool:
    return abs(one[0] - other[0]) > ONE_CORNER or abs(one[1] - other[1]) > ONE_CORNER
