"""The folded part as a mesh: STL for whoever only wants its shape, glTF with a name for every panel
and bend."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial import KDTree

from .._typing import Array
from ..errors import InputError
from ..flat.blank import Blank
from ..flat.features import Fold
from ..flat.folding import CHAIN, IDENTITY, Pose, arc_radius
from ..i18n import tr
from ..units.length import INCH
from .atomic import write_atomically

FLAT = 1e-6
"""mm; a bend that uses less metal is sharp: its wedge is drawn though it has no strip on the
flat."""

ON_SEAM = 2e-4
"""mm; a corner nearer than this to a seam lies on it."""

GRID = 1e-4
"""mm; corners lie on such a grid."""

SAME = 1e-5
"""mm; places along a seam nearer than this are one."""

LEAST_AREA = 1e-6
"""mm²; smaller scraps of a region are rounding."""

END = 0.02
"""mm; so much farther than its ends say the two panels of a sharp bend may touch."""

APART = 2e-3
"""mm; metal that touches without hanging together is drawn so far apart, or readers of a file would
join it."""

LEAST_LINE = 1e-3
"""mm; a sharp bend has no shorter pieces."""

CIRCLE = math.radians(5)
"""Chords of holes and rounded corners go round so much at most."""


@dataclass(frozen=True)
class _Region:
    """A piece of the flat that is moved as one: a panel, or one chord of a bend.

    Attributes:
        name: of the panel or the bend.
        polygon: where its metal lies, mm on the flat; of a sharp bend its place along the line and
            round it.
        seams: straight lines it shares with the next region: a key, and a point and a direction of
            it.
        moved: gives the corners (n, 2) their places (n, 3) on the outside and on the inside face.
    """

    name: str
    polygon: shapely.Polygon
    seams: tuple[tuple[Hashable, Array, Array], ...]
    moved: Callable[[Array], tuple[Array, Array]]


def folded_mesh(blank: Blank) -> Any:
    """The finished part as one closed mesh, mm, holes and notches cut, the base as it lies on the
    flat."""
    return _closed(_regions(blank))


def folded_meshes(blank: Blank) -> dict[str, Any]:
    """Meshes of the finished part by name: every panel and every bend, mm, each closed in
    itself."""
    by_name: dict[str, list[_Region]] = {}
    for region in _regions(blank):
        by_name.setdefault(region.name, []).append(region)
    return {name: _closed(regions) for name, regions in by_name.items()}


def strip_meshes(blank: Blank) -> dict[str, Any]:
    """Meshes of the metal that becomes a bend, as it lies on the flat, by the name of the bend, mm;
    a sharp bend has none."""
    by_name: dict[str, list[_Region]] = {}
    widths = {f"{fold.name} bend": fold.bend.allowance for fold in blank.folds}
    for region in _regions(blank):
        if widths.get(region.name, 0.0) > 2 * FLAT:
            flat = _Region(region.name, region.polygon, (), _flat(IDENTITY, blank.thickness))
            by_name.setdefault(region.name, []).append(flat)
    return {name: _closed(regions) for name, regions in by_name.items()}


def write_mesh(blank: Blank, path: Path, *, inches: bool = False) -> None:
    """Write the folded part; what kind of file goes by its ending, ``.stl`` or ``.glb``.

    STL is in millimetres, as is usual, or in inches where that is asked for; glTF in metres with y
    up, as its standard has it.

    Args:
        blank: the part.
        path: the file.
        inches: the figures of an STL are inches.

    Raises:
        InputError: a glTF is asked for in inches.
        FileError: it could not be written; what stood there is untouched.
    """
    # Fetched when a mesh is asked for, not while the program starts.
    import trimesh

    if Path(path).suffix.lower() == ".glb":
        if inches:
            raise InputError(
                tr(
                    "A glTF file is in metres, whatever the job is in; leave --inches away, or "
                    "write an STL."
                )
            )
        turn = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]], float)
        scene = trimesh.Scene()
        for name, mesh in folded_meshes(blank).items():
            scene.add_geometry(
                mesh.apply_transform(turn).apply_scale(0.001), node_name=name, geom_name=name
            )
        data: Any = scene.export(file_type="glb")  # type: ignore[no-untyped-call]
    else:
        mesh = folded_mesh(blank)
        data = (mesh.apply_scale(1 / INCH) if inches else mesh).export(file_type="stl")
    write_atomically(Path(path), bytes(data))


def _regions(blank: Blank) -> list[_Region]:
    """Every panel and every chord of every bend, with the metal it has on the flat."""
    cut = shapely.union_all([shapely.Polygon(hole.path.flattened(CIRCLE)) for hole in blank.holes])
    metal = shapely.difference(shapely.Polygon(blank.outline.flattened(CIRCLE)), cut)
    panels = [shapely.Polygon(panel.polygon) for panel in blank.panels]
    between = shapely.difference(metal, shapely.union_all(panels))
    seams: list[list[tuple[Hashable, Array, Array]]] = [[] for _ in blank.panels]
    regions: list[_Region] = []
    for i, fold in enumerate(blank.folds):
        along, half = _along(fold), fold.bend.allowance / 2
        for number, side, m in ((fold.parent, 0, -half), (fold.child, -1, half)):
            seams[number].append(((i, side), fold.start + m * fold.outward, along))
        regions += _bend(
            blank,
            i,
            fold,
            between,
            [shapely.intersection(panels[k], metal) for k in (fold.parent, fold.child)],
        )
    for i, (panel, shape) in enumerate(zip(blank.panels, panels, strict=True)):
        moved = _flat(blank.stood[i], blank.thickness)
        regions += [
            _Region(panel.name, piece, tuple(seams[i]), moved)
            for piece in _pieces(shapely.intersection(shape, metal))
        ]
    return regions


def _flat(pose: Pose, t: float) -> Callable[[Array], tuple[Array, Array]]:
    def moved(points: Array) -> tuple[Array, Array]:
        outside = pose.apply(np.column_stack([points, np.zeros(len(points))]))
        return outside, outside + t * pose.turn[:, 2]

    return moved


def _bend(
    blank: Blank, i: int, fold: Fold, between: shapely.Geometry, beside: Sequence[shapely.Geometry]
) -> list[_Region]:
    """The chords of one bend."""
    along, out, half = _along(fold), fold.outward, fold.bend.allowance / 2
    turn = math.radians(abs(fold.angle))
    radius, t = arc_radius(fold.bend, abs(fold.angle)), blank.thickness
    chords = max(2, math.ceil(turn / 2 / math.acos(1 - min(CHAIN / (radius + t), 1.0))))
    sharp = half < FLAT
    # A sharp bend has no width on the flat: it is drawn one millimetre wide and told as a part of
    # its angle.
    start, width = (-0.5, 1.0) if sharp else (-half, 2 * half)
    pose = blank.stood[fold.parent]

    def moved(points: Array) -> tuple[Array, Array]:
        x, m = (points - fold.start) @ along, (points - fold.start) @ out
        phi = np.clip((m - start) / width, 0.0, 1.0) * turn
        faces = []
        for rho in (radius + t, radius):
            m_ = -half + rho * np.sin(phi)
            z = t + radius - rho * np.cos(phi)
            place = fold.start + np.outer(x, along) + np.outer(m_, out)
            faces.append(np.column_stack([place, z if fold.angle > 0 else t - z]))
        outer, inner = faces if fold.angle > 0 else faces[::-1]
        return pose.apply(outer), pose.apply(inner)

    if sharp:
        shared = shapely.intersection_all([_spans(shape, fold) for shape in beside])
        spans = [
            np.array(part.coords)[:, 0]
            for part in shapely.get_parts(shared)
            if part.length > LEAST_LINE
        ]
        strip = shapely.union_all(
            [
                shapely.Polygon(
                    [
                        fold.start + x * along + m * out
                        for x, m in ((a, -0.5), (b, -0.5), (b, 0.5), (a, 0.5))
                    ]
                )
                for a, b in ((span.min(), span.max()) for span in spans)
            ]
        )
    else:
        far = fold.bend.allowance
        a, b = fold.start - far * along, fold.end + far * along
        strip = shapely.intersection(
            shapely.Polygon([a - half * out, b - half * out, b + half * out, a + half * out]),
            between,
        )
    result = []
    low, high = -1e6 * along, 1e6 * along
    for k in range(chords):
        m0, m1 = start + width * k / chords, start + width * (k + 1) / chords
        band = shapely.Polygon(
            [fold.start + e + m * out for e, m in ((low, m0), (high, m0), (high, m1), (low, m1))]
        )
        seams = tuple(
            ((i, 0 if c == 0 else -1 if c == chords else c), fold.start + m * out, along)
            for c, m in ((k, m0), (k + 1, m1))
        )
        result += [
            _Region(f"{fold.name} bend", piece, seams, moved)
            for piece in _pieces(shapely.intersection(strip, band))
        ]
    return result


def _spans(shape: shapely.Geometry, fold: Fold) -> shapely.Geometry:
    """Where a panel's metal has an edge on a fold's line, as lines along an axis: mm from the
    fold's start."""
    along = _along(fold)
    result = []
    for piece in _pieces(shape):
        for ring in (piece.exterior, *piece.interiors):
            corners = np.array(ring.coords)
            x, on = (corners - fold.start) @ along, _on(corners, fold.start, along)
            result += [
                shapely.LineString([(a, 0), (b, 0)])
                for a, b in zip(x[:-1][on[:-1] & on[1:]], x[1:][on[:-1] & on[1:]], strict=True)
            ]
    # Its ends are where metal crosses it, to within the chords of a relief.
    return shapely.clip_by_rect(shapely.union_all(result), -END, -1.0, fold.length + END, 1.0)


