"""From the design tree to panels with their ends cut: who meets whom at every corner, and where
each panel lies on the flat.

All lengths are kept between *inside corners*: the lines where the inside faces of two panels would
meet if the bend were sharp (the folded edge of a hem). Each panel has its own frame: u along its
fold from left to right as seen looking out, v outwards from the inside corner. The flat frame of a
child is its parent's edge pushed out by the bend's gain.
"""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from .._typing import Array
from ..cache import RecentCache
from ..errors import INPUT_ERRORS
from ..i18n import the, tr
from ..job.job import Job
from ..part.corner import Corner, CornerRule, Walls
from ..part.design import Base, Design, PolygonBase
from ..part.edge import Edge, edge_names
from ..part.size import BASE, names_of
from ..schema.reading import plain
from ..units.length import INCH, show_length
from .element import Bends, DevelopmentError, Element, elements, to_inside
from .features import Fold, Panel
from .node import (
    Frame,
    LoopCrease,
    Node,
    Notching,
    PanelEnd,
    Tree,
    corner_ear,
    corner_tab,
    meeting_slope,
    panels_on,
    spread_angle,
    stem,
)


def grow(job: Job, design: Design) -> Tree:
    """Grow the design into panels.

    Raises:
        DevelopmentError: a size that leaves no metal, or a corner that cannot close as written.
    """
    return _Growing(job, design).tree()


def default_gap(job: Job) -> float:
    """One thickness rounded up to what a rule can set, mm."""
    tick = INCH / 64 if job.units.is_inch else 0.1
    return math.ceil(job.sheet.thickness / tick - 1e-9) * tick


def _wall_pair(edge: int) -> Walls:
    return Walls.SIDES if edge in (Edge.FRONT.turn, Edge.BACK.turn) else Walls.ENDS


OVER_BENT = math.tan(math.radians(50.0))
"""Two hems as deep as each other, each cut back by its depth, touch at 90°; at 100° they do when
each is cut back by this much more."""


