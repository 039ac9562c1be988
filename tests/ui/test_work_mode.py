"""The work mode: from the shear to the caliper with three keys, and where it was left tomorrow."""

import os
import stat

import pytest
from hands import planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from zealous_crane.demo import demo_job, demo_work
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.wording import show_measure
from zealous_crane.paper.work_steps import ORDER as ORDER_OF_WORK
from zealous_crane.paper.work_steps import Station, bench_steps, joining_steps
from zealous_crane.units.length import show_length

KEY = Qt.Key


@pytest.fixture
def mode(qtbot, window):
    window.session.start_with(demo_job("syrup-tray"))
    planned(qtbot, window.session)
    qtbot.keyClick(window, KEY.Key_F6)
    mode = window.others["work"]
    qtbot.waitUntil(lambda: bool(mode.page.steps), timeout=20_000)
    return mode


def press(qtbot, mode, key):
    """A key, wherever the cursor is: a foot switch knows no fields."""
    qtbot.keyClick(QApplication.focusWidget() or mode, key)


def typed(qtbot, text):
    """Letters, each where the cursor is by then, and Return."""
    for letter in text:
        qtbot.keyClicks(QApplication.focusWidget(), letter)
    qtbot.keyClick(QApplication.focusWidget(), KEY.Key_Return)


def to(qtbot, mode, station):
    button = mode._bar.button(ORDER_OF_WORK.index(station))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    if station is not Station.BRAKE:
        qtbot.waitUntil(lambda: bool(mode.page.steps), timeout=20_000)


def test_a_work_begins_at_the_shear_with_its_settings_in_order(qtbot, window, mode):
    assert mode.station is Station.SHEAR
    (lot,) = window.session.cutting.answer
    gauges = [show_length(s.gauge, window.session.job.units, pretty=True) for s in lot.settings]
    seen = []
    for _ in gauges:
        seen.append(mode.page.figure.text())
        press(qtbot, mode, KEY.Key_Space)
    assert seen == gauges
    assert mode.station is Station.BENCH, "past the last cut comes the bench"


def test_the_whole_work_goes_through_with_one_key(qtbot, window, mode):
    seen = [mode.station]
    for _ in range(60):
        if mode.station is Station.MEASURING and not mode.page.steps:
            qtbot.waitUntil(lambda: bool(mode.page.steps), timeout=20_000)
        press(qtbot, mode, KEY.Key_PageDown)
        if mode.station is not seen[-1]:
            seen.append(mode.station)
        if "through" in mode.page.answer.text():
            break
    assert seen == list(ORDER_OF_WORK)
    # And all the way back with the other.
    for _ in range(60):
        press(qtbot, mode, KEY.Key_PageUp)
        if mode.station is Station.SHEAR and mode.page.at == 0:
            break
    assert mode.station is Station.SHEAR and mode.page.at == 0


def test_the_bench_says_every_setting_and_lights_its_lines(qtbot, window, mode):
    to(qtbot, mode, Station.BENCH)
    job, blank = window.session.job, window.session.blank
    scribe = list(mark_out(blank, job.units, Striking.of(job)).scribe)
    settings = []
    pictures = []
    for step in mode.page.steps:
        assert mode.page.title.text() == step.title and mode.page.figure.text() == step.figure
        if step.shows in scribe:
            settings.append(step.shows)
            assert step.figure == step.shows.shown(job.units)
            pictures.append(mode.page.picture.grab().toImage())
        press(qtbot, mode, KEY.Key_Space)
    assert settings == scribe and pictures[0] != pictures[1]
    assert mode.station is Station.BRAKE and mode.brake.isVisible()


def test_it_goes_on_tomorrow_where_it_was_left(qtbot, window, mode):
    to(qtbot, mode, Station.BENCH)
    for _ in range(3):
        press(qtbot, mode, KEY.Key_Space)
    left = mode.page.title.text()
    press(qtbot, mode, KEY.Key_Escape)
    assert not mode.isVisible()
    # A window of another day: only what is kept is left.
    mode._places.clear()
    mode.station = Station.JOINING
    qtbot.keyClick(window, KEY.Key_F6)
    assert mode.station is Station.BENCH and mode.page.at == 3
    assert mode.page.title.text() == left
    # At another work it begins anew.
    window.session.start_with(demo_job("extractor-guard"))
    qtbot.keyClick(window, KEY.Key_F6)
    assert mode.station is Station.SHEAR


