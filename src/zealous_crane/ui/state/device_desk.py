"""The instrument and the back gauge at the window: which lines they hang on, what they say, what
they are told."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, QTimer, Signal

from ...devices.serial_line import DeviceMessage, Word
from ...i18n import tr
from ...units.length import Units, show_length

if TYPE_CHECKING:
    from ...devices.serial_line import Port

ANSWERS = 15.0
"""Seconds a stop has to say where it stands."""

NEAR = 0.1
"""mm; a stop that stands farther from where it was sent is not where the plan has it."""


class DeviceDesk(QObject):
    """Nothing is opened until a line is named; without devices nothing is different.

    Args:
        units: in which lengths are said.

    Signals:
        angle, size: a reading, degrees bent from flat or mm.
        reported: a sentence about the stop or a line that broke.
        alarm: the stop is not where it was sent, or nobody knows where it is: a sentence that
        stands until the next stop is sent; empty
            once one is.
    """

    angle = Signal(float)
    size = Signal(float)
    reported = Signal(str)
    alarm = Signal(str)

    _told = Signal(object)

    def __init__(self, units: Callable[[], Units] = lambda: Units.MM) -> None:
        super().__init__()
        self._units = units
        self.instrument: Port | None = None
        self.gauge: Port | None = None
        self._sent: float | None = None
        self._waits = QTimer(self)
        self._waits.setSingleShot(True)
        self._waits.timeout.connect(self._no_answer)
        # What a port hears on its own thread is told on the window's.
        self._told.connect(self._hear, Qt.ConnectionType.QueuedConnection)

    def connect_to(self, instrument: str, gauge: str) -> tuple[str, ...]:
        """Hang both on these lines, empty for none; a sentence for each that cannot be opened."""
        lines = []
        for which, name in (("instrument", instrument.strip()), ("gauge", gauge.strip())):
            old = getattr(self, which)
            if old is not None and old.name == name:
                continue
            if old is not None:
                old.close()
            setattr(self, which, None)
            if name:
                from ...devices.serial_line import Port

                try:
                    setattr(self, which, Port(name, self._told.emit, self.reported.emit))
                except OSError as error:
                    lines.append(str(error))
        return tuple(lines)

    def go(self, distance: float) -> str | None:
        """Drive the stop to a distance, mm; a sentence when it does not take it."""
        if self.gauge is None:
            return tr("No back gauge is connected: Shop → Instrument and back gauge.")
        try:
            self.gauge.go(distance)
        except OSError as error:
            return str(error)
        self.alarm.emit("")
        self._sent = distance
        self._waits.start(round(ANSWERS * 1000))
        return None

    def halt(self) -> None:
        """Halt the stop where it still moves."""
        if self._sent is None or self.gauge is None:
            return
        self._sent = None
        self._waits.stop()
        with contextlib.suppress(OSError):
            self.gauge.halt()

    def close(self) -> None:
        """Let go of both lines."""
        self.halt()
        self.connect_to("", "")

    def _length(self, mm: float) -> str:
        return show_length(mm, self._units().fine)

    def _no_answer(self) -> None:
        if self._sent is None:
            return
        wanted = self._length(self._sent)
        self.halt()
        self.alarm.emit(
            tr(
                "The stop has not said where it stands. It was sent to {wanted}, and STOP after "
                "that: measure before you bend."
            ).format(wanted=wanted)
        )

    def _stands(self, at: float) -> None:
        """The stop says where it stands."""
        sent, self._sent = self._sent, None
        self._waits.stop()
        if sent is not None and abs(at - sent) > NEAR:
            text = tr("The stop stands at {at} and was sent to {wanted}: do not bend against it.")
            self.alarm.emit(text.format(at=self._length(at), wanted=self._length(sent)))
        else:
            self.reported.emit(tr("The stop stands at {at}.").format(at=self._length(at)))

    def _hear(self, told: object) -> None:
        if not isinstance(told, DeviceMessage):
            return
        if told.word is Word.ANGLE:
            self.angle.emit(told.value)
        elif told.word is Word.SIZE:
            self.size.emit(told.value)
        elif told.word is Word.AT:
            self._stands(told.value)
        else:
            self._sent = None
            self._waits.stop()
            self.alarm.emit(
                tr("The stop refuses: {why}. It is not where this bend needs it.").format(
                    why=told.why or tr("no reason given")
                )
            )
