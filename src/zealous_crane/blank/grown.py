"""A design grown into panels with their metal: what every flat begins with."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.report import plain
from ..part import Design
from .element import DevelopmentError
from .flat_key import flat_key
from .kept import Kept
from .node import Tree
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

    @property
    def index(self) -> dict[int, int]:
        """Panel index by node index; metal that belongs to its carrier has its carrier's."""
        index: dict[int, int] = {}
        for node, ring in zip(self.tree.nodes, self.panels, strict=True):
            index[node.index] = len({*index.values()}) if ring is not None else index[node.parent]
        return index


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
    except ValueError as error:
        raise DevelopmentError(plain(error)) from None
