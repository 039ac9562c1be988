"""By what an order is searched, and who watches while it is."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import field

from ...measure.dataclass import dataclass
from .route import Costs, Moves, Stages
from .wishes import Wishes


@dataclass(frozen=True)
class Terms:
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
        cancelled: asked now and then; True stops the search with :class:`~zealous_crane.plan.order.route.Cancelled`.
        progress: told how many strokes were judged and which folds stand where it looks.
        limit: strokes judged after which the search gives up, and says that its no is no proof.
    """

    cancelled: Callable[[], bool] = lambda: False
    progress: Callable[[int, tuple[str, ...]], None] = lambda judged, made: None
    limit: float = math.inf
