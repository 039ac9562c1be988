"""Planning, and what else takes a while, in a process of its own: asked over a pipe, called off by the next word, gone when nobody listens."""

from __future__ import annotations

import os
import queue
import threading
import time
from multiprocessing.connection import Connection

from .asked import Asked, Heard
from .memory import collect_seldom
from .run import run

NICE = 10
"""How far the process steps back behind whatever a person is looking at."""

BEAT = 0.5
"""Seconds between two signs of life."""

Message = tuple[int, Asked | None]
"""A number that counts up, and what is asked under it; None calls off what runs."""


def serve(descriptor: int) -> None:
    """Plan what is asked over a pipe until it is closed.

    What comes back is (number, :class:`~zealous_crane.plan.asked.Heard`, answer), (number, None, None) when the process is idle, and
    (0, None, None) every :data:`BEAT` seconds as a sign of life.

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

        def tell(heard: Heard, answer: object, number: int = number) -> None:
            send((number, heard, answer))

        if number == newest:
            run(ask, tell, lambda number=number: newest != number)  # type: ignore[misc]
        send((number, None, None))
