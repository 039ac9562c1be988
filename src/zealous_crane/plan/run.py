"""Working out what was asked: a planning run, or calls; every answer is told as soon as it is there."""

from __future__ import annotations

import traceback
from collections.abc import Callable

from ..measure import say_forces_in
from ..measure.input_error import INPUT_ERRORS
from .advice.advise import advise
from .asked import Ask, Asked, Call, Heard, Progress, Tell
from .make import make_plan
from .memory import forget
from .order.route import Cancelled
from .result.gauging import gauging_lines
from .result.plan import Plan
from .result.set_up import set_up_of

EVERY = 10
"""Strokes judged between two words on how far the search is."""


def run(asked: Asked, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Work out what is asked; nothing more is told once it is called off."""

    def told(heard: Heard, answer: object) -> None:
        if not cancelled():
            tell(heard, answer)

    try:
        if isinstance(asked, Ask):
            plan_it(asked, told, cancelled)
        else:
            call(asked.calls, told, cancelled)
        told(Heard.ENDED, None)
    except Cancelled:
        return
    except Exception:
        told(Heard.FAILED, traceback.format_exc())


def plan_it(ask: Ask, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Tell the first order that works, then the plan, then its cures."""

    def shown(plan: Plan) -> None:
        figures(plan)
        tell(Heard.FOUND, plan)

    def first(plan: Plan) -> None:
        # A cheaper one, or its proof, comes in a moment with all its figures; until then the stroke that is looked at is enough.
        figures(plan, 1)
        tell(Heard.FOUND, plan)

    def advanced(judged: int, names: tuple[str, ...], of: int) -> None:
        if judged % EVERY == 0:
            tell(Heard.ADVANCED, Progress(judged, names, of))

    # What the engine keeps is kept of the pieces of one blank; those of the last are never asked about again.
    forget()
    # Whoever composes a sentence says forces as the window does that asked.
    say_forces_in(ask.tonnage)
    brake = ask.rack[ask.job.brake]
    plan = make_plan(ask.job, brake, blank=ask.blank, cancelled=cancelled, progress=advanced, at_once=first)
    shown(plan)
    # The verdict is told at once; cures take longer and follow.
    if plan.wants_cures:
        tell(Heard.FOUND, advise(plan, ask.rack, cancelled=cancelled))


def call(calls: tuple[Call, ...], tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Tell the answer of each; a ``InputError`` is a sentence for the person, and an answer like any other."""
    for function, given in calls:
        if cancelled():
            return
        try:
            answer = function(*given)
        except INPUT_ERRORS as error:
            answer = error
        tell(Heard.FOUND, answer)


def figures(plan: Plan, strokes: int | None = None) -> None:
    """Work out what every view shows of a plan, so that nobody waits for it who looks; of the first strokes only, or of all."""
    for stroke in plan.strokes[:strokes]:
        set_up_of(plan, stroke)
    gauging_lines(plan)
    for setup in plan.setups:
        _ = setup.others
    # Looked over here, the flat comes with what was found.
    _ = plan.blank.findings
