"""The metal of panels on the flat, from tangent line to tangent line."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.polygon import orient

from ..measure.words import tr
from .convex import is_convex
from .element import DevelopmentError
from .node import Node, Tree
from .ring import area, half_plane, less, without_repeats

Array = NDArray[np.float64]

JOIN = 1e-6
"""Metal reaches this far (mm) into what it joins, so that neighbours never fall apart by rounding."""


def panels_on(tree: Tree) -> list[Array | None]:
    """The metal of every panel on the flat (n, 2); None where it belongs to its carrier.

    Raises:
        DevelopmentError: a panel has no metal left.
    """
    kids: dict[int, list[Node]] = {}
    for node in tree.nodes[1:]:
        kids.setdefault(node.parent, []).append(node)
    return [
        None if node.parent >= 0 and node.bend is None else node.frame.to_flat(_metal(node, kids.get(node.index, []), tree))
        for node in tree.nodes
    ]


def _metal(node: Node, kids: list[Node], tree: Tree) -> Array:
    """A panel's own metal in its frame: its polygon less a setback along every fold."""
    ring = half_plane(node.corners, np.array([0.0, node.setback]), np.array([0.0, 1.0])) if node.parent >= 0 else node.corners
    rest: list[shapely.Polygon] = []
    extra: list[shapely.Polygon] = []
    convex = is_convex(node.corners)
    for kid in kids:
        origin, along, length = node.edge_frame(kid.edge)
        out = np.array([-along[1], along[0]])
        if kid.bend is None:
            frame = np.array([origin + u * along + v * out for u, v in _grown(kid.corners)])
            extra.append(shapely.Polygon(frame))
            continue
        whole = convex and spans(kid, True) and spans(kid, False)
        if whole:
            ring = half_plane(ring, origin - out * kid.setback, -out)
        elif kid.setback > 0:
            low, high = max(0.0, kid.span[0]), min(length, kid.span[1])
            low, high = (0.0 if spans(kid, True) else low), (length if spans(kid, False) else high)
            band = [origin + u * along + v * out for u, v in ((low, -kid.setback), (high, -kid.setback), (high, 1), (low, 1))]
            rest.append(shapely.Polygon(band))
        if len(ring) < 3:
            break
    if len(ring) < 3 or abs(area(ring)) < 1e-6:
        raise DevelopmentError(
            tr("{name}: no flat is left between its bends. Make it larger, or the inside radius smaller.").format(
                name=node.name
            )
        )
    if not rest and not extra:
        return ring
    shape = shapely.union_all([shapely.Polygon(ring), *extra])
    for band in rest:
        shape = less(shape, band)
    if shape.geom_type == "MultiPolygon":
        # A fold that stops just short of a corner leaves a sliver there; it is cut away with the relief.
        largest = max(shape.geoms, key=lambda g: g.area)
        shape = largest if shape.area - largest.area < 0.01 * shape.area else shape
    if shape.geom_type != "Polygon" or shape.area < 1e-6:
        raise DevelopmentError(
            tr("{name}: its folds leave no metal in one piece between them. Make it larger.").format(name=node.name)
        )
    return without_repeats(np.array(orient(shape).exterior.coords)[:-1])


def _grown(corners: Array) -> Array:
    """Plain metal that runs on reaches a hair into its carrier."""
    grown = corners.copy()
    grown[corners[:, 1] <= 1e-9, 1] -= JOIN
    return grown


def spans(kid: Node, left: bool) -> bool:
    """True when a fold runs to that end of its edge, or up to a neighbour that stands there."""
    line = kid.left if left else kid.right
    if line is None:
        at = kid.corners[0, 0] if left else kid.edge_length - kid.corners[1, 0]
        return bool(at <= 1e-6)
    return line.meets or line.inset(kid.setback) <= 1e-6
