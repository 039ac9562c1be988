"""The finished part as what was done to it makes it: every size as a function of how far each bend,
line and cut was off."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from ..cache import cached
from ..flat.blank import Blank
from ..flat.features import Fold
from ..flat.folding import Pose, panel_poses
from ..flat.ruler import NEAREST, Striking
from ..i18n import Phrase
from .probe import outermost

AT_EDGE = 1e-6
"""mm; nearer to an edge of the blank than this a point lies on it."""


class What(StrEnum):
    """What kind of size is measured."""

    ANGLE = "angle"
    LEG = "leg"
    APEX = "apex"
    INSIDE = "inside"
    OUTSIDE = "outside"
    DIAGONAL = "diagonal"
    HOLE = "hole"
    FLAT = "flat"
    SHEET = "sheet"


class Off(StrEnum):
    """What may have been off."""

    ANGLE = "angle"
    STOPS = "stops"
    ENDS = "ends"
    LINE = "line"
    ALLOWANCE = "allowance"
    CUT = "cut"
    SQUARE = "square"
    SHEET = "sheet"
    READ = "read"
    SIDE = "side"


@dataclass(frozen=True)
class Anchor:
    """A point of the metal.

    Attributes:
        panel: index of its panel.
        at: (3,) mm on the flat; 0 and the thickness are the outside and the inside face.
        face: 0 or 1 where it lies on a face and moves with the thickness; 0 is the outside.
        fold: index of the fold whose line it moves with: the edge of a wall is where its hem was
            folded; −1 where it is cut.
    """

    panel: int
    at: tuple[float, float]
    face: int
    fold: int = -1


@dataclass(frozen=True)
class Measure:
    """One thing to measure on the finished part.

    Attributes:
        key: what it is known by in files.
        message: as a hand says it.
        what: the kind of size.
        fold: index of the fold an angle or a leg is of; −1 else.
        mate: index of the fold at the other end of a leg between two bends; −1 else.
        end: −1 at the left end of the fold, seen from it looking out, 1 at the right, 0 in the
            middle.
        one, other: what it is measured between; empty for an angle.
        along: the direction it is measured in: index of a panel, and a direction (3,) on the flat
            of it; None measures the straight distance.
        reads: what an instrument reads on the part as it is wanted, mm, where its points alone do
            not say it: with hems, rolled edges and true corners; None where they do.
        within: a leg is read from the inside face of what carries it, as a depth gauge stands.
    """

    key: str
    message: Phrase
    what: What
    fold: int = -1
    end: int = 0
    mate: int = -1
    one: tuple[Anchor, ...] = ()
    other: tuple[Anchor, ...] = ()
    along: tuple[int, tuple[float, float, float]] | None = None
    reads: float | None = None
    within: bool = False

    @property
    def says(self) -> str:
        """As a hand says it, in words."""
        return str(self.message)


@dataclass(frozen=True)
class Cause:
    """One thing that may have been off.

    Attributes:
        off: what.
        fold: index of the fold; −1 where it concerns the whole part.
        axis: 0 or 1 for a blank cut too long or too wide; −1 else.
        measure: what was misread, where nothing but the reading is off.
    """

    off: Off
    fold: int = -1
    axis: int = -1
    measure: Measure | None = None

    @property
    def key(self) -> str:
        """What it is known by in files."""
        if self.measure is not None:
            return f"{self.off.value}:{self.measure.key}"
        return self.off.value + (
            f":{self.fold}" if self.fold >= 0 else f":{'xy'[self.axis]}" if self.axis >= 0 else ""
        )

    @property
    def in_degrees(self) -> bool:
        """True where it is off by degrees, not by mm."""
        read = self.measure is not None and self.measure.what is What.ANGLE
        return read or self.off in (Off.ANGLE, Off.STOPS, Off.ENDS)


@dataclass(frozen=True, eq=False)
class Model:
    """A blank, and what its lines are struck from.

    Attributes:
        blank: the part as it is wanted.
        striking: the edges all lines are struck from.
    """

    blank: Blank
    striking: Striking = NEAREST

    def values(self, measures: tuple[Measure, ...], off: dict[Cause, float]) -> Array:
        """What would be measured, (n,) mm or degrees, with some things off by so many mm or
        degrees."""
        result = self._raw(measures, off)
        asked = [k for k, measure in enumerate(measures) if measure.reads is not None]
        if asked:
            as_wanted = self._raw(measures, {}) if off else result.copy()
            result[asked] += np.array([measures[k].reads for k in asked], float) - as_wanted[asked]
        return result

    def _raw(self, measures: tuple[Measure, ...], off: dict[Cause, float]) -> Array:
        """The same between the points of the measures alone."""
        state = _State(self, off, _points_of(measures))
        return np.array([state.value(measure) for measure in measures])

    def slopes(self, measures: tuple[Measure, ...], causes: tuple[Cause, ...]) -> Array:
        """(n, m) how much each measure changes for one mm or degree of each cause, by central
        differences near the wanted part."""
        columns = []
        for cause in causes:
            step = 0.25 if cause.in_degrees else 0.05
            more, less = (self._raw(measures, {cause: sign * step}) for sign in (1, -1))
            columns.append((more - less) / (2 * step))
        return np.column_stack(columns) if columns else np.zeros((len(measures), 0))


@dataclass(frozen=True, eq=False)
class _Points:
    """The anchors of some measures, each once.

    Attributes:
        at: (n, 2) float, mm on the flat.
        face: (n,) float, which face each lies on.
        panel, fold: (n,) int.
        of: for a measure, the places of its anchors on either side.
    """

    at: Array
    face: Array
    panel: NDArray[np.intp]
    fold: NDArray[np.intp]
    of: dict[Measure, tuple[list[int], list[int]]]


@cached(16, lasts=True)
def _points_of(measures: tuple[Measure, ...]) -> _Points:
    anchors = {anchor: 0 for measure in measures for anchor in (*measure.one, *measure.other)}
    for number, anchor in enumerate(anchors):
        anchors[anchor] = number
    of = {m: ([anchors[a] for a in m.one], [anchors[a] for a in m.other]) for m in measures}
    return _Points(
        np.array([a.at for a in anchors], float).reshape(-1, 2),
        np.array([a.face for a in anchors], float),
        np.array([a.panel for a in anchors], int),
        np.array([a.fold for a in anchors], int),
        of,
    )


class _State:
    """The folded part with some things off; worked out once for all measures, and once more for
    every end of a leaf that is off."""

    def __init__(self, model: Model, off: dict[Cause, float], points: _Points) -> None:
        self.model, self.off, self.points = model, off, points
        blank = model.blank
        self.thickness = blank.thickness + sum(v for c, v in off.items() if c.off is Off.SHEET)
        self._skew = sum(v for c, v in off.items() if c.off is Off.SQUARE)
        self._cut = [
            sum(v for c, v in off.items() if c.off is Off.CUT and c.axis == axis) for axis in (0, 1)
        ]
        more = sum(v for c, v in off.items() if c.off is Off.ALLOWANCE)
        ends = self._stretched(
            np.array([p for fold in blank.folds for p in (fold.start, fold.end)], float).reshape(
                -1, 2
            )
        )
        self._shifts = np.zeros((len(blank.folds) + 1, 2))  # the last for what moves with no fold
        for cause, by in off.items():
            if cause.off is Off.LINE:
                self._shifts[cause.fold] += by * blank.folds[cause.fold].outward
        self.folds = tuple(
            self._fold(fold, ends[2 * i] + self._shifts[i], ends[2 * i + 1] + self._shifts[i], more)
            for i, fold in enumerate(blank.folds)
        )
        self._uneven = {cause.fold for cause in off if cause.off is Off.ENDS}
        self._even = self._angles(-1, 0)
        self._poses: dict[tuple[int, int], tuple[list[Pose], Array]] = {}
        # Where every anchor lies on the flat as it was cut and folded.
        self._flats = self._stretched(points.at) + self._shifts[points.fold]
        self._bent = dataclasses.replace(
            blank,
            folds=self.folds,
            sheet=dataclasses.replace(blank.sheet, thickness=self.thickness),
        )

    def _fold(self, fold: Fold, start: Array, end: Array, more: float) -> Fold:
        bend = dataclasses.replace(
            fold.bend,
            thickness=self.thickness,
            allowance=fold.bend.allowance + more * min(1.0, abs(fold.angle) / 90.0),
        )
        outward = fold.outward
        if self._skew:
            # A blank that is out of square has its lines struck along its edges: they turn with
            # them.
            along = (end - start) / np.hypot(*(end - start))
            outward = np.array([-along[1], along[0]])
            outward = outward if outward @ fold.outward > 0 else -outward
        return dataclasses.replace(fold, start=start, end=end, bend=bend, outward=outward)

    def _stretched(self, points: Array) -> Array:
        """Where points (n, 2) of the flat lie when the blank was cut too long or wide and lines
        were struck as they are."""
        moved = points.copy()
        if self._skew:
            width = self.model.blank.size[1]
            moved[:, 0] += self._skew * (points[:, 1] - width / 2) / width
        for axis, names in ((0, ("left", "right")), (1, ("front", "back"))):
            by, span = self._cut[axis], self.model.blank.size[axis]
            if not by:
                continue
            for k, at in enumerate(points[:, axis].tolist()):
                # The edges themselves stay where they are, whatever lines are struck from.
                if at > span - AT_EDGE or (
                    at > AT_EDGE and self.model.striking.far(at, span, names)
                ):
                    moved[k, axis] += by
        return moved

    def _angles(self, fold: int, end: int) -> list[float]:
        common = sum(v for c, v in self.off.items() if c.off is Off.STOPS)
        angles = []
        for i, f in enumerate(self.model.blank.folds):
            size = abs(f.angle) + sum(
                v for c, v in self.off.items() if c.off is Off.ANGLE and c.fold == i
            )
            if common and size < 150.0:
                size += common * abs(f.angle) / 90.0
            if i == fold:
                size += end * sum(
                    v for c, v in self.off.items() if c.off is Off.ENDS and c.fold == i
                )
            angles.append(math.copysign(size, f.angle))
        return angles

    def value(self, measure: Measure) -> float:
        # Both ends stand alike unless the leaf does not.
        uneven = measure.end and measure.fold in self._uneven
        angles = self._angles(measure.fold, measure.end) if uneven else self._even
        if measure.what is What.ANGLE:
            return abs(angles[measure.fold])
        if measure.what is What.SHEET:
            return self.thickness
        if measure.what is What.APEX:
            return self._from_apex(measure, angles)
        key = (measure.fold, measure.end) if uneven else (-1, 0)
        if key not in self._poses:
            self._poses[key] = self._bent_to(angles)
        poses, places = self._poses[key]
        one, other = (places[which] for which in self.points.of[measure])
        if measure.along is None:
            return float(np.linalg.norm(one[:, None, :] - other[None, :, :], axis=2).max())
        panel, direction = measure.along
        way = poses[panel].turn @ np.array(direction)
        near, far = one @ way, other @ way
        if measure.what is What.INSIDE:
            return float(far.min() - near.max())
        return float(far.max() - near.min())

    def _bent_to(self, angles: list[float]) -> tuple[list[Pose], Array]:
        """Where the panels stand, and every anchor with them, (n, 3) mm."""
        poses = list(panel_poses(self._bent, angles))
        turns, shifts = np.array([p.turn for p in poses]), np.array([p.shift for p in poses])
        flat = np.column_stack([self._flats, self.points.face * self.thickness])
        which = self.points.panel
        return poses, np.einsum("nij,nj->ni", turns[which], flat) + shifts[which]

    def _from_apex(self, measure: Measure, angles: list[float]) -> float:
        """A leg of a bend that is not square, along its outside: from where the outside faces meet
        to its free edge, or to where they meet at its other bend."""
        fold, v = self.folds[measure.fold], self.folds[measure.fold].outward
        near = self._past_line(measure.fold, angles)
        if measure.mate >= 0:
            other = self.folds[measure.mate]
            # On the outside of the one, the faces of a bend that goes the other way meet at its
            # inside corner.
            same = fold.angle * other.angle > 0
            return (
                abs(float((other.start - fold.start) @ v))
                + near
                + self._past_line(measure.mate, angles, outside=same)
            )
        edge = float((self._flats[self.points.of[measure][0]] @ v).max())
        return edge - float(fold.start @ v) + near

    def _past_line(self, i: int, angles: list[float], *, outside: bool = True) -> float:
        """How far (mm) beyond its bend line a leg's outside (or inside) is read from, counted along
        it."""
        bend = self.folds[i].bend
        return (
            outermost(bend.radius, bend.thickness if outside else 0.0, abs(angles[i]))
            - bend.allowance / 2
        )
