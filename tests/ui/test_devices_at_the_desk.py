"""Readings come in and the stop goes out, at the brake and in Check; without devices nothing is
different."""

import pytest
from hands import at_a_bend
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QMessageBox

from zealous_crane.devices.simulated import SimulatedGauge, SimulatedInstrument
from zealous_crane.planning.setup import set_up_of
from zealous_crane.ui.dialogs.preferences import DeviceDialog
from zealous_crane.ui.state import device_desk
from zealous_crane.units.length import show_length

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def stands(qtbot, window):
    """Both stand-ins, connected in the dialog by typing their lines."""
    instrument, gauge = SimulatedInstrument(), SimulatedGauge(bias=0.02)
    said = []

    def type_them():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, DeviceDialog)
        qtbot.keyClicks(dialog.instrument, "/dev/no-such-line")
        qtbot.keyClicks(dialog.gauge, gauge.name)
        ok = dialog.buttons.button(dialog.buttons.StandardButton.Ok)
        qtbot.mouseClick(ok, Qt.MouseButton.LeftButton)
        said.append(dialog.complaint.text())
        dialog.instrument.selectAll()
        qtbot.keyClicks(dialog.instrument, instrument.name)
        qtbot.mouseClick(ok, Qt.MouseButton.LeftButton)

    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    QTimer.singleShot(50, type_them)
    qtbot.keyClick(window, Qt.Key.Key_I, CTRL | SHIFT)
    assert "cannot be opened" in said[0] and window.session.devices.instrument is not None
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    yield instrument, gauge
    window.session.devices.close()
    instrument.close()
    gauge.close()


def with_a_stop(qtbot, window):
    """The same brake with a stop behind it."""
    qtbot.keyClick(window.others["work"].brake, Qt.Key.Key_Escape)
    assert (
        window.session.shop_edits.keep_brake(
            window.session.brake.model_copy(update={"gauge_reach": 600.0})
        )
        is None
    )
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)


def test_an_instrument_fills_the_field_and_return_books_it(qtbot, window, stands):
    instrument, _ = stands
    page, stroke = at_a_bend(qtbot, window)
    got = round(stroke.verdict.reach - 4, 1)
    for _ in range(5):
        instrument.angle(got)
    qtbot.waitUntil(lambda: page.angle_got.text() == f"{got:g}")
    assert page.bent.turn(stroke).record is None, "nothing is booked by itself"
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Return)
    assert page.bent.turn(stroke).record.got == pytest.approx(got) and page.answer.text()
    # Each reading counts: one for a part, however many are sent.
    assert page.counts.isVisible()
    qtbot.keyClick(page, Qt.Key.Key_N)
    qtbot.mouseClick(page.counts, Qt.MouseButton.LeftButton)
    target = stroke.verdict.target
    for _ in range(300):
        instrument.angle(target)
    qtbot.waitUntil(lambda: page.bent.turn(stroke).is_done)
    qtbot.wait(200)
    ours = [b for b in window.session.book.bends if b.stroke == stroke.name]
    assert len(ours) == 2 and page.bent.turn(stroke).part == 2


def test_the_stop_is_driven_after_asking(qtbot, window, stands, monkeypatch):
    _, gauge = stands
    at_a_bend(qtbot, window)
    with_a_stop(qtbot, window)
    page, stroke = at_a_bend(qtbot, window)
    wanted = set_up_of(window.session.plan, stroke).gauge
    assert not wanted.sighted
    answers = iter((QMessageBox.StandardButton.No, QMessageBox.StandardButton.Yes))
    monkeypatch.setattr(QMessageBox, "question", lambda *a: next(answers))
    qtbot.keyClick(page, Qt.Key.Key_G)
    assert gauge.heard == [], "a no drives nothing"
    qtbot.keyClick(page, Qt.Key.Key_G)
    qtbot.waitUntil(lambda: "The stop stands at" in page.answer.text())
    assert gauge.stands == pytest.approx(wanted.distance + 0.02, abs=1e-3)


def test_sizes_from_the_instrument_go_where_the_cursor_is(qtbot, window, stands):
    instrument, _ = stands
    qtbot.keyClick(window, Qt.Key.Key_6, CTRL)
    page = window.stages["check"]
    qtbot.waitUntil(lambda: page.isVisible() and not page.busy, timeout=60_000)
    page.go_to(0)
    first, second = page.lines[0], page.lines[1]
    instrument.size(first.wanted + 0.1)
    qtbot.waitUntil(lambda: first.measure.key in page.measured.got)
    assert page.measured.got[first.measure.key] == pytest.approx(first.wanted + 0.1, abs=1e-3)
    instrument.size(second.wanted)
    qtbot.waitUntil(lambda: second.measure.key in page.measured.got)
    instrument.angle(90.0)
    qtbot.waitUntil(lambda: "The instrument sent an angle" in page.complaint.text())


def test_without_a_gauge_it_is_said(qtbot, window, monkeypatch):
    with_a_stop(qtbot, window)
    page, _ = at_a_bend(qtbot, window)
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Yes)
    qtbot.keyClick(page, Qt.Key.Key_G)
    assert "No back gauge is connected" in page.answer.text()


def sent(qtbot, window, monkeypatch):
    """At a bend with a stop, which was sent by G and yes."""
    at_a_bend(qtbot, window)
    with_a_stop(qtbot, window)
    page, stroke = at_a_bend(qtbot, window)
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Yes)
    qtbot.keyClick(page, Qt.Key.Key_G)
    return page, set_up_of(window.session.plan, stroke).gauge


def test_a_stop_that_stands_elsewhere_is_an_alarm_until_it_is_sent_again(
    qtbot, window, stands, monkeypatch
):
    _, gauge = stands
    gauge.bias = 3.0
    page, wanted = sent(qtbot, window, monkeypatch)
    qtbot.waitUntil(page.alarm.isVisible)
    units = window.session.job.units.fine
    told = page.alarm.text()
    assert (
        "do not bend" in told
        and show_length(wanted.distance, units) in told
        and show_length(wanted.distance + 3, units) in told
    )
    gauge.bias = 0.0
    qtbot.keyClick(page, Qt.Key.Key_G)
    qtbot.waitUntil(lambda: "The stop stands at" in page.answer.text())
    assert not page.alarm.isVisible()


def test_a_stop_that_answers_nothing_is_halted_and_an_alarm(qtbot, window, stands, monkeypatch):
    _, gauge = stands
    gauge.silent = True
    monkeypatch.setattr(device_desk, "ANSWERS", 0.2)
    page, _ = sent(qtbot, window, monkeypatch)
    qtbot.waitUntil(page.alarm.isVisible)
    assert "has not said where it stands" in page.alarm.text()
    qtbot.waitUntil(lambda: gauge.heard[-1] == "STOP")


def test_a_stop_that_moves_is_halted_when_the_page_is_left(qtbot, window, stands, monkeypatch):
    _, gauge = stands
    gauge.silent = True
    page, _ = sent(qtbot, window, monkeypatch)
    qtbot.waitUntil(lambda: bool(gauge.heard))
    qtbot.keyClick(page, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: gauge.heard[-1] == "STOP")
