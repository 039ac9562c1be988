"""What a desktop expects: recent files, files dropped on the window, the whole screen, a window
that stands where it stood."""

import json
import os
import subprocess
import sys
import zipfile

import pytest
from hands import planned
from PySide6.QtCore import QMimeData, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QDialogButtonBox, QFileDialog, QScrollArea

from zealous_crane.demo import demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.dxf_write import write_dxf
from zealous_crane.io.job_file import read_job, write_job, write_work
from zealous_crane.paint.application import application, speak_to
from zealous_crane.part.kinds import KINDS
from zealous_crane.ui.app import record_fault
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.state.user_settings import Remembered
from zealous_crane.ui.window.window import Window


def drop(window, path):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    at = QPointF(400, 300)
    buttons, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(at.toPoint(), Qt.DropAction.CopyAction, data, buttons, none)
    window.dragEnterEvent(enter)
    if enter.isAccepted():
        window.dropEvent(QDropEvent(at, Qt.DropAction.CopyAction, data, buttons, none))
    return enter.isAccepted()


WARNS = """
from PySide6.QtCore import qWarning
from PySide6.QtWidgets import QWidget
from zealous_crane.paint.application import application
app = application()
shown = QWidget()
shown.show()
shown.raise_()
qWarning("something else")
"""


def test_without_a_display_only_what_matters_is_told():
    told = subprocess.run(
        [sys.executable, "-c", WARNS],
        capture_output=True,
        text=True,
        check=True,
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
    )
    assert told.stderr.splitlines() == ["something else"]


def test_the_window_librarys_own_words_follow_the_language(qtbot, monkeypatch):
    app = application()
    monkeypatch.setattr("zealous_crane.paint.application.language", lambda: "de")
    theirs = speak_to(app)
    assert theirs is not None
    try:
        box = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        qtbot.addWidget(box)
        assert box.button(QDialogButtonBox.StandardButton.Cancel).text() == "Abbrechen"
    finally:
        app.removeTranslator(theirs)
    monkeypatch.setattr("zealous_crane.paint.application.language", lambda: "xx")
    assert speak_to(app) is None


def test_jobs_drawings_and_brakes_are_dropped(qtbot, window, tmp_path, rack):
    session = window.session
    session.mark_saved()
    write_job(demo_job("deep-feeder"), tmp_path / "feeder.json")
    assert (
        drop(window, tmp_path / "feeder.json") and session.job.name == demo_job("deep-feeder").name
    )
    session.mark_saved()
    write_dxf(develop(demo_job("syrup-tray")), tmp_path / "flat.dxf")
    assert drop(window, tmp_path / "flat.dxf") and session.job.part.kind == "flat"
    brake = rack[session.job.brake].model_copy(update={"key": "dropped", "name": "Dropped brake"})
    (tmp_path / "brake.json").write_text(brake.model_dump_json())
    assert drop(window, tmp_path / "brake.json") and session.job.brake == "dropped"
    (tmp_path / "notes.txt").write_text("hello")
    assert not drop(window, tmp_path / "notes.txt")
    session.mark_saved()
    planned(qtbot, session)


def test_recent_files_come_back_the_latest_first(qtbot, window, tmp_path):
    window.front.remembered = Remembered(tmp_path / "window.ini")
    names = ("deep-feeder", "syrup-tray", "hive-roof")
    for name in names:
        write_job(demo_job(name), tmp_path / f"{name}.json")
        window.session.mark_saved()
        assert window.filing.open_file(tmp_path / f"{name}.json")
    window.recent.aboutToShow.emit()
    assert [action.text() for action in window.recent.actions()] == [
        f"{name}.json" for name in reversed(names)
    ]
    window.session.mark_saved()
    window.recent.actions()[-1].trigger()
    assert window.session.job.name == demo_job("deep-feeder").name
    (tmp_path / "hive-roof.json").unlink()
    assert [p.stem for p in Remembered(tmp_path / "window.ini").recent] == [
        "deep-feeder",
        "syrup-tray",
    ]
    planned(qtbot, window.session)


