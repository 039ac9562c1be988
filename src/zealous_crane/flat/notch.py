"""The straight sides of a notch that are cut, and the reliefs at it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from .._typing import Array
from ..cache import cached
from ..i18n import Phrase, msg, tr
from ..job.tools import SmallTools
from ..metal.bend import Bend
from ..part.corner import CornerRule, ReliefShape
from ..part.corner import ReliefRule as WantedRelief
from ..units.figures import Length
from ..units.length import Units, show_length
from .blank import Blank
from .element import DevelopmentError, MadeBy
from .features import Notch, Relief
from .node import Node, Notching, Tree
from .ring import Point, RoundCut
from .ruler import next_mark

SAME = 0.01
"""Two settings closer than this (mm) are one; no scribe can tell them apart."""


@cached(16, lasts=True)
def straight_sides(blank: Blank) -> tuple[tuple[tuple[Point, Point], ...], ...]:
    """For every notch of a blank, the straight sides of its waste that are cut, reliefs left out.
    Kept for the last few."""
    return tuple(_straight(blank, notch) for notch in blank.notches)


def _straight(blank: Blank, notch: Notch) -> tuple[tuple[Point, Point], ...]:
    points = notch.waste.points
    ends = np.concatenate((points[1:], points[:1]))
    size = np.array(blank.size)
    on_edge = (
        ((np.abs(points) < SAME) & (np.abs(ends) < SAME))
        | ((np.abs(points - size) < SAME) & (np.abs(ends - size) < SAME))
    ).any(axis=1)
    along = ends - points
    cut = (
        (notch.waste.bulges == 0.0)
        & ~on_edge
        & (np.hypot(along[:, 0], along[:, 1]) > blank.thickness / 2)
    )
    if blank.reliefs:
        centres, sizes = (
            np.array([r.centre for r in blank.reliefs]),
            np.array([r.size for r in blank.reliefs]),
        )
        away = ((points + ends) / 2)[:, None] - centres
        cut &= ~(np.hypot(away[..., 0], away[..., 1]) < sizes * 0.75).any(axis=1)
    corners, following = points.tolist(), ends.tolist()
    return tuple((tuple(corners[i]), tuple(following[i])) for i in np.flatnonzero(cut).tolist())


@cached(16, lasts=True)
def reliefs_at(blank: Blank) -> tuple[tuple[Relief, ...], ...]:
    """For every notch of a blank, the reliefs its waste takes in. Kept for the last few."""
    if not blank.reliefs:
        return ((),) * len(blank.notches)
    centres, sizes = (
        np.array([r.centre for r in blank.reliefs]),
        np.array([r.size for r in blank.reliefs]),
    )
    result = []
    for notch in blank.notches:
        away = notch.waste.points[:, None] - centres
        near = np.hypot(away[..., 0], away[..., 1]).min(axis=0) < sizes
        result.append(tuple(blank.reliefs[k] for k in np.flatnonzero(near).tolist()))
    return tuple(result)


def relief_reach(bends: tuple[Bend, Bend]) -> float:
    """How far a relief must reach from the crossing of two bend lines, mm: r + T past both tangent
    lines.

    Common design rule for sheet metal (width at least T, depth r + T beyond the tangent), as
    handbooks print it; from memory.
    """
    return max(b.allowance / 2 + b.radius + b.thickness for b in bends)


HIDES = 1.0
"""Thicknesses beyond its reach by which a relief may grow to take the point of the notch in. Where
the point lies farther out, as beside a trimmed end, the notch is cut in to the bend lines instead:
a hole that large would show in the finished corner."""

MOST = 1.5
"""Diameter of a relief, in heights of the narrower wall, beyond which it would cut the wall off."""

SHARE = 0.5
"""Share of the narrower wall at a corner that a relief chosen by the rule may take."""


@dataclass(frozen=True)
class NotchCut:
    """What is taken out at one place.

    Attributes:
        relief: the relief; None without one.
        shapes: rings (n, 2) to take away.
        circle: its circle, where round.
        rule: the sentence that gives the relief its size.
        far: how far (mm) from its centre a point still belongs to the relief.
    """

    relief: Relief | None
    shapes: tuple[Array, ...]
    circle: RoundCut | None = None
    rule: Phrase = ""
    far: float = 0.0


def _crossing(p: Array, along: Array, q: Array, other: Array) -> Array | None:
    """Where two lines cross; None when they run side by side."""
    # Plain floats are faster than arrays of two.
    (px, py), (ax, ay), (qx, qy), (bx, by) = p.tolist(), along.tolist(), q.tolist(), other.tolist()
    det = ax * by - ay * bx
    if abs(det) < 1e-9:
        return None
    far = ((qx - px) * by - (qy - py) * bx) / det
    return np.array((px + ax * far, py + ay * far))


def _bend_line(node: Node) -> tuple[Array, Array]:
    """A point and the direction of a panel's bend line on the flat."""
    bend = node.bend
    assert bend is not None
    return node.frame.point(0.0, bend.inside_setback - bend.allowance / 2), node.frame.u


