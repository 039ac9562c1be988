"""The metal of a flat in one piece: panels and bend strips joined along the lines they share,
without overlaying them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from .._typing import Array
from ..i18n import the, the_first, tr
from ..job.job import Job
from ..part.corner import ReliefShape
from ..part.design import Design
from .element import DevelopmentError
from .features import Hole
from .node import JOIN, Node, Tree, spans
from .notch import NotchCut, corner_cut, end_cut, one_size, wedge
from .panel_tree import Grown
from .path import ClosedPath
from .ring import Circles, Point, less, polygons, to_paths

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
        """The side that runs back along the longest stretch from ``start`` to ``end``; None where
        none lies there."""
        (x, y), long = start, math.hypot(end[0] - start[0], end[1] - start[1])
        if long <= HOLDS:
            return None
        along, across = (end[0] - x) / long, (end[1] - y) / long
        result, most = None, HOLDS
        u, v = self.corners[-1]
        before, off = (u - x) * along + (v - y) * across, (v - y) * along - (u - x) * across
        for k, (u, v) in enumerate(self.corners):
            at, beside = (u - x) * along + (v - y) * across, (v - y) * along - (u - x) * across
            if -ON_LINE < beside < ON_LINE and -ON_LINE < off < ON_LINE:
                shared = min(before, long) - max(at, 0.0)
                if shared > most:
                    result, most = k - 1, shared
            before, off = at, beside
        return None if result is None else result % len(self.corners)

    def round(self, into: list[Point]) -> None:
        """Append the corners from the end of its foot round to where that begins, with all that
        hangs on its other sides."""
        hung: dict[int, list[_Piece]] = {}
        for side, _, piece in (
            sorted(self.hung, key=lambda one: one[:2]) if len(self.hung) > 1 else self.hung
        ):
            hung.setdefault(side, []).append(piece)
        count = len(self.corners)
        for k in range(self.foot + 1, self.foot + 1 + count):
            into.append(self.corners[k % count])
            for piece in hung.get(k % count, ()):
                piece.round(into)


def one_piece(
    nodes: Sequence[Node], panels: Sequence[Array | None], strips: Sequence[Array | None]
) -> shapely.Polygon | None:
    """The panels of a part and the strips between them, in one walk round all of them.

    Args:
        nodes: the panels, each after the one that carries it.
        panels: (n, 2) their metal on the flat, counter-clockwise; None for metal that belongs to
            its carrier.
        strips: (4, 2) their bend strips, from the carrier's side round to their own; None where
            there is none.

    Returns:
        the metal, counter-clockwise; None where a piece does not lie along its carrier, or pieces
        lie over or against each other
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
        carrier.hung.append(
            (
                side,
                ((bx - x) * (ax - bx) + (by - y) * (ay - by)) / math.hypot(ax - bx, ay - by),
                bent,
            )
        )
        of.append(own)
    corners: list[Point] = []
    of[0].round(corners)
    kept = [
        here
        for here, before in zip(corners, [corners[-1], *corners], strict=False)
        if _apart(here, before)
    ]
    whole = shapely.Polygon(np.array(kept))
    return whole if shapely.is_valid(whole) else None


def _apart(one: Point, other: Point) -> bool:
    return abs(one[0] - other[0]) > ONE_CORNER or abs(one[1] - other[1]) > ONE_CORNER


OVERLAP = 1e-3
"""mm²; flats that share less only touch."""

CRUMB = 0.05
"""mm²; waste smaller than this is rounding, not metal."""

HAIR = 1e-8
"""mm; waste thinner than this is none."""

ONE_PLACE = 0.05
"""mm; reliefs whose centres lie nearer to each other are one."""