def test_sizes_are_typed_and_stand_in_check_too(qtbot, window, mode):
    to(qtbot, mode, Station.MEASURING)
    measured, job = window.session.survey.measured, window.session.job
    first, second = measured.lines[:2]
    assert mode.page.figure.text() == show_measure(first.measure, first.wanted, job)
    # The first digit opens the field by itself.
    typed(qtbot, f"{first.wanted:.2f} mm")
    assert measured.got[first.measure.key] == pytest.approx(first.wanted, abs=0.01)
    assert mode.page.at == 1 and mode.page.got.text() == ""
    # One that is out stays, and says by how much; a key goes on.
    typed(qtbot, f"{second.wanted + 3 * second.allowed:.2f} mm")
    assert mode.page.at == 1 and mode.page.answer.text().startswith("■")
    assert "too large" in mode.page.answer.text()
    press(qtbot, mode, KEY.Key_Space)
    assert mode.page.at == 2
    # What is no size is said, and nothing is taken.
    typed(qtbot, "3 ells")
    assert mode.page.at == 2 and mode.page.answer.text() and len(measured.got) == 2
    window.show_stage("check")
    check = window.stages["check"]
    qtbot.waitUntil(lambda: bool(check.fields))
    assert [bool(field.text()) for field in check.fields[:3]] == [True, True, False]


def test_the_next_part_of_the_lot_starts_the_station_anew(qtbot, window, mode):
    window.session.change(window.session.job.model_copy(update={"quantity": 2}))
    planned(qtbot, window.session)
    to(qtbot, mode, Station.BENCH)
    assert "part 1 of 2" in mode.whose.text()
    press(qtbot, mode, KEY.Key_Space)
    press(qtbot, mode, KEY.Key_N)
    assert "part 2 of 2" in mode.whose.text() and mode.page.at == 0
    press(qtbot, mode, KEY.Key_N)
    assert "part 1 of 2" in mode.whose.text()


def test_the_parts_of_a_work_follow_one_another(qtbot, window):
    window.session.start_with(demo_work("hive-scale"))
    planned(qtbot, window.session)
    qtbot.keyClick(window, KEY.Key_F6)
    mode = window.others["work"]
    to(qtbot, mode, Station.MEASURING)
    assert "(1 of 2)" in mode.whose.text()
    for _ in mode.page.steps:
        press(qtbot, mode, KEY.Key_Space)
    assert window.session.at == 1 and mode.station is Station.BENCH
    assert "(2 of 2)" in mode.whose.text()


def test_joining_says_what_the_part_and_the_fitting_ask(rack):
    from zealous_crane.flat.on_brake import flat_for

    work = demo_work("warm-air-duct")
    job = work.parts[0]
    steps = joining_steps(work, job, flat_for(job, rack[job.brake]))
    texts = [step.how for step in steps]
    assert all(text in texts for text in work.fitting.assembly())
    plain = demo_work("syrup-tray")
    blank = flat_for(plain.parts[0], rack[plain.parts[0].brake])
    assert len(joining_steps(plain, plain.parts[0], blank)) < len(steps)
    titles = [step.title for step in bench_steps(plain.parts[0], blank)]
    assert titles[0] == "Check the blank" and len(set(titles)) == len(titles)


def test_it_is_read_aloud_where_the_desktop_can(qtbot, window, mode, tmp_path, monkeypatch):
    assert mode.aloud.isVisible() is any(
        os.access(os.path.join(place, "spd-say"), os.X_OK)
        for place in os.environ["PATH"].split(os.pathsep)
    )
    said, speaker = tmp_path / "said", tmp_path / "spd-say"
    speaker.write_text(f'#!/bin/sh\necho "$@" >> {said}\n')
    speaker.chmod(speaker.stat().st_mode | stat.S_IEXEC)
    monkeypatch.setenv("PATH", f"{tmp_path}{os.pathsep}{os.environ['PATH']}")
    to(qtbot, mode, Station.BENCH)
    assert not said.exists()
    press(qtbot, mode, KEY.Key_R)
    press(qtbot, mode, KEY.Key_Space)
    title = mode.page.title.text()
    qtbot.waitUntil(lambda: said.exists() and title in said.read_text())