def _along(fold: Fold) -> Array:
    line = fold.end - fold.start
    unit: Array = line / np.hypot(*line)
    return unit


def _pieces(shape: shapely.Geometry) -> list[shapely.Polygon]:
    # Corners nearer than a file of single precision can tell apart are one.
    return [
        part
        for part in shapely.get_parts(shapely.set_precision(shape, GRID))
        if part.geom_type == "Polygon" and part.area > LEAST_AREA
    ]


def _closed(regions: Sequence[_Region]) -> Any:
    """One mesh of regions that hang together at their seams, closed by the sides along every other
    edge."""
    import trimesh

    rings = [
        [np.array(r.coords)[:-1] for r in (region.polygon.exterior, *region.polygon.interiors)]
        for region in regions
    ]
    marks: dict[Hashable, list[float]] = {}
    for region, own in zip(regions, rings, strict=True):
        for key, point, along in region.seams:
            for ring in own:
                marks.setdefault(key, []).extend(
                    ((ring - point) @ along)[_on(ring, point, along)].tolist()
                )
    marks = {key: _told_apart(values) for key, values in marks.items()}
    # Corners of all regions, then places on seams: what lies on a seam is one corner with what the
    # next region has there.
    known: dict[Hashable, int] = {}
    joined: list[tuple[int, int]] = []
    outside: dict[int, Array] = {}
    inside: dict[int, Array] = {}
    cornered: list[tuple[int, int, int]] = []
    for number, (region, own) in enumerate(zip(regions, rings, strict=True)):
        shell, *within = [_with_marks(ring, region, marks) for ring in own]
        pieces = shapely.get_parts(
            shapely.constrained_delaunay_triangles(shapely.Polygon(shell, within))
        )
        triangles = np.array([np.array(piece.exterior.coords)[:3] for piece in pieces])
        (ax, ay), (bx, by) = (
            (triangles[:, 1] - triangles[:, 0]).T,
            (triangles[:, 2] - triangles[:, 0]).T,
        )
        clockwise = ax * by - ay * bx < 0
        triangles[clockwise] = triangles[clockwise][:, ::-1]
        points = triangles.reshape(-1, 2)
        made = []
        for point, low, high in zip(points, *region.moved(points), strict=True):
            key = (number, round(float(point[0]), 6), round(float(point[1]), 6))
            if key not in known:
                known[key] = len(known)
                outside[known[key]], inside[known[key]] = low, high
                joined += [
                    (known[key], known.setdefault(place, len(known)))
                    for place in _places(region, point, marks)
                ]
            made.append(known[key])
        cornered += list(zip(made[::3], made[1::3], made[2::3], strict=True))
    same = _groups(joined, len(known))
    lowest = {int(same[k]): k for k in reversed(outside)}
    faces = [
        face
        for a, b, c in cornered
        if len(set(face := (int(same[a]), int(same[b]), int(same[c])))) == 3
    ]
    places, faces = _parted(faces)
    count = len(places)
    edges = {edge for a, b, c in faces for edge in ((a, b), (b, c), (c, a))}
    sides = [(a, b) for a, b in edges if (b, a) not in edges]
    every = [
        *((a + count, b + count, c + count) for a, b, c in faces),
        *((c, b, a) for a, b, c in faces),
        *((a, b, b + count) for a, b in sides),
        *((a, b + count, a + count) for a, b in sides),
    ]
    corners = np.array([side[lowest[place]] for side in (outside, inside) for place in places])
    kept = _contracted(corners, np.array(every))
    mesh = trimesh.Trimesh(_told_apart_in_space(corners, kept), kept, process=False)
    mesh.remove_unreferenced_vertices()
    return mesh


