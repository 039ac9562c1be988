"""What an instrument reads on the folded part: the points of its metal where jaws and rule touch.

A measure's anchors say how it moves when something is off. What it reads on the part as it is
wanted also depends on what the anchors leave out: a hem or a rolled edge that narrows the rim, a
tab that makes the corner. :func:`read` finds that on the folded metal.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely

from .._typing import Array
from ..flat.blank import Blank
from ..flat.features import Fold
from ..flat.folding import strip_section

TANGENT, BEYOND = "tangent", 150.0
"""The datum of jobs whose sizes are read to a bend's outermost line; degrees past which all are."""

FINE = 0.002
"""mm; what the points of a bent strip may lie beyond its arc."""

AHEAD = 0.97
"""Cosine from which a fold goes straight on from the one before."""

TURNED_BACK, LIP = 135.0, 25.4
"""Degrees from which an edge is a hem or rolled; mm up to which what stands on an edge is a lip and
no wall. Common practice, no source."""

INSET, INSET_SHARE = 10.0, 0.25
"""mm from the end of a fold, and share of it at most, at which an end is read: jaws are that wide.
Common practice, no source."""

AT_FOOT = 6.0
"""mm above the base up to which a part is read at its foot."""


class Metal:
    """The points of a folded part.

    Args:
        blank: the part.
    """

    def __init__(self, blank: Blank) -> None:
        self.blank, self.poses, self.t = blank, blank.stood, blank.thickness

    def carried(self, fold: int, *, rim: bool = False) -> list[int]:
        """Folds that go straight on from one: those of what its panel carries at its free edge, and
        on from there; of a ``rim`` only hems, rolled edges and lips, not another wall."""
        line, result = self.blank.folds[fold], [fold]
        for i, other in enumerate(self.blank.folds):
            if (
                other.parent == line.child
                and float(other.outward @ line.outward) > AHEAD
                and (not rim or abs(other.angle) >= TURNED_BACK or self._deep(other) <= LIP)
            ):
                result += self.carried(i, rim=rim)
        return result

    def _deep(self, fold: Fold) -> float:
        return float(((self.blank.panels[fold.child].polygon - fold.start) @ fold.outward).max())

    def section(self, fold: Fold, at: float) -> Iterator[Array]:
        """Points (n, 3) of a panel and of the bend that carries it, where a plane across the fold,
        ``at`` mm along it, cuts them."""
        u, v = _frame(fold)
        ring = self.blank.panels[fold.child].polygon
        low, high = float((ring @ v).min()) - 1.0, float((ring @ v).max()) + 1.0
        cut = shapely.Polygon(ring).intersection(
            shapely.LineString([at * u + low * v, at * u + high * v])
        )
        if not cut.is_empty:
            ends = np.array(
                [p for part in getattr(cut, "geoms", [cut]) for p in part.coords], float
            )[:, :2]
            yield self.faces(fold.child, ends)
        along = sorted((float(fold.start @ u), float(fold.end @ u)))
        if along[0] - 1e-9 <= at <= along[1] + 1e-9:
            foot = fold.start + (at - float(fold.start @ u)) * u
            yield self._strip(fold, foot[None])

    def foot(self, folds: list[int], base: int) -> Array:
        """Points (n, 3) of what stands on a panel, within :data:`AT_FOOT` of its outside."""
        result = []
        for i in folds:
            fold = self.blank.folds[i]
            u, v = _frame(fold)
            ring = self.blank.panels[fold.child].polygon
            start = float(fold.start @ v)
            low = shapely.Polygon(ring).intersection(
                _band(u, v, ring, start, start + AT_FOOT + fold.bend.allowance)
            )
            for part in getattr(low, "geoms", [low]):
                if part.geom_type == "Polygon" and not part.is_empty:
                    result.append(self.faces(fold.child, np.array(part.exterior.coords)[:, :2]))
            result.append(self._strip(fold, np.array([fold.start, fold.end])))
        pose = self.poses[base].inverse
        every = np.concatenate(result)
        height = pose.apply(every)[:, 2]
        near: Array = every[(height > -AT_FOOT) & (height < AT_FOOT + self.t)]
        return near

    def faces(self, panel: int, points: Array) -> Array:
        """Points (2n, 3) of both faces of a panel over points (n, 2) of its flat."""
        faces = [np.column_stack([points, np.full(len(points), z)]) for z in (0.0, self.t)]
        return self.poses[panel].apply(np.concatenate(faces))

    def _strip(self, fold: Fold, feet: Array) -> Array:
        points = np.concatenate(
            [*strip_section(fold.bend, abs(fold.angle), FINE), np.zeros((0, 2))]
        )
        m, z = points[:, 0], points[:, 1] if fold.angle > 0 else self.t - points[:, 1]
        flat = [
            np.column_stack([foot[0] + m * fold.outward[0], foot[1] + m * fold.outward[1], z])
            for foot in feet
        ]
        return self.poses[fold.parent].apply(np.concatenate(flat))


def _frame(fold: Fold) -> tuple[Array, Array]:
    v = fold.outward
    return np.array([v[1], -v[0]]), v


def _band(u: Array, v: Array, ring: Array, low: float, high: float) -> shapely.Polygon:
    left, right = float((ring @ u).min()) - 1.0, float((ring @ u).max()) + 1.0
    return shapely.Polygon(
        [a * u + b * v for a, b in ((left, low), (right, low), (right, high), (left, high))]
    )


