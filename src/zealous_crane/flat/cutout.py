"""Holes and marks: from finished faces to the flat."""

from __future__ import annotations

import math

import numpy as np
import shapely

from .._typing import Array
from ..i18n import the, the_first, tr
from ..job.job import Job
from ..part.corner import RIVET_EDGE, SPOT, Fastening
from ..part.design import Design
from ..part.edge import Measured
from ..part.hole import Cutout, HolePlace, HoleShape, Joined, MarkForm, Stiffener
from ..units.length import show_length
from .element import DevelopmentError
from .features import Hole, JoinedRow, MarkLine
from .joining import PITCH, rivet_hole, spread_evenly
from .node import Node, Tree
from .path import ClosedPath
from .ring import polygons


def _path(shape: HoleShape, length: float, width: float) -> ClosedPath:
    """A cut-out about the origin, its longer size along x."""
    if shape is HoleShape.ROUND:
        r = length / 2
        return ClosedPath(np.array([[r, 0.0], [-r, 0.0]]), np.array([1.0, 1.0]))
    a, b = length / 2, width / 2
    if shape is HoleShape.RECTANGLE:
        return ClosedPath.polygon([(-a, -b), (a, -b), (a, b), (-a, b)])
    if a - b < 1e-9:
        return _path(HoleShape.ROUND, length, length)
    return ClosedPath(
        np.array([[b - a, -b], [a - b, -b], [a - b, b], [b - a, b]]), np.array([0.0, 1.0, 0.0, 1.0])
    )


def _reference(tree: Tree, node: Node, place: HolePlace, polygon: shapely.Polygon) -> float:
    """Where a distance starts, in the panel's frame, and which way it runs is known from the
    edge."""
    n = len(node.corners)
    along_u = place.edge in ("left", "right")
    axis = 0 if along_u else 1
    low, high = float(node.corners[:, axis].min()), float(node.corners[:, axis].max())
    if along_u and node.left is not None and node.right is not None:
        low = 0.0 if node.left.meets else max(0.0, node.left.inset(0))
        high = node.edge_length - (0.0 if node.right.meets else max(0.0, node.right.inset(0)))
    start = low if place.edge in ("left", "front") else high
    sign = 1.0 if place.edge in ("left", "front") else -1.0
    if place.face is Measured.FLAT:
        direction = (node.frame.u if along_u else node.frame.v) * sign
        ring = np.array(polygon.exterior.coords)
        edge = float((ring @ direction).min())
        return sign * (edge - float(node.frame.origin @ direction))
    if place.face is Measured.OUTSIDE and n == 4:
        edge = ("front", "right", "back", "left").index(place.edge)
        bend = node.bend if edge == 0 and node.parent >= 0 else None
        kid = next((k for k in tree.nodes[1:] if k.parent == node.index and k.edge == edge), None)
        bend = kid.bend if kid is not None else bend
        if bend is not None:
            start -= sign * (bend.outside_setback - bend.inside_setback)
        elif node.left is not None and node.right is not None and along_u:
            line = node.left if place.edge == "left" else node.right
            start -= sign * (node.bend.thickness if line.meets and node.bend else 0.0)
    return start


def place_on(
    tree: Tree, node: Node, place: HolePlace, axis: int, polygon: shapely.Polygon
) -> float:
    """Where a place lies in the panel's frame along u (axis 0) or v (axis 1), mm.

    Args:
        tree: the panels grown from the design.
        node: the panel.
        place: the distances as written.
        axis: 0 along, 1 away from the edge.
        polygon: (n, 2) mm, the panel.
    """
    if place.edge == "middle":
        if axis == 0 and node.left is not None:
            return node.edge_length / 2 + place.value
        ring = node.corners[:, axis]
        return float(ring.min() + ring.max()) / 2 + place.value
    sign = 1.0 if place.edge in ("left", "front") else -1.0
    return _reference(tree, node, place, polygon) + sign * place.value


def _find(tree: Tree, name: str) -> Node:
    node = next((n for n in tree.nodes if n.name == name), None)
    if node is None:
        known = ", ".join(n.name for n in tree.nodes)
        raise DevelopmentError(
            tr("There is no panel called {name} to cut or mark. This part has: {known}.").format(
                name=name, known=known
            )
        )
    return node


