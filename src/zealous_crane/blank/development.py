"""Development: from a job to its blank.

The design is grown into panels with their ends cut (``tree``), joined on the flat (``flat``), and everything is moved so that
the lower left corner of the sheared rectangle is the origin.
"""

from __future__ import annotations

import dataclasses
import math
from collections import OrderedDict

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.errors import GEOSException

from ..allowance import ToolRadius
from ..job import Job
from ..measure import Sum, SumKind, Term, show_length
from ..measure.report import plain
from ..measure.words import tr
from ..part import Design
from .blank import Blank, Crease, Fold, MarkLine, Notch, Panel, Relief
from .cutout import cut_holes, mark_lines, tab_rows
from .drawn import develop_drawing
from .element import DevelopmentError
from .finding import findings
from .flat import Flat, lay_flat
from .flat_key import flat_key
from .hole_sums import hole_sums
from .joining import joined
from .lying import metal_on
from .node import Node, Tree
from .path import Path
from .sums import blank_sums, chains
from .tree import grow

Array = NDArray[np.float64]

__all__ = ["DevelopmentError", "develop"]

LARGEST = 100_000.0
"""mm; nothing larger is sheet metal."""


def develop(job: Job, tools: ToolRadius | None = None) -> Blank:
    """Develop a job into its blank.

    Args:
        job: what is wanted.
        tools: what its brake makes of a fold that names no radius; None takes the school's usual.

    Raises:
        DevelopmentError: a size leaves no flat between two bends, a corner cannot close, parts of the flat overlap, a hole
            runs over an edge.
    """
    try:
        with np.errstate(all="ignore"):
            set_for = job.on_tools(tools)
            blank = _developed(set_for)
        said = tools is not None and set_for.radius != job.radius
        return (
            dataclasses.replace(blank, sums=(*blank.sums, _radius_sum(set_for, tools))) if said and tools is not None else blank
        )
    except (GEOSException, RecursionError, OverflowError, ZeroDivisionError, MemoryError, np.linalg.LinAlgError):
        raise DevelopmentError(TOO_FAR) from None


def _radius_sum(job: Job, tools: ToolRadius) -> Sum:
    """The inside radius nobody wrote, and where it comes from."""
    return Sum(
        tr("Inside radius, by the brake"),
        (Term(tr("inside radius"), job.radius or 0.0),),
        tr("{says} Write another in Shape.").format(says=tools.says),
        SumKind.RADIUS,
    )


def _developed(job: Job) -> Blank:
    drawing = job.part.drawing()
    if drawing is not None:
        return joined(develop_drawing(job, drawing), job)
    laid = _laid(job)
    design, tree, flat, move = laid.design, laid.tree, laid.flat, laid.move
    holes = (*cut_holes(job, design, tree, flat.polygon, laid.index), *flat.inner)
    reaching = chains(tree, flat.panels)
    blank = dataclasses.replace(
        laid.bare,
        outline=_started(laid.bare.outline),
        notches=tuple(_notches(tree, flat, move)),
        sums=(
            *(sums := blank_sums(job, design, tree, flat, reaching))[:2],
            *job.part.sums(job.units),
            *sums[2:],
            *hole_sums(design, tree, flat, holes, reaching),
        ),
        reliefs=tuple(_relief(cut.relief, move) for cut in flat.cuts if cut.relief is not None),
        holes=tuple(dataclasses.replace(h, path=h.path.moved(move), centre=h.centre + move) for h in holes),
        creases=tuple(_creases(tree, move)),
        marks=tuple(MarkLine(m.name, m.start + move, m.end + move, m.kind) for m in mark_lines(design, tree)),
    )
    strips = tuple(None if ring is None else ring + move for ring in flat.strips)
    blank = dataclasses.replace(blank, findings=findings(job, blank, tuple(s for s in strips if s is not None)))
    rows = tuple(dataclasses.replace(row, places=row.places + move) for row in tab_rows(tree, job.sheet.thickness))
    return joined(blank, job, rows)


@dataclasses.dataclass(frozen=True)
class _Laid:
    """A design laid flat: its tree, the flat, the panel of each node, and how all of it is moved to the origin.

    Attributes:
        design: what was laid.
        bare: panels and folds only: no notches, holes, sums or findings.
    """

    design: Design
    tree: Tree
    flat: Flat
    index: dict[int, int]
    move: Array
    bare: Blank


KEPT = 8
"""Designs laid flat that are kept: a part is measured for its mates, developed, and developed with what they ask of it."""

_kept: OrderedDict[str, _Laid] = OrderedDict()


def _laid(job: Job) -> _Laid:
    """A job's design laid flat; once for jobs of one flat.

    Raises:
        DevelopmentError: as :func:`develop`.
    """
    key = flat_key(job)
    if key not in _kept:
        try:
            design = job.part.design(job.sheet.thickness)
        except ValueError as error:
            raise DevelopmentError(plain(error)) from None
        _kept[key] = _lay(job, design)
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return _kept[key]


