"""Fields, canvases, signs and the session on their own."""

from __future__ import annotations

import itertools
import shutil
import time

import pytest
from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QDialogButtonBox, QLineEdit, QPushButton, QTableView, QVBoxLayout

from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.flat.marking import mark_out
from zealous_crane.paint.application import application
from zealous_crane.paint.flat import Figured, FlatOptions, _thinned, paint_flat
from zealous_crane.paint.frame import paint_state, paint_tag
from zealous_crane.paint.queue import Turns
from zealous_crane.paint.theme import DARK, LIGHT, PAPER, pixels
from zealous_crane.planning.outcome import Outcome
from zealous_crane.ui.state.autosave import SafetyCopy
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.canvas import AngleCanvas, Canvas, TurnCanvas
from zealous_crane.ui.widgets.field import LengthField, SumButton, TextField
from zealous_crane.ui.widgets.widget import FormDialog, LazyView
from zealous_crane.ui.window.window import Window
from zealous_crane.units.length import INCH, Units
from zealous_crane.units.sums import Sum, Term


def test_a_field_takes_complains_and_recovers(qtbot):
    taken = []
    field = TextField(
        "Name", lambda text: "No digits." if any(c.isdigit() for c in text) else taken.append(text)
    )
    qtbot.addWidget(field)
    field.show()
    qtbot.keyClicks(field.edit, "ab1")
    assert (
        taken == ["a", "ab", ""]
        and field.complaint.text() == "No digits."
        and field.complaint.isVisible()
    )
    qtbot.keyClick(field.edit, Qt.Key.Key_Backspace)
    assert not field.complaint.isVisible() and field.edit.property("wrong") is False


def test_a_length_field_speaks_both_units(qtbot):
    units, values = [Units.FRACTIONS], []
    field = LengthField("Length", values.append, lambda: units[0], empty="by the rule")
    qtbot.addWidget(field)
    field.show()
    qtbot.keyClicks(field.edit, "2 1/2")
    assert values[-1] == pytest.approx(63.5)
    field.edit.clear()
    field.edit.textEdited.emit("")
    assert values[-1] is None
    units[0] = Units.MM
    field.edit.setModified(False)
    field.show_value(63.5)
    assert field.edit.text() == "63.5 mm"
    qtbot.keyClick(field.edit, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClicks(field.edit, "70")
    assert values[-1] == 70
    field.show_value(70.0)
    assert field.edit.text() == "70", "what is being typed is left alone"


def test_a_sum_button_opens_terms_rule_and_source(qtbot):
    button = SumButton()
    qtbot.addWidget(button)
    button.show_sum(
        Sum("Blank", (Term("base", 8 * INCH), Term("wall", INCH, 2)), "Common practice."),
        Units.FRACTIONS,
    )
    assert (
        "10" in button.text()
        and "Common practice." in button.toolTip()
        and "wall" in button.toolTip()
    )
    assert button.accessibleName() == 'Blank: 8 + 2 × 1 = 10"'


def test_the_folded_part_turns_by_mouse_and_keys(qtbot):
    canvas = TurnCanvas("part", lambda p, r: None, QSize(200, 200))
    qtbot.addWidget(canvas)
    canvas.show()
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(50, 50))
    qtbot.mouseMove(canvas, QPoint(90, 60))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=QPoint(90, 60))
    before = canvas.turn
    qtbot.keyClick(canvas, Qt.Key.Key_Left)
    assert canvas.turn == pytest.approx((before + 10) % 360)
    for _ in range(20):
        qtbot.keyClick(canvas, Qt.Key.Key_Up)
    assert canvas.tilt == 89


def test_the_angle_canvas_answers_keys_and_wheel(qtbot):
    asked = []
    canvas = AngleCanvas("end", lambda p, r: None, QSize(200, 200), lambda place: place.x())
    qtbot.addWidget(canvas)
    canvas.swung.connect(asked.append)
    canvas.show()
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(33, 5))
    for key in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_Home, Qt.Key.Key_End):
        qtbot.keyClick(canvas, key)
    assert asked == [33, 1, -1, 10, 0, 180]


def painted(look, paint):
    application()
    image = QImage(60, 60, QImage.Format.Format_ARGB32)
    image.fill(look.color("bench"))
    p = QPainter(image)
    paint(p)
    p.end()
    return image


def ink(image):
    """Share of pixels that are not background, as rows: a shape that survives black-and-white
    print."""
    ground = image.pixel(0, 0)
    return [
        [image.pixel(x, y) != ground for x in range(image.width())] for y in range(image.height())
    ]


