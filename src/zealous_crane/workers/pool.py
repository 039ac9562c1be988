"""Who plans and reckons for the windows of this program: processes kept warm, so that no window
ever waits for the engine."""

from __future__ import annotations

import atexit
import itertools
import os
import pickle
import queue
import subprocess
import sys
import threading
from abc import ABC, abstractmethod
from collections.abc import Callable
from multiprocessing import Pipe
from multiprocessing.connection import Connection

from ..i18n import msg
from .messages import Asked, EventKind

Hear = Callable[[int, EventKind, object], None]
"""Called from any thread: the run's number, what is told, and the answer."""

MOST = 2
"""Workers: the newest run, and one that was called off and has not noticed yet."""

START = "import sys; sys.path[:] = {path!r}; from zealous_crane.workers.server import serve; serve({descriptor})"  # noqa: E501

LOST = msg(
    "The planning process stopped answering. Planning starts again inside this window, which may "
    "be slower to respond."
)

PATIENCE = 3.0
"""Seconds without a sign of life after which a process that has begun counts as gone."""

START_PATIENCE = 20.0
"""Seconds it may take to begin: it brings the engine in, beside whatever else the machine does."""


class Worker(ABC):
    """A worker that answers one request at a time.

    Attributes:
        run: number of what was asked last.
        idle: nothing is worked out.
        gone: it can be asked nothing more.
    """

    def __init__(self, hear: Hear) -> None:
        self.hear = hear
        self.run = 0
        self.idle = True
        self.gone = False

    @abstractmethod
    def ask(self, number: int, ask: Asked) -> None:
        """Work this out next; whatever it is at is called off."""

    @abstractmethod
    def stop(self, number: int) -> None:
        """Call off what was asked, under a number of its own."""

    def close(self) -> None:
        """Let it go."""
        self.gone = True


class ProcessWorker(Worker):
    """A process, started when it is first asked; it is started, written to and listened to by
    threads of its own."""

    def __init__(self, hear: Hear) -> None:
        super().__init__(hear)
        self._out: queue.SimpleQueue[bytes | None] = queue.SimpleQueue()
        self._process: subprocess.Popen[bytes] | None = None
        self._asked = 0
        self.asks: Asked | None = None
        threading.Thread(target=self._speak, daemon=True).start()

    def ask(self, number: int, ask: Asked) -> None:
        """See :meth:`Worker.ask`."""
        self.run, self._asked, self.idle, self.asks = number, number, False, ask
        self._say(number, ask)

    def stop(self, number: int) -> None:
        """See :meth:`Worker.stop`."""
        self.run = number
        self._say(number, None)

    def _say(self, number: int, ask: Asked | None) -> None:
        # Written down by who asks: in a thread of its own a view could be adding to the same blank
        # meanwhile.
        self._out.put(pickle.dumps((number, ask)))

    def close(self) -> None:
        """See :meth:`Worker.close`; the process goes when its pipe is closed."""
        super().close()
        self._out.put(None)
        if self._process is not None:
            self._process.kill()

    def _speak(self) -> None:
        message = self._out.get()
        if message is None:
            return
        ours, theirs = Pipe()
        call = START.format(path=sys.path, descriptor=theirs.fileno())
        try:
            # A planning process multiplies small matrices only: a second thread for them would spin
            # beside the window.
            alone = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
            self._process = subprocess.Popen(
                [sys.executable, "-c", call],
                stdin=subprocess.DEVNULL,
                pass_fds=[theirs.fileno()],
                env=alone,
            )
        except OSError:
            self._lost()
            return
        finally:
            theirs.close()
        threading.Thread(target=self._listen, args=(ours, self._process), daemon=True).start()
        try:
            while message is not None:
                ours.send_bytes(message)
                message = self._out.get()
        except OSError:
            return  # what listens says that it is gone
        ours.close()

    def _lost(self) -> None:
        """It can be asked nothing more; whoever waits for it is told."""
        was, self.gone = self.gone, True
        if not was:
            self.hear(self.run, EventKind.MOVED, LOST)

    def _listen(self, pipe: Connection, process: subprocess.Popen[bytes]) -> None:
        patience = START_PATIENCE
        while True:
            try:
                if not pipe.poll(patience):
                    # Stopped, or too far gone to say so: what it was at is done by somebody else.
                    process.kill()
                    raise EOFError
                number, heard, answer = pipe.recv()
            except (EOFError, OSError):
                process.wait()
                self._lost()
                return
            patience = PATIENCE
            if heard is None:
                self.idle = self.idle or number == self._asked
            else:
                self.hear(number, heard, answer)


class ThreadWorker(Worker):
    """A thread of this very process, for where no other can be had."""

    def ask(self, number: int, ask: Asked) -> None:
        """See :meth:`Worker.ask`."""
        self.run, self.idle = number, False

        def work() -> None:
            # Who only asks brings no engine in.
            from .server import run

            run(
                ask,
                lambda heard, answer: self.hear(number, heard, answer),
                lambda: self.run != number,
            )
            self.idle = True

        threading.Thread(target=work, daemon=True).start()

    def stop(self, number: int) -> None:
        """See :meth:`Worker.stop`."""
        self.run = number


class Crew:
    """The workers, and who hears of which run.

    Args:
        worker: makes one.
    """

    def __init__(self, worker: Callable[[Hear], Worker] = ProcessWorker) -> None:
        self._worker = worker
        self._workers: list[Worker] = []
        self._numbers = itertools.count(1)
        self._ears: dict[int, Hear] = {}

    def ask(self, ask: Asked, hear: Hear) -> int:
        """Have something planned or worked out; the number of the run. ``hear`` is called from
        another thread."""
        number = next(self._numbers)
        self._ears[number] = hear
        self._free().ask(number, ask)
        return number

    def stop(self, number: int) -> None:
        """Call a run off; nothing more is heard of it."""
        self._ears.pop(number, None)
        for worker in self._workers:
            if worker.run == number:
                worker.stop(next(self._numbers))

    def close(self) -> None:
        """Let all workers go."""
        for worker in self._workers:
            worker.close()
        self._workers.clear()

    def _free(self) -> Worker:
        """A worker with nothing to do; a new one; or the one that was called off the longest time
        ago."""
        self._workers = [worker for worker in self._workers if not worker.gone]
        idle = next((worker for worker in self._workers if worker.idle), None)
        if idle is not None:
            return idle
        if len(self._workers) < MOST:
            self._workers.append(self._worker(self._hear))
            return self._workers[-1]
        # Whoever plans for a window that still waits is asked last.
        return min(self._workers, key=lambda worker: (worker.run in self._ears, worker.run))

    def _hear(self, number: int, heard: EventKind, answer: object) -> None:
        hear = self._ears.get(number)
        if heard is EventKind.MOVED:
            lost = next(
                (
                    w
                    for w in self._workers
                    if isinstance(w, ProcessWorker) and w.gone and w.run == number
                ),
                None,
            )
            if hear is not None and lost is not None and lost.asks is not None:
                hear(number, heard, answer)
                ThreadWorker(self._hear).ask(number, lost.asks)
            return
        if heard in (EventKind.ENDED, EventKind.FAILED):
            self._ears.pop(number, None)
        if hear is not None:
            hear(number, heard, answer)


CREW = Crew()
"""The crew of this program, for all its windows."""

atexit.register(CREW.close)
