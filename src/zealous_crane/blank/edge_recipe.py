"""Notches within an edge as a hand says them: V or slit, how deep and wide, in a hole or not, and at which places along the edge; two
opposite edges that are cut alike are said once."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..measure import Units, show_angle, show_length
from ..measure.dataclass import dataclass
from ..measure.words import tr
from ..part.edge import EDGE_WORDS
from .blank import Blank
from .cut_away import Notch
from .rule import NEAREST, Striking, shown
from .sides import SAME, reliefs_at, straight_sides

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
        """The recipe in a sentence; places are counted from one end of the edge, that of the datum where there is one."""
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
            said = tr("{edge} edge, at {places} from its {end} end: {what}.")
            return said.format(edge=EDGE_WORDS[self.edges[0]].capitalize(), places=places, end=end, what=what)
        said = tr("{edge} and {other} edge alike, at {places} from the {end} end: {what}.")
        first, second = (EDGE_WORDS[edge] for edge in self.edges)
        return said.format(edge=first.capitalize(), other=second, places=places, end=end, what=what)

    def record(self) -> dict[str, object]:
        """As JSON, lengths mm, angles degrees."""
        return {
            "edges": list(self.edges), "places": sorted(self.places), "mouth": self.mouth, "foot": self.foot, "depth": self.depth,
            "angle": self.angle, "hole": self.hole, "hole_at": self.hole_at,
        }  # fmt: skip


def edge_recipes(blank: Blank) -> tuple[EdgeRecipe, ...]:
    """The plain notches within the edges of a blank, alike ones together."""
    found: list[EdgeRecipe] = []
    for number, notch in enumerate(blank.notches):
        recipe = _recipe(blank, notch, number)
        if recipe is None:
            continue
        alike = next((k for k, other in enumerate(found) if _alike(recipe, other)), None)
        if alike is None:
            found.append(recipe)
        else:
            other = found[alike]
            found[alike] = replace(other, notches=(*other.notches, *recipe.notches), places=(*other.places, *recipe.places))
    said: list[EdgeRecipe] = []
    for one in found:
        across = next((k for k, other in enumerate(said) if _opposite(one, other)), None)
        if across is None:
            said.append(one)
        else:
            edges = sorted((*said[across].edges, *one.edges), key=[name for name, _, _ in EDGES].index)
            said[across] = replace(said[across], edges=tuple(edges), notches=(*said[across].notches, *one.notches))
    return tuple(said)


def _recipe(blank: Blank, notch: Notch, number: int) -> EdgeRecipe | None:
    """A notch as its edge sees it; None when it lies at a corner, meets two edges, or is no V and no slit."""
    points, size = notch.waste.points, blank.size
    edges = [
        (name, axis, at * size[axis]) for name, axis, at in EDGES if np.abs(points[:, axis] - at * size[axis]).min() < SAME
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
    angles = [math.degrees(math.atan2(abs(m - f), d)) for m, f, d in ((mouth_a, foot_a, deep_a), (mouth_b, foot_b, deep_b))]
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


def _alike(one: EdgeRecipe, other: EdgeRecipe) -> bool:
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