@pytest.mark.parametrize("look", [LIGHT, DARK, PAPER])
def test_signs_differ_in_shape_not_only_in_colour(look):
    shapes = [
        ink(painted(look, lambda p, s=s: paint_state(p, QPointF(30, 30), 30, s, look)))
        for s in Outcome
    ]
    for i, one in enumerate(shapes):
        assert sum(map(sum, one)) > 200
        for other in shapes[i + 1 :]:
            differing = sum(
                a != b for r, s in zip(one, other, strict=True) for a, b in zip(r, s, strict=True)
            )
            assert differing > 100


def test_a_tag_shows_which_way_the_fold_goes():
    up, down = (
        painted(LIGHT, lambda p, a=a: paint_tag(p, QPointF(30, 30), 20, "2", a, LIGHT))
        for a in (90, -90)
    )
    assert up != down


def test_running_dimensions_never_overlap(box):
    for size in (("11", "8 1/2", "2 1/2"), ("3", "2", "1/2"), ("40", "2", "1")):
        along = [Figured(one, "", 30.0) for one in mark_out(develop(box(*size))).along]
        for factor in (0.3, 1.0, 3.0):
            placed = [place for _, place in _thinned(along, factor, 40.0)]
            assert all(b - a >= 40.0 - 1e-6 for a, b in itertools.pairwise(placed))


def test_the_flat_is_drawn_to_scale(box):
    blank = develop(box())
    image = QImage(500, 400, QImage.Format.Format_ARGB32)
    image.fill(LIGHT.color("bench"))
    p = QPainter(image)
    scale = paint_flat(
        p,
        QRectF(0, 0, 500, 400),
        blank,
        Units.FRACTIONS,
        LIGHT,
        FlatOptions(dimensions=False, numbers={0: 1}),
    )
    p.end()
    middle = scale.point(blank.size[0] / 2, blank.size[1] * 0.35).toPoint()
    assert image.pixelColor(middle).name() == LIGHT.layout
    corner = image.pixelColor(scale.point(3, 3).toPoint())
    assert corner.name() != LIGHT.bench


def test_figures_all_have_one_width():
    application()
    image = QImage(10, 10, QImage.Format.Format_ARGB32)
    p = QPainter(image)
    p.setFont(pixels(20))
    assert len({p.fontMetrics().horizontalAdvance(d) for d in "0123456789"}) == 1
    assert p.font().family() == "Inter"
    p.end()


def test_a_session_drops_answers_to_old_questions(qtbot, rack):
    application()
    session = Session(demo_job(), rack)
    for depth in (30.0, 40.0, 50.0, 55.0):
        assert session.edit("depth", part={**session.job.part.model_dump(), "depth": depth}) is None
    qtbot.waitUntil(lambda: not session.bench_plan.planning, timeout=60_000)
    assert session.plan.job == session.job and session.job.part.depth == 55
    # Typing in one field is one step of undo.
    session.undo()
    assert session.job == demo_job() and not session.can_undo
    assert session.edit("", brake="no-such-brake").startswith("The brake")
    assert session.job == demo_job()
    session.close()


def test_a_session_says_when_the_safety_copy_fails(qtbot, rack, tmp_path):
    application()
    folder = tmp_path / "benches"
    session = Session(demo_job(), rack, SafetyCopy(folder / "bench.json"))
    shutil.rmtree(folder)
    folder.write_text("in the way")
    with qtbot.waitSignal(session.complained, timeout=5000) as said:
        session.edit("", quantity=3)
    assert "safety copy" in said.args[0]
    session.close()


def test_a_picture_takes_its_steps_in_turns_of_their_own(qtbot):
    """What it stands on and its painting never keep one who types waiting together."""
    done: list[str] = []
    steps = [lambda: done.append("shape"), lambda: done.append("sizes")]
    canvas = Canvas(
        "picture", lambda p, rect: done.append("painted"), QSize(80, 60), lambda rect: steps
    )
    qtbot.addWidget(canvas)
    canvas.show()
    seen: list[tuple[str, ...]] = []
    until = time.monotonic() + 5
    while "painted" not in done and time.monotonic() < until:
        application().processEvents()
        if tuple(done) not in seen:
            seen.append(tuple(done))
    assert [turn for turn in seen if turn] == [
        ("shape",),
        ("shape", "sizes"),
        ("shape", "sizes", "painted"),
    ]
    # Asked for again and again before its turn has come, as by whoever turns the part, it is
    # painted all the same.
    done.clear()
    for _ in range(6):
        canvas.update()
        application().processEvents()
    qtbot.waitUntil(lambda: Turns.of_all().through, timeout=5000)
    assert "painted" in done