def _told_apart_in_space(corners: Array, faces: NDArray[np.int64]) -> Array:
    """The corners, those that lie in one place but belong to other metal drawn a little into their
    own."""
    used = np.unique(faces)
    pairs = KDTree(corners[used]).query_pairs(APART / 2, output_type="ndarray")
    if not len(pairs):
        return corners
    touching = np.zeros(len(corners), dtype=bool)
    touching[used[pairs.ravel()]] = True
    weight, middle = np.zeros(len(corners)), np.zeros_like(corners)
    for k in range(3):
        np.add.at(weight, faces[:, k], 1.0)
        np.add.at(middle, faces[:, k], corners[faces].mean(axis=1))
    moved = corners.copy()
    way = middle[touching] / weight[touching, None] - corners[touching]
    # Not all by the same amount: two that go the same way would meet again.
    amount = APART * (1 + np.arange(touching.sum()) % 4 / 4)
    moved[touching] += (amount / np.maximum(np.linalg.norm(way, axis=1), APART))[:, None] * way
    return moved


def _contracted(corners: Array, faces: NDArray[np.int64]) -> NDArray[np.int64]:
    """The faces with corners that an edge of no length joins as one: the inside of a sharp bend is
    a line."""
    edges = faces[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    short = edges[np.linalg.norm(corners[edges[:, 0]] - corners[edges[:, 1]], axis=1) < SAME]
    same = _groups(short, len(corners))
    lowest = np.full(same.max() + 1, len(corners))
    np.minimum.at(lowest, same, np.arange(len(corners)))
    faces = lowest[same][faces]
    kept: NDArray[np.int64] = faces[
        (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    ]
    return kept


def _parted(faces: Sequence[tuple[int, int, int]]) -> tuple[list[int], list[tuple[int, int, int]]]:
    """Faces with a corner of its own for every fan of them that hangs together by edges: metal that
    meets in one point does not hold.

    Returns:
        which corner each new one stands for, and the faces by the new ones.
    """
    beside = {
        edge: (n, k)
        for n, face in enumerate(faces)
        for k, edge in enumerate(zip(face, (*face[1:], face[0]), strict=True))
    }
    joined = []
    for (a, b), (n, k) in beside.items():
        if (b, a) in beside:
            m, i = beside[b, a]
            joined += [(3 * n + k, 3 * m + (i + 1) % 3), (3 * n + (k + 1) % 3, 3 * m + i)]
    _, first, own = np.unique(
        _groups(joined, 3 * len(faces)), return_index=True, return_inverse=True
    )
    corners = [corner for face in faces for corner in face]
    numbered = own.reshape(-1, 3).tolist()
    return [corners[k] for k in first.tolist()], [(a, b, c) for a, b, c in numbered]


def _groups(pairs: Sequence[tuple[int, int]] | NDArray[np.int64], count: int) -> NDArray[np.int64]:
    """The number of the group each of ``count`` things belongs to, pairs being of one group."""
    ends = np.array(pairs, dtype=int).reshape(-1, 2).T
    _, groups = connected_components(coo_array((np.ones(ends.shape[1]), ends), (count, count)))
    return groups.astype(np.int64)


def _on(ring: Array, point: Array, along: Array) -> Any:
    across = np.array([-along[1], along[0]])
    return np.abs((ring - point) @ across) < ON_SEAM


def _with_marks(ring: Array, region: _Region, marks: dict[Hashable, list[float]]) -> Array:
    """A ring with every corner that the regions beside it have on their common seams."""
    made: list[Array] = []
    for p, q in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        made.append(p)
        for key, point, along in region.seams:
            if _on(np.array([p, q]), point, along).all():
                a, b = (p - point) @ along, (q - point) @ along
                inner = [x for x in marks[key] if min(a, b) + SAME < x < max(a, b) - SAME]
                made += [point + x * along for x in (inner if b > a else inner[::-1])]
    return np.array(made)


def _told_apart(values: list[float]) -> list[float]:
    """Places along a seam in order, those that are the same but for rounding as one."""
    kept: list[float] = []
    for value in sorted(values):
        if not kept or value - kept[-1] > SAME:
            kept.append(value)
    return kept


def _places(region: _Region, point: Array, marks: dict[Hashable, list[float]]) -> list[Hashable]:
    """The places a corner has on the seams of its region."""
    hashables: list[Hashable] = []
    for key, seam, along in region.seams:
        if _on(point[None], seam, along)[0]:
            x = float((point - seam) @ along)
            hashables.append(
                (key, min(range(len(marks[key])), key=lambda k: abs(marks[key][k] - x)))
            )
    return hashables
