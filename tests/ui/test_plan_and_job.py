"""A plan belongs to its job: nothing of another job counts, is shown unmarked, or is written."""

from __future__ import annotations

import json
import threading

import ezdxf
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QMessageBox

from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.io.job_file import read_job, write_job
from zealous_crane.paint.application import application
from zealous_crane.paper.writers import writer_of
from zealous_crane.planning.route import Cancelled
from zealous_crane.ui.app import log_path
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.save_as import with_ending
from zealous_crane.ui.window.window import Window
from zealous_crane.units.length import INCH
from zealous_crane.workers import server as planning
from zealous_crane.workers.pool import Crew, ThreadWorker


@pytest.fixture
def bench(qtbot, rack, tmp_path, monkeypatch):
    """A window, its planner held back until the gate is opened; sentences that would be asked in a
    box are collected."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    gate, said = threading.Event(), []
    gate.set()
    real = planning.make_plan

    def held(job, brake, **more):
        while not gate.wait(0.02):
            if more["cancelled"]():
                raise Cancelled
        return real(job, brake, **more)

    monkeypatch.setattr(planning, "make_plan", held)
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(str(a[2])))
    application()
    session = Session(demo_job(), rack, shop=tmp_path / "brakes", crew=Crew(ThreadWorker))
    window = Window(session)
    qtbot.addWidget(window, before_close_func=lambda _: session.mark_saved())
    window.show()
    window.activateWindow()
    qtbot.waitUntil(
        lambda: session.plan is not None and not session.bench_plan.busy, timeout=60_000
    )
    window.gate, window.said = gate, said
    yield window
    gate.set()
    session.bench_plan.planner.stop()


def done(qtbot, window):
    window.gate.set()
    qtbot.waitUntil(
        lambda: window.session.plan is not None and not window.session.bench_plan.busy,
        timeout=60_000,
    )


def test_another_job_is_never_shown_or_written_under_this_ones_name(bench, qtbot, tmp_path):
    session = bench.session
    old = session.plan
    bench.gate.clear()
    other = demo_job("deep-feeder")
    write_job(other, tmp_path / "other.json")
    assert bench.filing.open_file(tmp_path / "other.json")
    assert session.plan is None and session.bench_plan.before is None and old.job != session.job
    for name, stage in (("tool-up", bench.stages["tool-up"]), ("bend", bench.stages["bend"])):
        bench.show_stage(name)
        assert stage.working.isVisible() and not stage.body.isVisible()
        assert "Working out" in stage.working.title.text() and stage.working.stop.isVisible()
    bench.show_at_brake()
    assert (
        bench.others["work"].brake.working.isVisible()
        and not bench.others["work"].brake.body.isVisible()
    )
    assert (
        old.sentence not in bench.verdict.sentence.text() and not bench.verdict.details.isVisible()
    )
    # A link of the job before does nothing.
    bench.verdict.details.linkActivated.emit("0")
    assert session.job == other and not session.can_undo
    # What needs no plan never waits; what needs one is not written.
    assert (
        bench.handing.export(tmp_path / "b.dxf")
        and bench.handing.export(tmp_path / "b.svg")
        and bench.handing.export(tmp_path / "m.pdf", writer_of("marking"))
    )
    x = [
        p[0]
        for e in ezdxf.readfile(tmp_path / "b.dxf").modelspace().query("LWPOLYLINE")
        for p in e.get_points("xy")
    ]
    assert max(x) - min(x) == pytest.approx(develop(other).size[0] / INCH, abs=0.01)
    for name in ("b.pdf", "b.json"):
        assert not bench.handing.export(tmp_path / name) and not (tmp_path / name).exists()
    assert "still being worked out" in bench.said[-1]
    session.bench_plan.stop()
    assert (
        not bench.handing.export(tmp_path / "b.json")
        and "planning was stopped" in bench.said[-1]
        and not (tmp_path / "b.json").exists()
    )
    assert "no plan of this part" in bench.verdict.sentence.text()
    session.bench_plan.again()
    done(qtbot, bench)
    assert bench.handing.export(tmp_path / "b.json")
    assert json.loads((tmp_path / "b.json").read_text())["job"]["name"] == other.name


def test_what_was_there_before_an_edit_is_marked_and_gives_way(bench, qtbot):
    bench.show_stage("bend")
    bench.gate.clear()
    bench.session.edit("depth", part={**bench.session.job.part.model_dump(), "depth": 60.0})
    assert bench.session.bench_plan.before is not None
    assert bench.stages["bend"].stale.isVisible() and not bench.stages["bend"].body.isEnabled()
    qtbot.waitUntil(bench.stages["bend"].working.isVisible, timeout=5000)
    assert (
        not bench.stages["bend"].body.isVisible()
        and "before your change" in bench.verdict.sentence.text()
    )
    done(qtbot, bench)
    assert (
        bench.stages["bend"].body.isVisible()
        and bench.stages["bend"].body.isEnabled()
        and not bench.stages["bend"].stale.isVisible()
    )


def test_the_page_stays_where_it_is_while_bends_are_worked_out(bench, qtbot):
    bench.resize(1024, 700)
    bench.show_stage("shape")
    qtbot.waitUntil(lambda: bench.width() == 1024)
    places = {bench.stack.geometry().getRect()}
    bench.gate.clear()
    bench.session.edit("depth", part={**bench.session.job.part.model_dump(), "depth": 60.0})
    qtbot.wait(50)
    assert (
        bench.session.bench_plan.planning
        and "before your change" in bench.verdict.sentence.toolTip()
    )
    places.add(bench.stack.geometry().getRect())
    bench.session.advanced.emit(1200, ("left wall", "right wall", "front wall"), 4)
    qtbot.wait(50)
    assert "1200 tried" in bench.verdict.sentence.text()
    places.add(bench.stack.geometry().getRect())
    done(qtbot, bench)
    assert (
        bench.session.plan.feasible
        and not bench.verdict.details.isVisible()
        and not bench.verdict.sentence.toolTip()
    )
    qtbot.wait(50)
    places.add(bench.stack.geometry().getRect())
    assert len(places) == 1, places


def test_an_edit_calls_cures_off_at_once(bench, qtbot, monkeypatch):
    session, called = bench.session, threading.Event()
    begun = threading.Event()

    def slow(plan, rack, *, cancelled):
        begun.set()
        while not cancelled():
            called.wait(0.005)
        called.set()
        raise Cancelled

    monkeypatch.setattr(planning, "advise", slow)
    session.start_with(demo_job("deep-feeder").model_copy(update={"name": "deep"}))
    qtbot.waitUntil(lambda: begun.is_set() and session.plan is not None, timeout=60_000)
    assert session.plan is not None and session.bench_plan.busy and bench.verdict.stop.isVisible()
    begun.clear()
    session.edit("quantity", quantity=3)
    assert called.wait(5), "the old run has noticed"
    qtbot.waitUntil(
        lambda: begun.is_set() and session.plan is not None and session.plan.job.quantity == 3,
        timeout=60_000,
    )
    # Stop ends the search for cures and keeps the verdict.
    called.clear()
    qtbot.mouseClick(bench.verdict.stop, Qt.MouseButton.LeftButton)
    assert not session.bench_plan.busy and session.plan is not None and called.wait(5)


def test_the_first_order_that_works_is_on_show_while_a_cheaper_one_is_looked_for(
    bench, qtbot, monkeypatch, tmp_path
):
    session, gate = bench.session, threading.Event()
    held = planning.make_plan

    def waits(job, brake, *, on_first_feasible, cancelled, **more):
        def shown(plan):
            on_first_feasible(plan)
            while not gate.wait(0.005):
                if cancelled():
                    raise Cancelled

        return held(job, brake, on_first_feasible=shown, cancelled=cancelled, **more)

    monkeypatch.setattr(planning, "make_plan", waits)
    session.start_with(demo_job("syrup-tray").model_copy(update={"name": "first"}))
    qtbot.waitUntil(lambda: session.bench_plan.looking, timeout=60_000)
    first = session.plan
    assert first.feasible and "Looking for a cheaper order" in bench.verdict.sentence.text()
    assert bench.verdict.stop.text() == "Keep this order" and bench.verdict.stop.isVisible()
    # It can be read and bent by; only paper waits, since the order may yet change.
    assert (
        not bench.handing.export(tmp_path / "plan.json")
        and "try again in a moment" in bench.said[-1]
    )
    gate.set()
    qtbot.waitUntil(
        lambda: session.plan is not None and not session.bench_plan.busy, timeout=60_000
    )
    assert not session.plan.looking and session.plan.cost < first.cost
    assert "Looking for" not in bench.verdict.sentence.text() and bench.handing.export(
        tmp_path / "plan.json"
    )
    # Kept by a click: it stays, says that it may not be the cheapest, and can be written.
    gate.clear()
    session.start_with(demo_job("syrup-tray").model_copy(update={"name": "kept"}))
    qtbot.waitUntil(lambda: session.bench_plan.looking, timeout=60_000)
    qtbot.mouseClick(bench.verdict.stop, Qt.MouseButton.LeftButton)
    assert not session.bench_plan.busy and session.plan.feasible and session.plan.cost == first.cost
    assert any("not every cheaper one" in reason for reason in session.plan.reasons)
    assert bench.handing.export(tmp_path / "kept.json") and not session.bench_plan.called_off


def test_a_fault_in_planning_is_said_and_logged_and_loses_nothing(bench, qtbot, monkeypatch):
    session, said = bench.session, []
    session.complained.connect(said.append)
    job = session.job
    monkeypatch.setattr(planning, "make_plan", lambda *a, **k: 1 / 0)
    with qtbot.waitSignal(session.complained, timeout=60_000):
        session.edit("quantity", quantity=9)
    assert "the program hit an error" in said[-1] and str(log_path()) in said[-1]
    assert "ZeroDivisionError" in log_path().read_text() and session.job.quantity == 9
    assert session.plan is None and not session.bench_plan.busy
    session.undo()
    assert session.job == job


def test_one_step_of_undo_takes_back_exactly_what_a_cure_did(bench, qtbot):
    session = bench.session
    brake = session.brake
    job, more = (
        session.job,
        brake.model_copy(update={"fingers": (*brake.fingers, *brake.fingers[:1])}),
    )
    from zealous_crane.planning.plan import Remedy

    cure = Remedy("One more finger.", session.job.model_copy(update={"quantity": 2}), more)
    assert session.orders.take(cure) is None and session.brake == more and session.job.quantity == 2
    session.undo()
    assert session.brake == brake and session.job == job and not session.can_undo
    session.redo()
    assert session.brake == more
    done(qtbot, bench)
    assert session.plan.brake == more


def test_a_brake_edited_and_undone_is_as_it_was_in_its_file_too(bench, qtbot, tmp_path):
    session = bench.session
    taller = session.brake.model_copy(update={"finger_height": 150.0})
    assert bench.dialogs.keep_brake(taller)
    path = tmp_path / "brakes" / f"{taller.key}.json"
    assert '"finger_height": 150.0' in path.read_text()
    qtbot.keyClick(
        bench.stages["shape"].field("length").edit,
        Qt.Key.Key_Z,
        Qt.KeyboardModifier.ControlModifier,
    )
    assert (
        session.brake.finger_height == pytest.approx(3 * INCH)
        and '"finger_height": 150.0' not in path.read_text()
    )


# --- keys and wheel -----------------------------------------------------------------------------


def typed(qtbot, field, text):
    field.edit.setFocus()
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, text)


def test_quick_typing_in_three_fields_is_three_steps(bench, qtbot):
    session, part = bench.session, bench.session.job.part
    for name, text in (("length", "11"), ("width", "9"), ("depth", "2")):
        typed(qtbot, bench.stages["shape"].field(name), text)
    sizes = lambda: tuple(getattr(session.job.part, n) / INCH for n in ("length", "width", "depth"))  # noqa: E731
    assert sizes() == pytest.approx((11, 9, 2))
    for wanted in ((11, 9, part.depth / INCH), (11, part.width / INCH, part.depth / INCH)):
        qtbot.keyClick(
            QApplication.focusWidget(), Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier
        )
        assert sizes() == pytest.approx(wanted), "Ctrl+Z is the job's, wherever the cursor is"
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert sizes()[1] == pytest.approx(9)


def test_a_mistake_leaves_the_value_before_the_edit_and_says_which(bench, qtbot):
    session, field = bench.session, bench.stages["shape"].field("length")
    before = session.job.part.length
    typed(qtbot, field, "11 1/2 1/4")
    assert session.job.part.length == before, "not 11 1/2, the good beginning of a mistake"
    assert field.complaint.isVisible() and 'Still using 14 1/2"' in field.complaint.text()
    # Unfinished text is what the undo key takes back first.
    qtbot.keyClick(field.edit, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert field.edit.text() != "11 1/2 1/4" and session.job.part.length in (
        before,
        pytest.approx(11.5 * INCH),
    )
    qtbot.keyClick(field.edit, Qt.Key.Key_Escape)
    assert not field.complaint.isVisible()


def wheel(widget, qtbot):
    event = QWheelEvent(
        QPointF(widget.rect().center()),
        QPointF(widget.mapToGlobal(widget.rect().center())),
        QPoint(0, -120),
        QPoint(0, -120),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)


def test_the_wheel_over_a_choice_without_focus_changes_nothing(bench, qtbot):
    bench.stages["shape"].field("length").edit.setFocus()
    job = bench.session.job
    for widget in (
        bench.stages["shape"].field("measured"),
        bench.header.metal,
        bench.header.brake,
        bench.header.quantity,
        bench.header.units,
    ):
        before = widget.value() if hasattr(widget, "value") else widget.currentIndex()
        wheel(widget, qtbot)
        assert (widget.value() if hasattr(widget, "value") else widget.currentIndex()) == before
    assert bench.session.job == job
    bench.header.quantity.setFocus()
    wheel(bench.header.quantity, qtbot)
    assert bench.session.job.quantity == job.quantity - 1, "with the focus it turns"


@pytest.mark.parametrize(
    ("name", "kind", "written"),
    [
        ("part", "json", "part.json"),
        ("part.JSON", "json", "part.JSON"),
        ("x.PDF", "dxf", "x.PDF.dxf"),
        ("a.b", "svg", "a.b.svg"),
    ],
)
def test_what_is_asked_for_is_what_is_written(tmp_path, name, kind, written):
    assert with_ending(tmp_path / name, kind) == tmp_path / written


def test_hand_over_writes_the_kind_that_was_chosen(bench, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "flat"), ""))
    qtbot.keyClick(bench, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    assert not ezdxf.readfile(tmp_path / "flat.dxf").audit().errors
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "SHEET.PDF"), "")
    )
    qtbot.keyClick(
        bench, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    assert (tmp_path / "SHEET.PDF").read_bytes().startswith(b"%PDF")


@pytest.mark.parametrize(
    ("answer", "kept", "written"), [("No", "mine", "other.crane"), ("Yes", None, "tray.crane")]
)
def test_a_name_that_becomes_a_file_that_is_there_is_asked_about(
    bench, qtbot, tmp_path, answer, kept, written
):
    window = bench
    (tmp_path / "tray.crane").write_text("mine")
    names, said = ["tray", "other"], []

    def type_a_name():
        dialog = next((d for d in window.findChildren(QFileDialog) if d.isVisible()), None)
        if dialog is None:
            QTimer.singleShot(50, type_a_name)
            return
        line = dialog.findChild(QLineEdit, "fileNameEdit")
        line.selectAll()
        qtbot.keyClicks(line, str(tmp_path / names.pop(0)))
        if not said:
            QTimer.singleShot(100, answer_the_question)
        qtbot.keyClick(line, Qt.Key.Key_Return)

    def answer_the_question():
        box = next((b for b in window.findChildren(QMessageBox) if b.isVisible()), None)
        if box is None:
            QTimer.singleShot(50, answer_the_question)
            return
        said.append(box.text())
        if answer == "No":
            QTimer.singleShot(100, type_a_name)
        qtbot.mouseClick(
            box.button(getattr(QMessageBox.StandardButton, answer)), Qt.MouseButton.LeftButton
        )

    QTimer.singleShot(100, type_a_name)
    assert window.filing.ask_save()
    assert said == ["tray.crane is there already. Replace it? “No” asks for another name."]
    assert (
        window.session.path == tmp_path / written
        and read_job(tmp_path / written) == window.session.job
    )
    assert kept is None or (tmp_path / "tray.crane").read_text() == kept