class _Growing:
    def __init__(self, job: Job, design: Design) -> None:
        self.job, self.design = job, design
        self.t = job.sheet.thickness
        self.bends = Bends(job)
        self.nodes: list[Node] = []
        self.standing: dict[int, dict[int, Element]] = {}
        self.notchings: list[Notching] = []
        self.creases: list[LoopCrease] = []
        gap = design.corner.gap
        self.gap = default_gap(job) if gap is None else gap
        self.rounded = 0.0
        for corner in (design.corner, *(c.corner for c in design.corners)):
            if corner.gap is not None and corner.gap < 0:
                raise DevelopmentError(
                    tr("The corner gap of {gap} is less than nothing.").format(
                        gap=show_length(corner.gap, job.units)
                    )
                )

    def tree(self) -> Tree:
        design, base = self.design, self.design.base
        count = 4 if isinstance(base, Base) else len(base.corners)
        try:
            names = names_of(design)
        except INPUT_ERRORS as error:
            raise DevelopmentError(str(error)) from None
        standing = elements(self.job, self.bends, design.flanges, count, names)
        corners = self._base(base, standing)
        self.nodes.append(
            Node(
                0, -1, -1, None, BASE, corners, Frame(np.zeros(2), np.array([1.0, 0.0])), (0.0, 0.0)
            )
        )
        self._children(0, standing, ({}, {}))
        return Tree(
            tuple(self.nodes), tuple(self.notchings), tuple(self.creases), self.gap, self.rounded
        )

    def _base(self, base: Base | PolygonBase, standing: tuple[Element, ...]) -> Array:
        if isinstance(base, PolygonBase):
            return np.array(base.corners, dtype=float)
        spans: list[float] = []
        too_small = (
            tr(
                "The length of {written} leaves no flat between its bends. It needs more than "
                "{length}."
            ),
            tr(
                "The width of {written} leaves no flat between its bends. It needs more than "
                "{length}."
            ),
        )
        for says, written, edges in zip(
            too_small, (base.length, base.width), ((1, 3), (0, 2)), strict=True
        ):
            bends = [e.bend for e in standing if e.edge in edges and e.bend is not None]
            span = written + sum(to_inside(base.measured, bend, self.job.datum) for bend in bends)
            across = sum(bend.inside_setback for bend in bends)
            if span - across <= 1e-9:
                raise DevelopmentError(
                    says.format(
                        written=show_length(written, self.job.units),
                        length=show_length(written - span + across, self.job.units),
                    )
                )
            spans.append(span)
        length, width = spans
        return np.array([(0.0, 0.0), (length, 0.0), (length, width), (0.0, width)])

    @cached_property
    def _away_from_base(self) -> Corner:
        """The rule at corners that are none of the base's."""
        return self.design.corner.model_copy(update={"rule": CornerRule.OPEN, "tab": None})

    # --- corners ---------------------------------------------------------------------------------

    def _corner(self, panel: int, vertex: int) -> tuple[Corner, float]:
        """The rule at a corner of a panel, and its gap."""
        corner = self.design.corner
        if panel != 0:
            return self._away_from_base, self.gap
        if len(self.nodes[0].corners) == 4:
            at = ("left-front", "front-right", "right-back", "back-left")[vertex]
            corner = next((c.corner for c in self.design.corners if c.at == at), corner)
        elif corner.rule in (CornerRule.BUTT, CornerRule.TAB, CornerRule.GUSSET):
            raise DevelopmentError(
                tr(
                    "Corners closed by a {rule} are for four-sided bases; choose open or mitre."
                ).format(rule=corner.rule.words)
            )
        return corner, self.gap if corner.gap is None else corner.gap

    def _exterior(self, corners: Array, vertex: int) -> float:
        """Degrees the outline turns at a corner."""
        n = len(corners)
        (ax, ay), (bx, by), (cx, cy) = (
            corners[k % n].tolist() for k in (vertex - 1, vertex, vertex + 1)
        )
        x, y, u, v = bx - ax, by - ay, cx - bx, cy - by
        return math.degrees(math.atan2(x * v - y * u, x * u + y * v))

    def _children(  # noqa: C901
        self,
        at: int,
        standing: tuple[Element, ...],
        lips: tuple[dict[str, float], dict[str, float]],
    ) -> None:
        """Cut everything on one panel's edges to its corners and go on from there.

        ``lips`` holds, for the left and the right end of this panel, the slope at which a lip meets
        its neighbour.
        """
        node = self.nodes[at]
        n = len(node.corners)
        by_edge = {e.edge: e for e in standing}
        self.standing[at] = by_edge
        own = node.element if node.parent >= 0 else None
        placed: dict[int, int] = {}

        def fold_on(edge: int) -> Element | None:
            return own if own is not None and edge % n == 0 else by_edge.get(edge % n)

        def across(edge: int, following: bool) -> Element | None:
            """What stands beside a corner on the panel across the fold of the next (or last)
            edge."""
            if own is not None and edge % n == 0:
                carrier = self.nodes[node.parent]
                return self.standing[node.parent].get(
                    (node.edge + (1 if following else -1)) % len(carrier.corners)
                )
            beyond = by_edge.get(edge % n)
            if beyond is None:
                return None
            side = 1 if following else (len(beyond.corners) or 4) - 1
            return next((e for e in beyond.standing if e.edge == side), None)

        for element in standing:
            left_v, right_v = (element.edge + 1) % n, element.edge
            ends = []
            for side, vertex, other in (
                ("left", left_v, element.edge + 1),
                ("right", right_v, element.edge - 1),
            ):
                mate = across(other, side == "left")
                ends.append(self._end(at, element, side, vertex, fold_on(other), mate, lips))
            left, right = (self._on_the_rule(element, line) for line, _ in ends)
            more = (*ends[0][1], *ends[1][1])
            standing_on = tuple(sorted((*element.standing, *more), key=lambda e: e.edge))
            grown = dataclasses.replace(element, standing=standing_on) if more else element
            if len({e.edge for e in grown.standing}) < len(grown.standing):
                raise DevelopmentError(
                    tr(
                        "{name}: its end already carries something; a corner tab or ear finds no "
                        "room there."
                    ).format(name=element.name)
                )
            child = self._place(at, grown, left, right)
            placed[element.edge] = child
            inner = self._lip_slopes(at, element, by_edge) if at == 0 else ({}, {})
            self._children(child, grown.standing, inner)
        for vertex in range(n):
            a, b = fold_on(vertex - 1), fold_on(vertex)
            if a is None or b is None or not (a.stands and b.stands) or a.ear or b.ear:
                continue
            corner, gap = self._corner(at, vertex)
            pair = tuple(at if e is own else placed[e.edge] for e in (a, b))
            if at == 0 and corner.rule is CornerRule.GUSSET:
                self._crease(vertex, by_edge, placed, corner)
                continue
            self.notchings.append(
                Notching(self._corner_name(at, a, b), at, vertex, (pair[0], pair[1]), corner, gap)
            )

    def _corner_name(self, at: int, a: Element, b: Element) -> str:
        if at == 0:
            names = edge_names(len(self.nodes[0].corners))
            return f"{names[a.edge]} {names[b.edge]} corner"
        return f"{a.name} and {b.name}"

    def _end(  # noqa: C901, PLR0911, PLR0913
        self,
        at: int,
        element: Element,
        side: str,
        vertex: int,
        neighbour: Element | None,
        mate: Element | None,
        lips: tuple[dict[str, float], dict[str, float]],
    ) -> tuple[PanelEnd, tuple[Element, ...]]:
        """How one end is cut, and what the corner adds to it (a tab, an ear)."""
        written = element.ends[0 if side == "left" else 1]
        context = lips[0 if side == "left" else 1]
        setback = element.bend.inside_setback if element.bend is not None else 0.0
        if written is not None:
            slope = math.tan(math.radians(written.taper))
            return PanelEnd(max(written.trim, self._beside_hem(element, neighbour)), slope), ()
        if not element.stands:
            slope = math.tan(math.radians(element.notch))
            if element.bend is None:
                return PanelEnd(0.0, slope), ()
            inside = neighbour is not None and neighbour.stands and neighbour.sign == element.sign
            # Inside a corner a hem stays clear of what is folded over on the next side, which lies
            # as deep, when the corner is over-bent.
            clear = (element.bend.inside_setback + element.bend.radius) * OVER_BENT
            beside = self.gap if neighbour is not None and neighbour.bend is None else 0.0
            trim = max(self.gap, clear) if inside else max(beside, context.get("hem", 0.0))
            return PanelEnd(trim - slope * setback, slope), ()
        if "slope" in context and element.edge == Edge.BACK.turn:
            return PanelEnd(0.0, context["slope"], True), ()
        if neighbour is None or not neighbour.stands:
            return PanelEnd(self._beside_hem(element, neighbour), 0.0), ()
        far = (len(element.corners) or 4) - 1 if side == "left" else 1
        if any(e.edge == far and e.stands and e.sign == neighbour.sign for e in element.standing):
            # The neighbour goes on round this fold on a flange of its own: nothing is cut off this
            # one.
            return PanelEnd(0.0, 0.0, True), ()
        if neighbour.sign != element.sign:
            return PanelEnd(self.gap, 0.0, True), ()
        if (
            mate is not None
            and mate.stands
            and mate.sign == element.sign
            and element.bend
            and neighbour.bend
        ):
            # Two flanges side by side, one on each side of a fold that closes on them: each is cut
            # to the line that halves it.
            lean, half = math.radians(element.bend.angle), math.radians(neighbour.bend.angle) / 2
            return PanelEnd(self.gap / 2, math.sin(lean) * math.tan(half), True), ()
        assert element.bend is not None and neighbour.bend is not None
        exterior = self._exterior(self.nodes[at].corners, vertex)
        a, b = element.bend.angle, neighbour.bend.angle
        slope = -meeting_slope(a, b, exterior)
        corner, gap = self._corner(at, vertex)
        if at != 0 or corner.rule in (CornerRule.OPEN, CornerRule.MITRE):
            return PanelEnd(gap, slope, True), ()
        between = spread_angle(a, b, exterior)
        thick = 1 / math.sin(math.radians(between))
        carries = _wall_pair(element.edge) is corner.by
        if corner.rule is CornerRule.BUTT:
            return PanelEnd(-self.t * thick if carries else gap, slope, True), ()
        if corner.rule is CornerRule.GUSSET:
            at_end, more = corner_ear(self.job, element, neighbour, side, carries, corner)
            return PanelEnd(at_end, slope, True), more
        if not carries:
            return PanelEnd(gap, slope, True), ()
        assert corner.tab is not None
        off = (self.t + corner.tab.clearance) * thick
        along = self.nodes[at].edge_frame(neighbour.edge)[2]
        tab = corner_tab(
            self.job, self.bends, element, neighbour, side, corner.tab, between, gap, along
        )
        return PanelEnd(off if corner.tab.inside else -off, slope, True), (tab,)

    def _crease(
        self, vertex: int, by_edge: dict[int, Element], placed: dict[int, int], corner: Corner
    ) -> None:
        for edge in ((vertex - 1) % 4, vertex):
            wall = by_edge[edge]
            if _wall_pair(edge) is corner.by and wall.bend is not None:
                node = self.nodes[placed[edge]]
                left = (edge + 1) % 4 == vertex
                at = 0.0 if left else node.edge_length
                low = wall.bend.inside_setback
                self.creases.append(
                    LoopCrease(
                        f"{stem(wall)} ear crease",
                        node.index,
                        -180.0,
                        ((at, low), (at, wall.height)),
                    )
                )

    def _on_the_rule(self, element: Element, line: PanelEnd) -> PanelEnd:
        """An end of a flange moved to the next tick of the rule, towards a larger notch, where it
        is folded on the line: the fold line itself lies on the rule there."""
        tick, bend = self.job.tick, element.bend
        if tick is None or bend is None or bend.allowance > 1e-9:
            return line
        at = math.ceil(line.at / tick - 1e-6) * tick
        self.rounded = max(self.rounded, at - line.at)
        return dataclasses.replace(line, at=at)

    def _beside_hem(self, element: Element, neighbour: Element | None) -> float:
        """Where a flange begins beside a hem that turns to the other face: clear of the metal that
        goes round with the hem, mm."""
        if neighbour is None or neighbour.stands or neighbour.bend is None or element.bend is None:
            return 0.0
        if neighbour.sign == element.sign:
            return 0.0
        return max(0.0, neighbour.bend.allowance - neighbour.bend.inside_setback) + self.gap

    def _lip_slopes(
        self, at: int, wall: Element, by_edge: dict[int, Element]
    ) -> tuple[dict[str, float], dict[str, float]]:
        """For a mitred corner: the slope at which a lip on this wall meets the lip on the next."""
        result: list[dict[str, float]] = []
        for vertex, other in (((wall.edge + 1) % 4, wall.edge + 1), (wall.edge, wall.edge - 1)):
            result.append({})
            neighbour = by_edge.get(other % len(self.nodes[at].corners))
            result[-1].update(
                self._hem_room(at, vertex % len(self.nodes[at].corners), wall, neighbour)
            )
            corner, _gap = self._corner(at, vertex % len(self.nodes[at].corners))
            if (
                corner.rule is not CornerRule.MITRE
                or neighbour is None
                or not (wall.stands and neighbour.stands)
            ):
                continue
            mine, theirs = (
                next((e for e in w.standing if e.edge == Edge.BACK.turn and e.stands), None)
                for w in (wall, neighbour)
            )
            if mine is None or theirs is None:
                continue
            same = (
                abs(wall.height - neighbour.height) < 1e-6
                and abs(wall.angle - neighbour.angle) < 1e-6
            )
            if not same or abs(mine.angle - theirs.angle) > 1e-6:
                raise DevelopmentError(
                    tr(
                        "The lips on {name} and {name_2} cannot be mitred: both walls and both "
                        "lips must have the"
                        " same height and angle."
                    ).format(name=the(wall.name), name_2=the(neighbour.name))
                )
            exterior = self._exterior(self.nodes[at].corners, vertex % len(self.nodes[at].corners))
            total = wall.angle + mine.angle
            result[-1]["slope"] = -meeting_slope(total, total, exterior)
        return result[0], result[1]

    def _hem_room(
        self, at: int, vertex: int, wall: Element, neighbour: Element | None
    ) -> dict[str, float]:
        """How far a hem on this wall stays back from its end for the hem folded over on the next
        wall."""
        if neighbour is None or not (
            wall.stands and neighbour.stands and wall.sign == neighbour.sign
        ):
            return {}
        theirs = next(
            (e for e in neighbour.standing if e.edge == Edge.BACK.turn and not e.stands and e.bend),
            None,
        )
        if theirs is None or theirs.bend is None or theirs.sign != neighbour.sign:
            return {}
        deep = theirs.bend.inside_setback + theirs.bend.radius
        corner, gap = self._corner(at, vertex)
        carries = _wall_pair(wall.edge) is corner.by
        # How far the wall's own end already stays inside the neighbour's inside face.
        already = gap
        if corner.rule is CornerRule.TAB and corner.tab is not None and carries:
            already = (self.t + corner.tab.clearance) * (1 if corner.tab.inside else -1)
        elif corner.rule is CornerRule.BUTT and carries:
            already = -self.t
        elif corner.rule is CornerRule.GUSSET:
            already = 0.0
        return {"hem": deep + 0.2 * self.t - already}

    # --- placing ---------------------------------------------------------------------------------

    def _place(self, at: int, element: Element, left: PanelEnd, right: PanelEnd) -> int:
        """Add a panel; returns its index."""
        node = self.nodes[at]
        origin, direction, length = node.edge_frame(element.edge)
        gain = element.bend.gain if element.bend is not None else 0.0
        # A bend's gain beyond the edge, along which u runs.
        (x, y), (along, up) = origin.tolist(), direction.tolist()
        u = along * node.frame.u + up * node.frame.v
        frame = Frame(node.frame.point(x - up * gain, y + along * gain), u)
        setback = element.bend.inside_setback if element.bend is not None else 0.0
        index = len(self.nodes)
        if element.corners:
            corners = np.array(element.corners, dtype=float)
            if corners[1, 0] > length + 1e-6:
                raise DevelopmentError(
                    tr(
                        "{name}: its fold of {length} is longer than the edge it stands on, "
                        "{length_2}."
                    ).format(
                        name=element.name,
                        length=show_length(float(corners[1, 0]), self.job.units),
                        length_2=show_length(length, self.job.units),
                    )
                )
            low, high = _width_at(corners, setback, element.name)
            made = Node(
                index,
                at,
                element.edge,
                element,
                element.name,
                corners,
                frame,
                (low, high),
                edge_length=length,
            )
            self.nodes.append(made)
            return index
        high = element.height
        low_end, high_end = (
            (left.inset(setback), length - right.inset(setback)),
            (left.inset(high), length - right.inset(high)),
        )
        if low_end[1] - low_end[0] <= 1e-6:
            raise DevelopmentError(
                tr(
                    "The corner notches leave no fold for {name}. Make the gap, the trims or the "
                    "relief smaller."
                ).format(name=the(element.name))
            )
        if high_end[1] - high_end[0] < 1e-6:
            raise DevelopmentError(
                tr(
                    "{name}: its ends taper away before its free edge; make it lower or cut the "
                    "ends back less."
                ).format(name=element.name)
            )
        corners = np.array(
            [
                (left.inset(0), 0.0),
                (length - right.inset(0), 0.0),
                (high_end[1], high),
                (high_end[0], high),
            ]
        )
        self.nodes.append(
            Node(
                index,
                at,
                element.edge,
                element,
                element.name,
                corners,
                frame,
                low_end,
                left,
                right,
                length,
            )
        )
        return index


