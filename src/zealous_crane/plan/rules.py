"""Orders a hand would try first on a part with many bends: from one end to the other, from the tips inwards, from the base outwards;
the smaller side of a strip swings first. Common practice, no source."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..blank import MadeBy
from .pose import Setting
from .route import Route, Step

if TYPE_CHECKING:
    from .order import Search


def by_rule(search: Search) -> Route | None:
    """The cheapest of these orders that goes; None when none does."""
    found = [route for sequence in _rules(search) if (route := _followed(search, sequence)) is not None]
    return min(found, key=lambda route: route.cost, default=None)


def _rules(search: Search) -> list[list[int]]:
    folds, strokes = search.blank.folds, search.strokes
    depth: dict[int, int] = {0: 0}
    for fold in folds:
        depth[fold.child] = depth.get(fold.parent, 0) + 1
    middle = {i: (folds[i].start + folds[i].end) / 2 for i in strokes}
    rules: list[list[int]] = []
    for axis in (0, 1):
        along = sorted(strokes, key=lambda i, axis=axis: float(middle[i][axis]))  # type: ignore[misc]
        rules += [along, along[::-1]]
    inward = sorted(strokes, key=lambda i: -depth[folds[i].child])
    return [*rules, inward, inward[::-1]]


def _followed(search: Search, sequence: list[int]) -> Route | None:
    """A sequence of folds gone through, at every stroke with what is cheapest there; None when one of them does not go."""
    state, cost = search.start, 0.0
    path: tuple[Step, ...] = ()
    hems = [i for i in sequence if search.blank.folds[i].made_by is MadeBy.HEM]
    for fold in (*hems, *sequence):
        if state.is_done(fold):
            continue
        moves = [
            (move, handling)
            for move, handling in search.tried(state)
            if move.target is None and fold in Setting(search.blank, move.fold, move.clamps_parent, state.angles).folds
        ]
        moves += [(other, handling + extra) for move, handling in moves for other, extra in search.instead(state, move)]
        grown = [(handling + made[0], made) for move, handling in moves if (made := search.made(state, path, move)) is not None]
        if not grown:
            return None
        step, made = min(grown, key=lambda g: g[0])
        state, path, cost = made[1], made[2], cost + step
    return search.route(path, cost, cheapest=False) if search.finished(state) else None
