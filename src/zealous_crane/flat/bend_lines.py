"""A part before any corner is cut: its panels and its folds, none of which a notch moves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..cache import RecentCache
from ..i18n import Message, tr
from ..job.job import Job
from ..metal.allowance import OnTheLine
from ..units.length import INCH, Units, nearest_tick, show_length
from .blank import Blank
from .development import geometry_errors
from .element import DevelopmentError
from .features import Fold, Panel
from .folding import Pose, panel_poses
from .from_drawing import develop_drawing
from .outline import extent
from .panel_tree import flat_key, grown
from .ruler import Striking, shown


@dataclass(frozen=True, eq=False)
class Uncut:
    """Panels and folds of a part, where they lie on its flat.

    Attributes:
        panels: base first, as those of its blank.
        folds: as those of its blank, each as long as the metal that is there before the corners are
            cut.
        size: length (x) and width (y) of the sheared rectangle, mm.
        thickness: of the sheet, mm.
    """

    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...]
    size: tuple[float, float]
    thickness: float

    @cached_property
    def stood(self) -> tuple[Pose, ...]:
        """Where every panel stands when all is bent, the base in place."""
        return tuple(panel_poses(self, [fold.angle for fold in self.folds]))


KEPT = 8
"""Parts kept; the oldest go first. A fit asks several sizes of one."""

_kept: RecentCache[Uncut] = RecentCache(KEPT)


def uncut(job: Job) -> Uncut:
    """A part before any corner is cut, without what takes most of the time of :func:`develop`; once
    for jobs of one flat.

    Raises:
        DevelopmentError: as :func:`develop`, where it shows before anything is cut.
    """
    return _kept.of(flat_key(job), lambda: _uncut(job))


def _uncut(job: Job) -> Uncut:
    with geometry_errors():
        drawing = job.part.drawing()
        if drawing is not None:
            blank = develop_drawing(job, drawing)
            return Uncut(blank.panels, blank.folds, blank.size, blank.thickness)
        begun = grown(job)
        low, high = extent(begun)
    folds = begun.folds_at([node.fold_span for node in begun.bent], -low)
    length, width = (high - low).tolist()
    return Uncut(begun.laid_at(-low), folds, (length, width), job.sheet.thickness)


ROUND_INCH, ROUND_MM = INCH / 16, 1.0
"""mm; ticks a hand would expect a mark on."""

FARTHEST = 2.5
"""mm; a mark farther from the expected one is no half-mark: nobody would take one for the other."""

SQUARE = 1 - 1e-9
"""Cosine from which a fold line runs along an edge."""

SAME = 0.05
"""mm; on the tick, or the same setting."""


@dataclass(frozen=True)
class HalfMark:
    """A setting beside the one a hand expects.

    Attributes:
        setting: of the scribe, mm.
        expected: what would be scribed if the metal were folded on the line, mm.
        school: the school that makes the difference, as it is called.
    """

    setting: float
    expected: float
    school: Message

    def says(self, units: Units) -> str:
        """Why it is so, in a sentence."""
        text = (
            tr(
                "{setting} stands where {expected} would be scribed for a fold on the line: by "
                "“{school}” a bend takes {taken} of it."
            )
            if self.setting < self.expected
            else tr(
                "{setting} stands where {expected} would be scribed for a fold on the line: by "
                "“{school}” a bend adds {taken} to it."
            )
        )
        return text.format(
            setting=shown(self.setting, units),
            expected=shown(self.expected, units),
            school=self.school,
            taken=show_length(abs(self.setting - self.expected), units.fine),
        )


def half_marks(blank: Blank, job: Job, settings: Sequence[float]) -> tuple[HalfMark, ...]:
    """The scribe settings of a blank that lie beside a round figure because its school makes bends
    of some length.

    Args:
        blank: the flat of the job.
        job: whose school is looked at.
        settings: of the scribe, mm.
    """
    if isinstance(blank.school, OnTheLine) or job.part.drawing() is not None:
        return ()
    try:
        plain = uncut(
            job.model_copy(update={"school": OnTheLine(), "radius": None, "radius_at": {}})
        )
    except DevelopmentError:
        return ()
    if [fold.name for fold in plain.folds] != [fold.name for fold in blank.folds]:
        return ()
    striking, tick = Striking.of(job), ROUND_INCH if job.units.is_inch else ROUND_MM
    result: dict[float, HalfMark] = {}
    for mine, other in zip(blank.folds, plain.folds, strict=True):
        axis = int(np.argmax(np.abs(mine.outward)))
        if abs(mine.outward[axis]) < SQUARE:
            continue  # a slanted line lies at no one distance from an edge
        names = ("left", "right") if axis == 0 else ("front", "back")
        now, edge = striking.edge(float(mine.start[axis]), blank.size[axis], names)
        at = float(other.start[axis])
        then = at if edge == names[0] else plain.size[axis] - at
        setting = next((s for s in settings if abs(s - now) < SAME), None)
        beside = (
            nearest_tick(now, job.units) != nearest_tick(then, job.units)
            and abs(now - then) < FARTHEST
        )
        odd = beside and abs(then - round(then / tick) * tick) < SAME
        if setting is not None and odd and abs(now - round(now / tick) * tick) >= SAME:
            result.setdefault(setting, HalfMark(setting, then, blank.school.label))
    return tuple(result[setting] for setting in sorted(result))