def place(fold: Fold, end: int) -> float:
    """How far along a fold (mm, in its own frame) an end, −1 or 1, or its middle, 0, is read."""
    u, _ = _frame(fold)
    low, high = sorted((float(fold.start @ u), float(fold.end @ u)))
    inset = min(INSET, INSET_SHARE * (high - low))
    return (low + high) / 2 if end == 0 else low + inset if end < 0 else high - inset


def leg(metal: Metal, fold: int, end: int) -> float:
    """A leg square to what carries it, mm: from the outside of that to the outermost point of the
    leg and what its edge carries.

    Args:
        metal: (n, 3) mm, points of the metal.
        fold: the bend line.
        end: −1 at the left end, 1 at the right.
    """
    line = metal.blank.folds[fold]
    up = 1.0 if line.angle > 0 else -1.0
    pose = metal.poses[line.parent]
    normal = pose.turn[:, 2] * up
    under = pose.apply(np.array([[*line.start, 0.0 if up > 0 else metal.t]]))[0] @ normal
    at = place(line, end)
    tips = [
        points @ normal
        for i in metal.carried(fold)
        for points in metal.section(metal.blank.folds[i], at)
    ]
    return float(np.concatenate(tips).max() - under)


def along_leg(metal: Metal, fold: int, end: int, datum: str = TANGENT) -> float:
    """A leg that is not square, along itself, mm: from :func:`outermost` of its bend to the end of
    what its edge carries.

    Args:
        metal: the part.
        fold: the leg's fold.
        end: where along it.
        datum: to where a size is read over a bend of more than 90°: its outermost line, or the
            corner of both faces.
    """
    line = metal.blank.folds[fold]
    back, v = metal.poses[line.child].inverse, np.array([*line.outward, 0.0])
    at = place(line, end)
    tips = [
        back.apply(points) @ v
        for i in metal.carried(fold)
        for points in metal.section(metal.blank.folds[i], at)
    ]
    bend = line.bend
    tangent = float(line.start @ line.outward) + bend.allowance / 2
    return (
        float(np.concatenate(tips).max())
        - tangent
        + outermost(bend.radius, bend.thickness, abs(line.angle), datum)
    )


def opening(metal: Metal, folds: tuple[int, int], panel: int, way: Array) -> float:
    """Clear room at the rim between two walls and what their edges carry, mm: in the middle of
    each, over its upper half.

    Args:
        metal: the part.
        folds: those of the two walls.
        panel: what both stand on.
        way: (3,) the direction from the first wall to the second.
    """
    base = metal.poses[panel].inverse
    ends: list[float] = []
    for fold, sign in zip(folds, (1.0, -1.0), strict=True):
        line = metal.blank.folds[fold]
        if line.parent == panel:
            every = np.concatenate(
                [
                    p
                    for i in metal.carried(fold, rim=True)
                    for p in metal.section(metal.blank.folds[i], place(line, 0))
                ]
            )
        else:
            every = _other_way(metal, line)
        height = np.abs(base.apply(every)[:, 2])
        rim = every[height > height.max() / 2]
        ends.append(float((rim @ way * sign).max()) * sign)
    return ends[1] - ends[0]


def _other_way(metal: Metal, line: Fold) -> Array:
    """Points of a wall that carries the panel it is measured from: of itself alone, whatever stands
    at its far edge."""
    u, v = _frame(line)
    ring = metal.blank.panels[line.parent].polygon
    at = place(line, 0)
    low, high = float((ring @ v).min()) - 1.0, float((ring @ v).max()) + 1.0
    cut = shapely.Polygon(ring).intersection(
        shapely.LineString([at * u + low * v, at * u + high * v])
    )
    ends = np.array([p for part in getattr(cut, "geoms", [cut]) for p in part.coords], float)[:, :2]
    return metal.faces(line.parent, ends)


def diagonal(metal: Metal, folds: list[int], base: int, way: Array) -> float:
    """Over the two outermost points of a box at its foot along a direction (3,), mm, level.

    Args:
        metal: (n, 3) mm, points of the metal.
        folds: its bends.
        base: index of the panel.
        way: (3,), the direction.
    """
    points = metal.foot(folds, base)
    along = points @ way
    one, other = points[int(along.argmin())], points[int(along.argmax())]
    normal = metal.poses[base].turn[:, 2]
    apart = other - one
    return float(np.linalg.norm(apart - (apart @ normal) * normal))


def between_bends(blank: Blank, i: int, j: int, datum: str = TANGENT) -> float:
    """A panel between two bends, along the outside of the second of them, mm.

    Args:
        blank: the flat.
        i: index of the other bend.
        j: index of the second bend.
        datum: to where sizes are read over a sharp bend.
    """
    one, other = blank.folds[i], blank.folds[j]
    apart = abs(float((other.start - one.start) @ one.outward))
    # On the outside of the one, the faces of a bend that goes the other way meet at its inside
    # corner.
    same = one.angle * other.angle > 0
    thick = (blank.thickness, blank.thickness if same else 0.0)
    for bend, t in zip((one.bend, other.bend), thick, strict=True):
        apart += outermost(bend.radius, t, abs(bend.angle), datum) - bend.allowance / 2
    return apart


def outermost(radius: float, thickness: float, angle: float, datum: str = TANGENT) -> float:
    """Tangent line to where a leg's outside is read from, mm: the corner of both outsides up to
    90°; past it the outermost line of the bend, which is what a jaw touches, unless the job's sizes
    are read to the corner.

    Args:
        radius: inside radius, mm.
        thickness: of the sheet, mm.
        angle: degrees.
        datum: to where sizes are read over a sharp bend.
    """
    if angle > BEYOND or (angle > 90 and datum == TANGENT):
        return radius + thickness
    return (radius + thickness) * math.tan(math.radians(angle) / 2)
