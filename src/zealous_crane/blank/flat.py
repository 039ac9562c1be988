"""The flat itself: panels from tangent to tangent, the strips between them, and the outline they make together."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.polygon import orient

from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.once import once
from ..measure.words import the, the_first, tr
from ..part import Design, ReliefShape
from .cut_away import Hole
from .element import DevelopmentError
from .grown import Grown
from .node import Node, Tree
from .notch import Cut, corner_cut, end_cut, one_size, wedge
from .one_piece import one_piece
from .panel_metal import JOIN, spans
from .path import Path
from .ring import Circles, less, polygons, to_paths

Array = NDArray[np.float64]

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
        panels: (n, 2) polygons on the flat by node index; None for metal that belongs to its carrier.
        strips: (4, 2) bend strips by node index; None for the base, plain metal and bends that take no metal.
        polygon: the outline as a many-sided polygon, counter-clockwise.
        cuts: what was taken out at the corners.
    """

    panels: tuple[Array | None, ...]
    strips: tuple[Array | None, ...]
    polygon: shapely.Polygon
    cuts: tuple[Cut, ...]

    @once
    def _circles(self) -> Circles:
        return Circles(cut.circle for cut in self.cuts if cut.circle is not None)

    @once
    def outline(self) -> Path:
        """The outline with true arcs."""
        return to_paths([np.array(self.polygon.exterior.coords)], self._circles)[0]

    @once
    def inner(self) -> tuple[Hole, ...]:
        """Holes the cuts left inside the outline."""
        found: list[Hole] = []
        rings = [ring for ring in polygons([np.array(ring.coords) for ring in self.polygon.interiors]) if ring.area >= CRUMB]
        for ring, path in zip(rings, to_paths([np.array(ring.exterior.coords) for ring in rings], self._circles), strict=True):
            left, low, right, high = ring.bounds
            middle = np.array(ring.centroid.coords[0])
            found.append(Hole("relief", path, middle, "relief", (right - left, high - low)))
        return tuple(found)

    @once
    def waste(self) -> tuple[shapely.Polygon, ...]:
        """What lies between the outline and the sheared rectangle, counter-clockwise, in pieces."""
        holes = [shapely.Polygon(ring) for ring in self.polygon.interiors]
        rest = less(shapely.box(*self.outline.bounds), self.polygon)
        # Where metal reaches the rectangle's edge but for rounding, two notches hang together by nothing: on a fine grid they do not.
        rest = shapely.set_precision(rest, HAIR)
        pieces = [g for g in getattr(rest, "geoms", [rest]) if g.geom_type == "Polygon" and g.area > CRUMB]
        return tuple(
            orient(piece) for piece in pieces if not any(hole.contains(piece.representative_point()) for hole in holes)
        )

    @once
    def notches(self) -> tuple[Path, ...]:
        """The waste with true arcs."""
        return tuple(to_paths([np.array(piece.exterior.coords) for piece in self.waste], self._circles))


def lay_flat(job: Job, grown: Grown) -> Flat:
    """Join the panels of a design into one flat.

    Args:
        job: for its units and its small tools.
        grown: the panels.

    Raises:
        DevelopmentError: two parts of the flat overlap, or it falls into pieces.
    """
    tree, panels = grown.tree, grown.panels
    strips = [None if ring is None else _strip(node, 0.0) for node, ring in zip(tree.nodes, panels, strict=True)]
    kept = [i for i, ring in enumerate(panels) if ring is not None]
    shapes = polygons([ring for ring in panels if ring is not None])
    _no_overlap(tree, dict(zip(kept, shapes, strict=True)))
    metal = one_piece(tree.nodes, panels, strips)
    pieces = [*([metal] if metal is not None else shapes + polygons(_joining(tree))), *_ears(tree)]
    whole = pieces[0] if len(pieces) == 1 else shapely.union_all(pieces)
    reach = 4 * (whole.bounds[2] - whole.bounds[0] + whole.bounds[3] - whole.bounds[1])
    cuts = _cuts(job, grown.design, tree, reach)
    # Most cuts meet no other: they need no overlaying.
    taken = shapely.disjoint_subset_union_all(polygons([ring for cut in cuts for ring in cut.shapes]))
    left = less(whole, taken)
    if left.geom_type != "Polygon":
        raise DevelopmentError(tr("The notches and reliefs cut the flat into pieces. Make the reliefs or the gap smaller."))
    bent = (
        None if node.bend is None or node.bend.allowance <= 0 else strip for node, strip in zip(tree.nodes, strips, strict=True)
    )
    return Flat(panels, tuple(bent), orient(left), cuts)