@dataclass(frozen=True)
class Flat:
    """The flat before it is moved to its corner.

    Attributes:
        panels: (n, 2) polygons on the flat by node index; None for metal that belongs to its
            carrier.
        strips: (4, 2) bend strips by node index; None for the base, plain metal and bends that take
            no metal.
        polygon: the outline as a many-sided polygon, counter-clockwise.
        cuts: what was taken out at the corners.
    """

    panels: tuple[Array | None, ...]
    strips: tuple[Array | None, ...]
    polygon: shapely.Polygon
    cuts: tuple[NotchCut, ...]

    @cached_property
    def _circles(self) -> Circles:
        return Circles(cut.circle for cut in self.cuts if cut.circle is not None)

    @cached_property
    def outline(self) -> ClosedPath:
        """The outline with true arcs."""
        return to_paths([np.array(self.polygon.exterior.coords)], self._circles)[0]

    @cached_property
    def inner(self) -> tuple[Hole, ...]:
        """Holes the cuts left inside the outline."""
        holes: list[Hole] = []
        rings = [
            ring
            for ring in polygons([np.array(ring.coords) for ring in self.polygon.interiors])
            if ring.area >= CRUMB
        ]
        for ring, path in zip(
            rings,
            to_paths([np.array(ring.exterior.coords) for ring in rings], self._circles),
            strict=True,
        ):
            left, low, right, high = ring.bounds
            middle = np.array(ring.centroid.coords[0])
            holes.append(Hole("relief", path, middle, "relief", (right - left, high - low)))
        return tuple(holes)

    @cached_property
    def waste(self) -> tuple[shapely.Polygon, ...]:
        """What lies between the outline and the sheared rectangle, counter-clockwise, in pieces."""
        holes = [shapely.Polygon(ring) for ring in self.polygon.interiors]
        rest = less(shapely.box(*self.outline.bounds), self.polygon)
        # Where metal reaches the rectangle's edge but for rounding, two notches hang together by
        # nothing: on a fine grid they do not.
        rest = shapely.set_precision(rest, HAIR)
        pieces = [
            g for g in getattr(rest, "geoms", [rest]) if g.geom_type == "Polygon" and g.area > CRUMB
        ]
        return tuple(
            orient(piece)
            for piece in pieces
            if not any(hole.contains(piece.representative_point()) for hole in holes)
        )

    @cached_property
    def notches(self) -> tuple[ClosedPath, ...]:
        """The waste with true arcs."""
        return tuple(
            to_paths([np.array(piece.exterior.coords) for piece in self.waste], self._circles)
        )


def lay_flat(job: Job, grown: Grown) -> Flat:
    """Join the panels of a design into one flat.

    Args:
        job: for its units and its small tools.
        grown: the panels.

    Raises:
        DevelopmentError: two parts of the flat overlap, or it falls into pieces.
    """
    tree, panels = grown.tree, grown.panels
    strips = [
        None if ring is None else _strip(node, 0.0)
        for node, ring in zip(tree.nodes, panels, strict=True)
    ]
    kept = [i for i, ring in enumerate(panels) if ring is not None]
    shapes = polygons([ring for ring in panels if ring is not None])
    _no_overlap(tree, dict(zip(kept, shapes, strict=True)))
    metal = one_piece(tree.nodes, panels, strips)
    pieces = [*([metal] if metal is not None else shapes + polygons(_joining(tree))), *_ears(tree)]
    whole = pieces[0] if len(pieces) == 1 else shapely.union_all(pieces)
    reach = 4 * (whole.bounds[2] - whole.bounds[0] + whole.bounds[3] - whole.bounds[1])
    cuts = _cuts(job, grown.design, tree, reach)
    # Most cuts meet no other: they need no overlaying.
    taken = shapely.disjoint_subset_union_all(
        polygons([ring for cut in cuts for ring in cut.shapes])
    )
    left = less(whole, taken)
    if not isinstance(left, shapely.Polygon):
        raise DevelopmentError(
            tr(
                "The notches and reliefs cut the flat into pieces. Make the reliefs or the gap "
                "smaller."
            )
        )
    bent = (
        None if node.bend is None or node.bend.allowance <= 0 else strip
        for node, strip in zip(tree.nodes, strips, strict=True)
    )
    return Flat(panels, tuple(bent), orient(left), cuts)


def extent(grown: Grown) -> tuple[Array, Array]:
    """Least and greatest x and y (2,) of the panels, mm: those of the flat, since no notch takes
    away what reaches farthest."""
    tree = grown.tree
    rings = [ring for ring in grown.panels if ring is not None]
    rings += [node.frame.to_flat(node.corners) for node in tree.nodes[1:] if node.bend is None]
    rings += [strip for strip in (_strip(node, 0.0) for node in tree.nodes) if strip is not None]
    rings += [shapely.get_coordinates(ear) for ear in _ears(tree)]
    points = np.concatenate(rings)
    return points.min(axis=0), points.max(axis=0)


def _strip(node: Node, join: float) -> Array | None:
    """The bend strip of a panel on the flat (4, 2), reaching ``join`` into both panels; a line
    where the bend takes no metal, None where nothing is bent."""
    bend = node.bend
    if bend is None:
        return None
    low, high = node.fold_span
    inner, outer = bend.inside_setback - bend.allowance - join, bend.inside_setback + join
    if outer < inner or high <= low:
        return None
    return node.frame.to_flat(np.array([(low, inner), (high, inner), (high, outer), (low, outer)]))


