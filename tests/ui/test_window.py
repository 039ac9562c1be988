"""The real window, driven as a person drives it."""

from __future__ import annotations

import html
import importlib
import json
from typing import get_args

import ezdxf
import pytest
from hands import choose, planned, retype
from PySide6.QtCore import QEvent, QObject, QPointF, QRectF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QWidget,
)

from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.io.job_file import read_job, write_job
from zealous_crane.job.job import Avoided
from zealous_crane.paint.application import crane_icon
from zealous_crane.paint.brake import end_scale, handle_place
from zealous_crane.part.corner import ReliefShape
from zealous_crane.part.edge import Measured
from zealous_crane.planning.outcome import Outcome
from zealous_crane.ui.dialogs.order import OrderDialog
from zealous_crane.ui.state.autosave import read_copy
from zealous_crane.ui.window.commands import COMMANDS
from zealous_crane.units.length import INCH


def test_it_opens_with_the_plan(window):
    assert (
        window.verdict.sentence.text()
        == "Can be made: 4 strokes, 1 finger set-up, every bend reaches its angle."
    )
    # The leaf leaves 0.39 mm of the standing walls: a hand is told to look.
    assert window.verdict.sign.state is Outcome.CARE
    assert "Syrup tray" in window.windowTitle()
    assert not crane_icon().isNull()


def test_typing_a_size_plans_anew(window, qtbot):
    session = window.session
    retype(qtbot, window.stages["shape"].field("length"), "16 3/4")
    assert session.job.part.length == pytest.approx(16.75 * INCH)
    assert session.blank.size[0] == pytest.approx(21.75 * INCH)
    assert planned(qtbot, session).feasible
    retype(qtbot, window.stages["shape"].field("depth"), "4")
    plan = planned(qtbot, session)
    assert not plan.feasible and window.verdict.sign.state is Outcome.STOP
    assert window.verdict.sentence.text() == plan.sentence
    assert "3" in window.verdict.details.text()
    retype(qtbot, window.stages["shape"].field("depth"), "76.2 mm")
    assert planned(qtbot, session).state is Outcome.CARE


@pytest.mark.parametrize("text", ["-3", "0", "two hands", "999999", "8 8"])
def test_a_wrong_size_is_answered_at_the_field_and_the_last_good_stays(window, qtbot, text):
    before, sentence = window.session.job, window.verdict.sentence.text()
    field = window.stages["shape"].field("width")
    retype(qtbot, field, text)
    # While typing, a shorter text may have been a length of its own; what counts is what stands at
    # the end.
    assert field.complaint.isVisible() and len(field.complaint.text()) > 15
    assert field.edit.property("wrong") is True
    if text in ("-3", "0", "two hands"):
        assert window.session.job == before and window.verdict.sentence.text() == sentence
    good = window.session.job.part.width
    qtbot.keyClick(field.edit, Qt.Key.Key_Escape)
    assert not field.complaint.isVisible()
    assert window.session.job.part.width == good


def test_a_part_that_cannot_lie_flat_keeps_the_last_good_drawing(window, qtbot):
    blank = window.session.blank
    assert window.session.edit("", radius=300.0) and window.session.blank is blank
    retype(qtbot, window.stages["shape"].field("corner.relief.size"), "0.01")
    assert "does not reach" in window.stages["shape"].field("corner.relief.size").complaint.text()


def test_undo_and_redo_step_through_every_edit(window, qtbot):
    session = window.session
    first = session.job
    retype(qtbot, window.stages["shape"].field("length"), "12 1/2")
    window.header.units.setCurrentIndex(2)
    window.header.units.activated.emit(2)
    assert session.job.units == "mm"
    window.commands["edit.undo"].trigger()
    assert session.job.units == "in" and session.job.part.length == pytest.approx(12.5 * INCH)
    while session.can_undo:
        session.undo()
    assert session.job == first and not window.commands["edit.undo"].isEnabled()
    while session.can_redo:
        window.commands["edit.redo"].trigger()
    assert session.job.units == "mm"
    planned(qtbot, session)


