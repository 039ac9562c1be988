"""What may come next on the way to a part: folds, sides, angles and set-ups, and what each costs before it is judged."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from ...blank import Blank, MadeBy
from ...brake import Brake
from ..stroke.machines import machine_of, toolings
from ..stroke.setting import Setting, setting_for
from ..stroke.tooling import Tooling
from .route import Costs, Move, State
from .terms import Terms

PART_WAY = 20.0
"""Degrees that must be left of a fold for stopping part way to be worth while."""


class Choices:
    """What may come next.

    Args:
        blank: the part.
        brake: the machine.
        terms: what an order is measured by.
    """

    def __init__(self, blank: Blank, brake: Brake, terms: Terms) -> None:
        self.blank, self.brake, self.terms = blank, brake, terms
        self.costs, self.moves, self.stages = terms.costs, terms.moves, terms.stages
        self.wishes = terms.wishes.read(blank)
        self.machine = machine_of(brake)
        self.strokes = tuple(i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM))
        left = tuple(t for t in toolings(brake, blank, terms.bottomed) if not self.wishes.avoids(t))
        self._asked = self.wishes.tools.any
        self._serving = {i: left for i in self.strokes}
        if self._asked:
            every = toolings(brake, blank, terms.bottomed, every=True)
            for i in self.strokes:
                name = blank.folds[i].name
                serving = [tuple(t for t in some if self.wishes.serves(name, t)) for some in (left, every)]
                self._serving[i] = serving[0] or serving[1]
            left = tuple(t for t in every if any(t in some for some in self._serving.values()))
        self.toolings = left
        self.first: list[Tooling] = []
        """What a hand reaches for first."""
        for some in {some: None for some in self._serving.values()}:
            self.first += [t for t in self._plain(some) if t not in self.first]
        out = np.array([fold.outward for fold in blank.folds]).reshape(-1, 2)
        self._along: list[list[float]] = (out @ out.T).tolist()
        """How far each fold faces the way another does: 1 the same way, −1 the other."""
        self._least: dict[tuple[int, tuple[int, bool]], float] = {}
        self._areas = [_area(panel.polygon) for panel in blank.panels]
        self._heavy = self._heavier()

    def _plain(self, some: tuple[Tooling, ...]) -> list[Tooling]:
        """Of some set-ups what a hand reaches for first; the plainest where all are out of the ordinary."""
        found: list[Tooling] = self.machine.plain(some) if some else []
        return found or list(some[:1])

    def serves(self, setting: Setting, tooling: Tooling) -> bool:
        """True when a set-up is what is asked for at every fold of a stroke."""
        return not self._asked or all(tooling in self._serving.get(i, (tooling,)) for i in setting.folds)

    @property
    def unserved(self) -> str | None:
        """Name of a fold for which nothing is left of what was asked for; None where there is none."""
        return next((self.blank.folds[i].name for i, some in self._serving.items() if not some), None)

    def at(self, costs: Costs) -> Choices:
        """The same choices at other costs."""
        other = copy.copy(self)
        other.terms, other.costs, other._least = replace(self.terms, costs=costs), costs, {}
        other._heavy = other._heavier()
        return other

    @property
    def start(self) -> State:
        """The flat sheet. What a tool of its own makes is made first; what the hand makes comes last."""
        tool = [f.made_by is MadeBy.TOOL for f in self.blank.folds]
        angles = tuple(f.angle if t else 0.0 for f, t in zip(self.blank.folds, tool, strict=True))
        return State(angles, sum(1 << i for i, t in enumerate(tool) if t))

    def finished(self, state: State) -> bool:
        """True when every fold of the brake is made."""
        return all(state.is_done(i) for i in self.strokes)

    def folds(self, state: State) -> list[int]:
        """Folds that may be made now: hems while any is left, since none is flattened once a fold stands; else what is wished."""
        left = [i for i in self.strokes if not state.is_done(i)]
        hems = [i for i in left if self.blank.folds[i].made_by is MadeBy.HEM]
        if self.stages is not None and not hems:
            return [i for i, _ in self._stage(state)]
        wanted = self.wishes.next(hems or left, lambda i: state.is_done(i) or state.angles[i] != 0)
        # What lies on one line with a wished fold is made with it, whichever of them is named.
        return [i for i in left if i in wanted or any(i in self.blank.near_line[k] for k in wanted)]

    def _stage(self, state: State) -> tuple[tuple[int, float | None], ...]:
        """What is left of the first group that is not through."""
        for stage in self.stages or ():
            left = tuple(
                (i, target)
                for i, target in stage
                if not state.is_done(i) and (target is None or abs(state.angles[i]) < target - 1e-6)
            )
            if left:
                return left
        return ()

    def targets(self, state: State, fold: int) -> Iterator[float | None]:
        """Degrees a fold may be taken to now; None is its own angle."""
        line = self.blank.folds[fold]
        if self.stages is not None:
            yield None if line.made_by is MadeBy.HEM else dict(self._stage(state))[fold]
            return
        yield None
        if line.made_by is MadeBy.HEM:
            return
        final, now = abs(line.angle), abs(state.angles[fold])
        if now == 0:
            yield from (p for p in self.moves.part_way if p < final - PART_WAY)
        yield from (final + o for o in self.moves.over)

    def handling(self, setting: Setting, last: tuple[int, bool] | None) -> float:
        """Cost of turning the sheet and of what swings; known before the stroke is judged."""
        cost = self._heavy[setting.fold, setting.clamps_parent]
        if last is not None:
            before = self.blank.folds[last[0]]
            facing = self._along[last[0]][setting.fold]
            facing *= 1 if last[1] == setting.clamps_parent else -1
            cost += 0.0 if facing > 0.5 else self.costs.end_for_end if facing < -0.5 else self.costs.quarter_turn
            cost += self.costs.turn_over if before.angle * setting.line.angle < 0 else 0.0
        return cost

    def _heavier(self) -> dict[tuple[int, bool], float]:
        return {(i, side): self._swings_heavier(i, side) for i in self.strokes for side in (True, False)}

    def _swings_heavier(self, fold: int, clamps_parent: bool) -> float:
        setting = setting_for(self.blank, fold, clamps_parent, self.start.angles)
        swings = sum(self._areas[i] for i in setting.swinging)
        return self.costs.swing_heavier if swings > sum(self._areas) / 2 else self.costs.swing_lighter

    def least(self, state: State) -> float:
        """A bound from below on what is still to come: turns to face and faces to turn to."""
        if state.last is None:
            return 0.0
        asked = state.done, state.last
        if asked not in self._least:
            self._least[asked] = self._at_least(state, *state.last)
        return self._least[asked]

    def _at_least(self, state: State, fold: int, clamps: bool) -> float:
        """The same after a stroke: a fold, and which side was clamped."""
        sign, facing = self.blank.folds[fold].angle > 0, 1.0 if clamps else -1.0
        turns: list[tuple[int, float]] = []
        over = 0.0
        for i in self.strokes:
            if state.is_done(i):
                continue
            line = self.blank.folds[i]
            if (line.angle > 0) != sign:
                over = self.costs.turn_over
            along = self._along[fold][i] * facing
            if along > 0.5:
                continue
            # Another facing costs a turn, unless the fold is made with its other side clamped.
            turn = self.costs.end_for_end if along < -0.5 else self.costs.quarter_turn
            turn = min(turn, self._heavy[i, False] if along < -0.5 else turn)
            for k, (way, cost) in enumerate(turns):
                if abs(self._along[way][i]) > 0.5:
                    turns[k] = way, min(cost, turn)
                    break
            else:
                turns.append((i, turn))
        return over + sum(cost for _, cost in turns)

    def tried(self, state: State, making: int | None = None) -> Iterator[tuple[Move, float]]:
        """Every stroke that may come next, or every one that makes a fold, with what is known of its cost before it is judged.

        What is set up is tried first; another plain set-up, and those out of the ordinary (the leaf's angle off, the fold at the end
        of the bed), come where that one does not do; see :meth:`instead`.
        """
        for fold in self.folds(state):
            if making is not None and fold not in self.blank.near_line[making]:
                continue
            for clamps_parent in self.wishes.sides(fold):
                setting = setting_for(self.blank, fold, clamps_parent, state.angles)
                if setting.folds[0] != fold or making not in (None, *setting.folds):
                    continue  # made with the first fold on its line
                cost = self.handling(setting, state.last)
                for target in self.targets(state, fold):
                    for tooling in self._tried_with(setting, state.tooling):
                        yield Move(fold, clamps_parent, target, tooling), cost

    def _tried_with(self, setting: Setting, now: Tooling | None) -> list[Tooling]:
        """What a stroke is tried with first: what is set up, where it may be."""
        if now is not None and self.serves(setting, now):
            return [now]
        return [t for t in self.first if self.serves(setting, t)]

    def plain(self, state: State) -> list[Tooling]:
        """What a stroke is tried with first: what is set up, and what a hand reaches for."""
        if state.tooling is None:
            return list(self.first)
        return [state.tooling, *(t for t in self.first if t != state.tooling)]


def _area(polygon: np.ndarray) -> float:
    following = np.roll(polygon, -1, axis=0)
    return abs(float((polygon[:, 0] * following[:, 1] - following[:, 0] * polygon[:, 1]).sum())) / 2
