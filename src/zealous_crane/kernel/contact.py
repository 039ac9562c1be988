"""How far points are from straight segments."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from .._typing import Array
from .native import exact


def from_segments(points: Array, starts: Array, ends: Array) -> Array:
    """Distance (…, mm) of points (…, 2) to segments (…, 2)–(…, 2), broadcast against each other.

    Args:
        points: (n, 2) mm.
        starts: (m, 2) mm.
        ends: (m, 2) mm.
    """
    along, away = ends - starts, points - starts
    square = np.maximum(np.einsum("...j,...j->...", along, along), 1e-30)
    t = np.clip(np.einsum("...j,...j->...", away, along) / square, 0.0, 1.0)
    gap = away - t[..., None] * along
    found: Array = np.sqrt(np.einsum("...j,...j->...", gap, gap))
    return found


Mask = NDArray[np.bool_]

TOUCH = 1e-3
"""Tools are drawn in by this much (mm) before contact is sought, so that lying against a face is
not meeting it."""

_TURN = 2 * math.pi


def hit_angles(  # noqa: PLR0913
    corners: Array,
    centres: Array,
    starts: Array,
    ends: Array,
    limit: float,
    *,
    backwards: bool = False,
    allowed: Mask | None = None,
) -> Array:
    """Angle at which each corner first meets each side while the corners turn about their centres.

    Args:
        corners: (n, 2) float, mm, corners at angle 0.
        centres: (n, 2) or (2,) float, mm, what each turns about.
        starts, ends: (m, 2) float, mm, ends of the resting sides.
        limit: largest angle looked at, radians.
        backwards: turn the other way.
        allowed: (n, m) bool, pairs that count; None counts all.

    Returns:
        (n, m) float, radians from 0 to ``limit``; inf where they do not meet.
    """
    found = np.full((len(corners), len(starts)), math.inf)
    centres = np.broadcast_to(centres, corners.shape)
    arm = corners - centres
    along = ends - starts
    # |start + t·along − centre|² = radius²  →  a t² + 2 b t + c = 0
    offset = starts[None, :, :] - centres[:, None, :]
    a = along[:, 0] ** 2 + along[:, 1] ** 2
    b = offset[..., 0] * along[:, 0] + offset[..., 1] * along[:, 1]
    c = offset[..., 0] ** 2 + offset[..., 1] ** 2 - (arm[:, 0] ** 2 + arm[:, 1] ** 2)[:, None]
    disc = b * b - a * c
    possible = disc >= 0
    if allowed is not None:
        possible &= allowed
    i, j = np.nonzero(possible)
    if len(i) == 0:
        return found
    aj, bj, root = a[j], b[i, j], np.sqrt(disc[i, j])
    t = np.concatenate([(-bj - root) / aj, (-bj + root) / aj])
    # A corner that passes exactly through the end of a side belongs to both sides there.
    on = np.nonzero((t >= -1e-12) & (t <= 1 + 1e-12))[0]
    if len(on) == 0:
        return found
    t, i, j = t[on], np.concatenate([i, i])[on], np.concatenate([j, j])[on]
    met = offset[i, j] + t[:, None] * along[j]
    arm = arm[i]
    # Angle from arm to met, by cross and dot product; turning is clockwise unless backwards.
    cross = arm[:, 0] * met[:, 1] - arm[:, 1] * met[:, 0]
    turn = (
        np.arctan2(cross if backwards else -cross, arm[:, 0] * met[:, 0] + arm[:, 1] * met[:, 1])
        % _TURN
    )
    # Rounding may put a contact at the very start just below a whole turn.
    turn[turn > _TURN - 1e-12] = 0.0
    turn[turn > limit] = math.inf
    np.minimum.at(found, (i, j), turn)
    return found


def least_distance(  # noqa: PLR0913
    corners: Array,
    pole: Array,
    outline: Array,
    limit: float,
    *,
    backwards: bool = False,
    counted: Mask | None = None,
    sides: Mask | None = None,
) -> float:
    """Least distance (mm) of any corner to any side of an outline while the corners turn from 0 to
    ``limit``.

    Exact when nothing is hit on the way: on the way round, the distance from a circle to a side is
    least at the ends of the turn, across from the side's line, or nearest to one of its ends.

    Args:
        corners: (n, 2) float, mm, corners at angle 0.
        pole: (2,) float, mm, what they turn about.
        outline: (m, 2) float, mm, what rests.
        limit: radians.
        backwards: turn the other way.
        counted: (n,) bool, corners that count; None counts all.
        sides: (m,) bool, sides that count, by the corner each begins at.
    """
    if len(corners) == 0 or len(outline) == 0:
        return math.inf
    if exact is not None:
        which = [None if each is None else each.tobytes() for each in (counted, sides)]
        return exact.apart(
            corners, (float(pole[0]), float(pole[1])), outline, limit, backwards, *which
        )
    starts, ends = outline, following(outline)
    if counted is not None:
        corners = corners[counted]
    if sides is not None:
        starts, ends = starts[sides], ends[sides]
    if len(corners) == 0 or len(starts) == 0:
        return math.inf
    centres = np.broadcast_to(pole, corners.shape)
    arm = corners - centres
    radius = np.hypot(arm[:, 0], arm[:, 1])
    begin = np.arctan2(arm[:, 1], arm[:, 0])
    along = ends - starts
    length = np.hypot(along[:, 0], along[:, 1])
    unit = along / length[:, None]
    normal = np.arctan2(unit[:, 0], -unit[:, 1])
    shape = (len(corners), len(starts))
    to_start = starts[None] - centres[:, None]
    to_end = ends[None] - centres[:, None]
    directions = [
        np.broadcast_to(normal, shape),
        np.broadcast_to(normal + math.pi, shape),
        np.arctan2(to_start[..., 1], to_start[..., 0]),
        np.arctan2(to_end[..., 1], to_end[..., 0]),
    ]
    sense = 1.0 if backwards else -1.0
    turns = [np.zeros(shape), np.full(shape, limit)]
    for direction in directions:
        turned = (sense * (direction - begin[:, None])) % _TURN
        # Directions outside the turn are replaced by its end, which is looked at anyway.
        turns.append(np.where(turned <= limit, turned, limit))
    angle = begin[None, :, None] + sense * np.stack(turns)
    point = centres[:, None] + radius[:, None, None] * np.stack(
        [np.cos(angle), np.sin(angle)], axis=-1
    )
    return float(from_segments(point, starts, ends).min())


def turned(points: Array, centre: Array, angle: float) -> Array:
    """(n, 2) points after a turn by ``angle`` radians about ``centre``.

    Args:
        points: (n, 2) mm.
        centre: (2,), the middle.
        angle: radians.
    """
    c, s = math.cos(angle), math.sin(angle)
    moved: Array = centre + (points - centre) @ np.array([[c, -s], [s, c]])
    return moved


def following(ring: Array) -> Array:
    """(n, 2) the point after each of a closed ring's."""
    return np.concatenate((ring[1:], ring[:1]))