def test_header_choices_change_the_job(window, qtbot):
    session = window.session
    window.header.metal.setCurrentIndex(window.header.metal.findData("stainless"))
    window.header.metal.activated.emit(window.header.metal.currentIndex())
    assert session.job.metal == "stainless" and session.job.sheet.thickness == pytest.approx(
        0.0375 * INCH
    )
    retype(qtbot, window.header.thickness, "99 ga")
    assert "not in the stainless" in window.header.thickness.complaint.text()
    retype(qtbot, window.header.thickness, "24 ga")
    assert session.job.thickness == "24 ga"
    for typed in ("26", "26ga", "26 ga stainless"):
        retype(qtbot, window.header.thickness, typed)
        assert window.header.thickness.edit.text() == typed and session.job.thickness == "26 ga"
        qtbot.keyClick(window.header.thickness.edit, Qt.Key.Key_Return)
        assert window.header.thickness.edit.text() == "26 ga"
    said = []
    session.complained.connect(said.append)
    window.header.metal.setFocus()
    qtbot.keyClicks(window.header.metal, "Galvaniz")
    assert session.job.metal == "galvanized", "chosen by its first letters"
    # By the tables: galvanized and galvannealed 26 ga are 0.0217", stainless 0.0188".
    assert said == ['26 ga of Galvannealed steel is ≈0.022"; of Stainless 304 it was ≈0.019".']
    window.header.quantity.setValue(12)
    assert session.job.quantity == 12
    window.header.brake.setCurrentIndex(window.header.brake.findData("bench-finger-1000"))
    window.header.brake.activated.emit(window.header.brake.currentIndex())
    assert planned(qtbot, session).brake.key == "bench-finger-1000"


def test_corner_and_allowance_choices(window, qtbot):
    shape, session = window.stages["shape"], window.session
    choose(shape.field("corner.relief.shape"), ReliefShape.SQUARE)
    assert session.job.part.corner.relief.shape is ReliefShape.SQUARE
    choose(shape.schools.school, "neutral-line")
    assert session.job.school.k == pytest.approx(0.42)
    retype(qtbot, shape.schools.form.fields["k"], "0.33")
    assert session.job.school.k == pytest.approx(0.33)
    choose(shape.field("measured"), Measured.OUTSIDE)
    assert session.job.part.measured == "outside"
    retype(qtbot, shape.springback, "4")
    assert session.job.springback == 4
    plan = planned(qtbot, session)
    assert {s.verdict.springback.angle for s in plan.strokes} == {4.0}


def test_every_number_opens_into_its_sum(window):
    window.show_stage("lay-out")
    texts = [button.accessibleName() for button in window.stages["lay-out"].sums.buttons]
    assert any('14 1/2 + 2 × 2 1/2 = 19 1/2"' in text for text in texts)
    assert window.stages["lay-out"].scribe.rowCount() == 2
    assert window.stages["lay-out"].scribe.item(0, 2).text() == "all four edges"


@pytest.mark.parametrize(
    "demo", [name for name in DEMOS if len(demo_work(name).parts) > 1] + [DEMOS[0]]
)
def test_nothing_but_the_window_is_on_the_screen(window, qtbot, demo):
    """No button that was shown before it was laid in stands there as a window of its own and takes
    the keys."""
    session = window.session
    for part in range(len(demo_work(demo).parts)):
        session.mark_saved()
        session.start_with(demo_work(demo))
        session.parts.choose(part)
        for stage in window.stages:
            window.show_stage(stage)
            qtbot.wait(1)
            shown = [w for w in QApplication.topLevelWidgets() if w.isVisible()]
            assert shown == [window], (
                part,
                stage,
                [(type(w).__name__, w.toolTip()) for w in shown],
            )


class Strays(QObject):
    """Hears of widgets that are shown as windows of their own, though they are none."""

    def __init__(self):
        super().__init__()
        self.shown = []

    def eventFilter(self, one, event):
        shown = event.type() == QEvent.Type.Show and isinstance(one, QWidget) and one.isWindow()
        if shown and not isinstance(one, (QDialog, QMainWindow, QMenu)):
            self.shown.append(
                (type(one).__name__, one.accessibleName() or getattr(one, "text", str)())
            )
        return False


def test_no_widget_is_shown_before_it_lies_in_a_window(window, qtbot):
    strays, session = Strays(), window.session
    QApplication.instance().installEventFilter(strays)
    for demo in DEMOS:
        session.mark_saved()
        session.start_with(demo_work(demo))
        for stage in window.stages:
            window.show_stage(stage)
            qtbot.wait(1)
    blank = session.blank
    dialog = OrderDialog(
        session.job.order, blank, avoidable=frozenset(get_args(Avoided)), parent=window
    )
    dialog.show()
    dialog.close()
    QApplication.instance().removeEventFilter(strays)
    assert strays.shown == []


