"""Planning processes that plan each part once for all tests of the window."""

from __future__ import annotations

import pickle
import threading
from pathlib import Path

from shared_plans import keep, place_of
from zealous_crane.workers.messages import Ask, Asked, EventKind
from zealous_crane.workers.pool import Hear, ProcessWorker


class SharedWorker(ProcessWorker):
    """A process that plans what nobody in this run has had planned; what was told then is told
    again, word by word."""

    def __init__(self, hear: Hear) -> None:
        super().__init__(self._heard)
        self._tell = hear
        self._told: dict[int, tuple[Path, list[bytes]]] = {}

    def ask(self, number: int, ask: Asked) -> None:
        """See :meth:`Worker.ask`."""
        if isinstance(ask, Ask):
            brakes = tuple(brake.model_dump_json() for brake in ask.rack.brakes)
            place = place_of(
                "told", ask.job.model_dump_json(), brakes, tuple(sorted(ask.rack.retired))
            )
            if place.exists():
                self.run, self.idle = number, False
                # Heard of later and from another thread, as what a process tells.
                threading.Thread(target=self._tell_again, args=(number, place), daemon=True).start()
                return
            self._told[number] = place, []
        super().ask(number, ask)

    def _tell_again(self, number: int, place: Path) -> None:
        for message in pickle.loads(place.read_bytes()):
            heard, answer = pickle.loads(message)
            if self.run == number:
                self._tell(number, heard, answer)
        self.idle = self.idle or self.run == number

    def stop(self, number: int) -> None:
        """See :meth:`Worker.stop`."""
        if self._asked == self.run:
            super().stop(number)
        else:
            self.run, self.idle = number, True

    def _heard(self, number: int, heard: EventKind, answer: object) -> None:
        if number in self._told:
            place, told = self._told[number]
            # Written down before the window has it: what shows it adds answers of its own to it.
            told.append(pickle.dumps((heard, answer)))
            if heard is EventKind.ENDED:
                keep(place, told)
            if heard in (EventKind.ENDED, EventKind.FAILED):
                del self._told[number]
        self._tell(number, heard, answer)
