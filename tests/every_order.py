"""Every order of a part, tried one by one."""

from __future__ import annotations

import copy
import math
from collections.abc import Iterator
from dataclasses import replace

from zealous_crane.bending.setting import Setting
from zealous_crane.flat.element import MadeBy
from zealous_crane.planning.moves import unchanged
from zealous_crane.planning.route import Move, PartState
from zealous_crane.planning.search import Search


def every_order(search: Search) -> float | None:
    """Least cost over every sequence of folds, clampings and set-ups, by plain recursion; None when
    none comes through.

    Nothing is left out for being unlikely or dear, there is no bound, and nothing is taken for its
    mirror image: only what follows from one and the same state is remembered.
    """
    blank, search = search.blank, copy.copy(search)
    search._same, search._known, search._looked, search._carried = (unchanged(blank),), {}, {}, {}
    wanted = [i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)]
    known: dict[PartState, float] = {}
    allowed: dict[tuple, list[tuple[Move, float]]] = {}

    def least(state: PartState) -> float:
        if state not in known:
            known[state] = (
                0.0
                if all(state.is_done(i) for i in wanted)
                else min(steps(state), default=math.inf)
            )
        return known[state]

    def steps(state: PartState) -> Iterator[float]:
        for fold in (i for i in wanted if not state.is_done(i)):
            for clamps_parent in (True, False):
                setting = Setting(blank, fold, clamps_parent, state.angles)
                if setting.folds[0] != fold:
                    continue
                handling = search.choices.handling(setting, state.last)
                for target in (None,):  # no folds left part way are asked for
                    key = fold, clamps_parent, target, state.angles, state.tooling
                    if key not in allowed:
                        moves = [
                            Move(fold, clamps_parent, target, t) for t in search.choices.toolings
                        ]
                        allowed[key] = [
                            (m, e) for m in moves if (e := extras(search, state, m)) is not None
                        ]
                    for move, extra in allowed[key]:
                        made = search.made(state, (), move)
                        if made is not None:
                            yield handling + made[0] + extra + least(made[1])

    cost = least(search.choices.start)
    return cost if math.isfinite(cost) else None


def extras(search: Search, state: PartState, move: Move) -> float | None:
    """What a set-up costs beyond the change of tools itself: a little more when it is out of the
    ordinary, and then only where the plain one does not do."""
    plain = search.choices.plain(replace(state, tooling=None))
    if move.tooling in plain or move.tooling == state.tooling:
        return 0.0
    return next(
        (
            (2.0 if getattr(move.tooling, "end", 0) else 0.5)
            for tooling in plain
            for other, _ in search.instead(state, move._replace(tooling=tooling))
            if other == move
        ),
        None,
    )