def _end_line(node: Node, left: bool) -> tuple[Array, Array]:
    """A point and the outward direction of one end of a panel on the flat."""
    at = 3 if left else 1
    p, q = node.corners[at], node.corners[(at + 1) % len(node.corners)]
    low, high = (p, q) if p[1] <= q[1] else (q, p)
    start = node.frame.point(*low.tolist())
    along = node.frame.point(*high.tolist()) - start
    return start, along / math.hypot(*along.tolist())


def _carry_on(first: Node, second: Node) -> bool:
    """True when either wall carries something on the end at their corner."""
    return any(
        e.edge == edge
        for node, edge in ((first, len(first.corners) - 1), (second, 1))
        if node.element
        for e in node.element.standing
    )


@dataclass(frozen=True)
class Wedge:
    """The notch between two folds of one panel, before its relief.

    Attributes:
        centre: (2,) where the bend lines cross on the flat.
        point: mm from there to the point of the notch; 0 where the corner has none.
        shapes: rings (n, 2) to take away.
        reach: what its relief has to reach from the centre, mm.
        room: height of the narrower wall, mm.
    """

    centre: Array
    point: float
    shapes: tuple[Array, ...]
    reach: float
    room: float

    @property
    def ruled(self) -> float:
        """Least diameter or side of a relief here, mm."""
        return 2 * max(self.reach, self.point)


def wedge(
    tree: Tree, notching: Notching, units: Units, tools: SmallTools, reach: float
) -> Wedge | None:
    """The notch at a corner; None where the two folds run side by side.

    Args:
        tree: the panels.
        notching: which corner.
        units: for tool sizes.
        tools: what hangs on the wall.
        reach: longer than the part, mm.
    """
    first, second = (tree.nodes[i] for i in notching.folds)
    bends = (first.bend, second.bend)
    assert bends[0] is not None and bends[1] is not None
    lines = _bend_line(first), _bend_line(second)
    centre = _crossing(*lines[0], *lines[1])
    if centre is None:
        return None
    needed = relief_reach((bends[0], bends[1]))
    room = min(
        (
            n.element.height
            for n in (first, second)
            if n.element is not None and n.parent == notching.panel
        ),
        default=math.inf,
    )
    siblings = (
        first.parent == second.parent == notching.panel
        and len(first.corners) == 4
        and len(second.corners) == 4
    )
    open_corner = notching.corner.rule in (CornerRule.OPEN, CornerRule.MITRE) and not _carry_on(
        first, second
    )
    if not (siblings and open_corner and first.left is not None and second.right is not None):
        return Wedge(centre, 0.0, (), needed, room)
    # The first wall ends at its left, the second at its right: their end lines cross at the point
    # of the notch.
    one, two = _end_line(first, True), _end_line(second, False)
    at = _crossing(*one, *two)
    if at is None:
        return Wedge(centre, 0.0, (), needed, room)
    point = math.dist(at.tolist(), centre.tolist())
    outward = float(one[1] @ first.frame.v) > 0 and float(two[1] @ second.frame.v) > 0
    turn = one[1][0] * two[1][1] - one[1][1] * two[1][0]
    shapes: list[Array] = []
    if outward and turn > 1e-9:
        shapes.append(
            np.array([at, at + one[1] * reach, at + (one[1] + two[1]) * reach, at + two[1] * reach])
        )
    if point > max(needed + HIDES * bends[0].thickness, tools.next_round(2 * needed, units) / 2):
        feet = _crossing(*one, *lines[0]), _crossing(*two, *lines[1])
        if feet[0] is not None and feet[1] is not None:
            hull = shapely.MultiPoint([centre, feet[0], at, feet[1]]).convex_hull
            if hull.geom_type == "Polygon":
                shapes.append(shapely.get_coordinates(hull))
            point = 0.0
    return Wedge(centre, point, tuple(shapes), needed, room)