def _width_at(corners: Array, v: float, name: str) -> tuple[float, float]:
    """Where a horizontal line at height v crosses a polygon, nearest its fold."""
    crossings: list[float] = []
    for p, q in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        if abs(p[1] - q[1]) < 1e-12:
            if abs(p[1] - v) < 1e-12:
                crossings += [float(p[0]), float(q[0])]
        elif min(p[1], q[1]) - 1e-12 <= v <= max(p[1], q[1]) + 1e-12:
            crossings.append(float(p[0] + (q[0] - p[0]) * (v - p[1]) / (q[1] - p[1])))
    if len(crossings) < 2 or max(crossings) - min(crossings) < 1e-9:
        raise DevelopmentError(
            tr("{name}: no flat is left beyond its bend. Make it larger.").format(name=name)
        )
    return min(crossings), max(crossings)


TOLD_APART = {
    "name",
    "quantity",
    "note",
    "brake",
    "order",
    "angles",
    "strike_from",
    "film",
    "grain",
    "bottomed",
    "gauging",
    "gauge_at",
    "tools",
    "tolerance",
    "sizes_within",
    "sizes_asked",
    "sizes_class",
    "springback",
    "springback_from",
    "school_from",
}
"""Fields of a job that its flat does not depend on; its brake comes in by the radius that it
makes."""


