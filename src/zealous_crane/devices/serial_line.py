"""Lines of the protocol, read and written."""

from __future__ import annotations

import contextlib
import math
import re
import threading
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import serial

from ..i18n import tr

LONGEST = 200
"""Characters; a longer line is noise."""


class Word(StrEnum):
    """What a line begins with."""

    ANGLE = "ANGLE"
    SIZE = "SIZE"
    AT = "AT"
    REFUSED = "REFUSED"


@dataclass(frozen=True)
class DeviceMessage:
    """What a device said.

    Attributes:
        word: what kind of line.
        value: degrees or mm; 0 for a refusal.
        why: of a refusal.
    """

    word: Word
    value: float = 0.0
    why: str = ""


_FIGURE = re.compile(r"[+-]?\d{1,9}(\.\d{1,9})?")


def read_line(line: str) -> DeviceMessage | None:
    """A line as it came; None where it is not of the protocol.

    >>> read_line("ANGLE 88.5")
    Told(word=<Word.ANGLE: 'ANGLE'>, value=88.5, why='')
    """
    word, _, rest = line.strip().partition(" ")
    if len(line) > LONGEST or word not in tuple(Word):
        return None
    if word == Word.REFUSED:
        return DeviceMessage(Word.REFUSED, why=rest.strip())
    if not _FIGURE.fullmatch(rest.strip()):
        return None
    value = float(rest)
    return DeviceMessage(Word(word), value) if math.isfinite(value) else None


def go_line(distance: float) -> str:
    """The line that drives a stop to a distance, mm."""
    return f"GO {distance:.3f}\n"


STOP_LINE = "STOP\n"
"""The line that halts a stop."""


def reading_line(word: Word, value: float) -> str:
    """The line of a reading: ``ANGLE 88.50``, ``SIZE 25.12``, ``AT 68.257``."""
    return f"{word} {value:.3f}\n"


BAUD = 9600

WAIT = 0.2
"""Seconds a read waits before it looks whether the port is to be closed."""


class DeviceError(OSError):
    """A device that could not be reached; the message says which and why."""


AGAIN = 1.0
"""Seconds until a line that is gone is tried again."""


class Port:
    """One device. A line that breaks, because somebody pulled its plug, is tried again until it is
    there.

    Args:
        name: of the serial line: ``/dev/ttyUSB0``, or that of a stand-in.
        told: called with everything the device says, on the port's own thread.
        said: called with a sentence when the line breaks, and when it is there again.

    Raises:
        DeviceError: it cannot be opened.
    """

    def __init__(
        self,
        name: str,
        told: Callable[[DeviceMessage], None],
        text: Callable[[str], None] = lambda _: None,
    ) -> None:
        self.name, self._told, self._said = name, told, text
        try:
            self._line: serial.Serial | None = self._opened()
        except (serial.SerialException, OSError, ValueError) as error:
            raise DeviceError(
                tr("{name} cannot be opened: {error}").format(name=name, error=error)
            ) from None
        self._closing = threading.Event()
        self._thread = threading.Thread(target=self._run, name=f"device {name}", daemon=True)
        self._thread.start()

    def _opened(self) -> serial.Serial:
        return serial.Serial(self.name, BAUD, timeout=WAIT, write_timeout=2.0)

    def go(self, distance: float) -> None:
        """Drive a stop to a distance, mm.

        Raises:
            DeviceError: the line is broken.
        """
        self._write(go_line(distance))

    def halt(self) -> None:
        """Halt a stop that moves.

        Raises:
            DeviceError: the line is broken.
        """
        self._write(STOP_LINE)

    def _write(self, line: str) -> None:
        standing = self._line
        if standing is None:
            raise DeviceError(tr("{name} is gone; plug it in again.").format(name=self.name))
        try:
            standing.write(line.encode())
        except (serial.SerialException, OSError) as error:
            raise DeviceError(
                tr("{name} does not take it: {error}").format(name=self.name, error=error)
            ) from None

    def close(self) -> None:
        """Stop listening and let go of the line."""
        self._closing.set()
        self._thread.join(timeout=2.0)
        if self._line is not None:
            self._line.close()

    def _run(self) -> None:
        """Listen; where the line breaks, say so, and go on when it is there again."""
        while not self._closing.is_set():
            standing = self._line
            if standing is not None:
                why = self._listen(standing)
                if why is None:
                    return
                self._line = None
                with contextlib.suppress(serial.SerialException, OSError):
                    standing.close()
                self._said(tr("{name} is gone: {error}").format(name=self.name, error=why))
            self._closing.wait(AGAIN)
            with contextlib.suppress(serial.SerialException, OSError, ValueError):
                self._line = self._opened()
                self._said(tr("{name} is there again.").format(name=self.name))

    def _listen(self, line: serial.Serial) -> str | None:
        """Hear what is said until the port is closed, None, or the line breaks: why."""
        pending = b""
        while not self._closing.is_set():
            try:
                pending += line.read(64)
            except (serial.SerialException, OSError, TypeError) as error:
                return None if self._closing.is_set() else str(error)
            *lines, pending = pending[-4096:].split(b"\n")
            for each in lines:
                told = read_line(each.decode("ascii", "replace"))
                if told is not None:
                    self._told(told)
        return None
