"""Corner cuts as a hand says them: what is scribed from which edges, what is punched, what is cut;
equal corners said once.

A corner is looked at from the corner of the sheared rectangle: u from its left or right edge, v
from its front or back edge. Corners whose cuts are the same from there, mirrored or not, are alike.
Common practice, no source.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from ..i18n import tr
from ..part.edge import EDGE_WORDS, edge_words
from ..units.length import Units, show_length
from ..units.quantities import show_angle
from .blank import Blank
from .features import Notch
from .notch import SAME, reliefs_at, straight_sides
from .ring import Point
from .ruler import NEAREST, Striking, shown

MOST_LINES = 3
"""Settings from one edge beyond which a corner is no recipe any more: it is cut to its points."""

PLAIN = 0.3
"""Degrees off a multiple of 5° within which a slanted cut is one a hand sets; others are cut from
point to point."""


@dataclass(frozen=True)
class Punched:
    """A relief of a corner.

    Attributes:
        u, v: of its centre, mm.
        size: diameter or side, mm.
        shape: ``round``, ``square`` or ``slot``.
    """

    u: float
    v: float
    size: float
    shape: str


@dataclass(frozen=True)
class CornerRecipe:
    """One kind of corner, and where it is.

    Attributes:
        members: names of the notches that are alike.
        notches: their numbers in the blank.
        path: corners (u, v) of the cut, mm, from one edge to the other, reliefs left out.
        punched: its reliefs.
    """

    members: tuple[str, ...]
    notches: tuple[int, ...]
    path: tuple[Point, ...]
    punched: tuple[Punched, ...]

    @property
    def from_ends(self) -> tuple[float, ...]:
        """What is scribed from the left or right edge, mm."""
        return _different(u for u, _ in self.path)

    @property
    def from_sides(self) -> tuple[float, ...]:
        """What is scribed from the front or back edge, mm."""
        return _different(v for _, v in self.path)

    @property
    def fits(self) -> bool:
        """True when it can be said in a few settings; else its points are told one by one."""
        lines = max(len(self.from_ends), len(self.from_sides))
        return (
            len(self.path) > 1
            and lines <= MOST_LINES
            and all(abs(a - round(a / 5) * 5) < PLAIN for a in self._slants)
        )

    @property
    def pointed(self) -> bool:
        """True when it is no few settings, but the same at several corners: its points are told
        once, as each corner sees them."""
        return not self.fits and len(self.members) > 1

    @property
    def square(self) -> float | None:
        """The longer side (mm) of a corner cut out along two lines at right angles; None for any
        other cut."""
        if len(self.path) != 3 or self._slants:
            return None
        return max(*self.from_ends, *self.from_sides)

    @property
    def _slants(self) -> tuple[float, ...]:
        """Degrees off the nearer edge of every cut that runs askew."""
        turns = [
            (abs(u1 - u0), abs(v1 - v0)) for (u0, v0), (u1, v1) in itertools.pairwise(self.path)
        ]
        return tuple(math.degrees(math.atan2(min(t), max(t))) for t in turns if min(t) > SAME)

    def points(self, units: Units) -> tuple[tuple[str, str, str], ...]:
        """Every point of the cut: its number in the picture, how far it lies from the left or right
        edge, and from the front or back."""
        return tuple(
            (str(k), shown(u, units), shown(v, units))
            for k, (u, v) in enumerate(self.path, start=1)
        )

    def says(self, units: Units, striking: Striking = NEAREST, *, with_points: bool = True) -> str:
        """The recipe in a sentence or two; a corner is always struck from its own two edges,
        whatever the datum of the rest.

        Args:
            units: what lengths are shown in.
            striking: where lines are struck from.
            with_points: a corner told by its points says where each is; else they stand beside it.
        """
        if self.pointed:
            cut = self._points(units) if with_points else tr("cut from point to point")
            steps = [cut, *self._punched(units)]
        else:
            steps = [self._scribed(units, striking), *self._punched(units), self._cut(units)]
        text = "; ".join(step for step in steps if step)
        if len(self.members) == 1:
            name = self.members[0]
            return tr("{name}: {steps}.").format(name=name[:1].upper() + name[1:], steps=text)
        return tr("{count} corners alike: {steps}.").format(
            count=_number(len(self.members)), steps=text
        )

    def _points(self, units: Units) -> str:
        """From point to point, each by its number in the picture: so far from the left or right
        edge, and from the front or back."""
        told = [f"{k} ({u}, {v})" for k, u, v in self.points(units)]
        return tr(
            "from point to point, so far from the left or right edge and from the front or back: "
            "{points}"
        ).format(points="; ".join(told))

    def _scribed(self, units: Units, striking: Striking) -> str:
        ends, sides = _listed(self.from_ends, units), _listed(self.from_sides, units)
        if striking.datum is not None:
            # The lines are struck from the datum; at the corner they are found by how far they lie
            # from its own edges.
            return tr("its lines lie {ends} from the end and {sides} from the side").format(
                ends=ends, sides=sides
            )
        if ends == sides:
            return tr("scribe {lines} from both edges").format(lines=ends)
        return tr(
            "scribe {ends} from the left or right edge and {sides} from the front or back"
        ).format(ends=ends, sides=sides)

    def _punched(self, units: Units) -> list[str]:
        result = []
        for relief in self.punched:
            hole = {
                "round": tr("punch {size} {where}"),
                "square": tr("cut a square of {size} {where}"),
            }.get(relief.shape, tr("cut a slot {size} wide {where}"))
            u, v = shown(relief.u, units), shown(relief.v, units)
            where = tr("where the {u} lines cross") if u == v else tr("where {u} and {v} cross")
            result.append(
                hole.format(
                    size=show_length(relief.size, units, pretty=True), where=where.format(u=u, v=v)
                )
            )
        return result

    def _cut(self, units: Units) -> str:
        """Cut by cut, from one edge to the other."""
        slanted = []
        for (u0, v0), (u1, v1) in itertools.pairwise(self.path):
            du, dv = abs(u1 - u0), abs(v1 - v0)
            if min(du, dv) > SAME:
                angle = show_angle(math.degrees(math.atan2(min(du, dv), max(du, dv))))
                slanted.append(
                    tr("{angle} across, from {first} to {second}").format(
                        angle=angle,
                        first=_crossing((u0, v0), units),
                        second=_crossing((u1, v1), units),
                    )
                )
        end = (
            tr("cut along the lines to the hole")
            if self.punched
            else tr("cut along the lines to where they cross")
        )
        return "; ".join(
            [
                *(tr("cut {slanted}").format(slanted=cut) for cut in slanted),
                end if self._straight else "",
            ]
        ).rstrip("; ")

    @property
    def _straight(self) -> bool:
        """True when some of it is cut along a scribed line."""
        return any(
            min(abs(u1 - u0), abs(v1 - v0)) <= SAME
            for (u0, v0), (u1, v1) in itertools.pairwise(self.path)
        )

    def record(self) -> dict[str, object]:
        """As JSON, lengths mm."""
        return {
            "members": list(self.members),
            "path": [list(point) for point in self.path],
            "by_points": self.pointed,
            "from_ends": list(self.from_ends),
            "from_sides": list(self.from_sides),
            "reliefs": [
                {"u": r.u, "v": r.v, "size": r.size, "shape": r.shape} for r in self.punched
            ],
        }


R = TypeVar("R")


def _together(
    recipes: Iterable[R | None], alike: Callable[[R, R], bool], joined: Callable[[R, R], R]
) -> list[R]:
    """Recipes with those that are alike made one, in the order of the first of each."""
    result: list[R] = []
    for recipe in recipes:
        if recipe is None:
            continue
        at = next((k for k, other in enumerate(result) if alike(recipe, other)), None)
        if at is None:
            result.append(recipe)
        else:
            result[at] = joined(result[at], recipe)
    return result


def corner_recipes(blank: Blank) -> tuple[CornerRecipe, ...]:
    """The corners of a blank that are cut out of its rectangle's own corners, alike ones together;
    those with the most first."""
    every = (_recipe(blank, notch, number) for number, notch in enumerate(blank.notches))
    result = _together(
        every,
        _alike,
        lambda other, recipe: replace(
            other,
            members=(*other.members, *recipe.members),
            notches=(*other.notches, *recipe.notches),
        ),
    )
    return tuple(sorted(result, key=lambda recipe: -len(recipe.members)))


def _recipe(blank: Blank, notch: Notch, number: int) -> CornerRecipe | None:
    """A notch as its corner of the rectangle sees it; None when it lies at none, or at more than
    one."""
    points: list[Point] = notch.waste.points.tolist()
    length, width = blank.size
    corners = [
        (x, y)
        for x in (0.0, length)
        for y in (0.0, width)
        if any(math.hypot(u - x, v - y) < SAME for u, v in points)
    ]
    if len(corners) != 1:
        return None
    x, y = corners[0]

    def seen(point: Sequence[float]) -> Point:
        return abs(point[0] - x), abs(point[1] - y)

    reliefs = reliefs_at(blank)[number]
    punched = tuple(Punched(*seen(r.centre.tolist()), r.size, r.shape) for r in reliefs)
    sides = [(seen(p), seen(q)) for p, q in straight_sides(blank)[number]]
    path = _joined(sides, [(r.u, r.v, r.size) for r in punched], blank.thickness)
    if path is None:
        path = _round([seen(p) for p in points], [(r.u, r.v, r.size) for r in punched])
    return None if path is None else CornerRecipe((notch.name,), (number,), path, punched)


def _round(
    ring: list[Point], reliefs: list[tuple[float, float, float]]
) -> tuple[Point, ...] | None:
    """All corners of a cut from edge to edge; of those on the rim of a relief where the cut comes
    to it and where it leaves it. None when it is no such way."""

    def on_rim(point: Point) -> bool:
        return any(math.dist(point, (u, v)) < size * 0.75 for u, v, size in reliefs)

    first = min(range(len(ring)), key=lambda k: math.hypot(*ring[k]))
    way = [*ring[first + 1 :], *ring[:first]]
    within = [k for k in range(1, len(way) - 1) if all(on_rim(way[i]) for i in (k - 1, k, k + 1))]
    path = [point for k, point in enumerate(way) if k not in within]
    if len(path) < 2 or min(path[0]) >= SAME or min(path[-1]) >= SAME:
        return None
    return tuple(path) if path[0][1] < SAME else tuple(reversed(path))


def _joined(
    sides: list[tuple[Point, Point]], reliefs: list[tuple[float, float, float]], thickness: float
) -> tuple[Point, ...] | None:
    """The sides of a cut as one path from edge to edge, closed over its reliefs; None when they are
    no such path.

    Two sides that a relief keeps apart are drawn on to where they cross; over a nick shorter than
    the sheet is thick they are joined.
    """
    starts = [k for k, (p, _) in enumerate(sides) if min(p) < SAME]
    if len(starts) != 1:
        return None
    sides = sides[starts[0] :] + sides[: starts[0]]
    path: list[Point] = [sides[0][0]]
    for (p, q), (r, s) in itertools.pairwise(sides):
        if math.dist(q, r) < SAME:
            path.append(q)
            continue
        if math.dist(q, r) < thickness and not any(
            math.dist(q, (u, v)) < size for u, v, size in reliefs
        ):
            path += [q, r]
            continue
        cross = _crossed(p, q, r, s)
        near = cross is not None and any(
            math.dist(cross, (u, v)) < 1.5 * size for u, v, size in reliefs
        )
        if cross is None or not near:
            return None
        path.append(cross)
    path.append(sides[-1][1])
    if min(path[-1]) >= SAME:
        return None
    # From the edge it is measured along to the other: the same way round for mirrored corners.
    return tuple(path) if path[0][1] < SAME else tuple(reversed(path))


def _crossed(p: Point, q: Point, r: Point, s: Point) -> Point | None:
    """Where the lines through two sides cross; None when they run alike."""
    (ax, ay), (bx, by) = (q[0] - p[0], q[1] - p[1]), (s[0] - r[0], s[1] - r[1])
    turn = ax * by - ay * bx
    if abs(turn) < 1e-9 * math.hypot(ax, ay) * math.hypot(bx, by):
        return None
    k = ((r[0] - p[0]) * by - (r[1] - p[1]) * bx) / turn
    return p[0] + k * ax, p[1] + k * ay


def _alike(one: CornerRecipe, other: CornerRecipe) -> bool:
    """True when two corners are cut and punched the same."""
    if len(one.path) != len(other.path) or len(one.punched) != len(other.punched):
        return False
    same = all(math.dist(a, b) < SAME for a, b in zip(one.path, other.path, strict=True))
    order = [sorted(r.punched, key=lambda p: (round(p.u, 2), round(p.v, 2))) for r in (one, other)]
    return same and all(
        a.shape == b.shape
        and abs(a.size - b.size) < SAME
        and math.dist((a.u, a.v), (b.u, b.v)) < SAME
        for a, b in zip(*order, strict=True)
    )


def _different(values: object) -> tuple[float, ...]:
    """Distances that are not those of the edge itself, each once, the smallest first."""
    result: list[float] = []
    for value in sorted(values):  # type: ignore[call-overload]
        if value >= SAME and not any(abs(value - other) < SAME for other in result):
            result.append(value)
    return tuple(result)


def _listed(values: tuple[float, ...], units: Units) -> str:
    words = [shown(value, units) for value in values]
    return (
        words[0]
        if len(words) == 1
        else tr("{first} and {last}").format(first=", ".join(words[:-1]), last=words[-1])
    )


def _crossing(point: Point, units: Units) -> str:
    """Where a cut begins or ends, by the lines it lies on."""
    u, v = point
    if u < SAME or v < SAME:
        return tr("{length} along the edge").format(length=shown(max(u, v), units))
    return tr("where {u} meets {v}").format(u=shown(u, units), v=shown(v, units))


def _number(count: int) -> str:
    return {2: tr("Two"), 3: tr("Three"), 4: tr("Four")}.get(count, str(count))


EVEN = 0.5
"""Degrees by which both sides of a V may differ and still be alike."""

EDGES = (("left", 0, 0.0), ("right", 0, 1.0), ("front", 1, 0.0), ("back", 1, 1.0))
"""Edges of the rectangle: name, the axis across, and at which end of it."""


@dataclass(frozen=True)
class EdgeRecipe:
    """Notches that are alike, in one edge, or in two opposite ones at the same places.

    Attributes:
        edges: ``left``, ``right``, ``front``, ``back``.
        notches: their numbers in the blank.
        places: of their middles in either edge, mm along it, from the left or front end.
        length: of the edge, mm.
        mouth: width at the edge, mm.
        foot: width at the end of both sides, mm; 0 where they meet.
        depth: from the edge to there, mm.
        angle: of either side off square to the edge, degrees; 0 for a slit.
        hole: diameter or side of the relief it ends in, mm; 0 where it ends in none.
        hole_at: from the edge to the middle of that relief, mm.
    """

    edges: tuple[str, ...]
    notches: tuple[int, ...]
    places: tuple[float, ...]
    length: float
    mouth: float
    foot: float
    depth: float
    angle: float
    hole: float
    hole_at: float = 0.0

    def says(self, units: Units, striking: Striking = NEAREST) -> str:
        """The recipe in a sentence; places are counted from one end of the edge, that of the datum
        where there is one."""
        ends = ("left", "right") if self.edges[0] in ("front", "back") else ("front", "back")
        from_first = striking.datum is None or ends[0] in striking.datum
        end = EDGE_WORDS[ends[0] if from_first else ends[1]]
        along = sorted(place if from_first else self.length - place for place in self.places)
        places = ", ".join(shown(place, units) for place in along)
        mouth = shown(self.mouth, units)
        if self.hole:
            to = tr("to a {hole} punch on the {line} line").format(
                hole=show_length(self.hole, units, pretty=True), line=shown(self.hole_at, units)
            )
        else:
            to = tr("to the {line} line").format(line=shown(self.depth, units))
        if self.angle < EVEN:
            what = tr("a slit {mouth} wide, {to}").format(mouth=mouth, to=to)
        else:
            what = tr("a V {mouth} wide at the edge, {angle} each side, {to}").format(
                mouth=mouth, angle=show_angle(self.angle), to=to
            )
            if self.foot > SAME and not self.hole:
                what += tr(", {foot} wide at its foot").format(foot=shown(self.foot, units))
        if len(self.edges) == 1:
            text = tr("{edge} edge, at {places} from its {end} end: {what}.")
            return text.format(
                edge=edge_words(self.edges[0]).capitalize(), places=places, end=end, what=what
            )
        text = tr("{edge} and {other} edge alike, at {places} from the {end} end: {what}.")
        first, second = (edge_words(edge) for edge in self.edges)
        return text.format(edge=first.capitalize(), other=second, places=places, end=end, what=what)

    def record(self) -> dict[str, object]:
        """As JSON, lengths mm, angles degrees."""
        return {
            "edges": list(self.edges),
            "places": sorted(self.places),
            "mouth": self.mouth,
            "foot": self.foot,
            "depth": self.depth,
            "angle": self.angle,
            "hole": self.hole,
            "hole_at": self.hole_at,
        }


def edge_recipes(blank: Blank) -> tuple[EdgeRecipe, ...]:
    """The plain notches within the edges of a blank, alike ones together."""
    every = (_edge_recipe(blank, notch, number) for number, notch in enumerate(blank.notches))
    result = _together(
        every,
        _edge_alike,
        lambda other, recipe: replace(
            other,
            notches=(*other.notches, *recipe.notches),
            places=(*other.places, *recipe.places),
        ),
    )
    text: list[EdgeRecipe] = []
    for one in result:
        across = next((k for k, other in enumerate(text) if _opposite(one, other)), None)
        if across is None:
            text.append(one)
        else:
            edges = sorted(
                (*text[across].edges, *one.edges), key=[name for name, _, _ in EDGES].index
            )
            text[across] = replace(
                text[across], edges=tuple(edges), notches=(*text[across].notches, *one.notches)
            )
    return tuple(text)


def _edge_recipe(blank: Blank, notch: Notch, number: int) -> EdgeRecipe | None:
    """A notch as its edge sees it; None when it lies at a corner, meets two edges, or is no V and
    no slit."""
    points, size = notch.waste.points, blank.size
    edges = [
        (name, axis, at * size[axis])
        for name, axis, at in EDGES
        if np.abs(points[:, axis] - at * size[axis]).min() < SAME
    ]
    if len(edges) != 1:
        return None
    name, axis, at = edges[0]

    def seen(point: Sequence[float]) -> tuple[float, float]:
        return point[1 - axis], abs(point[axis] - at)

    sides = [(seen(p), seen(q)) for p, q in straight_sides(blank)[number]]
    first = [side for side in sides if side[0][1] < SAME]
    last = [side for side in sides if side[1][1] < SAME]
    if len(first) != 1 or len(last) != 1 or first == last:
        return None
    (mouth_a, _), (foot_a, deep_a) = first[0]
    (foot_b, deep_b), (mouth_b, _) = last[0]
    angles = [
        math.degrees(math.atan2(abs(m - f), d))
        for m, f, d in ((mouth_a, foot_a, deep_a), (mouth_b, foot_b, deep_b))
    ]
    rest = [point for side in sides if side not in (first[0], last[0]) for point in side]
    low, high = sorted((foot_a, foot_b))
    # Below both sides it may go straight on, no farther apart.
    plain = all(min(abs(along - low), abs(along - high)) < SAME for along, _ in rest)
    if abs(angles[0] - angles[1]) > EVEN or abs(deep_a - deep_b) > SAME or not plain:
        return None
    holes = [(r.size, abs(float(r.centre[axis]) - at)) for r in reliefs_at(blank)[number]]
    middle, depth = (mouth_a + mouth_b) / 2, max([deep_a, *(d for _, d in rest)])
    return EdgeRecipe(
        (name,),
        (number,),
        (middle,),
        float(size[1 - axis]),
        abs(mouth_a - mouth_b),
        abs(foot_a - foot_b),
        depth,
        sum(angles) / 2,
        *max(holes, default=(0.0, 0.0)),
    )


def _edge_alike(one: EdgeRecipe, other: EdgeRecipe) -> bool:
    """True when two notches of one edge are cut the same."""
    return one.edges == other.edges and _same(one, other)


OPPOSITE = ({"left", "right"}, {"front", "back"})


def _opposite(one: EdgeRecipe, other: EdgeRecipe) -> bool:
    """True when the notches of two opposite edges are cut the same, at the same places."""
    places = zip(sorted(one.places), sorted(other.places), strict=False)
    return (
        {*one.edges, *other.edges} in OPPOSITE
        and len(one.places) == len(other.places)
        and all(abs(a - b) < SAME for a, b in places)
        and _same(one, other)
    )


def _same(one: EdgeRecipe, other: EdgeRecipe) -> bool:
    """True when two notches are cut the same."""
    figures = [(r.mouth, r.foot, r.depth, r.hole, r.hole_at) for r in (one, other)]
    same = all(abs(a - b) < SAME for a, b in zip(*figures, strict=True))
    return same and abs(one.angle - other.angle) < EVEN