def test_the_stages_are_always_in_reach(window, qtbot):
    for stage, button in window.rail.buttons.items():
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
        assert window.stack.currentWidget() is window.stages[stage]
    window.step_bend(1)
    assert (
        window.stages["bend"].chosen == 1 and window.stack.currentWidget() is window.stages["bend"]
    )
    assert {c.keys for c in COMMANDS if str(c.menu) == "S&tage"} >= {
        "Ctrl+1",
        "Ctrl+2",
        "Ctrl+3",
        "Ctrl+4",
    }


def test_every_command_has_an_id_a_key_and_something_to_do(window):
    assert len({c.id for c in COMMANDS}) == len(COMMANDS) == len(window.commands)
    keys = [key for c in COMMANDS for key in c.keys.split("; ")]
    assert len(set(keys)) == len(keys) and all(
        window.commands[c.id].text() == str(c.text) for c in COMMANDS
    )


def test_the_handle_moves_the_part_until_it_touches(window, qtbot):
    window.show_stage("bend")
    bend = window.stages["bend"]
    bend.choose(3)
    stroke, end = bend.stroke, bend.end
    scale = end_scale(stroke, QRectF(end.rect()))

    def at(degrees):
        return handle_place(stroke, degrees, scale).toPoint()

    qtbot.mousePress(end, Qt.MouseButton.LeftButton, pos=at(30))
    assert end.angle == pytest.approx(30, abs=1.5)
    for degrees in (60, 90):
        qtbot.mouseMove(end, at(degrees))
        bend.swing(bend._angle_at(QPointF(at(degrees))))
        assert end.angle == pytest.approx(degrees, abs=1.5)
    bend.swing(bend._angle_at(QPointF(at(120))))
    assert end.angle == pytest.approx(stroke.contact.angle)
    assert stroke.contact.obstacle.tool in bend.now.text()
    bend.flat_button.click()
    assert end.angle == 0
    qtbot.keyClick(end, Qt.Key.Key_Up)
    assert end.angle == 1
    bend.touch_button.click()
    assert end.angle == pytest.approx(stroke.contact.angle)
    bend.stop_button.click()
    assert end.angle == pytest.approx(stroke.verdict.reach)


def test_the_cards_show_their_strokes(window, qtbot):
    window.show_stage("bend")
    assert len(window.stages["bend"].cards) == 4
    qtbot.mouseClick(window.stages["bend"].cards[2], Qt.MouseButton.LeftButton)
    assert window.stages["bend"].chosen == 2
    assert window.stages["bend"].says.text() == window.session.plan.strokes[2].sentence()


def test_a_no_shows_where_it_is_stuck(window, qtbot):
    window.session.edit("", part={**window.session.job.part.model_dump(), "depth": 4 * INCH})
    planned(qtbot, window.session)
    window.show_stage("bend")
    assert window.stages["bend"].sign.state is Outcome.STOP
    plan = window.session.plan
    shown = [widget.text() for widget in window.findChildren(QLabel) if widget.isVisible()]
    for sentence in (*plan.reasons[:2], *plan.advice):
        assert sum(html.escape(sentence, quote=False) in text for text in shown) == 1, sentence
    assert (
        not window.stages["bend"].strip_scroll.isVisible() and window.stages["bend"].end.isVisible()
    )
    window.show_stage("tool-up")
    assert not window.stages["tool-up"].body.isVisible()
    assert window.stages["tool-up"].empty.text() and plan.advice
    assert plan.advice[0] not in window.stages["tool-up"].empty.text()


def test_save_open_and_export(window, qtbot, tmp_path, monkeypatch):
    retype(qtbot, window.stages["shape"].field("length"), "15")
    assert window.session.unsaved and "•" in window.windowTitle()
    assert window.filing.save_to(tmp_path / "job.json") and not window.session.unsaved
    assert read_job(tmp_path / "job.json") == window.session.job
    planned(qtbot, window.session)
    for name in ("sheet.pdf", "blank.dxf", "plan.json"):
        assert window.handing.export(tmp_path / name)
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    assert not ezdxf.readfile(tmp_path / "blank.dxf").audit().errors
    assert json.loads((tmp_path / "plan.json").read_text())["format"] == "zealous-crane-plan"

    said = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(str(a[2])))
    before = window.session.job
    (tmp_path / "bad.json").write_text("{")
    assert not window.filing.open_file(tmp_path / "bad.json") and window.session.job == before
    assert not window.filing.save_to(tmp_path / "none" / "job.json")
    assert not window.handing.export(tmp_path / "none" / "sheet.pdf")
    assert len(said) == 3 and all(s.endswith(".") for s in said)
    job = demo_job("deep-feeder")
    write_job(job, tmp_path / "deep.json")
    assert window.filing.open_file(tmp_path / "deep.json") and window.session.job == job
    assert not window.session.can_undo
    planned(qtbot, window.session)