def test_the_window_stands_and_looks_as_it_did(qtbot, window, tmp_path):
    window.front.remembered = Remembered(tmp_path / "window.ini")
    window.session.mark_saved()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(window, Qt.Key.Key_F11)
    assert window.isFullScreen()
    qtbot.keyClick(window, Qt.Key.Key_F11)
    assert not window.isFullScreen()
    window.resize(1111, 777)
    window.close()
    found = Remembered(tmp_path / "window.ini")
    assert found.dark and found.geometry is not None


@pytest.mark.parametrize("text", ["", "[1, 2", json.dumps({"key": 3})])
def test_a_broken_file_dropped_is_a_sentence(qtbot, window, tmp_path, monkeypatch, text):
    said = []
    monkeypatch.setattr(window.front, "refuse", said.append)
    window.session.mark_saved()
    before = window.session.job
    (tmp_path / "broken.json").write_text(text)
    assert (
        drop(window, tmp_path / "broken.json") and len(said) == 1 and window.session.job == before
    )


def test_a_report_of_a_fault_holds_log_versions_and_job(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    record_fault(ValueError("something broke"))
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "report.zip"), "")
    )
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(
        window,
        Qt.Key.Key_F2,
        Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
    )
    packed = zipfile.ZipFile(tmp_path / "report.zip")
    assert {"versions.txt", "job.crane", "log.txt"} <= set(packed.namelist())
    assert (
        "something broke" in packed.read("log.txt").decode()
        and "numpy" in packed.read("versions.txt").decode()
    )
    (tmp_path / "job.crane").write_bytes(packed.read("job.crane"))
    assert read_job(tmp_path / "job.crane") == window.session.job
    assert "Nothing was sent" in window.statusBar().currentMessage()


def test_the_window_opens_where_it_was_left(qtbot, window, tmp_path):
    def next_day():
        session = Session(demo_job(), window.session.rack)
        found = Window(session, remembered=Remembered(tmp_path / "window.ini"))
        qtbot.addWidget(found, before_close_func=lambda _: session.mark_saved())
        found.show()
        found.stand_where_left()
        return found

    write_work(demo_work("wax-melter-chimney"), tmp_path / "chimney.crane")
    window.session.mark_saved()
    assert (
        window.filing.open_file(tmp_path / "chimney.crane")
        and window.session.parts.choose(1) is None
    )
    window.show_stage("lay-out")
    window.front.remembered = Remembered(tmp_path / "window.ini")
    window.close()
    other = next_day()
    assert (other.session.path, other.session.at) == (tmp_path / "chimney.crane", 1)
    assert other.stages.of(other.stack.currentWidget()) == "lay-out"
    # What was begun and never saved: what one wants to make is asked, and nothing invented is
    # opened.
    other.session.start_with(demo_job("hive-roof"))
    other.close()
    third = next_day()
    assert third.others.of(third.stack.currentWidget()) == "start"


def test_new_work_is_begun_in_the_metal_on_the_brake_and_in_the_units_of_what_is_on_the_bench(
    qtbot, window
):
    session = window.session
    assert (
        session.edit("units", units="mm") is None
        and session.edit("thickness", thickness="0.8 mm") is None
    )
    assert session.edit("brake", brake="bench-bars-600") is None
    session.mark_saved()
    window.show_start()
    start = window.stack.currentWidget()
    card = next(card for card in start.cards if card.work.name == demo_work("hive-roof").name)
    qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
    job = session.job
    assert (job.units.value, job.thickness, job.brake) == ("mm", "0.8 mm", "bench-bars-600")
    planned(qtbot, session)


def test_a_part_of_every_kind_is_added(qtbot, window):
    window.show_start(adding=True)
    start = window.stack.currentWidget()
    window.activateWindow()
    shown = [card for card in (*start.cards, *start.only_added) if card.isVisible()]
    offered = {card.work.parts[0].part.kind for card in shown}
    assert offered == {kind.model_fields["kind"].default for kind in KINDS}
    for kind in ("cap", "enclosure-lid", "plate"):
        window.show_start(adding=True)
        before = len(window.session.work.parts)
        card = next(card for card in start.only_added if card.work.parts[0].part.kind == kind)
        start.findChild(QScrollArea).ensureWidgetVisible(card)
        qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
        assert len(window.session.work.parts) == before + 1 and window.session.job.part.kind == kind
    # Work is begun from whole demonstrations alone.
    window.show_start()
    assert not any(card.isVisible() for card in start.only_added)
    planned(qtbot, window.session)
