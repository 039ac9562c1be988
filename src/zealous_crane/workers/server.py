"""Working out what was asked: a planning run, or calls; every answer is told as soon as it is
there."""

from __future__ import annotations

import os
import queue
import threading
import time
import traceback
from collections.abc import Callable
from multiprocessing.connection import Connection

from ..cache import collect_seldom, forget
from ..errors import INPUT_ERRORS
from ..planning.gauging import gauging_lines
from ..planning.plan import Plan
from ..planning.planner import make_plan
from ..planning.remedies.registry import advise
from ..planning.route import Cancelled
from ..planning.setup import set_up_of
from .messages import Ask, Asked, Call, EventKind, Progress, Tell

EVERY = 10
"""Strokes judged between two words on how far the search is."""


def run(asked: Asked, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Work out what is asked; nothing more is told once it is called off.

    Args:
        asked: what is asked.
        tell: told every answer as it is there.
        cancelled: asked now and then; True stops the work.
    """

    def told(heard: EventKind, answer: object) -> None:
        if not cancelled():
            tell(heard, answer)

    try:
        if isinstance(asked, Ask):
            plan_it(asked, told, cancelled)
        else:
            call(asked.calls, told, cancelled)
        told(EventKind.ENDED, None)
    except Cancelled:
        return
    except Exception:
        told(EventKind.FAILED, traceback.format_exc())


def plan_it(ask: Ask, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Tell the first order that works, then the plan, then its cures.

    Args:
        ask: what is asked.
        tell: told every answer as it is there.
        cancelled: asked now and then; True stops the work.
    """

    def shown(plan: Plan) -> None:
        figures(plan)
        tell(EventKind.FOUND, plan)

    def first(plan: Plan) -> None:
        # A cheaper one, or its proof, comes in a moment with all its figures; until then the stroke
        # that is looked at is enough.
        figures(plan, 1)
        tell(EventKind.FOUND, plan)

    def advanced(judged: int, names: tuple[str, ...], of: int) -> None:
        if judged % EVERY == 0:
            tell(EventKind.ADVANCED, Progress(judged, names, of))

    # What the engine keeps is kept of the pieces of one blank; those of the last are never asked
    # about again.
    forget()
    brake = ask.rack[ask.job.brake]
    plan = make_plan(
        ask.job,
        brake,
        blank=ask.blank,
        cancelled=cancelled,
        progress=advanced,
        on_first_feasible=first,
    )
    shown(plan)
    # The verdict is told at once; cures take longer and follow.
    if plan.wants_cures:
        tell(EventKind.FOUND, advise(plan, ask.rack, cancelled=cancelled))


def call(calls: tuple[Call, ...], tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Tell the answer of each; a ``InputError`` is a sentence for the person, and an answer like
    any other.

    Args:
        calls: what is called.
        tell: told every answer as it is there.
        cancelled: asked now and then; True stops the work.
    """
    for function, given in calls:
        if cancelled():
            return
        try:
            answer = function(*given)
        except INPUT_ERRORS as error:
            answer = error
        tell(EventKind.FOUND, answer)


def figures(plan: Plan, strokes: int | None = None) -> None:
    """Work out what every view shows of a plan, so that nobody waits for it who looks; of the first
    strokes only, or of all."""
    for stroke in plan.strokes[:strokes]:
        set_up_of(plan, stroke)
    gauging_lines(plan)
    for setup in plan.setups:
        _ = setup.others
    # Looked over here, the flat comes with what was found.
    _ = plan.blank.findings


NICE = 10
"""How far the process steps back behind whatever a person is looking at."""

BEAT = 0.5
"""Seconds between two signs of life."""

Message = tuple[int, Asked | None]
"""A number that counts up, and what is asked under it; None calls off what runs."""


def serve(descriptor: int) -> None:  # noqa: C901
    """Plan what is asked over a pipe until it is closed.

    What comes back is (number, :class:`~zealous_crane.workers.messages.EventKind`, answer),
    (number, None, None) when the process is idle, and (0, None, None) every :data:`BEAT` seconds as
    a sign of life.

    Args:
        descriptor: file descriptor of the pipe's end.
    """
    os.nice(NICE)
    collect_seldom()
    pipe: Connection[object, Message] = Connection(descriptor)
    asked: queue.SimpleQueue[tuple[int, Asked]] = queue.SimpleQueue()
    newest = 0

    def listen() -> None:
        nonlocal newest
        while True:
            try:
                number, ask = pipe.recv()
            except (EOFError, OSError):
                # The window is gone: nobody wants the answer.
                os._exit(0)
            newest = number
            if ask is not None:
                asked.put((number, ask))

    sending = threading.Lock()

    def send(message: object) -> None:
        with sending:
            pipe.send(message)

    def beat() -> None:
        while True:
            time.sleep(BEAT)
            send((0, None, None))

    threading.Thread(target=listen, daemon=True).start()
    threading.Thread(target=beat, daemon=True).start()
    while True:
        number, ask = asked.get()

        def tell(heard: EventKind, answer: object, number: int = number) -> None:
            send((number, heard, answer))

        if number == newest:
            run(ask, tell, lambda number=number: newest != number)  # type: ignore[misc]
        send((number, None, None))
