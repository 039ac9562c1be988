"""Orders a hand would try first on a part with many bends: from one end to the other, from the tips
inwards, from the base outwards. Common practice, no source."""

from __future__ import annotations

import copy
import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from .._typing import Array
from ..bending.machines import machine_of, toolings
from ..bending.setting import Setting, setting_for
from ..bending.tooling import Tooling
from ..brake.brake import Brake
from ..flat.blank import Blank
from ..flat.element import MadeBy
from .route import Costs, Move, PartState, SearchOptions


def orders_by_rule(blank: Blank, strokes: Sequence[int]) -> list[list[int]]:
    """Orders of these folds, each once, hems before all else: none is flattened once a fold
    stands."""
    folds = blank.folds
    depth: dict[int, int] = {0: 0}
    for fold in folds:
        depth[fold.child] = depth.get(fold.parent, 0) + 1
    middle = {i: (folds[i].start + folds[i].end) / 2 for i in strokes}
    inward = sorted(strokes, key=lambda i: -depth[folds[i].child])
    rules = [inward]
    for axis in (0, 1):
        along = sorted(strokes, key=lambda i, axis=axis: float(middle[i][axis]))  # type: ignore[misc]
        rules += [along, along[::-1]]
    rules.append(inward[::-1])
    result: list[list[int]] = []
    for rule in rules:
        hems_first = sorted(rule, key=lambda i: folds[i].made_by is not MadeBy.HEM)
        if hems_first not in result:
            result.append(hems_first)
    return result


SAME = 0.01
"""mm; corners nearer than this are one."""

TURNS = tuple(
    np.array(m, float)
    for m in (
        [[1, 0], [0, 1]],
        [[-1, 0], [0, -1]],
        [[1, 0], [0, -1]],
        [[-1, 0], [0, 1]],
        [[0, 1], [-1, 0]],
        [[0, -1], [1, 0]],
        [[0, 1], [1, 0]],
        [[0, -1], [-1, 0]],
    )
)
"""Turns and mirrorings of the sheet that keep the machine's own symmetry: it looks the same from
either end."""


@dataclass(frozen=True)
class Symmetry:
    """A turn or mirroring of the sheet that leaves it as it is.

    Attributes:
        folds: fold i goes where fold ``folds[i]`` is.
        mirrors: left and right change places, seen from the brake: what holds at one end of the bed
            holds at the other.
    """

    folds: tuple[int, ...]
    mirrors: bool = False

    def moved(self, angles: Sequence[float]) -> tuple[float, ...]:
        """Angles of the folds where the symmetry carries them."""
        return tuple([angles[i] for i in self._from])

    def carried(self, folds: int) -> int:
        """Some folds, a bit each, where the symmetry carries them."""
        if folds not in self._carried:
            self._carried[folds] = sum(1 << to for i, to in enumerate(self.folds) if folds >> i & 1)
        return self._carried[folds]

    @cached_property
    def _carried(self) -> dict[int, int]:
        return {}

    @cached_property
    def _from(self) -> tuple[int, ...]:
        """Which fold each fold's place is taken by."""
        return tuple(sorted(range(len(self.folds)), key=self.folds.__getitem__))


def symmetries(blank: Blank) -> tuple[Symmetry, ...]:
    """Turns and mirrorings that leave the sheet as it is, the one that changes nothing first.

    Panels, angles, bends and what lies on what must all agree.
    """
    points = np.concatenate([panel.polygon for panel in blank.panels])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    result: list[Symmetry] = []
    for turn in TURNS:
        panels = _matched(
            [(p.polygon - middle) @ turn.T for p in blank.panels],
            [p.polygon - middle for p in blank.panels],
        )
        if panels is None:
            continue
        permutation = _folds(blank, turn, middle, panels)
        if (
            permutation is not None
            and (symmetry := Symmetry(permutation, bool(np.linalg.det(turn) < 0))) not in result
        ):
            result.append(symmetry)
    return tuple(result) or (unchanged(blank),)


def unchanged(blank: Blank) -> Symmetry:
    """The symmetry every sheet has."""
    return Symmetry(tuple(range(len(blank.folds))))


def _matched(moved: list[Array], still: list[Array]) -> tuple[int, ...] | None:
    """For every moved polygon, the one it falls on; None when one falls on none."""
    result: list[int] = []
    for ring in moved:
        for k, other in enumerate(still):
            if (
                k in result
                or len(ring) != len(other)
                or np.abs(ring.mean(axis=0) - other.mean(axis=0)).max() > SAME
            ):
                continue
            apart = np.hypot(*(ring[:, None, :] - other[None, :, :]).transpose(2, 0, 1))
            if apart.min(axis=1).max() < SAME and apart.min(axis=0).max() < SAME:
                result.append(k)
                break
        else:
            return None
    return tuple(result)


def _folds(
    blank: Blank, turn: Array, middle: Array, panels: tuple[int, ...]
) -> tuple[int, ...] | None:
    result: list[int] = []
    names = [panel.name for panel in blank.panels]
    for k, panel in enumerate(blank.panels):
        if panel.lies_on != "" and panel.lies_on in names:
            image = blank.panels[panels[k]]
            if image.lies_on != names[panels[names.index(panel.lies_on)]]:
                return None
    for fold in blank.folds:
        ends = [(p - middle) @ turn.T + middle for p in (fold.start, fold.end)]
        for k, other in enumerate(blank.folds):
            if (
                k in result
                or other.angle != fold.angle
                or other.bend != fold.bend
                or other.made_by is not fold.made_by
            ):
                continue
            if (panels[fold.parent], panels[fold.child]) != (other.parent, other.child):
                continue
            if any(
                np.abs(a - other.start).max() < SAME and np.abs(b - other.end).max() < SAME
                for a, b in itertools.permutations(ends)
            ):
                result.append(k)
                break
        else:
            return None
    return tuple(result)


