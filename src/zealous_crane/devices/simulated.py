"""Stand-ins: an instrument and a back gauge at the other end of a pseudo-terminal, for trying and
for tests."""

from __future__ import annotations

import os
import threading
import tty

from .serial_line import Word, reading_line


class _Terminal:
    """Our end of a pseudo-terminal; :attr:`name` is the end a program opens."""

    def __init__(self) -> None:
        self._ours, theirs = os.openpty()
        tty.setraw(self._ours)
        tty.setraw(theirs)
        self.name = os.ttyname(theirs)
        self._theirs = theirs

    def send(self, line: str) -> None:
        """Say a line."""
        os.write(self._ours, line.encode())

    def close(self) -> None:
        """Let go of both ends."""
        for end in (self._ours, self._theirs):
            os.close(end)


class SimulatedInstrument(_Terminal):
    """A caliper or protractor whose button sends what it shows."""

    def angle(self, degrees: float) -> None:
        """Send an angle, degrees bent from flat."""
        self.send(reading_line(Word.ANGLE, degrees))

    def size(self, mm: float) -> None:
        """Send a length, mm."""
        self.send(reading_line(Word.SIZE, mm))


class SimulatedGauge(_Terminal):
    """A stop that is driven to a number.

    Args:
        travel: farthest it goes, mm.
        bias: how far off it stands from what it was told, mm.
        silent: it never says where it stands.
    """

    def __init__(self, travel: float = 600.0, bias: float = 0.0, *, silent: bool = False) -> None:
        super().__init__()
        self.travel, self.bias, self.silent, self.stands = travel, bias, silent, 0.0
        self.heard: list[str] = []
        self._run = True
        self._thread = threading.Thread(target=self._listen, daemon=True)
        self._thread.start()

    def _listen(self) -> None:
        pending = b""
        while self._run:
            try:
                pending += os.read(self._ours, 64)
            except OSError:
                return
            *lines, pending = pending.split(b"\n")
            for line in lines:
                self._hear(line.decode("ascii", "replace").strip())

    def _hear(self, line: str) -> None:
        self.heard.append(line)
        word, _, figure = line.partition(" ")
        if word != "GO":
            return
        wanted = float(figure)
        if not 0 <= wanted <= self.travel:
            self.send("REFUSED over its travel\n")
            return
        self.stands = wanted + self.bias
        if not self.silent:
            self.send(reading_line(Word.AT, self.stands))

    def close(self) -> None:
        self._run = False
        super().close()
