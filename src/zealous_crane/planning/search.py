"""The order of strokes: shortest path over the angles the folds stand at.

What a stroke can do depends on which folds stand and at what angle, not on the order they were made
in. So the states are those angles (and what the brake is set up with), every verdict is worked out
once, folds that mirror each other count as one, and the search is complete: when it finds nothing,
no order of the moves it knows works on this brake.
"""

from __future__ import annotations

import copy
import heapq
import itertools
import math
from collections.abc import Sequence
from dataclasses import replace

from ..bending.judge import judge
from ..bending.segments import Needs, fit, joint_needs, mirrored
from ..bending.setting import Setting, setting_for
from ..bending.stroke import HEM_LEAST, Verdict
from ..bending.tooling import Tooling
from ..brake.brake import Brake
from ..cache import cached
from ..flat.blank import Blank
from ..kernel.obstacle import Way
from .hand_finishing import hand_tool
from .moves import Choices, Symmetry, orders_by_rule, symmetries, unchanged
from .route import Cancelled, Costs, Failure, Move, PartState, Route, SearchOptions, Step, Watch

ENOUGH = 400
"""Strokes judged after which the search no longer insists on the cheapest order and takes the next
that works."""

FEW, MANY = 6, 10
"""Folds up to which the cheapest order is always found; folds beyond which it is hardly ever proved
within ``ENOUGH``."""

ENOUGH_OF_MANY = 120
"""The same as ``ENOUGH`` where there are so many folds: what is judged beyond served no order that
was tried."""

SAME_SETBACK = 2
"""Decimals of a millimetre to which the nose is set."""

MOST = 2500
"""Strokes judged after which the search gives up, and says that its no is no proof."""


