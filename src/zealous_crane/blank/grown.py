"""A design grown into panels with their metal: what every flat begins with."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.input_error import INPUT_ERRORS
from ..measure.once import once
from ..measure.report import plain
from ..part import Design
from .element import DevelopmentError
from .flat_key import flat_key
from .fold import Fold
from .kept import Kept
from .node import Node, Tree
from .panel import Panel
from .panel_metal import panels_on
from .tree import grow

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Grown:
    """A design and the panels that came of it, where they lie before the flat is moved to its corner.

    Attributes:
        design: what was asked for.
        tree: its panels.
        panels: (n, 2) their metal by node, mm; None where it belongs to the carrier.
    """

    design: Design
    tree: Tree
    panels: tuple[Array | None, ...]

    @once
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
        return tuple(_fold(node, bend_line(node) + move, span, self.index) for node, span in zip(nodes, spans, strict=True))

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

_kept: Kept[Grown] = Kept(KEPT)


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
