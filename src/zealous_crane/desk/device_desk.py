"""The instrument and the back gauge at the window: which lines they hang on, what they say, what they are told."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal

from ..devices.protocol import Told, Word
from ..measure.words import tr

if TYPE_CHECKING:  # most benches have no device on a line
    from ..devices.port import Port


class DeviceDesk(QObject):
    """Nothing is opened until a line is named; without devices nothing is different.

    Signals:
        angle, size: a reading, degrees bent from flat or mm.
        said: a sentence about the stop or a line that broke.
    """

    angle = Signal(float)
    size = Signal(float)
    said = Signal(str)

    _told = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.instrument: Port | None = None
        self.gauge: Port | None = None
        # What a port hears on its own thread is told on the window's.
        self._told.connect(self._hear, Qt.ConnectionType.QueuedConnection)

    def connect_to(self, instrument: str, gauge: str) -> tuple[str, ...]:
        """Hang both on these lines, empty for none; a sentence for each that cannot be opened."""
        said = []
        for which, name in (("instrument", instrument.strip()), ("gauge", gauge.strip())):
            old = getattr(self, which)
            if old is not None and old.name == name:
                continue
            if old is not None:
                old.close()
            setattr(self, which, None)
            if name:
                from ..devices.port import Port

                try:
                    setattr(self, which, Port(name, self._told.emit, self.said.emit))
                except OSError as error:
                    said.append(str(error))
        return tuple(said)

    def go(self, distance: float) -> str | None:
        """Drive the stop to a distance, mm; a sentence when it does not take it."""
        if self.gauge is None:
            return tr("No back gauge is connected: Shop → Instrument and back gauge.")
        try:
            self.gauge.go(distance)
        except OSError as error:
            return str(error)
        return None

    def close(self) -> None:
        """Let go of both lines."""
        self.connect_to("", "")

    def _hear(self, told: object) -> None:
        if not isinstance(told, Told):
            return
        if told.word is Word.ANGLE:
            self.angle.emit(told.value)
        elif told.word is Word.SIZE:
            self.size.emit(told.value)
        elif told.word is Word.AT:
            self.said.emit(tr("The stop stands at {at:.2f} mm.").format(at=told.value))
        else:
            self.said.emit(tr("The stop refuses: {why}.").format(why=told.why or tr("no reason given")))