def cut_holes(
    job: Job, design: Design, tree: Tree, polygon: shapely.Polygon, index: dict[int, int]
) -> tuple[Hole, ...]:
    """Every cut-out, fold slot and rivet hole on the flat.

    Args:
        job: for units.
        design: what was asked for.
        tree: the panels.
        polygon: the outline.
        index: panel index by node index.

    Raises:
        DevelopmentError: a hole on no panel, over the edge, or a rivet's or a fold's slot over
            another hole.
    """
    holes: list[Hole] = []
    for k, cutout in enumerate(design.cutouts, start=1):
        holes.append(_cutout(job, tree, cutout, k, polygon, index))
    for node in tree.nodes[1:]:
        holes += _fold_slots(job, node)
        holes += _rivets(node, index)
    if not holes:
        return ()
    shapes = np.array(polygons([hole.path.flattened() for hole in holes]), dtype=object)
    inside = polygon.buffer(1e-6)
    shapely.prepare(inside)
    for hole, held in zip(holes, shapely.contains(inside, shapes).tolist(), strict=True):
        if not held:
            raise DevelopmentError(
                tr("{name} runs over the edge of the metal. Move it or make it smaller.").format(
                    name=the_first(hole.name)
                )
            )
    near = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    for i, j in sorted(near.T.tolist()):
        # Cut-outs that overlap make one opening, as a keyhole is made; what a rivet or a slot of a
        # fold needs stands by itself.
        if j < i and i >= len(design.cutouts):
            raise DevelopmentError(
                tr("{name} and {name_2} run into each other. Move one of them.").format(
                    name=the_first(holes[j].name), name_2=the(holes[i].name)
                )
            )
    return tuple(holes)


def _cutout(
    job: Job, tree: Tree, cutout: Cutout, k: int, polygon: shapely.Polygon, index: dict[int, int]
) -> Hole:
    node = _find(tree, cutout.panel)
    u, v = place_on(tree, node, cutout.x, 0, polygon), place_on(tree, node, cutout.y, 1, polygon)
    angle = math.radians(cutout.turn)
    along = node.frame.u * math.cos(angle) + node.frame.v * math.sin(angle)
    centre = node.frame.point(u, v)
    width = cutout.length if cutout.width is None else cutout.width
    word = {HoleShape.ROUND: "hole", HoleShape.SLOT: "slot", HoleShape.RECTANGLE: "cut-out"}[
        cutout.shape
    ]
    name = cutout.name or f"{word} {k} in the {node.name}"
    path = _path(cutout.shape, cutout.length, width).turned(along).moved(centre)
    turn = math.degrees(math.atan2(float(along[1]), float(along[0]))) % 180.0
    panel = index.get(node.index, -1)
    return Hole(
        name,
        path,
        centre,
        cutout.shape.value,
        (cutout.length, width),
        panel,
        cutout.after_bending,
        turn=turn,
    )


def _fold_slots(job: Job, node: Node) -> list[Hole]:
    element, bend = node.element, node.bend
    if element is None or element.slots is None or bend is None:
        return []
    slots = element.slots
    low, high = node.fold_span
    length = (high - low - (slots.count + 1) * slots.bridge) / slots.count
    width = bend.thickness if slots.width is None else slots.width
    if length <= width:
        raise DevelopmentError(
            tr(
                "{name}: {count} slots with bridges of {bridge} leave slots of {length}, shorter "
                "than they are "
                "wide. Fewer slots, or narrower bridges."
            ).format(
                name=node.name,
                count=slots.count,
                bridge=show_length(slots.bridge, job.units),
                length=show_length(max(length, 0), job.units),
            )
        )
    v = bend.inside_setback - bend.allowance / 2
    slot = _path(HoleShape.SLOT, length, width).turned(node.frame.u)
    made = []
    for i in range(slots.count):
        centre = node.frame.point(low + slots.bridge * (i + 1) + length * (i + 0.5), v)
        name = f"{node.name} fold slot {i + 1}"
        turn = math.degrees(math.atan2(float(node.frame.u[1]), float(node.frame.u[0]))) % 180.0
        made.append(Hole(name, slot.moved(centre), centre, "fold slot", (length, width), turn=turn))
    return made