def one_size(wedges: Sequence[Wedge], units: Units, tools: SmallTools) -> float:
    """The relief that serves the most corners of a part, mm: one tool for all, but for those it
    would cut away.

    Args:
        wedges: the notches of a corner.
        units: what lengths are shown in.
        tools: the punches that hang on the wall.
    """
    return max((tools.next_round(w.ruled, units) for w in wedges), default=0.0)


def relief_size(at: Wedge, common: float, units: Units, tools: SmallTools) -> float:
    """The relief the rule chooses at a corner, mm: that of the whole part where the corner has room
    for it.

    Args:
        at: (2,) mm, the inner point.
        common: reliefs of the job's corners.
        units: what lengths are shown in.
        tools: the punches that hang on the wall.
    """
    if common / 2 <= SHARE * at.room:
        return common
    own = tools.next_round(at.ruled, units)
    if own / 2 < at.room:
        return own
    # The wall is lower than the rule's relief is deep: what it can hide is taken, and a finding
    # says that it is small.
    return max(tools.last_round(MOST * at.room, units), 2 * at.point)


def corner_cut(
    tree: Tree,
    notching: Notching,
    notch: Wedge | None,
    common: float,
    units: Units,
    tools: SmallTools,
) -> NotchCut:
    """The cut where two folds of one panel meet.

    Args:
        tree: the panels.
        notching: which corner.
        notch: its notch, None where there is none.
        common: the relief the part's corners share, mm.
        units: for messages and tool sizes.
        tools: what hangs on the wall.

    Raises:
        DevelopmentError: a typed relief does not cover the point of the notch, or is larger than a
            wall.
    """
    if notch is None:
        return NotchCut(None, ())
    first, second = (tree.nodes[i] for i in notching.folds)
    shapes, point, ruled = notch.shapes, notch.point, notch.ruled
    wanted = notching.corner.relief
    if wanted.shape is ReliefShape.NONE:
        return NotchCut(None, shapes, rule=msg("No relief."))
    size = wanted.size if wanted.size is not None else relief_size(notch, common, units, tools)
    if wanted.size is not None:
        chosen = msg("the size was given")
    elif size > tools.next_round(ruled, units) + 1e-9:
        chosen = msg("the size the other corners of the part need, so that one tool serves all")
    else:
        chosen = msg("rounded up to the next punch or drill")
    covers = msg(", and takes in the point of the notch") if point > notch.reach else ""
    rule = msg(
        "Reaches r + T past the tangent lines{covers}: {size}, {chosen}. Published design "
        "rule; not checked against the source.",
        covers=covers,
        size=Length(ruled, units, fine=True),
        chosen=chosen,
    )
    half = size / 2
    if wanted.shape is not ReliefShape.SLOT and (half <= 0 or point > half + 1e-9):
        raise DevelopmentError(
            tr(
                "A relief of {size} does not reach the point of the notch. Make it at least "
                "{length}, or let the rule choose."
            ).format(
                size=show_length(size, units),
                length=show_length(tools.next_round(ruled, units), units),
            )
        )
    if half >= notch.room:
        raise DevelopmentError(
            tr("A relief of {size} cuts right through the wall. Make it smaller.").format(
                size=show_length(size, units)
            )
        )
    return _relief(notching.name, wanted, notch.centre, first, second, size, ruled, rule, shapes)


