"""What the design tree grows into: panels cut to their corners, each in its own frame, and the
corners between folds.

All lengths are kept between inside corners; see :mod:`.tree`.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry.polygon import orient

from .._typing import Array
from ..i18n import the, tr
from ..job.job import Job
from ..metal.bend import Bend
from ..part.corner import Corner, Tab
from ..part.edge import Edge, End
from ..units.length import show_length
from .element import Bends, DevelopmentError, Element, MadeBy
from .ring import area, half_plane, is_convex, less, without_repeats


@dataclass(frozen=True)
class Frame:
    """A panel's frame on the flat.

    Attributes:
        origin: (2,) mm.
        u: (2,) unit vector along its fold; v is u turned left.
    """

    origin: Array
    u: Array

    @cached_property
    def v(self) -> Array:
        """(2,) unit vector outwards."""
        return np.array([-self.u[1], self.u[0]])

    def to_flat(self, points: Array) -> Array:
        """(n, 2) points of the panel on the flat."""
        placed: Array = self.origin + points[:, :1] * self.u + points[:, 1:] * self.v
        return placed

    @cached_property
    def _plain(self) -> tuple[float, float, float, float]:
        x, y = self.origin.tolist()
        across, up = self.u.tolist()
        return x, y, across, up

    def point(self, u: float, v: float) -> Array:
        """One point on the flat."""
        # Plain floats are faster than arrays of two.
        x, y, across, up = self._plain
        return np.array((x + u * across - v * up, y + u * up + v * across))


@dataclass(frozen=True)
class PanelEnd:
    """One end of a panel: u = at + slope·v, counted inwards from the end of its edge.

    Attributes:
        at: mm at the inside corner.
        slope: mm per mm.
        meets: the end was cut to meet a neighbour that stands.
    """

    at: float
    slope: float
    meets: bool = False

    def inset(self, v: float) -> float:
        """How far the end lies inside its edge's end at height v, mm."""
        return self.at + self.slope * v


@dataclass(frozen=True)
class Node:
    """A panel of the part, cut to its corners.

    Attributes:
        index, parent: place in the list, and that of the carrying panel (−1 for the base).
        edge: index of the parent's edge it stands on.
        element: what it is; None for the base.
        name: as the shop calls it.
        corners: (n, 2) mm in its own frame, between inside corners, counter-clockwise; corner 0 to
            1 is its fold.
        frame: where it lies on the flat.
        span: (u, u) mm: ends of the metal at its tangent line.
        left, right: how its ends are cut; None for base and facets.
        edge_length: length of the edge it stands on, mm.
    """

    index: int
    parent: int
    edge: int
    element: Element | None
    name: str
    corners: Array
    frame: Frame
    span: tuple[float, float]
    left: PanelEnd | None = None
    right: PanelEnd | None = None
    edge_length: float = 0.0

    @property
    def bend(self) -> Bend | None:
        return None if self.element is None else self.element.bend

    @property
    def fold_span(self) -> tuple[float, float]:
        """From and to, mm along the edge it stands on: where it is bent."""
        return max(0.0, self.span[0]), min(self.edge_length, self.span[1])

    @property
    def setback(self) -> float:
        """Inside corner to tangent line, mm."""
        return 0.0 if self.bend is None else self.bend.inside_setback

    def edge_frame(self, i: int) -> tuple[Array, Array, float]:
        """Origin and direction (u) of whatever stands on edge i, in this panel's frame, and the
        edge's length."""
        p, q = self.corners[i], self.corners[(i + 1) % len(self.corners)]
        (x, y), (u, v) = p.tolist(), q.tolist()
        length = math.hypot(u - x, v - y)
        return q, (p - q) / length, length


@dataclass(frozen=True)
class Notching:
    """A corner between two folds of one panel, for its relief and its notch.

    Attributes:
        name: as the shop calls it.
        panel: index of the panel.
        vertex: index of its corner.
        folds: node indices of the two folds' outer panels (the panel's own index for its own fold).
        corner: the rule in force.
        gap: mm.
    """

    name: str
    panel: int
    vertex: int
    folds: tuple[int, int]
    corner: Corner
    gap: float


@dataclass(frozen=True)
class LoopCrease:
    """A crease that closes a ring of panels, and so carries none: the ear of a folded corner on the
    other wall."""

    name: str
    panel: int
    angle: float
    ends: tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class Tree:
    """Everything grown: panels, corners between folds, closing creases; and how much the most
    rounded notch line was moved to a tick of the rule, mm."""

    nodes: tuple[Node, ...]
    notchings: tuple[Notching, ...]
    creases: tuple[LoopCrease, ...]
    gap: float
    rounded: float = 0.0