def _joining(tree: Tree) -> list[Array]:
    """The strips, each reaching a hair into the panels on both its sides."""
    return [strip for strip in (_strip(node, JOIN) for node in tree.nodes) if strip is not None]


def _ears(tree: Tree) -> list[shapely.Polygon]:
    """Folded corners keep all their metal: the whole square between two walls."""
    result: list[shapely.Polygon] = []
    for crease in tree.creases:
        wall = tree.nodes[crease.panel]
        assert wall.element is not None
        assert wall.bend is not None
        at = crease.ends[0][0]
        sign = -1.0 if at < 1e-9 else 1.0
        side, high = wall.element.height + wall.bend.gain, wall.element.height
        # It reaches back over the ends of both bend strips, which are metal too.
        back = 2 * wall.bend.thickness + wall.bend.inside_setback
        low = -wall.bend.gain - back
        ring = [
            (at - sign * back, low),
            (at + sign * side, low),
            (at + sign * side, high),
            (at - sign * back, high),
        ]
        result.append(
            shapely.Polygon(wall.frame.to_flat(np.array(ring))).buffer(JOIN, join_style="mitre")
        )
    return result


def _cuts(job: Job, design: Design, tree: Tree, reach: float) -> tuple[NotchCut, ...]:
    cuts: list[NotchCut] = []
    notches = [
        wedge(tree, notching, job.units, job.small_tools, reach) for notching in tree.notchings
    ]
    by_rule = [
        w
        for n, w in zip(tree.notchings, notches, strict=True)
        if w is not None
        and n.corner.relief.size is None
        and n.corner.relief.shape in (ReliefShape.ROUND, ReliefShape.SQUARE)
    ]
    common = one_size(by_rule, job.units, job.small_tools)
    middles: dict[int, tuple[float, float]] = {}
    for notching, notch in zip(tree.notchings, notches, strict=True):
        cut = corner_cut(tree, notching, notch, common, job.units, job.small_tools)
        if cut.relief is not None:
            x, y = cut.relief.centre.tolist()
            same = next(
                (k for k, (u, v) in middles.items() if math.hypot(u - x, v - y) < ONE_PLACE), None
            )
            if same is not None:
                # Two folds on one line share their relief; the larger one is made.
                other = cuts[same].relief
                assert other is not None
                if other.size >= cut.relief.size:
                    cuts.append(
                        NotchCut(None, cut.shapes if cut.circle is None else cut.shapes[:-1])
                    )
                    continue
                cuts[same] = NotchCut(None, ())
                del middles[same]
            middles[len(cuts)] = x, y
        cuts.append(cut)
    for node in tree.nodes[1:]:
        for left in (True, False):
            if not spans(node, left):
                ended = end_cut(tree, node, left, design.corner.relief, job.units)
                if ended is not None:
                    cuts.append(ended)
    return tuple(cuts)


def _no_overlap(tree: Tree, shapes: dict[int, shapely.Polygon]) -> None:
    """Every two panels lie beside each other on the flat.

    Args:
        tree: the panels.
        shapes: their metal by node index.

    Raises:
        DevelopmentError: two overlap; the sentence names both.
    """
    # The halves of an ear are creased by hand where the walls let them lie.
    hand = {n.index for n in tree.nodes[1:] if n.element is not None and n.element.ear}
    names = [tree.nodes[i].name for i in shapes if i not in hand]
    kept = np.array([shape for i, shape in shapes.items() if i not in hand])
    for k in np.flatnonzero(~shapely.is_valid(kept)).tolist():
        raise DevelopmentError(
            tr("{name} crosses itself on the flat. Look at its sizes and tapers.").format(
                name=the_first(names[k])
            )
        )
    # Only where their boxes share as much: most panels lie well apart.
    low, high = np.hsplit(shapely.bounds(kept), 2)
    sides = np.minimum(high[:, None], high) - np.maximum(low[:, None], low)
    one, other = np.nonzero(np.triu((sides > 0).all(axis=2) & (sides.prod(axis=2) > OVERLAP), 1))
    shared = shapely.area(shapely.intersection(kept[one], kept[other]))
    for k in np.flatnonzero(shared > OVERLAP).tolist():
        raise DevelopmentError(
            tr(
                "{kept} and {kept_2} overlap on the flat: one sheet has not enough metal for "
                "both. Make "
                "one of them smaller, taper their ends, or make the part in two pieces with a seam."
            ).format(kept=the_first(names[one[k]]), kept_2=the(names[other[k]]))
        )
