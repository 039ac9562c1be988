"""Straight and round pieces of a drawing, and joining them end to end."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import TypeVar

Thing = TypeVar("Thing")

JOIN = 0.05
"""mm; ends nearer than this are one point."""


@dataclass(frozen=True)
class Side:
    """One straight or round piece: start, end, bulge."""

    start: tuple[float, float]
    end: tuple[float, float]
    bulge: float = 0.0

    def key(self) -> tuple[object, ...]:
        """The same for two pieces that lie on each other, whichever way they are drawn."""
        a, b = (tuple(round(v / JOIN) for v in p) for p in (self.start, self.end))
        bulge = round(self.bulge, 4)
        return (a, b, bulge) if a <= b else (b, a, -bulge)

    @property
    def turned(self) -> Side:
        """The same piece from its end to its start."""
        return Side(self.end, self.start, -self.bulge)


def first_of_each(things: list[Thing], key: Callable[[Thing], Hashable]) -> list[Thing]:
    """The first of all things with one key, in their order."""
    return list({key(thing): thing for thing in reversed(things)}.values())[::-1]


def chain(sides: list[Side]) -> tuple[list[list[Side]], list[tuple[tuple[float, float], tuple[float, float]]]]:
    """Join sides end to end; returns closed loops and the ends of what stays open."""
    cells: dict[tuple[int, int], list[tuple[int, bool]]] = {}

    def cell(p: tuple[float, float]) -> tuple[int, int]:
        return math.floor(p[0] / JOIN), math.floor(p[1] / JOIN)

    for i, side in enumerate(sides):
        for p, first in ((side.start, True), (side.end, False)):
            cells.setdefault(cell(p), []).append((i, first))
    used = [False] * len(sides)

    def following(p: tuple[float, float]) -> tuple[int, bool] | None:
        cx, cy = cell(p)
        best: tuple[float, int, bool] | None = None
        for dx in (-1, 0, 1):
            for dy in (-1, 0, 1):
                for i, first in cells.get((cx + dx, cy + dy), ()):
                    if not used[i]:
                        away = math.dist(sides[i].start if first else sides[i].end, p)
                        if away <= JOIN and (best is None or away < best[0]):
                            best = (away, i, first)
        return None if best is None else (best[1], best[2])

    loops: list[list[Side]] = []
    left: list[tuple[tuple[float, float], tuple[float, float]]] = []
    for i, side in enumerate(sides):
        if used[i]:
            continue
        used[i] = True
        chain = [side]
        while (found := following(chain[-1].end)) is not None:
            j, first = found
            used[j] = True
            chain.append(sides[j] if first else sides[j].turned)
        if math.dist(chain[0].start, chain[-1].end) <= JOIN and (len(chain) > 2 or any(s.bulge for s in chain)):
            loops.append(chain)
            continue
        while (found := following(chain[0].start)) is not None:
            j, first = found
            used[j] = True
            chain.insert(0, sides[j].turned if first else sides[j])
        left.append((chain[0].start, chain[-1].end))
    return loops, left