def flat_key(job: Job) -> str:
    """Everything the flat of a job depends on but its brake; equal for jobs of one flat."""
    return job.model_dump_json(exclude=TOLD_APART)


@dataclass(frozen=True, eq=False)
class Grown:
    """A design and the panels that came of it, where they lie before the flat is moved to its
    corner.

    Attributes:
        design: what was asked for.
        tree: its panels.
        panels: (n, 2) their metal by node, mm; None where it belongs to the carrier.
    """

    design: Design
    tree: Tree
    panels: tuple[Array | None, ...]

    @cached_property
    def index(self) -> dict[int, int]:
        """Panel index by node index; metal that belongs to its carrier has its carrier's."""
        index: dict[int, int] = {}
        for node, ring in zip(self.tree.nodes, self.panels, strict=True):
            index[node.index] = len({*index.values()}) if ring is not None else index[node.parent]
        return index

    def laid_at(self, move: Array) -> tuple[Panel, ...]:
        """The panels, moved by (2,) mm."""
        return tuple(
            Panel(node.name, ring + move, node.element.lies_on if node.element else "")
            for node, ring in zip(self.tree.nodes, self.panels, strict=True)
            if ring is not None
        )

    def folds_at(self, spans: Sequence[tuple[float, float]], move: Array) -> tuple[Fold, ...]:
        """The folds, from and to (mm along its bend line) of each, moved by (2,) mm."""
        nodes = self.bent
        return tuple(
            _fold(node, bend_line(node) + move, span, self.index)
            for node, span in zip(nodes, spans, strict=True)
        )

    @property
    def bent(self) -> list[Node]:
        """The panels that are bent up, in the order of their folds."""
        return [node for node in self.tree.nodes[1:] if node.bend is not None]