def _fastenings(node: Node) -> list[Array]:
    """Places of a tab's spots or rivets on the flat."""
    element = node.element
    if (
        element is None
        or element.tab is None
        or element.tab.fastening is Fastening.NONE
        or node.bend is None
    ):
        return []
    tab, v = element.tab, (node.setback + element.height) / 2
    low = float(
        np.interp(
            v, [node.corners[0, 1], node.corners[3, 1]], [node.corners[0, 0], node.corners[3, 0]]
        )
    )
    high = float(
        np.interp(
            v, [node.corners[1, 1], node.corners[2, 1]], [node.corners[1, 0], node.corners[2, 0]]
        )
    )
    middle = (low + high) / 2
    # The ends of a tab are slanted: the distance is kept square to them.
    inset = tab.edge_distance / math.cos(math.radians(tab.taper))
    least = PITCH * (tab.rivet if tab.fastening is Fastening.RIVET else SPOT)
    return [
        node.frame.point(middle + at, v)
        for at in spread_evenly(high - low - 2 * inset, tab.pitch, least)
    ]


def tab_rows(tree: Tree, thickness: float) -> list[JoinedRow]:
    """The rows of all corner tabs, in the frame of the tree."""
    result = []
    for node in tree.nodes[1:]:
        places = _fastenings(node)
        if not places or node.element is None or node.element.tab is None:
            continue
        tab = node.element.tab
        rivets = tab.fastening is Fastening.RIVET
        hole = rivet_hole(tab.rivet) if rivets else 0.0
        pitch = float(np.hypot(*(places[1] - places[0]))) if len(places) > 1 else 0.0
        result.append(
            JoinedRow(
                panel=node.name,
                by=Joined.RIVET if rivets else Joined.SPOT,
                size=tab.rivet if rivets else SPOT,
                hole=hole,
                places=np.array(places),
                pitch=pitch,
                edge=tab.edge_distance,
                grip=2 * thickness,
                through=node.element.lies_on,
                hole_behind=hole,
            )
        )
    return result


def _rivets(node: Node, index: dict[int, int]) -> list[Hole]:
    element = node.element
    if element is None or element.tab is None or element.tab.fastening is not Fastening.RIVET:
        return []
    d = rivet_hole(element.tab.rivet)
    circle, panel, edge = (
        _path(HoleShape.ROUND, d, d).turned(node.frame.u),
        index.get(node.index, -1),
        RIVET_EDGE * element.tab.rivet,
    )
    return [
        Hole(
            f"rivet hole {i} in the {node.name}",
            circle.moved(centre),
            centre,
            "round",
            (d, d),
            panel,
            edge=edge,
        )
        for i, centre in enumerate(_fastenings(node), start=1)
    ]


def mark_lines(design: Design, tree: Tree) -> tuple[MarkLine, ...]:
    """Cross-breaks, beads, spots, and the edges of metal that is formed later.

    Raises:
        DevelopmentError: a mark on no panel, or one that leaves no room for its line.
    """
    result: list[MarkLine] = []
    for mark in design.marks:
        result += _mark(_find(tree, mark.panel), mark)
    for node in tree.nodes[1:]:
        element = node.element
        if element is not None and element.formed:
            ends = node.frame.to_flat(node.corners[:2])
            result.append(MarkLine(f"{node.name}, {element.formed}", ends[0], ends[1], "formed"))
        if (
            element is not None
            and element.tab is not None
            and element.tab.fastening is Fastening.SPOT
        ):
            result += [
                MarkLine(f"spot on the {node.name}", at, at, "spot") for at in _fastenings(node)
            ]
    return tuple(result)


def _mark(node: Node, mark: Stiffener) -> list[MarkLine]:
    s = node.setback
    low, high = node.corners.min(axis=0) + np.array([0.0, s]), node.corners.max(axis=0)
    size = high - low - 2 * mark.inset
    if size.min() <= 0:
        raise DevelopmentError(
            tr("The {form} on {name} finds no room so far inside its edges.").format(
                form=mark.form.words, name=the(node.name)
            )
        )
    if mark.form is MarkForm.BEAD:
        middle, axis = (low + high) / 2, int(size[1] > size[0])
        half = np.zeros(2)
        half[axis] = size[axis] / 2
        ends = node.frame.to_flat(np.array([middle - half, middle + half]))
        return [MarkLine(f"bead on the {node.name}", ends[0], ends[1], "bead")]
    ring = node.corners
    name = f"cross-break on the {node.name}"
    if len(ring) != 4:
        ring = np.array([low, (high[0], low[1]), high, (low[0], high[1])])
    lines = []
    for a, b in ((0, 2), (1, 3)):
        p, q = ring[a], ring[b]
        along = (q - p) / np.hypot(*(q - p))
        ends = node.frame.to_flat(np.array([p + along * mark.inset, q - along * mark.inset]))
        lines.append(MarkLine(name, ends[0], ends[1], "cross-break"))
    return lines