def stem(wall: Element) -> str:
    """A wall's name without the word wall."""
    return wall.name.removesuffix(" wall")


def spread_angle(a: float, b: float, exterior: float) -> float:
    """Degrees between two walls standing at ``a`` and ``b`` degrees on edges that turn by
    ``exterior``: what a tab folds.

    From the walls' inside normals: cos = cos a·cos b + sin a·sin b·cos ε.

    Args:
        a: (2,) one edge.
        b: (2,) the other edge.
        exterior: degrees between the edges.
    """
    a, b, e = (math.radians(x) for x in (a, b, exterior))
    return math.degrees(
        math.acos(
            max(-1.0, min(1.0, math.cos(a) * math.cos(b) + math.sin(a) * math.sin(b) * math.cos(e)))
        )
    )


def meeting_slope(a: float, b: float, exterior: float) -> float:
    """How fast the inside faces of two walls meet farther out, mm per mm up the first, positive
    when it grows wider.

    Wall a leans at ``a`` degrees, its neighbour at ``b``, on edges that turn by ``exterior``. A
    point u along and v up wall a lies u·sin ε + v·cos a·cos ε out from the neighbour's edge, at
    height v·sin a, where the neighbour has come v·sin a·cot b.

    Args:
        a: one panel.
        b: the other panel.
        exterior: degrees between the edges.
    """
    a, b, e = (math.radians(x) for x in (a, b, exterior))
    if abs(a - b) < 1e-12:
        return math.cos(a) * math.tan(e / 2)
    return (math.sin(a) / math.tan(b) - math.cos(a) * math.cos(e)) / math.sin(e)


def corner_tab(  # noqa: PLR0913
    job: Job,
    bends: Bends,
    wall: Element,
    neighbour: Element,
    side: str,
    tab: Tab,
    between: float,
    gap: float,
    along: float,
) -> Element:
    """The tab on one end of a wall.

    Args:
        job: for units.
        bends: its bends.
        wall: carries it, on its ``side`` (left or right).
        neighbour: the wall it lies on.
        tab: its sizes.
        between: degrees it is folded.
        gap: of the corner, mm.
        along: length of the neighbour, mm.

    Raises:
        DevelopmentError: it is longer than the neighbour, no longer than its own bend, or tapers
            away.
    """
    assert wall.bend is not None and neighbour.bend is not None
    bend = bends.of(between)
    if tab.length > along:
        raise DevelopmentError(
            tr("The tab of {length} on {name} is longer than {name_2} it lies on, {along}.").format(
                length=show_length(tab.length, job.units),
                name=the(wall.name),
                name_2=the(neighbour.name),
                along=show_length(along, job.units),
            )
        )
    if tab.length <= bend.inside_setback:
        raise DevelopmentError(
            tr("The tab of {length} on {name} is no longer than its own bend.").format(
                length=show_length(tab.length, job.units), name=the(wall.name)
            )
        )
    foot = (
        tab.foot
        if tab.foot is not None
        else max(wall.bend.inside_setback, neighbour.bend.inside_setback) + gap
    )
    bottom, top = End(trim=foot, taper=tab.taper), End(trim=tab.top, taper=tab.taper)
    if foot + tab.top + 2 * tab.length * math.tan(math.radians(tab.taper)) >= wall.height:
        raise DevelopmentError(
            tr(
                "The tab of {length} on {name} tapers away to nothing: make it shorter, its taper "
                "less, or the wall higher."
            ).format(length=show_length(tab.length, job.units), name=the(wall.name))
        )
    edge, ends = (Edge.LEFT, (bottom, top)) if side == "left" else (Edge.RIGHT, (top, bottom))
    return Element(
        edge.turn,
        f"{stem(wall)} {stem(neighbour)} tab",
        tr("tab"),
        bend,
        wall.sign,
        tab.length,
        ends,
        tab=tab,
        lies_on=neighbour.name,
    )


