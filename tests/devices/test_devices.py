"""Devices over pseudo-terminals: what is sent is heard, a stop goes where it is told or says why
not, noise is passed over."""

import os
import time

import pytest

from zealous_crane.devices import serial_line as port_module
from zealous_crane.devices.serial_line import (
    DeviceError,
    DeviceMessage,
    Port,
    Word,
    go_line,
    read_line,
)
from zealous_crane.devices.simulated import SimulatedGauge, SimulatedInstrument


def wait(done, seconds=5.0):
    end = time.monotonic() + seconds
    while not done():
        assert time.monotonic() < end
        time.sleep(0.01)


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("ANGLE 88.50", DeviceMessage(Word.ANGLE, 88.5)),
        ("SIZE -0.25\r", DeviceMessage(Word.SIZE, -0.25)),
        ("AT 68.257", DeviceMessage(Word.AT, 68.257)),
        ("REFUSED over its travel", DeviceMessage(Word.REFUSED, why="over its travel")),
        ("ANGLE", None),
        ("ANGLE 8e9", None),
        ("ANGLE nan", None),
        ("angle 3", None),
        ("HELLO 3", None),
        ("", None),
        ("SIZE " + "9" * 300, None),
    ],
)
def test_lines(line, told):
    assert read_line(line) == told
    assert go_line(68.2604) == "GO 68.260\n"


def test_an_instrument_is_heard_through_noise():
    made, heard = SimulatedInstrument(), []
    port = Port(made.name, heard.append)
    made.send("\x00\xff garbage\n")
    made.angle(88.5)
    made.send("SIZE 2")
    made.send("5.12\nANGLE")
    wait(lambda: len(heard) == 2)
    assert heard == [DeviceMessage(Word.ANGLE, 88.5), DeviceMessage(Word.SIZE, 25.12)]
    port.close()
    made.close()


def test_a_stop_goes_where_it_is_told_or_says_why_not():
    made, heard = SimulatedGauge(travel=300, bias=0.05), []
    port = Port(made.name, heard.append)
    port.go(68.26)
    port.go(900)
    wait(lambda: len(heard) == 2)
    assert heard == [
        DeviceMessage(Word.AT, 68.31),
        DeviceMessage(Word.REFUSED, why="over its travel"),
    ] and made.stands == pytest.approx(68.31)
    assert made.heard == ["GO 68.260", "GO 900.000"]
    port.close()
    made.close()


def test_a_line_that_is_not_there_is_a_sentence_and_one_that_breaks_is_said():
    with pytest.raises(DeviceError, match="/dev/no-such-line cannot be opened"):
        Port("/dev/no-such-line", print)
    made, lost = SimulatedInstrument(), []
    port = Port(made.name, lambda _: None, lost.append)
    made.close()
    wait(lambda: bool(lost))
    assert f"{made.name} is gone" in lost[0] and not os.path.exists(made.name)
    port.close()


def test_an_instrument_plugged_in_again_goes_on(tmp_path, monkeypatch):
    """The line has one name, whichever terminal stands behind it, as a serial line has."""
    monkeypatch.setattr(port_module, "AGAIN", 0.05)
    name, heard, said = tmp_path / "line", [], []
    first = SimulatedInstrument()
    name.symlink_to(first.name)
    port = Port(str(name), heard.append, said.append)
    first.angle(88.5)
    wait(lambda: len(heard) == 1)
    name.unlink()
    first.close()
    wait(lambda: len(said) == 1)
    assert "is gone" in said[0]
    with pytest.raises(DeviceError, match="plug it in again"):
        port.go(1.0)
    second = SimulatedInstrument()
    name.symlink_to(second.name)
    wait(lambda: len(said) == 2)
    assert "there again" in said[1]
    second.size(25.12)
    wait(lambda: len(heard) == 2)
    assert heard == [DeviceMessage(Word.ANGLE, 88.5), DeviceMessage(Word.SIZE, 25.12)]
    port.close()
    second.close()


def test_a_stop_is_halted():
    made = SimulatedGauge()
    port = Port(made.name, lambda _: None)
    port.halt()
    wait(lambda: made.heard == ["STOP"])
    port.close()
    made.close()
