"""The language and the size of the text change while the window is open: what is worked on, its
plan among it, stays; every word is said anew."""

from __future__ import annotations

import struct

import pytest
from hands import choose, planned
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication
from shiboken6 import isValid

from zealous_crane import i18n
from zealous_crane.demo import demo_job
from zealous_crane.i18n import choose_language, msg, speak_as_asked
from zealous_crane.paint.application import application
from zealous_crane.paint.theme import scale_text, text_scale
from zealous_crane.planning.planner import make_plan
from zealous_crane.ui.dialogs.preferences import PreferencesDialog
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.state.user_settings import Remembered
from zealous_crane.ui.window.window import Window
from zealous_crane.units.figures import Long
from zealous_crane.units.length import Units
from zealous_crane.units.quantities import Tonnage, say_forces_in

GERMAN = {
    "Shape": "Form",
    "&Job": "&Arbeit",
    "Can be made: {strokes}, {set_ups}": "Es geht: {strokes}, {set_ups}",
    "{count} stroke\0{count} strokes": "{count} Hub\0{count} Hübe",
}
"""A few words of a catalogue made for these tests."""


def write_catalogue(path, words):
    """A catalogue as the standard library reads it (GNU gettext's own format, version 0)."""
    head = "Content-Type: text/plain; charset=UTF-8\nPlural-Forms: nplurals=2; plural=(n != 1);\n"
    pairs = [(k.encode(), v.encode()) for k, v in sorted({"": head, **words}.items())]
    start = 28 + 16 * len(pairs)
    keys, values, body = b"", b"", b""
    for column in (0, 1):
        table = b""
        for pair in pairs:
            table += struct.pack("<II", len(pair[column]), start + len(body))
            body += pair[column] + b"\0"
        keys, values = (table, values) if column == 0 else (keys, table)
    count = len(pairs)
    top = struct.pack("<7I", 0x950412DE, 0, count, 28, 28 + 8 * count, 0, 0)
    path.parent.mkdir(parents=True)
    path.write_bytes(top + keys + values + body)


@pytest.fixture
def german(tmp_path, monkeypatch):
    """There is a German catalogue, and a place of one's own to write the choice down."""
    write_catalogue(tmp_path / "locale" / "de" / "LC_MESSAGES" / "zealous_crane.mo", GERMAN)
    monkeypatch.setattr(i18n, "LOCALE", tmp_path / "locale")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    yield
    choose_language("")
    monkeypatch.undo()
    speak_as_asked()
    scale_text(100)


@pytest.fixture
def first(qtbot, rack, tmp_path):
    """A window that may be deleted in the test: the one that takes its place is closed instead."""
    application()
    session = Session(demo_job(), rack, shop=tmp_path / "shop" / "brakes")
    made = Window(session, remembered=Remembered(tmp_path / "w.ini"))
    made.show()
    planned(qtbot, session)
    yield made
    session.mark_saved()
    for left in QApplication.topLevelWidgets():
        if isinstance(left, Window) and left.session is session:
            left.close()
            left.deleteLater()


def prefer(qtbot, window, deed):
    """Change something in the preferences, by their key; the window that is open then."""
    opened = []
    window.renewed.connect(opened.append)

    def now():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, PreferencesDialog)
        try:
            deed(dialog)
        finally:
            qtbot.keyClick(dialog, Qt.Key.Key_Escape)

    window.activateWindow()
    QTimer.singleShot(100, now)
    qtbot.keyClick(window, Qt.Key.Key_Comma, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: bool(opened))
    (new,) = opened
    assert isinstance(new, Window) and new is not window and new.isVisible()
    qtbot.waitUntil(lambda: not isValid(window))
    return new


def test_another_language_is_spoken_at_once_and_the_plan_stays(qtbot, first, german):
    window, session = first, first.session
    session.edit("name", name="Unsaved tray")
    planned(qtbot, session)
    plan = session.plan
    window.show_stage("bend")
    assert window.rail.buttons["shape"].text() == "Shape"
    assert "Can be made" in window.verdict.sentence.text()

    new = prefer(qtbot, window, lambda dialog: choose(dialog.language, "de"))
    assert new.rail.buttons["shape"].text() == "Form"
    assert "&Arbeit" in [action.text() for action in new.menuBar().actions()]
    assert new.session is session and session.plan is plan and session.can_undo
    assert plan.sentence.startswith("Es geht: ") and "Hübe" in plan.sentence
    assert "Es geht" in new.verdict.sentence.text()
    assert new.stack.currentWidget() is new.stages["bend"]

    back = prefer(qtbot, new, lambda dialog: choose(dialog.language, "en"))
    assert back.rail.buttons["shape"].text() == "Shape" and session.plan is plan
    assert "Can be made" in back.verdict.sentence.text()
    # What the first window had connected itself to is let go of with it.
    QApplication.processEvents()
    session.edit("name", name="Tray again")
    planned(qtbot, session)
    assert "Tray again" in back.windowTitle()


def test_a_larger_text_is_there_at_once(qtbot, first, german, tmp_path):
    before = first.header.name.edit.fontMetrics().height()
    new = prefer(qtbot, first, lambda dialog: choose(dialog.text, 150))
    assert text_scale() == 1.5 and Remembered(tmp_path / "w.ini").text == 150
    assert new.header.name.edit.fontMetrics().height() > 1.3 * before


def test_a_message_is_read_in_the_units_forces_and_language_of_the_moment(german, rack):
    """Sentences of a plan are messages: one that was made elsewhere follows the reader."""
    told = msg("the part is {length} long", length=Long(254.0))
    assert told.text(Units.FRACTIONS) == 'the part is 10" long'
    assert told.text(Units.MM) == "the part is 254 mm long"
    plan = make_plan(demo_job("frame-rail"), rack[demo_job("frame-rail").brake])
    weak = rack[plan.brake.key].model_copy(update={"force": 20.0})
    refused = make_plan(plan.job, weak)
    try:
        say_forces_in(Tonnage.METRIC)
        metric = refused.sentence
        say_forces_in(Tonnage.KILONEWTONS)
        newtons = refused.sentence
    finally:
        say_forces_in(Tonnage.BY_UNITS)
    assert metric != newtons and "kN (" in newtons and " t (" in metric
    english = plan.sentence
    choose_language("de")
    speak_as_asked()
    assert plan.sentence == english.replace("Can be made", "Es geht").replace("strokes", "Hübe")