def corner_ear(
    job: Job, wall: Element, neighbour: Element, side: str, carries: bool, corner: Corner
) -> tuple[float, tuple[Element, ...]]:
    """A folded corner: the wall that takes the ear ends where it is; the other one carries the
    ear's two halves.

    Args:
        job: the job.
        wall: the wall.
        neighbour: the wall beside it.
        side: 0 at its left end, 1 at its right.
        carries: the ear stands on this wall.
        corner: what the corner asks for.

    Returns:
        how far the wall's end stays back (negative: runs on), mm, and what it carries.

    Raises:
        DevelopmentError: walls of unequal height, not square, or too low.
    """
    assert wall.bend is not None and neighbour.bend is not None
    units, t = job.units, job.sheet.thickness
    if abs(wall.height - neighbour.height) > 1e-6:
        raise DevelopmentError(
            tr(
                "A folded corner needs two walls of one height; {name} is {height} and {name_2} "
                "{height_2} high inside."
            ).format(
                name=the(wall.name),
                height=show_length(wall.height, units),
                name_2=the(neighbour.name),
                height_2=show_length(neighbour.height, units),
            )
        )
    if abs(wall.bend.angle - 90) > 1e-6 or abs(neighbour.bend.angle - 90) > 1e-6 or wall.sign < 0:
        raise DevelopmentError(
            tr("A folded corner is for walls that stand at 90°; choose another corner.")
        )
    if carries:
        return 0.0, ()
    # Two thicknesses lie between wall and ear, so its crease moves out by them; inside, in.
    shift = 2 * t if corner.ear_outside else -2 * t
    high = wall.height
    if high <= 4 * t:
        raise DevelopmentError(
            tr("A wall of {high} is too low for a folded corner.").format(
                high=show_length(high, units)
            )
        )
    # Along the crease from the bottom: the diagonal starts where the walls' inside corners meet on
    # the flat.
    off = shift - wall.bend.gain
    low = max(off, 0.0)
    shape = (
        [(low, 0.0), (high, 0.0), (high, high - off)]
        if off > 0
        else [(0.0, 0.0), (high, 0.0), (high, high - off), (0.0, -off)]
    )
    diagonal = 2
    if side == "right":
        mirrored = [(high - u, v) for u, v in shape]
        shape = [mirrored[1], mirrored[0], *mirrored[:1:-1]]
        diagonal = 1 if off > 0 else 2
    long = math.sqrt(2) * (high - low)
    other = Element(
        diagonal,
        f"{stem(wall)} {stem(neighbour)} ear, far half",
        tr("ear"),
        Bend(180.0, 0.0, t, 2 * t),
        1,
        long / 2,
        made_by=MadeBy.HAND,
        corners=((0.0, 0.0), (long, 0.0), (long / 2, long / 2)),
        ear=True,
    )
    ear = Element(
        (Edge.LEFT if side == "left" else Edge.RIGHT).turn,
        f"{stem(wall)} {stem(neighbour)} ear",
        tr("ear"),
        Bend(90.0, 0.0, t, 0.0),
        1,
        high,
        made_by=MadeBy.HAND,
        corners=tuple(shape),
        standing=(other,),
        ear=True,
    )
    return -shift, (ear,)


JOIN = 1e-6
"""Metal reaches this far (mm) into what it joins, so that neighbours never fall apart by
rounding."""


def panels_on(tree: Tree) -> list[Array | None]:
    """The metal of every panel on the flat (n, 2); None where it belongs to its carrier.

    Raises:
        DevelopmentError: a panel has no metal left.
    """
    kids: dict[int, list[Node]] = {}
    for node in tree.nodes[1:]:
        kids.setdefault(node.parent, []).append(node)
    return [
        None
        if node.parent >= 0 and node.bend is None
        else node.frame.to_flat(_metal(node, kids.get(node.index, []), tree))
        for node in tree.nodes
    ]


def _metal(node: Node, kids: list[Node], tree: Tree) -> Array:  # noqa: C901
    """A panel's own metal in its frame: its polygon less a setback along every fold."""
    ring = (
        half_plane(node.corners, np.array([0.0, node.setback]), np.array([0.0, 1.0]))
        if node.parent >= 0
        else node.corners
    )
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
            band = [
                origin + u * along + v * out
                for u, v in ((low, -kid.setback), (high, -kid.setback), (high, 1), (low, 1))
            ]
            rest.append(shapely.Polygon(band))
        if len(ring) < 3:
            break
    if len(ring) < 3 or abs(area(ring)) < 1e-6:
        raise DevelopmentError(
            tr(
                "{name}: no flat is left between its bends. Make it larger, or the inside radius "
                "smaller."
            ).format(name=node.name)
        )
    if not rest and not extra:
        return ring
    shape = shapely.union_all([shapely.Polygon(ring), *extra])
    for strip in rest:
        shape = less(shape, strip)
    if isinstance(shape, shapely.MultiPolygon):
        # A fold that stops just short of a corner leaves a sliver there; it is cut away with the
        # relief.
        largest = max(shape.geoms, key=lambda g: g.area)
        shape = largest if shape.area - largest.area < 0.01 * shape.area else shape
    if not isinstance(shape, shapely.Polygon) or shape.area < 1e-6:
        raise DevelopmentError(
            tr(
                "{name}: its folds leave no metal in one piece between them. Make it larger."
            ).format(name=node.name)
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