def _relief(  # noqa: PLR0913
    name: str,
    wanted: WantedRelief,
    centre: Array,
    first: Node,
    second: Node,
    size: float,
    ruled: float,
    rule: Phrase,
    shapes: tuple[Array, ...],
) -> NotchCut:
    half = size / 2
    made = Relief(name, wanted.shape.value, size, centre, ruled)
    if wanted.shape is ReliefShape.ROUND:
        circle = RoundCut(centre, half)
        return NotchCut(made, (*shapes, circle.ring), circle, rule, half * 1.01 + 1e-6)
    u, v = first.frame.u, first.frame.v
    if wanted.shape is ReliefShape.SQUARE:
        square = np.array(
            [centre + half * (a * u + b * v) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
        )
        return NotchCut(made, (*shapes, square), None, rule, half * math.sqrt(2) * 1.01 + 1e-6)
    # A slot on the line that halves the corner: as wide as the tool, from the depth the rule asks
    # out past the notch.
    out = first.frame.v + second.frame.v
    length = float(np.hypot(*out))
    out = out / length if length > 1e-6 else first.frame.v
    side = np.array([-out[1], out[0]])
    width = (
        size
        if wanted.size is not None
        else max(1.5 * (first.bend.thickness if first.bend else 1.0), size / 4)
    )
    deep, far = ruled / 2, ruled * 2
    slot = np.array(
        [
            centre - out * deep + side * width / 2,
            centre - out * deep - side * width / 2,
            centre + out * far - side * width / 2,
            centre + out * far + side * width / 2,
        ]
    )
    return NotchCut(
        Relief(name, "slot", width, centre, ruled), (*shapes, slot), None, rule, far * 1.1
    )


def _hem_end(tree: Tree, node: Node, left: bool) -> NotchCut | None:
    """Beside the end of a hem the metal is cut back to the hem's tangent line, or it would be
    pulled over with it."""
    bend = node.bend
    at = node.span[0] if left else node.edge_length - node.span[1]
    if bend is None or at <= 1e-6:
        return None
    # Next to a fold it is cut as far as that fold's own line; the hem on the other side does the
    # same.
    carrier = tree.nodes[node.parent]
    count = len(carrier.corners)
    beside = (node.edge + (1 if left else -1)) % count
    fold = (
        carrier
        if carrier.parent >= 0 and beside == 0
        else next((n for n in tree.nodes[1:] if n.parent == node.parent and n.edge == beside), None)
    )
    beyond = (
        max(0.0, fold.bend.line_to_inside) + 1e-6
        if fold is not None and fold.bend is not None
        else bend.thickness
    )
    inner, outer = bend.inside_setback - bend.allowance, bend.inside_setback + bend.thickness
    edge = 0.0 if left else node.edge_length
    sign = -1.0 if left else 1.0
    low, high = edge + sign * beyond, edge - sign * at
    box = [(low, inner), (high, inner), (high, outer), (low, outer)]
    return NotchCut(None, (node.frame.to_flat(np.array(box)),), None, "")


def end_cut(
    tree: Tree, node: Node, left: bool, wanted: WantedRelief, units: Units
) -> NotchCut | None:
    """The relief where a fold ends within its edge: at least as wide as the metal is thick, r + T
    past the tangent line.

    Args:
        tree: the panels grown from the design.
        node: the panel.
        left: it is the left end.
        wanted: what the end asks for.
        units: what lengths are shown in.
    """
    bend = node.bend
    if bend is None or node.element is None:
        return None
    if not node.element.stands:
        return _hem_end(tree, node, left)
    if wanted.shape is ReliefShape.NONE:
        return None
    if node.element.made_by is MadeBy.HAND or (bend.radius < 1e-9 and bend.thickness <= 1.0):
        # Thin sheet folded sharp on the line is nicked by the cut itself.
        return None
    at = node.span[0] if left else node.span[1]
    room = at if left else node.edge_length - at
    if room <= 1e-6:
        return None
    width = min(next_mark(bend.thickness, units), room)
    sign = -1.0 if left else 1.0
    # In the child's frame the carrying panel's tangent line lies at setback − BA.
    inner = bend.inside_setback - bend.allowance - (bend.radius + bend.thickness)
    outer = bend.inside_setback + bend.thickness
    box = [(at, inner), (at + sign * width, inner), (at + sign * width, outer), (at, outer)]
    ring = node.frame.to_flat(np.array(box))
    centre = node.frame.point(at + sign * width / 2, bend.inside_setback - bend.allowance / 2)
    made = Relief(f"{node.name} end", "slot", width, centre, bend.thickness, at_corner=False)
    return NotchCut(
        made,
        (ring,),
        None,
        tr("At least as wide as the metal is thick, r + T past the tangent line."),
        far=outer - inner + width,
    )
