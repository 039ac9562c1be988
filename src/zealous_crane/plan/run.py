"""One planning run: the first order that works, the plan, its cures, each told as soon as it is there."""

from __future__ import annotations

import traceback
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from ..blank import Blank
from ..brake import Rack
from ..job import Job
from .advice.advise import advise
from .make import make_plan
from .memory import forget
from .order.route import Cancelled
from .result.gauging import gauging_lines
from .result.plan import Plan
from .result.set_up import set_up_of

EVERY = 10
"""Strokes judged between two words on how far the search is."""


@dataclass(frozen=True)
class Ask:
    """What is to be planned.

    Attributes:
        job: what is wanted; its brake is in the rack.
        blank: its flat.
        rack: the brakes of the shop.
    """

    job: Job
    blank: Blank
    rack: Rack

    def run(self, tell: Tell, cancelled: Callable[[], bool]) -> None:
        """Plan it; see :func:`run`."""
        run(self, tell, cancelled)


class Progress(NamedTuple):
    """How far a search is: strokes judged, names of the folds that stand where it looks, folds in all."""

    judged: int
    standing: tuple[str, ...]
    of: int


class Heard(StrEnum):
    """What a run tells, and what comes with it."""

    FOUND = "found"
    """A plan: the first order that works, marked so; then the one that is kept; then with its cures."""
    ADVANCED = "advanced"
    """:class:`Progress`."""
    FAILED = "failed"
    """The way to a fault of the program, as text."""
    ENDED = "ended"
    """None: the run is through."""


Tell = Callable[[Heard, object], None]


def run(ask: Ask, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Plan what is asked; nothing more is told once it is called off."""

    def told(heard: Heard, answer: object) -> None:
        if not cancelled():
            tell(heard, answer)

    def shown(plan: Plan) -> None:
        figures(plan)
        told(Heard.FOUND, plan)

    def advanced(judged: int, names: tuple[str, ...], of: int) -> None:
        if judged % EVERY == 0:
            told(Heard.ADVANCED, Progress(judged, names, of))

    # What the engine keeps is kept of the pieces of one blank; those of the last are never asked about again.
    forget()
    try:
        brake = ask.rack[ask.job.brake]
        plan = make_plan(ask.job, brake, blank=ask.blank, cancelled=cancelled, progress=advanced, at_once=shown)
        shown(plan)
        # The verdict is told at once; cures take longer and follow.
        if not (plan.complete or plan.open):
            told(Heard.FOUND, advise(plan, ask.rack, cancelled=cancelled))
        told(Heard.ENDED, None)
    except Cancelled:
        return
    except Exception:
        told(Heard.FAILED, traceback.format_exc())


def figures(plan: Plan) -> None:
    """Work out what every view shows of a plan, so that nobody waits for it who looks."""
    for stroke in plan.strokes:
        set_up_of(plan, stroke)
    gauging_lines(plan)
