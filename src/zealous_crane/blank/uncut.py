"""A part before any corner is cut: its panels and its folds, none of which a notch moves."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..job import Job
from ..measure.dataclass import dataclass
from ..measure.once import once
from .development import laying
from .drawn import develop_drawing
from .flat import extent
from .flat_key import flat_key
from .fold import Fold
from .folding import Pose, panel_poses
from .grown import grown
from .kept import Kept
from .panel import Panel

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Uncut:
    """Panels and folds of a part, where they lie on its flat.

    Attributes:
        panels: base first, as those of its blank.
        folds: as those of its blank, each as long as the metal that is there before the corners are cut.
        size: length (x) and width (y) of the sheared rectangle, mm.
        thickness: of the sheet, mm.
    """

    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...]
    size: tuple[float, float]
    thickness: float

    @once
    def stood(self) -> tuple[Pose, ...]:
        """Where every panel stands when all is bent, the base in place."""
        return tuple(panel_poses(self, [fold.angle for fold in self.folds]))


KEPT = 8
"""Parts kept; the oldest go first. A fit asks several sizes of one."""

_kept: Kept[Uncut] = Kept(KEPT)


def uncut(job: Job) -> Uncut:
    """A part before any corner is cut, without what takes most of the time of :func:`develop`; once for jobs of one flat.

    Raises:
        DevelopmentError: as :func:`develop`, where it shows before anything is cut.
    """
    return _kept.of(flat_key(job), lambda: _uncut(job))


def _uncut(job: Job) -> Uncut:
    with laying():
        drawing = job.part.drawing()
        if drawing is not None:
            blank = develop_drawing(job, drawing)
            return Uncut(blank.panels, blank.folds, blank.size, blank.thickness)
        begun = grown(job)
        low, high = extent(begun)
    folds = begun.folds_at([node.fold_span for node in begun.bent], -low)
    length, width = (high - low).tolist()
    return Uncut(begun.laid_at(-low), folds, (length, width), job.sheet.thickness)
