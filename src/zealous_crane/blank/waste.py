"""What is cut away around the outside, named by the corner or the fold it lies at."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from ..measure.once import once
from .cut_away import Notch
from .flat import Flat
from .node import Tree
from .ring import polygons

Array = NDArray[np.float64]


def notches(tree: Tree, flat: Flat, move: Array) -> tuple[Notch, ...]:
    """Every notch of a flat, with the points marked before cutting.

    Args:
        tree: the panels.
        flat: the flat.
        move: (2,) mm, what brings it to its corner.
    """
    left, low, right, high = flat.outline.bounds
    at_corners = sorted(zip(tree.notchings, flat.cuts, strict=False), key=lambda pair: pair[0].panel)
    named = [(n.name, cut.relief.centre) for n, cut in at_corners if cut.relief is not None]
    centres = shapely.points(np.array([centre for _, centre in named]).reshape(-1, 2))
    beside: dict[int, list[int]] = {}
    for piece, k in (
        shapely.STRtree(centres).query(np.array(flat.waste, dtype=object), predicate="dwithin", distance=1e-3).T.tolist()
    ):
        beside.setdefault(piece, []).append(k)
    reliefs = [(cut.relief.centre, cut.far) for cut in flat.cuts if cut.relief is not None]
    middles, far = np.array([middle for middle, _ in reliefs]).reshape(-1, 2), np.array([far for _, far in reliefs])
    made: list[Notch] = []
    taken: set[str] = set()
    nearest = _Beside(tree)
    # Points of the corners and folds, marked before cutting: those inside the sheet that no relief takes away.
    corners = np.concatenate([path.points for path in flat.notches]) if flat.notches else np.empty((0, 2))
    marked = ((corners > (left + 1e-6, low + 1e-6)) & (corners < (right - 1e-6, high - 1e-6))).all(axis=1)
    marked &= (np.hypot(corners[:, :1] - middles[:, 0], corners[:, 1:] - middles[:, 1]) > far).all(axis=1)
    begun = 0
    for i, path in enumerate(flat.notches):
        name = next((named[k][0] for k in sorted(beside.get(i, ())) if named[k][0] not in taken), None)
        if name is None:
            name = nearest(shapely.Polygon(path.flattened()))
        taken.add(name)
        inside = marked[begun : begun + len(path.points)]
        begun += len(path.points)
        made.append(Notch(name, path.moved(move), path.points[inside] + move))
    return tuple(made)


class _Beside:
    """Names waste that no relief lies in by the corner or the panel nearest to it."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree

    @once
    def _corners(self) -> tuple[NDArray[np.object_], Array]:
        """The corners between folds as points, and how far off (mm) one may lie."""
        nodes = self._tree.nodes
        at = [nodes[n.panel].frame.to_flat(nodes[n.panel].corners)[n.vertex] for n in self._tree.notchings]
        return shapely.points(np.array(at).reshape(-1, 2)), np.array([5 * max(1.0, n.gap) for n in self._tree.notchings])

    @once
    def _panels(self) -> NDArray[np.object_]:
        return np.array(polygons([node.frame.to_flat(node.corners) for node in self._tree.nodes[1:]]), dtype=object)

    def __call__(self, shape: shapely.Polygon) -> str:
        points, most = self._corners
        if len(points):
            away = shapely.distance(shape, points)
            away[away >= most] = math.inf
            if math.isfinite(away.min()):
                return self._tree.notchings[int(away.argmin())].name
        if len(self._tree.nodes) == 1:
            return "edge"
        nearest = int(shapely.distance(shape, self._panels).argmin())
        return f"beside the {self._tree.nodes[1 + nearest].name}"