PART_WAY = 20.0
"""Degrees that must be left of a fold for stopping part way to be worth while."""


class Choices:
    """What may come next.

    Args:
        blank: the part.
        brake: the machine.
        terms: what an order is measured by.
    """

    def __init__(self, blank: Blank, brake: Brake, terms: SearchOptions) -> None:
        self.blank, self.brake, self.terms = blank, brake, terms
        self.costs, self.moves, self.stages = terms.costs, terms.moves, terms.stages
        self.wishes = terms.wishes.read(blank)
        self.machine = machine_of(brake)
        self.strokes = tuple(
            i for i, f in enumerate(blank.folds) if f.made_by in (MadeBy.BRAKE, MadeBy.HEM)
        )
        left = tuple(t for t in toolings(brake, blank, terms.bottomed) if not self.wishes.avoids(t))
        self._asked = self.wishes.tools.any
        self._serving = {i: left for i in self.strokes}
        if self._asked:
            every = toolings(brake, blank, terms.bottomed, every=True)
            for i in self.strokes:
                name = blank.folds[i].name
                serving = [
                    tuple(t for t in some if self.wishes.serves(name, t)) for some in (left, every)
                ]
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
        """Of some set-ups what a hand reaches for first; the plainest where all are out of the
        ordinary."""
        result: list[Tooling] = self.machine.plain(some) if some else []
        return result or list(some[:1])

    def serves(self, setting: Setting, tooling: Tooling) -> bool:
        """True when a set-up is what is asked for at every fold of a stroke."""
        return not self._asked or all(
            tooling in self._serving.get(i, (tooling,)) for i in setting.folds
        )

    @property
    def unserved(self) -> str | None:
        """Name of a fold for which nothing is left of what was asked for; None where there is
        none."""
        return next(
            (self.blank.folds[i].name for i, some in self._serving.items() if not some), None
        )

    def at(self, costs: Costs) -> Choices:
        """The same choices at other costs."""
        other = copy.copy(self)
        other.terms, other.costs, other._least = replace(self.terms, costs=costs), costs, {}
        other._heavy = other._heavier()
        return other

    @property
    def start(self) -> PartState:
        """The flat sheet. What a tool of its own makes is made first; what the hand makes comes
        last."""
        tool = [f.made_by is MadeBy.TOOL for f in self.blank.folds]
        angles = tuple(f.angle if t else 0.0 for f, t in zip(self.blank.folds, tool, strict=True))
        return PartState(angles, sum(1 << i for i, t in enumerate(tool) if t))

    def finished(self, state: PartState) -> bool:
        """True when every fold of the brake is made."""
        return all(state.is_done(i) for i in self.strokes)

    def folds(self, state: PartState) -> list[int]:
        """Folds that may be made now: hems while any is left, since none is flattened once a fold
        stands; else what is wished."""
        left = [i for i in self.strokes if not state.is_done(i)]
        hems = [i for i in left if self.blank.folds[i].made_by is MadeBy.HEM]
        if self.stages is not None and not hems:
            return [i for i, _ in self._stage(state)]
        wanted = self.wishes.next(hems or left, lambda i: state.is_done(i) or state.angles[i] != 0)
        # What lies on one line with a wished fold is made with it, whichever of them is named.
        return [i for i in left if i in wanted or any(i in self.blank.near_line[k] for k in wanted)]

    def _stage(self, state: PartState) -> tuple[tuple[int, float | None], ...]:
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

    def targets(self, state: PartState, fold: int) -> Iterator[float | None]:
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
            cost += (
                0.0
                if facing > 0.5
                else self.costs.end_for_end
                if facing < -0.5
                else self.costs.quarter_turn
            )
            cost += self.costs.turn_over if before.angle * setting.line.angle < 0 else 0.0
        return cost

    def _heavier(self) -> dict[tuple[int, bool], float]:
        return {
            (i, side): self._swings_heavier(i, side) for i in self.strokes for side in (True, False)
        }

    def _swings_heavier(self, fold: int, clamps_parent: bool) -> float:
        setting = setting_for(self.blank, fold, clamps_parent, self.start.angles)
        swings = sum(self._areas[i] for i in setting.swinging)
        return (
            self.costs.swing_heavier if swings > sum(self._areas) / 2 else self.costs.swing_lighter
        )

    def least(self, state: PartState) -> float:
        """A bound from below on what is still to come: turns to face and faces to turn to."""
        if state.last is None:
            return 0.0
        asked = state.done, state.last
        if asked not in self._least:
            self._least[asked] = self._at_least(state, *state.last)
        return self._least[asked]

    def _at_least(self, state: PartState, fold: int, clamps: bool) -> float:
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

    def tried(self, state: PartState, making: int | None = None) -> Iterator[tuple[Move, float]]:
        """Every stroke that may come next, or every one that makes a fold, with what is known of
        its cost before it is judged.

        What is set up is tried first; another plain set-up, and those out of the ordinary (the
        leaf's angle off, the fold at the end of the bed), come where that one does not do; see
        :meth:`instead`.
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

    def plain(self, state: PartState) -> list[Tooling]:
        """What a stroke is tried with first: what is set up, and what a hand reaches for."""
        if state.tooling is None:
            return list(self.first)
        return [state.tooling, *(t for t in self.first if t != state.tooling)]


def _area(polygon: np.ndarray) -> float:
    following = np.roll(polygon, -1, axis=0)
    return abs(float((polygon[:, 0] * following[:, 1] - following[:, 0] * polygon[:, 1]).sum())) / 2
