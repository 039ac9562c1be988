"""Straight and round pieces of a drawing, and joining them end to end."""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Iterable
from typing import Any, TypeVar

from ..measure.dataclass import dataclass

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


MOST_BRANCHES = 60
"""Runs between the points where more than two sides meet, beyond which no loop is sought among them: there are too many ways."""

PATIENCE = 1.0
"""Seconds for which loops are sought there."""


def chain(sides: list[Side]) -> tuple[list[list[Side]], list[list[Side]]]:
    """Join sides end to end; returns closed loops, and the runs that stay open.

    Where more than two sides meet, as where a stray line touches an edge, the longest loops are taken.
    """
    if not sides:
        return [], []
    from ezdxf import edgeminer  # takes a while, and nobody but who reads a drawing needs it

    deposit = edgeminer.Deposit(
        [edgeminer.make_edge(side.start, side.end, payload=number) for number, side in enumerate(sides)], gap_tol=JOIN
    )
    runs = [_numbered(run) for run in edgeminer.find_all_simple_chains(deposit)]
    loops = [run for run in runs if _closes(run, sides)]
    through, rest = _through_branches([run for run in runs if not _closes(run, sides)], sides)
    begun = sorted((_begun(run) for run in (*loops, *through)), key=lambda run: run[0][0])
    left = [[_drawn(step, sides) for step in run] for run in sorted(rest, key=min)]
    return [[_drawn(step, sides) for step in run] for run in begun], left


Step = tuple[int, bool]
"""Number of a side, and whether it is gone along as drawn."""


def _numbered(edges: Iterable[Any]) -> list[Step]:
    return [(edge.payload, not edge.is_reverse) for edge in edges]


def _drawn(step: Step, sides: list[Side]) -> Side:
    return sides[step[0]] if step[1] else sides[step[0]].turned


def _closes(run: list[Step], sides: list[Side]) -> bool:
    """True for a run that ends where it begins and encloses something."""
    first, last = _drawn(run[0], sides), _drawn(run[-1], sides)
    return math.dist(first.start, last.end) <= JOIN and (len(run) > 2 or any(sides[number].bulge for number, _ in run))


def _begun(loop: list[Step]) -> list[Step]:
    """A loop from its first side on, in the direction in which that is drawn."""
    if not min(loop)[1]:
        loop = [(number, not ahead) for number, ahead in reversed(loop)]
    k = loop.index(min(loop))
    return loop[k:] + loop[:k]


def _through_branches(runs: list[list[Step]], sides: list[Side]) -> tuple[list[list[Step]], list[list[Step]]]:
    """The longest loops that runs make where more than two of them meet, and the runs that are left."""
    if not 1 < len(runs) <= MOST_BRANCHES:
        return [], runs
    from ezdxf import edgeminer

    joined = [
        edgeminer.make_edge(
            _drawn(run[0], sides).start, _drawn(run[-1], sides).end,
            sum(math.dist(sides[number].start, sides[number].end) for number, _ in run), payload=k,
        )
        for k, run in enumerate(runs)
    ]  # fmt: skip
    try:
        ways = edgeminer.find_all_loops(edgeminer.Deposit(joined, gap_tol=JOIN), timeout=PATIENCE)
    except edgeminer.TimeoutError:
        return [], runs
    used: set[int] = set()
    loops: list[list[Step]] = []
    for way in sorted(ways, key=lambda way: -edgeminer.length(way)):
        if used.isdisjoint(edge.payload for edge in way):
            loop: list[Step] = []
            for edge in way:
                run = runs[edge.payload]
                loop += [(number, not ahead) for number, ahead in reversed(run)] if edge.is_reverse else run
            if _closes(loop, sides):
                used |= {edge.payload for edge in way}
                loops.append(loop)
    return loops, [run for k, run in enumerate(runs) if k not in used]