def preceding(ring: Array) -> Array:
    """The entry before each of a closed ring's, along its first axis."""
    return np.concatenate((ring[-1:], ring[:-1]))


SPIKE = 1e-3
"""1 + cos of the turn at a corner below which it is a spike, and its tip stays about where it
is."""


def drawn_in(outline: Array, by: float = TOUCH) -> Array:
    """A counter-clockwise outline (n, 2) with every side moved inwards by ``by`` mm; corners keep
    their order.

    A corner given twice goes with the side before it, and the tip of a spike is drawn in no farther
    than a side is.
    """
    side = following(outline) - outline
    length = np.hypot(side[:, 0], side[:, 1])
    some = np.flatnonzero(length > 1e-12)
    if not len(some):
        return outline
    last = some[np.searchsorted(some, np.arange(len(outline)), side="right") - 1]
    unit = side[last] / length[last][:, None]
    inward = np.column_stack([-unit[:, 1], unit[:, 0]])
    before = preceding(inward)
    cosine = np.einsum("ij,ij->i", inward, before)
    moved: Array = outline + by * np.where(
        1 + cosine > SPIKE, 1 / np.maximum(1 + cosine, SPIKE), 1.0
    )[:, None] * (inward + before)
    return moved


def hull(points: Array) -> Array:
    """Convex hull (k, 2), counter-clockwise, of (n, 2) points."""
    if exact is not None:
        into = np.empty((2 * len(points), 2))
        return into[: exact.hull(points, into)]
    ordered = sorted(set(map(tuple, np.round(points, 9).tolist())))
    if len(ordered) < 3:
        return np.array(ordered).reshape(-1, 2)
    chains: list[list[tuple[float, float]]] = []
    for sequence in (ordered, ordered[::-1]):
        chain: list[tuple[float, float]] = []
        for p in sequence:
            while len(chain) >= 2:
                (ax, ay), (bx, by) = chain[-2], chain[-1]
                if (bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 1e-12:
                    break
                chain.pop()
            chain.append(p)
        chains.append(chain[:-1])
    return np.array(chains[0] + chains[1])


@dataclass(frozen=True, eq=False)
class Outlines:
    """Several closed outlines, their corners in one array so that all are looked at in one go.

    Attributes:
        corners, ends: (n, 2) float, mm: where each side starts and ends.
        first: (k,) int, index of the first corner of each outline.
    """

    corners: Array
    ends: Array
    first: NDArray[np.intp]

    @classmethod
    def of(cls, outlines: Sequence[Array]) -> Outlines:
        """Gather outlines (n_i, 2); there must be at least one and none may be empty."""
        sizes = [len(outline) for outline in outlines]
        corners = np.concatenate(outlines)
        first = np.concatenate([[0], np.cumsum(sizes)[:-1]])
        following = np.arange(1, len(corners) + 1)
        following[first + np.array(sizes) - 1] = first
        return cls(corners, corners[following], first)

    def __len__(self) -> int:
        return len(self.first)

    def spread(self, values: NDArray[np.bool_]) -> NDArray[np.bool_]:
        """(n,) a value of each outline repeated for each of its corners."""
        return np.repeat(values, np.diff(np.append(self.first, len(self.corners))))


@dataclass(frozen=True)
class Touch:
    """The first contact of a moving outline with a resting one.

    Attributes:
        angle: radians turned.
        place: (y, z) mm, where they touch.
        index: of the side (or, when ``corner``, of the corner) of the resting outline that is
            touched.
        corner: True when a corner of the resting outline touches a side of the moving one.
    """

    angle: float
    place: tuple[float, float]
    index: int
    corner: bool


def first_touches(  # noqa: PLR0913
    outlines: Sequence[Array],
    resting: Outlines,
    limit: float,
    *,
    about: Array,
    back_about: Array | None = None,
    backwards: bool = False,
    sides: Mask | None = None,
    corners: Mask | None = None,
) -> list[Touch | None]:
    """First contact of each moving outline with a resting one.

    Args:
        outlines: (n_i, 2) mm each, they turn; their n corners one after another are counted in
            ``about``.
        resting: one outline of m corners that rests.
        limit: largest angle looked at, radians.
        about: (2,) or (n, 2) mm, what the moving corners turn about.
        back_about: (2,) or (m, 2) mm, what the resting corners turn about as the moving outlines
            see it; None is ``about``.
        backwards: turn the other way.
        sides: (m,) bool, resting sides that count; None counts all.
        corners: (m,) bool, resting corners that count.
    """
    back_pole = about if back_about is None else back_about
    back_sense = not backwards if back_about is None else backwards
    if exact is not None:
        counted = [None if which is None else which.tobytes() for which in (sides, corners)]
        met = exact.touches(
            list(outlines),
            resting.corners,
            limit,
            about.reshape(-1, 2),
            back_pole.reshape(-1, 2),
            backwards,
            back_sense,
            *counted,
        )
        return [None if each is None else Touch(*each) for each in met]
    moving = Outlines.of(outlines)
    allowed = None if sides is None else np.broadcast_to(sides, (len(moving.corners), len(sides)))
    counts = (
        None
        if corners is None
        else np.broadcast_to(corners[:, None], (len(corners), len(moving.corners)))
    )
    ahead = hit_angles(
        moving.corners,
        about,
        resting.corners,
        resting.ends,
        limit,
        backwards=backwards,
        allowed=allowed,
    )
    back = hit_angles(
        resting.corners,
        back_pole,
        moving.corners,
        moving.ends,
        limit,
        backwards=back_sense,
        allowed=counts,
    ).T
    best_ahead, best_back = ahead.min(axis=1), back.min(axis=1)
    bounds = [*moving.first.tolist(), len(moving.corners)]
    found: list[Touch | None] = []
    for a, b in itertools.pairwise(bounds):
        i, j = a + int(best_ahead[a:b].argmin()), a + int(best_back[a:b].argmin())
        angle = min(best_ahead[i], best_back[j])
        if not math.isfinite(angle):
            found.append(None)
        elif best_back[j] < best_ahead[i]:
            k = int(back[j].argmin())
            found.append(
                Touch(
                    float(angle),
                    (float(resting.corners[k, 0]), float(resting.corners[k, 1])),
                    k,
                    True,
                )
            )
        else:
            k = int(ahead[i].argmin())
            centre = np.broadcast_to(about, moving.corners.shape)[i]
            place = turned(moving.corners[i : i + 1], centre, -angle if backwards else angle)[0]
            found.append(Touch(float(angle), (float(place[0]), float(place[1])), k, False))
    return found