def test_all_that_is_alive_is_gone_through_when_nobody_is_at_the_window(qtbot, monkeypatch):
    """That takes as long as a person notices; what is young is short, and waits for nobody."""
    import gc

    from PySide6.QtCore import QObject

    from zealous_crane.paint import application as collect

    counts, gone_through = [0, 0, 0], []
    monkeypatch.setattr(collect.gc, "get_count", lambda: tuple(counts))
    monkeypatch.setattr(collect.gc, "collect", gone_through.append)
    monkeypatch.setattr(collect.gc, "freeze", lambda: None)
    owner = QObject()
    collector = collect.Collector(owner)
    collector._timer.stop()

    def work() -> None:
        until = time.thread_time() + 2 * collect.IDLE
        while time.thread_time() < until:
            pass

    counts[:] = [701, 11, 11]
    for _ in range(2 * collect.CALM):
        work()
        collector.look()
    assert gone_through == [1] * 2 * collect.CALM
    gone_through.clear()
    for _ in range(collect.CALM):
        collector.look()
    assert gone_through == [1] * (collect.CALM - 1) + [2]
    gone_through.clear()
    counts[2] = collect.AT_LAST + 1
    work()
    canvas = Canvas("picture", lambda p, rect: None, QSize(80, 60))
    qtbot.addWidget(canvas)
    canvas.update()
    collector.look()
    assert gone_through == []
    Turns.of_all().leave(canvas)
    collector.look()
    assert gone_through == [2]
    assert not gc.isenabled()


def test_garbage_is_collected_on_the_windows_thread_only(qtbot):
    """A discarded ring of widgets must never be taken apart by the planning thread."""
    import gc
    import threading
    import weakref

    from PySide6.QtWidgets import QWidget

    from zealous_crane.paint.application import Collector

    app = application()
    assert not gc.isenabled() and len(app.findChildren(Collector)) == 1
    application()
    assert len(app.findChildren(Collector)) == 1
    gc.collect()

    class Ring(QWidget):
        pass

    gone_on: list[int] = []
    ring = Ring()
    ring.myself = ring
    weakref.finalize(ring, lambda: gone_on.append(threading.get_ident()))
    del ring
    worker = threading.Thread(
        target=lambda: [[] for _ in range(200_000)] and [dict(a=[i]) for i in range(50_000)]
    )
    worker.start()
    worker.join()
    assert gone_on == []
    qtbot.waitUntil(lambda: bool(gone_on) or bool(gc.collect() >= 0 and gone_on), timeout=5000)
    assert gone_on == [threading.get_ident()]


def test_return_in_a_field_of_a_dialog_goes_on_and_presses_nothing(qtbot):
    application()
    dialog = FormDialog()
    qtbot.addWidget(dialog)
    box = QVBoxLayout(dialog)
    first, second = QLineEdit(), QLineEdit()
    press, buttons = (
        QPushButton("Put it on the bench"),
        QDialogButtonBox(QDialogButtonBox.StandardButton.Ok),
    )
    pressed = []
    press.clicked.connect(lambda: pressed.append("press"))
    buttons.accepted.connect(lambda: pressed.append("ok"))
    for widget in (press, first, second, buttons):
        box.addWidget(widget)
    dialog.show()
    dialog.activateWindow()
    qtbot.waitUntil(dialog.isActiveWindow)
    first.setFocus()
    qtbot.keyClick(first, Qt.Key.Key_Return)
    assert second.hasFocus() and not pressed
    qtbot.keyClick(second, Qt.Key.Key_Enter)
    ok = buttons.button(QDialogButtonBox.StandardButton.Ok)
    assert ok.hasFocus() and not pressed
    qtbot.keyClick(ok, Qt.Key.Key_Return)
    assert pressed == ["ok"]


def test_tables_give_tab_away(qtbot, rack):
    application()
    session = Session(demo_job(), rack)
    made = Window(session)
    qtbot.addWidget(made, before_close_func=lambda _: session.mark_saved())
    made.show()
    for stage in made.stages:
        made.show_stage(stage)
    tables = made.findChildren(QTableView)
    assert tables and not any(table.tabKeyNavigation() for table in tables)


class Page(LazyView):
    """Counts how often it is shown anew."""

    shown = 0

    def refresh(self):
        if not self.waits():
            self.shown += 1


def test_a_page_is_shown_anew_in_a_turn_of_its_own_and_when_it_comes_to_be_seen(qtbot):
    application()
    page = Page()
    qtbot.addWidget(page)
    page.soon()
    assert page.shown == 0, "nobody looks"
    page.show()
    assert page.shown == 1
    page.soon()
    page.soon()
    assert page.shown == 1 and not Turns.of_all().through
    qtbot.waitUntil(lambda: Turns.of_all().through)
    assert page.shown == 2, "asked twice, shown once"
    page.soon()
    page.hide()
    qtbot.waitUntil(lambda: Turns.of_all().through)
    assert page.shown == 2
    page.show()
    assert page.shown == 3
    page.soon()
    page.refresh()
    qtbot.waitUntil(lambda: Turns.of_all().through)
    assert page.shown == 4, "what was shown meanwhile is not shown again"
