"""Planning, and what else takes a while, in a process of its own: asked over a pipe, called off by the next word, gone when nobody listens."""

from __future__ import annotations

import gc
import os
import queue
import threading
from multiprocessing.connection import Connection

from .asked import Asked, Heard
from .run import run

NICE = 10
"""How far the process steps back behind whatever a person is looking at."""

SELDOM = (20_000, 20, 10)
"""Things made since the last look, younger looks before an older one, and those before one through everything. A plan makes some
hundred thousand things that stay, and next to nothing that goes in a circle: with the usual 700 a twentieth of its time went into looking."""

Message = tuple[int, Asked | None]
"""A number that counts up, and what is asked under it; None calls off what runs."""


def serve(descriptor: int) -> None:
    """Plan what is asked over a pipe until it is closed.

    What comes back is (number, :class:`~zealous_crane.plan.asked.Heard`, answer), and (number, None, None) when the process is idle.

    Args:
        descriptor: file descriptor of the pipe's end.
    """
    os.nice(NICE)
    # What was loaded by now stays and is not looked at again.
    gc.freeze()
    gc.set_threshold(*SELDOM)
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

    threading.Thread(target=listen, daemon=True).start()
    while True:
        number, ask = asked.get()

        def tell(heard: Heard, answer: object, number: int = number) -> None:
            pipe.send((number, heard, answer))

        if number == newest:
            run(ask, tell, lambda number=number: newest != number)  # type: ignore[misc]
        pipe.send((number, None, None))