def _lay(job: Job, design: Design) -> _Laid:
    tree = grow(job, design)
    flat = lay_flat(job, design, tree)
    index: dict[int, int] = {}
    for node, ring in zip(tree.nodes, flat.panels, strict=True):
        index[node.index] = len({*index.values()}) if ring is not None else index[node.parent]
    left, low, right, high = flat.outline.bounds
    if max(right - left, high - low) > LARGEST:
        raise DevelopmentError(
            tr("A blank of {length} is not sheet metal work.").format(
                length=show_length(max(right - left, high - low), job.units)
            )
        )
    move = -np.array([left, low])
    panels = tuple(
        Panel(node.name, ring + move, node.element.lies_on if node.element else "")
        for node, ring in zip(tree.nodes, flat.panels, strict=True)
        if ring is not None
    )
    bare = Blank(
        sheet=job.sheet,
        small_tools=job.small_tools,
        school=job.chosen_school,
        size=(right - left, high - low),
        outline=flat.outline.moved(move),
        panels=panels,
        folds=tuple(_folds(tree, flat, index, move)),
        notches=(),
        sums=(),
        trim=design.trim,
    )
    return _Laid(design, tree, flat, index, move, bare)


def folded_only(job: Job) -> Blank:
    """A job's panels and folds: all that the folded part's sizes depend on, in half the time of :func:`develop`.

    Raises:
        DevelopmentError: as :func:`develop`.
    """
    try:
        drawing = job.part.drawing()
        if drawing is not None:
            return develop_drawing(job, drawing)
        with np.errstate(all="ignore"):
            return _laid(job).bare
    except ValueError as error:
        raise DevelopmentError(plain(error)) from None
    except (GEOSException, RecursionError, OverflowError, ZeroDivisionError, MemoryError, np.linalg.LinAlgError):
        raise DevelopmentError(TOO_FAR) from None


TOO_FAR = tr("These sizes cannot be laid flat: some are too large, too small or too close to each other to be worked out.")


def _relief(relief: Relief, move: Array) -> Relief:
    return dataclasses.replace(relief, centre=relief.centre + move)


def _started(outline: Path) -> Path:
    """The outline begun at its corner nearest the origin, so that the same part always gives the same path."""
    near = outline.points.sum(axis=1)
    nearest = np.flatnonzero(near < near.min() + 1e-6 * max(1.0, float(np.abs(near).max())))
    first = int(nearest[np.argmin(outline.points[nearest, 0])])
    return Path(np.roll(outline.points, -first, axis=0), np.roll(outline.bulges, -first))


def _folds(tree: Tree, flat: Flat, index: dict[int, int], move: Array) -> list[Fold]:
    nodes = [node for node in tree.nodes[1:] if node.bend is not None]
    if not nodes:
        return []
    lines = [_line_at(node) for node in nodes]
    origins = np.array([node.frame.point(0.0, v) for node, v in zip(nodes, lines, strict=True)])
    spans = np.array([(max(0.0, node.span[0]), min(node.edge_length, node.span[1])) for node in nodes])
    metal = metal_on(flat.polygon, origins, np.array([node.frame.u for node in nodes]), spans)
    found: list[Fold] = []
    for node, v, lies in zip(nodes, lines, metal, strict=True):
        bend, element = node.bend, node.element
        assert bend is not None and element is not None
        # From the first to the last of the metal that crosses the line.
        if lies is None or lies[1] - lies[0] < 1e-6:
            raise DevelopmentError(
                tr("The corner notches leave no fold for the {name}. Make the gap or the relief smaller.").format(
                    name=node.name
                )
            )
        found.append(Fold(
            name=node.name,
            parent=index[node.parent],
            child=index[node.index],
            start=node.frame.point(lies[1], v) + move,
            end=node.frame.point(lies[0], v) + move,
            outward=node.frame.v,
            angle=element.angle,
            bend=bend,
            made_by=element.made_by,
        ))  # fmt: skip
    return found


def _line_at(node: Node) -> float:
    """Height of a panel's bend line in its own frame, mm."""
    assert node.bend is not None
    return node.bend.inside_setback - node.bend.allowance / 2


def _creases(tree: Tree, move: Array) -> list[Crease]:
    made = []
    for crease in tree.creases:
        frame = tree.nodes[crease.panel].frame
        start, end = (frame.point(*p) + move for p in crease.ends)
        made.append(Crease(crease.name, start, end, crease.angle))
    return made


def _notches(tree: Tree, flat: Flat, move: Array) -> list[Notch]:
    """Waste around the outside, named by the corner or fold it lies at, with the points marked before cutting."""
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
    for i, path in enumerate(flat.notches):
        name = next((named[k][0] for k in sorted(beside.get(i, ())) if named[k][0] not in taken), None)
        if name is None:
            name = _nearest(tree, shapely.Polygon(path.flattened()))
        taken.add(name)
        p = path.points
        inside = ((p > (left + 1e-6, low + 1e-6)) & (p < (right - 1e-6, high - 1e-6))).all(axis=1)
        inside &= (np.hypot(p[:, :1] - middles[:, 0], p[:, 1:] - middles[:, 1]) > far).all(axis=1)
        made.append(Notch(name, path.moved(move), p[inside] + move))
    return made


def _nearest(tree: Tree, shape: shapely.Polygon) -> str:
    """Names waste that no relief lies in by the corner or the panel nearest to it."""
    best, name = math.inf, "edge"
    for notching in tree.notchings:
        node = tree.nodes[notching.panel]
        away = shape.distance(shapely.Point(node.frame.to_flat(node.corners)[notching.vertex]))
        if away < best and away < 5 * max(1.0, notching.gap):
            best, name = away, notching.name
    if math.isfinite(best):
        return name
    for node in tree.nodes[1:]:
        away = shape.distance(shapely.Polygon(node.frame.to_flat(node.corners)))
        if away < best:
            best, name = away, f"beside the {node.name}"
    return name