def extent(grown: Grown) -> tuple[Array, Array]:
    """Least and greatest x and y (2,) of the panels, mm: those of the flat, since no notch takes away what reaches farthest."""
    tree = grown.tree
    rings = [ring for ring in grown.panels if ring is not None]
    rings += [node.frame.to_flat(node.corners) for node in tree.nodes[1:] if node.bend is None]
    rings += [strip for strip in (_strip(node, 0.0) for node in tree.nodes) if strip is not None]
    rings += [shapely.get_coordinates(ear) for ear in _ears(tree)]
    points = np.concatenate(rings)
    return points.min(axis=0), points.max(axis=0)


def _strip(node: Node, join: float) -> Array | None:
    """The bend strip of a panel on the flat (4, 2), reaching ``join`` into both panels; a line where the bend takes no metal, None where
    nothing is bent."""
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
    found: list[shapely.Polygon] = []
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
        ring = [(at - sign * back, low), (at + sign * side, low), (at + sign * side, high), (at - sign * back, high)]
        found.append(shapely.Polygon(wall.frame.to_flat(np.array(ring))).buffer(JOIN, join_style="mitre"))
    return found


def _cuts(job: Job, design: Design, tree: Tree, reach: float) -> tuple[Cut, ...]:
    cuts: list[Cut] = []
    notches = [wedge(tree, notching, job.units, job.small_tools, reach) for notching in tree.notchings]
    by_rule = [
        w
        for n, w in zip(tree.notchings, notches, strict=True)
        if w is not None and n.corner.relief.size is None and n.corner.relief.shape in (ReliefShape.ROUND, ReliefShape.SQUARE)
    ]
    common = one_size(by_rule, job.units, job.small_tools)
    middles: dict[int, tuple[float, float]] = {}
    for notching, notch in zip(tree.notchings, notches, strict=True):
        cut = corner_cut(tree, notching, notch, common, job.units, job.small_tools)
        if cut.relief is not None:
            x, y = cut.relief.centre.tolist()
            same = next((k for k, (u, v) in middles.items() if math.hypot(u - x, v - y) < ONE_PLACE), None)
            if same is not None:
                # Two folds on one line share their relief; the larger one is made.
                other = cuts[same].relief
                assert other is not None
                if other.size >= cut.relief.size:
                    cuts.append(Cut(None, cut.shapes if cut.circle is None else cut.shapes[:-1]))
                    continue
                cuts[same] = Cut(None, ())
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
            tr("{name} crosses itself on the flat. Look at its sizes and tapers.").format(name=the_first(names[k]))
        )
    # Only where their boxes share as much: most panels lie well apart.
    low, high = np.hsplit(shapely.bounds(kept), 2)
    sides = np.minimum(high[:, None], high) - np.maximum(low[:, None], low)
    one, other = np.nonzero(np.triu((sides > 0).all(axis=2) & (sides.prod(axis=2) > OVERLAP), 1))
    shared = shapely.area(shapely.intersection(kept[one], kept[other]))
    for k in np.flatnonzero(shared > OVERLAP).tolist():
        raise DevelopmentError(
            tr(
                "{kept} and {kept_2} overlap on the flat: one sheet has not enough metal for both. Make "
                "one of them smaller, taper their ends, or make the part in two pieces with a seam."
            ).format(kept=the_first(names[one[k]]), kept_2=the(names[other[k]]))
        )
