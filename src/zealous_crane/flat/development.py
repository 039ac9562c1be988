"""Where metal lies on a straight line across it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from .._typing import Array
from ..cache import RecentCache
from ..i18n import msg, the, the_first, tr
from ..job.job import Job
from ..metal.bend import ToolRadius
from ..part.design import Design
from ..units.length import show_length
from ..units.sums import Sum, SumKind, Term
from .blank import Blank
from .checks import FlatCheck
from .cutout import cut_holes, mark_lines, tab_rows
from .element import DevelopmentError, MadeBy
from .features import Crease, Fold, MarkLine, Notch, Relief
from .from_drawing import develop_drawing
from .joining import joined
from .node import Tree
from .outline import Flat, lay_flat
from .panel_tree import Grown, bend_line, flat_key, grown
from .path import ClosedPath
from .ring import polygons
from .sums import blank_sums, chains, hole_sums

BESIDE = 1e-9
"""mm; metal is looked for this far on either side of the line, so that an edge which lies on it
counts."""

SEEN = 1e-7
"""mm; less metal than this is none."""


def metal_on(
    metal: shapely.Polygon, origins: Array, along: Array, spans: Array
) -> list[tuple[float, float] | None]:
    """Extent of metal along straight lines: its first and last point, gaps in between left out.

    Args:
        metal: the sheet, with its holes.
        origins: (n, 2) mm, a point on every line.
        along: (n, 2) unit vectors, their directions.
        spans: (n, 2) mm from the origins, between which each line is looked at.

    Returns:
        from and to, mm from the origins; None where no metal lies on the line.
    """
    corners, of = shapely.get_coordinates(shapely.get_rings(metal), return_index=True)
    # Each ring comes closed: its last corner is its first.
    sides = (of[1:] == of[:-1])[:, None]
    places = (corners @ along.T) - (origins * along).sum(axis=1)
    square = np.stack([-along[:, 1], along[:, 0]], axis=1)
    heights = (corners @ square.T) - (origins * square).sum(axis=1)
    begins, ends = np.full(len(spans), np.inf), np.full(len(spans), -np.inf)
    for off in (-BESIDE, BESIDE):
        above = heights > off
        here, line = np.divmod(np.flatnonzero((above[1:] != above[:-1]) & sides), len(spans))
        a, b = heights[here, line] - off, heights[here + 1, line] - off
        met = places[here, line] + (places[here + 1, line] - places[here, line]) * (a / (a - b))
        # Along every line the metal begins at the first meeting with the outline, ends at the
        # second, and so on.
        order = np.lexsort((met, line))
        line, first, last = line[order[::2]], met[order[::2]], met[order[1::2]]
        low, high = np.maximum(first, spans[line, 0]), np.minimum(last, spans[line, 1])
        seen = high - low > SEEN
        np.minimum.at(begins, line[seen], low[seen])
        np.maximum.at(ends, line[seen], high[seen])
    return [
        (low, high) if low < high else None
        for low, high in zip(begins.tolist(), ends.tolist(), strict=True)
    ]


def notches(tree: Tree, flat: Flat, move: Array) -> tuple[Notch, ...]:
    """Every notch of a flat, with the points marked before cutting.

    Args:
        tree: the panels.
        flat: the flat.
        move: (2,) mm, what brings it to its corner.
    """
    left, low, right, high = flat.outline.bounds
    at_corners = sorted(
        zip(tree.notchings, flat.cuts, strict=False), key=lambda pair: pair[0].panel
    )
    named = [(n.name, cut.relief.centre) for n, cut in at_corners if cut.relief is not None]
    centres = np.array([shapely.Point(centre) for _, centre in named], dtype=object)
    beside: dict[int, list[int]] = {}
    for piece, k in (
        shapely.STRtree(centres)
        .query(np.array(flat.waste, dtype=object), predicate="dwithin", distance=1e-3)
        .T.tolist()
    ):
        beside.setdefault(piece, []).append(k)
    reliefs = [(cut.relief.centre, cut.far) for cut in flat.cuts if cut.relief is not None]
    middles, far = (
        np.array([middle for middle, _ in reliefs]).reshape(-1, 2),
        np.array([far for _, far in reliefs]),
    )
    made: list[Notch] = []
    taken: set[str] = set()
    nearest = _Beside(tree)
    # Points of the corners and folds, marked before cutting: those inside the sheet that no relief
    # takes away.
    corners = (
        np.concatenate([path.points for path in flat.notches]) if flat.notches else np.empty((0, 2))
    )
    marked = ((corners > (left + 1e-6, low + 1e-6)) & (corners < (right - 1e-6, high - 1e-6))).all(
        axis=1
    )
    marked &= (np.hypot(corners[:, :1] - middles[:, 0], corners[:, 1:] - middles[:, 1]) > far).all(
        axis=1
    )
    begun = 0
    for i, path in enumerate(flat.notches):
        name = next(
            (named[k][0] for k in sorted(beside.get(i, ())) if named[k][0] not in taken), None
        )
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

    @cached_property
    def _corners(self) -> tuple[NDArray[np.object_], Array]:
        """The corners between folds as points, and how far off (mm) one may lie."""
        nodes = self._tree.nodes
        at = [
            nodes[n.panel].frame.to_flat(nodes[n.panel].corners)[n.vertex]
            for n in self._tree.notchings
        ]
        return np.array([shapely.Point(p) for p in at], dtype=object), np.array(
            [5 * max(1.0, n.gap) for n in self._tree.notchings]
        )

    @cached_property
    def _panels(self) -> NDArray[np.object_]:
        return np.array(
            polygons([node.frame.to_flat(node.corners) for node in self._tree.nodes[1:]]),
            dtype=object,
        )

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


LARGEST = 100_000.0
"""mm; nothing larger is sheet metal."""


def develop(job: Job, tools: ToolRadius | None = None) -> Blank:
    """Develop a job into its blank.

    Args:
        job: what is wanted.
        tools: what its brake makes of a fold that names no radius; None takes the school's usual.

    Raises:
        DevelopmentError: a size leaves no flat between two bends, a corner cannot close, parts of
            the flat overlap, a hole runs over an edge.
    """
    with geometry_errors():
        set_for = job.on_tools(tools)
        blank = _developed(set_for)
    if tools is None or set_for.radius == job.radius:
        return blank
    return dataclasses.replace(blank, sums=(*blank.sums, _radius_sum(set_for, tools)))


def check_developable(job: Job, tools: ToolRadius | None = None) -> None:
    """Raise what :func:`develop` would, in half its time: no notches and no sums are worked out.

    Raises:
        DevelopmentError: as :func:`develop`.
    """
    with geometry_errors():
        set_for = job.on_tools(tools)
        if set_for.rows or set_for.part.drawing() is not None:
            # A row is refused for what the blank has without it.
            _developed(set_for, told=False)
            return
        laid = _laid(set_for)
        cut_holes(set_for, laid.design, laid.tree, laid.flat.polygon, laid.begun.index)
        mark_lines(laid.design, laid.tree)


@contextmanager
def geometry_errors() -> Iterator[None]:
    """Whatever cannot be laid flat is refused in words."""
    try:
        with np.errstate(all="ignore"):
            yield
    except (RecursionError, OverflowError, MemoryError):
        raise DevelopmentError(str(TOO_FAR)) from None


def _radius_sum(job: Job, tools: ToolRadius) -> Sum:
    """The inside radius nobody wrote, and where it comes from."""
    return Sum(
        msg("Inside radius, by the brake"),
        (Term(msg("inside radius"), job.radius or 0.0),),
        msg("{says} Write another in Shape.", says=tools.says),
        SumKind.RADIUS,
    )


def _developed(job: Job, *, told: bool = True) -> Blank:
    """The blank; unless it is ``told`` without its notches and sums, none of which a job is refused
    for."""
    drawing = job.part.drawing()
    if drawing is not None:
        return joined(develop_drawing(job, drawing), job)
    laid = _laid(job)
    design, tree, flat, move = laid.design, laid.tree, laid.flat, laid.move
    holes = (*cut_holes(job, design, tree, flat.polygon, laid.begun.index), *flat.inner)
    blank = dataclasses.replace(
        laid.bare,
        outline=_started(laid.bare.outline),
        reliefs=tuple(_relief(cut.relief, move) for cut in flat.cuts if cut.relief is not None),
        holes=tuple(
            dataclasses.replace(h, path=h.path.moved(move), centre=h.centre + move) for h in holes
        ),
        creases=tuple(_creases(tree, move)),
        marks=tuple(
            MarkLine(m.name, m.start + move, m.end + move, m.kind) for m in mark_lines(design, tree)
        ),
    )
    if told:
        reaching = chains(tree, flat.panels)
        sums = blank_sums(job, design, tree, flat, reaching)
        blank = dataclasses.replace(
            blank,
            notches=notches(tree, flat, move),
            sums=(
                *sums[:2],
                *job.part.sums(job.units),
                *sums[2:],
                *hole_sums(design, tree, flat, holes, reaching),
            ),
        )
        strips = tuple(ring + move for ring in flat.strips if ring is not None)
        blank = dataclasses.replace(blank, look=FlatCheck(job, blank, strips))
    rows = tuple(
        dataclasses.replace(row, places=row.places + move)
        for row in tab_rows(tree, job.sheet.thickness)
    )
    return joined(blank, job, rows)


@dataclass(frozen=True, eq=False)
class _Laid:
    """A design laid flat.

    Attributes:
        job: what was laid.
        begun: its panels.
        flat: the flat.
        spans: where its metal lies on every fold line, from and to, mm.
    """

    job: Job
    begun: Grown
    flat: Flat
    spans: tuple[tuple[float, float], ...]

    @property
    def design(self) -> Design:
        return self.begun.design

    @property
    def tree(self) -> Tree:
        return self.begun.tree

    @cached_property
    def move(self) -> Array:
        """(2,) mm, by which all of it is moved to the origin."""
        return -np.array(self.flat.outline.bounds[:2])

    @cached_property
    def bare(self) -> Blank:
        """Panels and folds only: no notches, holes, sums or findings."""
        job, flat, move = self.job, self.flat, self.move
        left, low, right, high = flat.outline.bounds
        return Blank(
            sheet=job.sheet,
            small_tools=job.small_tools,
            school=job.chosen_school,
            size=(right - left, high - low),
            outline=flat.outline.moved(move),
            panels=self.begun.laid_at(move),
            folds=self.begun.folds_at(self.spans, move),
            notches=(),
            sums=(),
            trim=self.design.trim,
        )


LEAST_STIFF = 0.5
"""mm of a wall between two ears that must not give way."""

KEPT = 8
"""Designs laid flat that are kept: a part is measured for its mates, developed, and developed with
what they ask of it."""

_kept: RecentCache[_Laid] = RecentCache(KEPT)


def _laid(job: Job) -> _Laid:
    """A job's design laid flat; once for jobs of one flat.

    Raises:
        DevelopmentError: as :func:`develop`.
    """
    return _kept.of(flat_key(job), lambda: _lay(job))


def _lay(job: Job) -> _Laid:
    begun = grown(job)
    tree, flat = begun.tree, lay_flat(job, begun)
    left, low, right, high = flat.polygon.bounds
    if max(right - left, high - low) > LARGEST:
        raise DevelopmentError(
            tr("A blank of {length} is not sheet metal work.").format(
                length=show_length(max(right - left, high - low), job.units)
            )
        )
    spans = _fold_spans(begun, flat)
    if tree.creases:
        _between_ears(job, begun.folds_at(spans, np.zeros(2)))
    return _Laid(job, begun, flat, spans)


def _between_ears(job: Job, folds: tuple[Fold, ...]) -> None:
    """Beside folded corners something of every wall stays as it is: else nothing could be said of
    how it stands.

    Raises:
        DevelopmentError: a wall gives way from end to end.
    """
    for fold in folds:
        least = 2 * fold.give + LEAST_STIFF
        if fold.made_by is MadeBy.BRAKE and fold.length < least:
            raise DevelopmentError(
                tr(
                    "{name} is {length} long. Beside folded corners its two ends give way, {give} "
                    "each: make it longer than {least}, "
                    "fold it with a smaller inside radius, or close the corners another way."
                ).format(
                    name=the_first(fold.name),
                    length=show_length(fold.length, job.units),
                    give=show_length(fold.give, job.units),
                    least=show_length(least, job.units),
                )
            )


TOO_FAR = msg(
    "These sizes cannot be laid flat: some are too large, too small or too close to each other to "
    "be worked out."
)


def _relief(relief: Relief, move: Array) -> Relief:
    return dataclasses.replace(relief, centre=relief.centre + move)


def _started(outline: ClosedPath) -> ClosedPath:
    """The outline begun at its corner nearest the origin, so that the same part always gives the
    same path."""
    near = outline.points.sum(axis=1)
    nearest = np.flatnonzero(near < near.min() + 1e-6 * max(1.0, float(np.abs(near).max())))
    first = int(nearest[np.argmin(outline.points[nearest, 0])])
    return ClosedPath(np.roll(outline.points, -first, axis=0), np.roll(outline.bulges, -first))


def _fold_spans(begun: Grown, flat: Flat) -> tuple[tuple[float, float], ...]:
    """From the first to the last of the metal that crosses every bend line, mm along it.

    Raises:
        DevelopmentError: there is none.
    """
    nodes = begun.bent
    if not nodes:
        return ()
    origins, along = (
        np.array([bend_line(node) for node in nodes]),
        np.array([node.frame.u for node in nodes]),
    )
    result: list[tuple[float, float]] = []
    for node, lies in zip(
        nodes,
        metal_on(flat.polygon, origins, along, np.array([node.fold_span for node in nodes])),
        strict=True,
    ):
        if lies is None or lies[1] - lies[0] < 1e-6:
            raise DevelopmentError(
                tr(
                    "The corner notches leave no fold for {name}. Make the gap or the relief "
                    "smaller."
                ).format(name=the(node.name))
            )
        result.append(lies)
    return tuple(result)


def _creases(tree: Tree, move: Array) -> list[Crease]:
    made = []
    for crease in tree.creases:
        frame = tree.nodes[crease.panel].frame
        start, end = (frame.point(*p) + move for p in crease.ends)
        made.append(Crease(crease.name, start, end, crease.angle))
    return made