def test_unsaved_work_is_asked_about(window, qtbot, monkeypatch):
    retype(qtbot, window.stages["shape"].field("length"), "15")
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Cancel)
    assert not window.close()
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Discard)
    window.show_start()
    assert not window.header.isVisible() and window.others["start"].isVisible()
    window.others["start"].cards[1]._open(window.others["start"].cards[1].work)
    assert (
        window.session.job.part == demo_job("deep-feeder").part
        and window.session.job.name == "Open box"
    )
    assert window.header.isVisible()
    planned(qtbot, window.session)


def test_a_crash_loses_nothing(window, qtbot, tmp_path):
    retype(qtbot, window.stages["shape"].field("width"), "9 1/2")
    kept = tmp_path / "benches" / "bench.json"
    qtbot.waitUntil(
        lambda: kept.exists() and read_copy(kept).work == window.session.work, timeout=60_000
    )


def test_a_brake_file_joins_the_shop(window, qtbot, tmp_path, brake, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    own = brake.model_copy(update={"key": "own", "name": "Own brake", "finger_height": 130.0})
    (tmp_path / "own.json").write_text(own.model_dump_json())
    assert window.dialogs.bring_brake(tmp_path / "own.json")
    assert planned(qtbot, window.session).brake == own
    assert window.header.brake.currentText() == "Own brake"
    assert (tmp_path / "data" / "zealous-crane" / "brakes" / "own.json").exists()


def test_nothing_is_left_unnamed_for_a_screen_reader(window):
    for stage in (
        window.stages["shape"],
        window.stages["lay-out"],
        window.stages["tool-up"],
        window.stages["bend"],
    ):
        for canvas in stage.findChildren(type(window.stages["shape"].flat)):
            assert canvas.accessibleName()


@pytest.mark.parametrize("dark", [False, True])
def test_every_stage_paints_in_both_looks(window, qtbot, dark):
    if dark:
        window.toggle_look()
    for stage in window.stages:
        window.show_stage(stage)
        image: QImage = window.grab().toImage()
        colours = {
            image.pixelColor(x, y).rgb()
            for x in range(110, image.width(), 9)
            for y in range(130, image.height(), 9)
        }
        assert len(colours) > 12, stage
    assert window.front.look.dark is dark


@pytest.mark.parametrize(("stage", "room"), [("bend", "bend"), ("tool-up", "tooling")])
def test_a_page_nobody_looks_at_waits_until_it_is_seen(qtbot, window, monkeypatch, stage, room):
    """The work goes on, and nothing is made of it on pages that are hidden; opened, they show it as
    it is now."""
    planned(qtbot, window.session)
    window.show_stage(stage)
    window.show_stage("shape")
    module = importlib.import_module(f"zealous_crane.ui.pages.{room}")
    name = "cautions_for" if stage == "tool-up" else "cautions_text"
    real, asked = getattr(module, name), []
    monkeypatch.setattr(module, name, lambda plan, *step: asked.append(plan) or real(plan, *step))
    assert window.session.edit("sheet", thickness="18 ga") is None
    plan = planned(qtbot, window.session)
    assert not asked
    window.show_stage(stage)
    assert asked == [plan] and plan.job.sheet.written == "18 ga"
    if stage == "bend":
        assert [card.stroke for card in window.stages["bend"].cards] == list(plan.strokes)


@pytest.mark.parametrize("stage", ["lay-out", "tool-up", "bend", "cut", "check"])
def test_a_fault_of_a_page_that_opens_is_told_and_the_window_goes_on(
    qtbot, window, monkeypatch, stage
):
    """Raised through the window library it would end the program: the next of our functions it
    calls finds a fault under way."""
    planned(qtbot, window.session)
    window.show_stage("shape")
    page = window.stages[stage]
    shown = {"cut": "_changed"}.get(stage, "refresh")
    page._stale = True
    monkeypatch.setattr(page, shown, lambda: 1 / 0)
    with qtbot.capture_exceptions() as raised:
        window.show_stage(stage)
        qtbot.wait(20)
    assert [kind for kind, _, _ in raised] == [ZeroDivisionError]
    monkeypatch.undo()
    window.show_stage("shape")
    window.show_stage(stage)
    assert page.isVisible()