class Search:
    """Complete search for the cheapest order.

    Args:
        blank: the part.
        brake: the machine.
        terms: what an order is measured by.
        watch: who looks on.
        after: a search for the same part, with the same tools, by other moves: what it has judged
            is not judged again.
    """

    def __init__(
        self,
        blank: Blank,
        brake: Brake,
        terms: SearchOptions | None = None,
        watch: Watch | None = None,
        after: Search | None = None,
    ) -> None:
        self.blank, self.brake, self.terms, self.watch = (
            blank,
            brake,
            terms or SearchOptions(),
            watch or Watch(limit=MOST),
        )
        self.choices = Choices(blank, brake, self.terms)
        plain = self.uses_rules_of_thumb and not self.choices.wishes.tools.any
        self._same = symmetries(blank) if plain else (unchanged(blank),)
        self._known: dict[tuple[object, ...], Verdict] = {}
        self._handed_on: dict[tuple[object, ...], Verdict] = (
            {} if after is None else after._handed_on
        )
        """What is known to every search for the part; what this one has asked for is in ``_known``,
        and counts as judged."""
        self._looked: dict[tuple[object, ...], tuple[Verdict, bool]] = {}
        self._sound: dict[Verdict, bool] = {}
        self._carried: dict[tuple[float, ...], tuple[tuple[float, ...], ...]] = {}
        self._numbers = {id(tooling): i for i, tooling in enumerate(self.choices.toolings)}
        self._ends = [
            next((k for k, other in enumerate(self.choices.toolings) if other == t.mirrored), i)
            for i, t in enumerate(self.choices.toolings)
        ]

    def _number(self, tooling: Tooling, symmetry: Symmetry) -> int:
        """A set-up's place among all, as a symmetry of the sheet carries it: what was at one end of
        the bed comes to the other."""
        number = self._numbers.get(id(tooling))
        number = self.choices.toolings.index(tooling) if number is None else number
        return self._ends[number] if symmetry.mirrors else number

    def at(self, costs: Costs) -> Search:
        """The same search at other costs; what is judged already is taken over."""
        other = copy.copy(self)
        other.choices, other._known, other._looked = (
            self.choices.at(costs),
            dict(self._known),
            dict(self._looked),
        )
        return other

    # --- judging ---------------------------------------------------------------------------------

    @property
    def judged(self) -> int:
        """Strokes judged so far."""
        return len(self._known)

    def verdict(self, state: PartState, move: Move) -> Verdict:
        """The verdict of one stroke, worked out once for it and for what mirrors it."""
        return self._seen(state, move)[0]

    def _seen(self, state: PartState, move: Move) -> tuple[Verdict, bool]:
        """The verdict of a stroke or of its mirror image, and whether left and right have changed
        places in it."""
        asked = (
            move.fold,
            move.clamps_parent,
            state.angles,
            move.target,
            self._number(move.tooling, self._same[0]),
        )
        looked = self._looked.get(asked)
        if looked is None:
            looked = self._looked[asked] = self._look(state, move)
        return looked

    def _look(self, state: PartState, move: Move) -> tuple[Verdict, bool]:
        keys: list[tuple[object, ...]] = []
        number = self._number(move.tooling, self._same[0])
        for s, angles in zip(self._same, self._moved(state.angles), strict=True):
            key = (
                s.folds[move.fold],
                move.clamps_parent,
                angles,
                move.target,
                self._ends[number] if s.mirrors else number,
            )
            known = self._known.get(key)
            if known is not None:
                return known, s.mirrors
            keys.append(key)
        if self.watch.cancelled():
            raise Cancelled
        at = next((k for k, key in enumerate(keys) if key in self._handed_on), 0)
        if keys[at] not in self._handed_on:
            setting = setting_for(self.blank, move.fold, move.clamps_parent, state.angles)
            self._handed_on[keys[at]] = self._judged(setting, move)
        self._known[keys[at]] = self._handed_on[keys[at]]
        self.watch.progress(
            len(self._known),
            tuple(f.name for f, a in zip(self.blank.folds, state.angles, strict=True) if a),
        )
        return self._known[keys[at]], self._same[at].mirrors

    def _moved(self, angles: tuple[float, ...]) -> tuple[tuple[float, ...], ...]:
        """Angles of the folds where each symmetry carries them: every stroke that may come next
        asks for the same."""
        moved = self._carried.get(angles)
        if moved is None:
            moved = self._carried[angles] = tuple([s.moved(angles) for s in self._same])
        return moved

    def usable(self, verdict: Verdict) -> bool:
        """True when the stroke leaves a fold that is right, or can be put right by hand or by a
        later stroke."""
        sound = self._sound.get(verdict)
        if sound is None:
            sound = self._sound[verdict] = self._leaves_sound(verdict)
        return sound

    def _leaves_sound(self, verdict: Verdict) -> bool:
        if verdict.blocked is not None or verdict.demand is None:
            return False
        if verdict.flattens:
            if verdict.released < HEM_LEAST:
                return False
        elif verdict.part_way:
            if verdict.short > 0:
                return False
        elif verdict.by_hand > 0 and not self._by_hand(verdict):
            return False
        return made_up(verdict.demand.needs, verdict.tooling)

    def _by_hand(self, verdict: Verdict) -> bool:
        """True when the rest may be, and can be, finished by hand."""
        if "hand" in self.choices.wishes.written.avoid:
            return False
        return hand_tool(self.blank, verdict.stroke.setting.fold, verdict.by_hand) is not None

    def made(
        self, state: PartState, path: tuple[Step, ...], move: Move
    ) -> tuple[float, PartState, tuple[Step, ...]] | None:
        """Judge a stroke: what it costs beyond its handling, and the state it leads to; None when
        it is of no use.

        Args:
            state: what stands by now.
            path: the strokes before, in order.
            move: the stroke that is tried.
        """
        verdict, turned = self._seen(state, move)
        if not self.usable(verdict) or verdict.demand is None:
            return None
        cost = self.choices.costs.part_way if verdict.part_way else 0.0
        if verdict.by_hand > 0:
            cost += (
                self.choices.costs.by_hand + self.choices.costs.per_hand_degree * verdict.by_hand
            )
        setup = path[-1][1] if path else 0
        needs = mirrored(verdict.demand.needs) if turned else verdict.demand.needs
        shared = (
            joint_needs(state.needs, needs)
            if state.tooling is move.tooling or state.tooling == move.tooling.standing
            else None
        )
        setback = round(verdict.stroke.setback, SAME_SETBACK)
        if shared is None or not made_up(shared, move.tooling):
            shared = needs
            if state.tooling is not None:
                setup, cost = setup + 1, cost + self.choices.costs.new_tools
        elif setback != state.setback and state.tooling is not None:
            # The fingers stay, the nose is set back anew.
            setup, cost = (
                setup + 1,
                cost + min(self.choices.costs.set_nose, self.choices.costs.new_tools),
            )
        setting = setting_for(self.blank, move.fold, move.clamps_parent, state.angles)
        stands = round(verdict.stands, 9)
        after = list(state.angles)
        done = state.done
        for i in setting.folds:
            after[i] = math.copysign(stands, self.blank.folds[i].angle)
            done |= 0 if verdict.part_way else 1 << i
        reached = PartState(
            tuple(after),
            done,
            (move.fold, move.clamps_parent),
            move.tooling.standing,
            _rounded(shared),
            setback,
        )
        return cost, reached, (*path, (verdict, setup, shared, move))

    def _stays(self, state: PartState, verdict: Verdict, turned: bool) -> bool:
        """True when the blocks that stand serve a stroke too."""
        assert verdict.demand is not None
        shared = joint_needs(
            state.needs, mirrored(verdict.demand.needs) if turned else verdict.demand.needs
        )
        return shared is not None and made_up(shared, verdict.tooling)

    def instead(self, state: PartState, move: Move) -> list[tuple[Move, float]]:
        """Set-ups out of the ordinary that may help where the plain one did not, with what is to be
        said against them."""
        verdict, turned = self._seen(state, move)
        good = self.usable(verdict) and verdict.by_hand == 0
        plain: list[tuple[Move, float]] = []
        if move.tooling == state.tooling and not (good and self._stays(state, verdict, turned)):
            # Where what is set up makes the stroke as it stands, changing it now saves nothing over
            # changing it later.
            plain = [
                (move._replace(tooling=tooling), 0.0)
                for tooling in self.choices.first
                if tooling != state.tooling and self.choices.serves(verdict.stroke.setting, tooling)
            ]
        if good:
            return plain
        known = (state.tooling, *(other.tooling for other, _ in plain))
        choices = self.choices
        others = choices.machine.instead(
            move.tooling,
            verdict,
            choices.toolings,
            plain=move.tooling in choices.first,
            turned=turned,
        )
        return plain + [
            (move._replace(tooling=tooling), against)
            for tooling, against in others
            if tooling not in known and choices.serves(verdict.stroke.setting, tooling)
        ]

    # --- orders a hand would try first -----------------------------------------------------------

    @property
    def uses_rules_of_thumb(self) -> bool:
        """True when the order is free: neither asked for by a person nor by the part."""
        return self.choices.wishes.free and self.choices.stages is None

    def by_rule(self, below: float = math.inf) -> Route | None:
        """The cheapest of the orders of practice, each with what is cheapest at every stroke, if it
        costs less than ``below``; None where none goes, or a person has asked for an order."""
        best: tuple[float, tuple[Step, ...]] | None = None
        for sequence in (
            orders_by_rule(self.blank, self.choices.strokes) if self.uses_rules_of_thumb else ()
        ):
            result = self._followed(sequence, below=below if best is None else best[0])
            best = result or best
        return None if best is None else self.route(best[1], best[0], cheapest=False)

    def first_feasible(self) -> Route | None:
        """The first feasible rule-of-thumb order, with the first set-up that serves at every
        stroke; None if there is none. Where the part asks for groups of bends one after the other,
        those that are handled least come first in each group."""
        if not self.choices.wishes.free:
            return None
        staged = self.choices.stages is not None
        for sequence in ((),) if staged else orders_by_rule(self.blank, self.choices.strokes):
            result = self._followed(sequence, first=True)
            if result is not None:
                return self.route(result[1], result[0], cheapest=False)
        return None

    def _followed(
        self, sequence: Sequence[int], *, first: bool = False, below: float = math.inf
    ) -> tuple[float, tuple[Step, ...]] | None:
        """A sequence of folds gone through, or where it ends whatever may come next, at every
        stroke with what is cheapest there, or with the first that serves: its cost and its strokes.
        None when one of them does not go, when it costs no less than ``below``, or when the limit
        is reached."""
        state, cost = self.choices.start, 0.0
        path: tuple[Step, ...] = ()
        coming = iter(sequence)
        while not self.choices.finished(state):
            fold = next((fold for fold in coming if not state.is_done(fold)), None)
            result = self._taken(state, path, fold, first=first)
            if result is None:
                return None
            step, (made, state, path) = result
            cost += step + made
            if cost >= below:
                return None
        return cost, path

    def _taken(
        self, state: PartState, path: tuple[Step, ...], fold: int | None, *, first: bool
    ) -> tuple[float, tuple[float, PartState, tuple[Step, ...]]] | None:
        """A stroke that makes a fold, or any that may come next: the cheapest, or the first that
        serves. Its handling, and what :meth:`made` says of it; None when none goes."""
        moves = [m for m in self.choices.tried(state, fold) if fold is None or m[0].target is None]
        moves.sort(key=lambda m: m[1])
        grown: list[tuple[float, tuple[float, PartState, tuple[Step, ...]]]] = []
        # What needs no tipping is taken before what does, though it be tried later.
        while (
            moves
            and not (first and any(_plainly(made) for _, made in grown))
            and self.judged <= self.watch.limit
        ):
            move, handling = moves.pop(0)
            moves += [(other, handling + extra) for other, extra in self.instead(state, move)]
            made = self.made(state, path, move)
            if made is not None:
                grown.append((handling, made))
        return min(
            grown, key=lambda g: (first and not _plainly(g[1]), g[0] + g[1][0]), default=None
        )

    # --- the search ------------------------------------------------------------------------------

    def best(self) -> Route | Failure:
        """The cheapest order, or how far any order came and what was met there."""
        result = self._found()
        return result if isinstance(result, Route) else self._failure(*result)

    def cheapest(self, below: float = math.inf) -> Route | None:
        """The cheapest order, if there is one that costs less than ``below``; None when none was
        found."""
        result = self._found(below)
        return result if isinstance(result, Route) else None

    def _found(self, below: float = math.inf) -> Route | tuple[PartState, bool]:  # noqa: C901
        """The cheapest order, or the farthest state any order came to and whether every order was
        looked at.

        A*: a stroke waits in the queue at the cost of its handling and a bound on what follows, and
        is judged only when nothing cheaper is left to look at. Among equals the one that has come
        farthest goes first. After ``ENOUGH`` strokes the farthest state goes first whatever it
        costs, so that large parts get an order in time; the route then says so. What cannot cost
        less than ``below`` is not looked at.
        """
        ticket = itertools.count()
        start = self.choices.start
        queue: list[tuple[float, float, int, float, PartState, tuple[Step, ...], Move | None]] = []
        hurried, enough = False, ENOUGH if len(self.choices.strokes) <= MANY else ENOUGH_OF_MANY

        def push(
            cost: float, state: PartState, path: tuple[Step, ...], move: Move | None = None
        ) -> None:
            ahead = self.choices.least(state) if move is None else self._new_tools(state, move)
            bound = cost + ahead
            if bound >= below:
                return
            made = state.done.bit_count() + (0.5 if move is None else 0.0)
            first, second = (-made, bound) if hurried else (bound, -made)
            heapq.heappush(queue, (first, second, next(ticket), cost, state, path, move))

        push(0.0, start, ())
        seen: set[tuple[object, ...]] = set()
        farthest = start
        while queue:
            if not hurried and self.judged > enough and len(self.choices.strokes) > FEW:
                hurried = True
                known = self.by_rule(below)
                if known is not None:
                    return known
                queue = [(second, first, *rest) for first, second, *rest in queue]  # type: ignore[misc]
                heapq.heapify(queue)
            _, _, _, cost, state, path, move = heapq.heappop(queue)
            if self.judged > self.watch.limit:
                return farthest, False
            if move is not None:
                grown = self.made(state, path, move)
                for other, extra in self.instead(state, move):
                    push(cost + extra, state, path, other)
                if grown is not None:
                    push(cost + grown[0], grown[1], grown[2])
                continue
            if self.choices.finished(state):
                return self.route(path, cost, cheapest=not hurried)
            key = min(
                self._key(state, s, moved)
                for s, moved in zip(self._same, self._moved(state.angles), strict=True)
            )
            if key in seen:
                continue
            seen.add(key)
            if _come(state) > _come(farthest):
                farthest = state
            for other, step in self.choices.tried(state):
                push(cost + step, state, path, other)
        return farthest, True

    def _key(
        self, state: PartState, symmetry: Symmetry, angles: tuple[float, ...]
    ) -> tuple[object, ...]:
        folds, done = symmetry.folds, symmetry.carried(state.done)
        last = (-1, False) if state.last is None else (folds[state.last[0]], state.last[1])
        tool = -1 if state.tooling is None else self._number(state.tooling, symmetry)
        return (
            angles,
            done,
            last,
            tool,
            mirrored(state.needs) if symmetry.mirrors else state.needs,
            state.setback,
        )

    def route(self, path: tuple[Step, ...], cost: float, *, cheapest: bool) -> Route:
        """The path with every stroke judged where it really is: a mirrored verdict was enough to
        search by.

        Args:
            path: the strokes, in order.
            cost: of the order.
            cheapest: nothing cheaper is possible.
        """
        state, verdicts = self.choices.start, []
        for result, _, _, move in path:
            verdict = self._here(result, state, move)
            setting = verdict.stroke.setting
            verdicts.append(verdict)
            done = state.done | (0 if verdict.part_way else sum(1 << i for i in setting.folds))
            state = PartState(tuple(round(a, 9) for a in setting.after(verdict.stands)), done)
        needs: list[Needs] = []
        for _, setup, asked, _ in path:
            # A set-up must serve its last stroke's joint demand, which holds all before it.
            if setup == len(needs):
                needs.append(asked)
            needs[setup] = asked
        return Route(tuple(verdicts), tuple(s for _, s, _, _ in path), tuple(needs), cost, cheapest)

    def _here(self, verdict: Verdict, state: PartState, move: Move) -> Verdict:
        """A verdict, or that of the stroke itself where it was only judged for its mirror image,
        with its own names and places."""
        setting, seen = (
            setting_for(self.blank, move.fold, move.clamps_parent, state.angles),
            verdict.stroke.setting,
        )
        same = (seen.fold, seen.clamps_parent, seen.angles) == (
            setting.fold,
            setting.clamps_parent,
            setting.angles,
        )
        if same and verdict.tooling == move.tooling:
            return verdict
        return self._judged(setting, move)

    def _judged(self, setting: Setting, move: Move) -> Verdict:
        return judge(
            self.blank,
            move.tooling,
            setting,
            self.terms.measured,
            move.target,
            self.terms.tolerance,
        )

    def _new_tools(self, state: PartState, move: Move) -> float:
        return self.choices.costs.new_tools if state.tooling not in (None, move.tooling) else 0.0

    def _failure(self, state: PartState, complete: bool) -> Failure:
        first = [
            i
            for i in self.choices.folds(state)
            if setting_for(self.blank, i, True, state.angles).folds[0] == i
        ]
        moves = [
            Move(i, clamps, next(iter(self.choices.targets(state, i))), t)
            for i in first
            for clamps in self.choices.wishes.sides(i)
            for t in self.choices.plain(state)
        ]
        moves += [other for move in moves for other, _ in self.instead(state, move)]
        verdicts = [
            self._here(self.verdict(state, move), state, move) for move in dict.fromkeys(moves)
        ]
        plain = set(self.choices.plain(replace(state, tooling=None)))
        verdicts.sort(
            key=lambda v: (
                v.tooling not in plain,
                not v.stroke.setting.clamps_parent,
                -v.reach,
                v.stroke.setting.fold,
            )
        )
        made = tuple(self.blank.folds[i].name for i in self.choices.strokes if state.angles[i] != 0)
        return Failure(made, tuple(verdicts), complete)


# Saves 10 to 13 % of planning, least where remedies are tried.
@cached(8192)
def made_up(needs: Needs, tooling: Tooling) -> bool:
    """True when the racks make the blocks: fingers, or punch and die pieces."""
    return all(
        fit(widths, rack) is not None for widths, rack in zip(needs, tooling.racks, strict=True)
    )


def _come(state: PartState) -> tuple[int, int]:
    """How far a state has come: folds that are finished, then folds that are begun."""
    return state.done.bit_count(), sum(angle != 0 for angle in state.angles)


def _rounded(needs: Needs) -> Needs:
    return tuple(
        tuple((round(a, 6), round(b, 6), round(c, 6)) for a, b, c in widths) for widths in needs
    )


def _plainly(made: tuple[float, PartState, tuple[Step, ...]]) -> bool:
    """True where the part need not be tipped to get in and out on the last of some strokes."""
    return made[2][-1][0].way is not Way.TIPPED
