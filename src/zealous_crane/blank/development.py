"""Development: from a job to its blank.

The design is grown into panels with their ends cut (``tree``), joined on the flat (``flat``), and everything is moved so that
the lower left corner of the sheared rectangle is the origin.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from numpy.typing import NDArray

from ..allowance import ToolRadius
from ..job import Job
from ..measure import Sum, SumKind, Term, show_length
from ..measure.dataclass import dataclass
from ..measure.once import once
from ..measure.words import the, the_first, tr
from ..part import Design
from .blank import Blank
from .cut_away import Relief
from .cutout import cut_holes, mark_lines, tab_rows
from .drawn import develop_drawing
from .element import DevelopmentError, MadeBy
from .flat import Flat, lay_flat
from .flat_key import flat_key
from .fold import Crease, Fold
from .grown import Grown, bend_line, grown
from .hole_sums import hole_sums
from .joining import joined
from .kept import Kept
from .looked_over import Look
from .lying import metal_on
from .mark_line import MarkLine
from .node import Tree
from .path import Path
from .sums import blank_sums, chains
from .waste import notches

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
    with laying():
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
    with laying():
        set_for = job.on_tools(tools)
        if set_for.rows or set_for.part.drawing() is not None:
            # A row is refused for what the blank has without it.
            _developed(set_for, told=False)
            return
        laid = _laid(set_for)
        cut_holes(set_for, laid.design, laid.tree, laid.flat.polygon, laid.begun.index)
        mark_lines(laid.design, laid.tree)


@contextmanager
def laying() -> Iterator[None]:
    """Whatever cannot be laid flat is refused in words."""
    try:
        with np.errstate(all="ignore"):
            yield
    except (RecursionError, OverflowError, MemoryError):
        raise DevelopmentError(TOO_FAR) from None


def _radius_sum(job: Job, tools: ToolRadius) -> Sum:
    """The inside radius nobody wrote, and where it comes from."""
    return Sum(
        tr("Inside radius, by the brake"),
        (Term(tr("inside radius"), job.radius or 0.0),),
        tr("{says} Write another in Shape.").format(says=tools.says),
        SumKind.RADIUS,
    )


def _developed(job: Job, *, told: bool = True) -> Blank:
    """The blank; unless it is ``told`` without its notches and sums, none of which a job is refused for."""
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
        holes=tuple(dataclasses.replace(h, path=h.path.moved(move), centre=h.centre + move) for h in holes),
        creases=tuple(_creases(tree, move)),
        marks=tuple(MarkLine(m.name, m.start + move, m.end + move, m.kind) for m in mark_lines(design, tree)),
    )
    if told:
        reaching = chains(tree, flat.panels)
        sums = blank_sums(job, design, tree, flat, reaching)
        blank = dataclasses.replace(
            blank,
            notches=notches(tree, flat, move),
            sums=(*sums[:2], *job.part.sums(job.units), *sums[2:], *hole_sums(design, tree, flat, holes, reaching)),
        )
        strips = tuple(ring + move for ring in flat.strips if ring is not None)
        blank = dataclasses.replace(blank, look=Look(job, blank, strips))
    rows = tuple(dataclasses.replace(row, places=row.places + move) for row in tab_rows(tree, job.sheet.thickness))
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

    @once
    def move(self) -> Array:
        """(2,) mm, by which all of it is moved to the origin."""
        return -np.array(self.flat.outline.bounds[:2])

    @once
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
"""Designs laid flat that are kept: a part is measured for its mates, developed, and developed with what they ask of it."""

_kept: Kept[_Laid] = Kept(KEPT)


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
    """Beside folded corners something of every wall stays as it is: else nothing could be said of how it stands.

    Raises:
        DevelopmentError: a wall gives way from end to end.
    """
    for fold in folds:
        least = 2 * fold.give + LEAST_STIFF
        if fold.made_by is MadeBy.BRAKE and fold.length < least:
            raise DevelopmentError(
                tr(
                    "{name} is {length} long. Beside folded corners its two ends give way, {give} each: make it longer than {least}, "
                    "fold it with a smaller inside radius, or close the corners another way."
                ).format(
                    name=the_first(fold.name), length=show_length(fold.length, job.units), give=show_length(fold.give, job.units),
                    least=show_length(least, job.units),
                )
            )  # fmt: skip


TOO_FAR = tr("These sizes cannot be laid flat: some are too large, too small or too close to each other to be worked out.")


def _relief(relief: Relief, move: Array) -> Relief:
    return dataclasses.replace(relief, centre=relief.centre + move)


def _started(outline: Path) -> Path:
    """The outline begun at its corner nearest the origin, so that the same part always gives the same path."""
    near = outline.points.sum(axis=1)
    nearest = np.flatnonzero(near < near.min() + 1e-6 * max(1.0, float(np.abs(near).max())))
    first = int(nearest[np.argmin(outline.points[nearest, 0])])
    return Path(np.roll(outline.points, -first, axis=0), np.roll(outline.bulges, -first))


def _fold_spans(begun: Grown, flat: Flat) -> tuple[tuple[float, float], ...]:
    """From the first to the last of the metal that crosses every bend line, mm along it.

    Raises:
        DevelopmentError: there is none.
    """
    nodes = begun.bent
    if not nodes:
        return ()
    origins, along = np.array([bend_line(node) for node in nodes]), np.array([node.frame.u for node in nodes])
    found: list[tuple[float, float]] = []
    for node, lies in zip(
        nodes, metal_on(flat.polygon, origins, along, np.array([node.fold_span for node in nodes])), strict=True
    ):
        if lies is None or lies[1] - lies[0] < 1e-6:
            raise DevelopmentError(
                tr("The corner notches leave no fold for {name}. Make the gap or the relief smaller.").format(
                    name=the(node.name)
                )
            )
        found.append(lies)
    return tuple(found)


def _creases(tree: Tree, move: Array) -> list[Crease]:
    made = []
    for crease in tree.creases:
        frame = tree.nodes[crease.panel].frame
        start, end = (frame.point(*p) + move for p in crease.ends)
        made.append(Crease(crease.name, start, end, crease.angle))
    return made