def bend_line(node: Node) -> Array:
    """Where a panel's bend line begins on the flat, (2,) mm."""
    assert node.bend is not None
    return node.frame.point(0.0, node.bend.inside_setback - node.bend.allowance / 2)


def _fold(node: Node, origin: Array, span: tuple[float, float], index: dict[int, int]) -> Fold:
    """The fold of a node.

    Args:
        node: the panel that is folded.
        origin: where its bend line begins, (2,) mm.
        span: from and to, mm along it.
        index: panel index by node index.
    """
    bend, element, along = node.bend, node.element, node.frame.u
    assert bend is not None and element is not None
    return Fold(
        name=node.name,
        parent=index[node.parent],
        child=index[node.index],
        start=origin + span[1] * along,
        end=origin + span[0] * along,
        outward=node.frame.v,
        angle=element.angle,
        bend=bend,
        made_by=element.made_by,
    )


KEPT = 8
"""Designs kept; the oldest go first. A part is measured for its mates, and then laid flat."""

_kept: RecentCache[Grown] = RecentCache(KEPT)


def grown(job: Job) -> Grown:
    """A job's design grown into panels; once for jobs of one flat.

    Raises:
        DevelopmentError: its sizes make no part, or a panel has no metal left.
    """
    return _kept.of(flat_key(job), lambda: _grown(job))


def _grown(job: Job) -> Grown:
    design = design_of(job)
    tree = grow(job, design)
    return Grown(design, tree, tuple(panels_on(tree)))


def design_of(job: Job) -> Design:
    """What is asked for, as a tree.

    Raises:
        DevelopmentError: its sizes make no part.
    """
    try:
        return job.part.design(job.sheet.thickness)
    except INPUT_ERRORS as error:
        raise DevelopmentError(plain(error)) from None
