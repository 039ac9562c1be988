"""A serial line, listened to on a thread of its own."""

from __future__ import annotations

import threading
from collections.abc import Callable

import serial

from ..measure.words import tr
from .protocol import Told, go_line, read_line

BAUD = 9600

WAIT = 0.2
"""Seconds a read waits before it looks whether the port is to be closed."""


class DeviceError(OSError):
    """A device that could not be reached; the message says which and why."""


class Port:
    """One device.

    Args:
        name: of the serial line: ``/dev/ttyUSB0``, or that of a stand-in.
        told: called with everything the device says, on the port's own thread.
        lost: called with a sentence when the line breaks.

    Raises:
        DeviceError: it cannot be opened.
    """

    def __init__(self, name: str, told: Callable[[Told], None], lost: Callable[[str], None] = lambda _: None) -> None:
        self.name, self._told, self._lost = name, told, lost
        try:
            self._line = serial.Serial(name, BAUD, timeout=WAIT, write_timeout=2.0)
        except (serial.SerialException, OSError, ValueError) as error:
            raise DeviceError(tr("{name} cannot be opened: {error}").format(name=name, error=error)) from None
        self._open = True
        self._thread = threading.Thread(target=self._listen, name=f"device {name}", daemon=True)
        self._thread.start()

    def go(self, distance: float) -> None:
        """Drive a stop to a distance, mm.

        Raises:
            DeviceError: the line is broken.
        """
        try:
            self._line.write(go_line(distance).encode())
        except (serial.SerialException, OSError) as error:
            raise DeviceError(tr("{name} does not take it: {error}").format(name=self.name, error=error)) from None

    def close(self) -> None:
        """Stop listening and let go of the line."""
        self._open = False
        self._thread.join(timeout=2.0)
        self._line.close()

    def _listen(self) -> None:
        pending = b""
        while self._open:
            try:
                pending += self._line.read(64)
            except (serial.SerialException, OSError, TypeError) as error:
                if self._open:
                    self._lost(tr("{name} is gone: {error}").format(name=self.name, error=error))
                return
            *lines, pending = pending[-4096:].split(b"\n")
            for line in lines:
                told = read_line(line.decode("ascii", "replace"))
                if told is not None:
                    self._told(told)
