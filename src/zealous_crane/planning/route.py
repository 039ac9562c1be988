"""By what an order is searched, and who watches while it is."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import NamedTuple

from ..bending.segments import Needs
from ..bending.stroke import Verdict
from ..bending.tooling import Tooling
from .order_requests import Wishes

MINUTES = 0.5
"""Minutes of work that a cost of 1 stands for: fingers set up anew take some five. A guess, no
source."""


@dataclass(frozen=True)
class Costs:
    """What an order costs; for the search only their proportions matter.

    Attributes:
        new_tools: fingers or punch and die set up anew.
        turn_over: the sheet turned on its other face.
        end_for_end, quarter_turn: the sheet turned round.
        swing_heavier: the larger side swings, or hangs in front.
        swing_lighter: the smaller side does.
        by_hand, per_hand_degree: a fold finished by hand.
        set_nose: the nose set back anew, the fingers left standing.
        part_way: a stroke that must be gone on with later.
        other_station: going on at another set-up that stands on the bed already.
    """

    new_tools: float = 10.0
    turn_over: float = 2.0
    end_for_end: float = 1.0
    quarter_turn: float = 1.5
    swing_heavier: float = 3.0
    swing_lighter: float = 0.0
    set_nose: float = 2.0
    by_hand: float = 4.0
    per_hand_degree: float = 0.5
    part_way: float = 2.0
    other_station: float = 1.0

    def for_quantity(self, quantity: int) -> Costs:
        """Per part of a lot that goes through each set-up together: a set-up is shared, but every
        part is taken up again."""
        return (
            self
            if quantity <= 1
            else replace(
                self,
                new_tools=self.new_tools / quantity + 1.0,
                set_nose=self.set_nose / quantity + 1.0,
            )
        )

    @property
    def edge_to_stop(self) -> Costs:
        """With the narrow side at the back, its edge against the stop, and the rest held in
        front."""
        return replace(self, swing_heavier=self.swing_lighter, swing_lighter=self.swing_heavier)

    @property
    def stationed(self) -> Costs:
        """With every set-up standing on the bed at once: a change of tools is a walk to the other
        station."""
        return replace(self, new_tools=min(self.new_tools, self.other_station))


@dataclass(frozen=True)
class Moves:
    """What may be tried beyond whole strokes.

    Attributes:
        part_way: degrees at which a fold may be left and closed later.
        over: degrees a fold may be bent past its angle, to be opened by hand.
    """

    part_way: tuple[float, ...] = ()
    over: tuple[float, ...] = ()


@dataclass(frozen=True)
class Route:
    """A way through: the verdicts in order, and for each the set-up it shares.

    Attributes:
        verdicts: in the order they are made.
        setup: index of the set-up each stroke uses.
        needs: what each set-up's blocks must serve.
        cost: by the search's costs.
        cheapest: True when every cheaper order was looked at.
    """

    verdicts: tuple[Verdict, ...]
    setup: tuple[int, ...]
    needs: tuple[Needs, ...]
    cost: float
    cheapest: bool = True


@dataclass(frozen=True)
class Failure:
    """Where the search got stuck: the farthest any order came.

    Attributes:
        made: names of the folds that stand.
        verdicts: what each remaining stroke came to there, the nearest to working first.
        complete: True when every order was looked at.
    """

    made: tuple[str, ...]
    verdicts: tuple[Verdict, ...]
    complete: bool = True


@dataclass(frozen=True)
class PartState:
    """Where a part is on its way.

    Attributes:
        angles: signed degrees of all folds.
        done: folds that are finished, a bit each.
        last: the stroke before, fold and whether the parent was clamped; None at first.
        tooling: what the brake is set up with; None at first.
        needs: what its blocks must serve.
        setback: nose behind the bed's edge, mm; 0 on a press.
    """

    angles: tuple[float, ...]
    done: int
    last: tuple[int, bool] | None = None
    tooling: Tooling | None = None
    needs: Needs = ()
    setback: float = 0.0

    def is_done(self, fold: int) -> bool:
        """True when a fold is finished."""
        return bool(self.done >> fold & 1)


class Move(NamedTuple):
    """One stroke that may come next: fold, clamped side, degrees wanted after release (None: its
    own angle), set-up."""

    fold: int
    clamps_parent: bool
    target: float | None
    tooling: Tooling


Step = tuple[Verdict, int, Needs, Move]
"""A stroke of a path: what it (or its mirror image) comes to, its set-up's index, what the set-up
must serve by now, the move."""

Stages = tuple[tuple[tuple[int, float | None], ...], ...]
"""Folds that must be made in groups, one group after the other, each with the degrees it is taken
to."""


class Cancelled(Exception):  # noqa: N818 - not an error, an answer
    """The search was called off."""


@dataclass(frozen=True)
class SearchOptions:
    """What an order is measured by.

    Attributes:
        measured: springback measured on a test strip, degrees at 90°; None estimates.
        costs: what an order costs.
        moves: what may be tried beyond whole strokes.
        wishes: what the person wants of the order.
        stages: folds made in groups, where the part asks for it; None leaves the order free.
        bottomed: folds of a press are bottomed, not bent in air.
        tolerance: degrees by which an angle may be off and still counts as reached.
    """

    measured: float | None = None
    costs: Costs = field(default_factory=Costs)
    moves: Moves = field(default_factory=Moves)
    wishes: Wishes = field(default_factory=Wishes)
    stages: Stages | None = None
    bottomed: bool = False
    tolerance: float = 0.0


@dataclass(frozen=True)
class Watch:
    """Who looks on.

    Attributes:
        cancelled: asked now and then; True stops the search with
            :class:`~zealous_crane.planning.route.Cancelled`.
        progress: told how many strokes were judged and which folds stand where it looks.
        limit: strokes judged after which the search gives up, and says that its no is no proof.
    """

    cancelled: Callable[[], bool] = lambda: False
    progress: Callable[[int, tuple[str, ...]], None] = lambda judged, made: None
    limit: float = math.inf
