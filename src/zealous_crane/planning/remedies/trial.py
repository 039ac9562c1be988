"""A cure tried: first where the plan is stuck or falls short, then through the whole engine."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from ...brake.brake import Brake
from ...flat.blank import Blank
from ...flat.element import DevelopmentError
from ...flat.on_brake import flat_for
from ...i18n import Message, msg
from ...job.job import Job
from ...units.length import INCH
from ..order_requests import WishError
from ..plan import Plan, Remedy
from ..planner import possible, search_for
from ..route import Moves, PartState
from ..search import Search

FEW_MOVES = Moves()
"""Cures are tried with whole strokes; folds left part way are tried by the plan itself."""

FEW = 50
"""Strokes judged where only the orders a hand would try first are."""

LIMIT = 60
"""Strokes judged for one cure before it is passed over."""


@dataclass(frozen=True)
class Trial:
    """What cures are tried against.

    Attributes:
        plan: what is to be cured.
        cancelled: asked now and then.
    """

    plan: Plan
    cancelled: Callable[[], bool] = lambda: False
    _latest: list[tuple[Job, Brake, Blank]] = field(default_factory=list)

    @property
    def job(self) -> Job:
        return self.plan.job

    @property
    def whole(self) -> bool:
        """It can be made; what is wanted is that nothing is left for the hand."""
        return self.plan.feasible

    @property
    def gain(self) -> Message:
        """What becomes true of the job with the remedy, in words."""
        if self.plan.by_seamer:
            return msg("nothing is left to finish by hand")
        return msg("every bend reaches its angle") if self.whole else msg("it can be made")

    @property
    def tick(self) -> float:
        """Step (mm) in which sizes are looked for: 1/16" or 0.5 mm."""
        return INCH / 16 if self.job.units.is_inch else 0.5

    def promised(self, job: Job) -> Job:
        """A changed job as it is offered: where only hand work is to be cured, it asks for an order
        without any.

        The cheapest order may leave a wall to the hand where another leaves none, and what is
        offered is the other. So the first order that goes is proof, and no whole plan is made to
        see what it comes to.
        """
        return job.without_hand if self.whole else job

    def cures(
        self, job: Job, brake: Brake | None = None, limit: int = LIMIT, *, thorough: bool = True
    ) -> bool:
        """True when an order is found for the changed job as it is offered (:meth:`promised`).

        Args:
            job: the changed job.
            brake: another brake; None is the plan's own.
            limit: strokes judged before it is passed over.
            thorough: search when none of the orders a hand would try first goes.
        """
        on = brake or self.plan.brake
        try:
            # What is promised of the job changes nothing in its flat.
            blank = self._flat(job, on)
            return possible(
                self.promised(job),
                on,
                blank=blank,
                thorough=thorough,
                limit=limit,
                cancelled=self.cancelled,
            )
        except DevelopmentError:
            return False

    def _flat(self, job: Job, brake: Brake) -> Blank:
        """The flat of a changed job; the same where an order is looked for right after a look at
        what is stuck."""
        if not self._latest or self._latest[0][0] is not job or self._latest[0][1] is not brake:
            self._latest[:] = [(job, brake, flat_for(job, brake))]
        return self._latest[0][2]

    def resizes(self, job: Job) -> bool:
        """True when a job that differs in sizes works: looked at first where the plan is stuck or
        falls short."""
        return self.helps(job) and self.cures(job, thorough=False)

    def with_part(self, **fields: Any) -> Job:
        """The job with sizes of its part changed.

        Raises:
            InputError: the part cannot be so.
        """
        part = type(self.job.part).model_validate({**self.job.part.model_dump(), **fields})
        return self.job.model_copy(update={"part": part})

    def helps(self, job: Job) -> bool:
        """False when the very strokes that are reported come to no more with the other sizes,
        whatever the set-up.

        Another order might still serve; it is not looked for, since a cure that is not found is
        only not offered.
        """
        try:
            blank = self._flat(job, self.plan.brake)
            search = search_for(
                job,
                blank,
                self.plan.brake,
                moves=FEW_MOVES,
                cancelled=self.cancelled,
                by_hand=not self.whole,
            )
        except (DevelopmentError, WishError):
            return False
        for names, fold in self._reported():
            state = _standing(blank, names, search.choices.start)
            wanted = (
                [i for i, f in enumerate(blank.folds) if f.name == fold]
                if fold
                else list(search.choices.folds(state))
            )
            if wanted and not any(_goes(search, state, i) for i in wanted):
                return False
        return True

    def _reported(self) -> Iterator[tuple[frozenset[str], str]]:
        """What stands, by name, and the fold that is not right there; no name where none of those
        left goes."""
        if self.plan.stuck is not None:
            yield _made(self.plan.stuck.verdict.stroke.setting.angles, self.plan.blank), ""
        for stroke in self.plan.strokes:
            if stroke.verdict.by_hand > 0:
                yield _made(stroke.verdict.stroke.setting.angles, self.plan.blank), stroke.name


def _made(angles: tuple[float, ...], blank: Blank) -> frozenset[str]:
    return frozenset(fold.name for fold, angle in zip(blank.folds, angles, strict=True) if angle)


def _standing(blank: Blank, names: frozenset[str], start: PartState) -> PartState:
    """The state in which folds of these names are made."""
    made = [fold.name in names or bool(start.angles[i]) for i, fold in enumerate(blank.folds)]
    angles = tuple(
        fold.angle if there else 0.0 for fold, there in zip(blank.folds, made, strict=True)
    )
    return PartState(angles, sum(1 << i for i, there in enumerate(made) if there))


def _goes(search: Search, state: PartState, fold: int) -> bool:
    """True when some stroke of a fold is of use in a state."""
    open_ = [move for move, _ in search.choices.tried(state) if move.fold == fold]
    while open_:
        move = open_.pop(0)
        if search.usable(search.verdict(state, move)):
            return True
        open_ += [other for other, _ in search.instead(state, move)]
    return False


Cures = Iterator[Remedy]
"""What one kind of cure offers."""
