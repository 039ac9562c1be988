"""Pictures come nearer with the wheel, move when dragged, and are copied."""

import pytest
from PySide6.QtCore import QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QWheelEvent
from PySide6.QtWidgets import QApplication, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from zealous_crane.paint.application import application
from zealous_crane.paint.queue import Turns
from zealous_crane.ui.widgets.canvas import LARGEST, Canvas, TurnCanvas


def wheel(canvas, at, steps, keys=Qt.KeyboardModifier.NoModifier):
    event = QWheelEvent(
        QPointF(at),
        QPointF(canvas.mapToGlobal(at)),
        QPoint(0, 0),
        QPoint(0, 120 * steps),
        Qt.MouseButton.NoButton,
        keys,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(canvas, event)


def shown(qtbot, kind=Canvas):
    application()
    made = kind(
        "picture",
        lambda p, r: p.fillRect(
            QRectF(r.width() / 2, 0, r.width() / 2, r.height()), Qt.GlobalColor.black
        ),
        QSize(200, 100),
    )
    qtbot.addWidget(made)
    made.resize(200, 100)
    made.show()
    return made


def test_the_wheel_comes_nearer_about_the_pointer_and_a_double_click_shows_all(qtbot):
    canvas = shown(qtbot)
    before = canvas.grab().toImage().pixel(99, 50)
    wheel(canvas, QPoint(100, 50), 5)
    assert canvas.zoom > 2 and canvas.grab().toImage().pixel(98, 50) == before, (
        "the edge under the pointer stays"
    )
    wheel(canvas, QPoint(100, 50), 100)
    assert canvas.zoom == LARGEST
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(100, 50))
    qtbot.mouseMove(canvas, QPoint(160, 50))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=QPoint(160, 50))
    assert canvas.grab().toImage().pixel(130, 50) == before, "what is white was drawn to the right"
    qtbot.mouseDClick(canvas, Qt.MouseButton.LeftButton)
    assert canvas.zoom == 1.0
    wheel(canvas, QPoint(10, 10), -5)
    assert canvas.zoom == 1.0, "never smaller than all of it"


def test_in_a_column_the_wheel_scrolls_unless_ctrl_is_held(qtbot):
    area = QScrollArea()
    qtbot.addWidget(area)
    canvas = shown(qtbot)
    area.setWidget(canvas)
    area.show()
    wheel(canvas, QPoint(50, 50), 3)
    assert canvas.zoom == 1.0
    wheel(canvas, QPoint(50, 50), 3, Qt.KeyboardModifier.ControlModifier)
    assert canvas.zoom > 1.0


def test_the_left_button_turns_a_folded_part_and_the_middle_one_moves_it(qtbot):
    canvas = shown(qtbot, TurnCanvas)
    turn = canvas.turn
    wheel(canvas, QPoint(100, 50), 4)
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=QPoint(100, 50))
    qtbot.mouseMove(canvas, QPoint(120, 50))
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton, pos=QPoint(120, 50))
    assert canvas.turn != turn
    turn = canvas.turn
    qtbot.mousePress(canvas, Qt.MouseButton.MiddleButton, pos=QPoint(100, 50))
    qtbot.mouseMove(canvas, QPoint(110, 50))
    qtbot.mouseRelease(canvas, Qt.MouseButton.MiddleButton, pos=QPoint(110, 50))
    assert canvas.turn == turn


def test_a_picture_is_copied(qtbot):
    canvas = shown(qtbot)
    canvas.copy()
    assert QApplication.clipboard().pixmap().size() == canvas.size()


def test_a_picture_is_painted_in_a_turn_of_its_own_and_once(qtbot):
    painted = []
    application()
    canvas = Canvas("picture", lambda p, r: painted.append(r), QSize(200, 100))
    qtbot.addWidget(canvas)
    canvas.show()
    qtbot.waitUntil(lambda: bool(painted))
    qtbot.wait(50)
    before = len(painted)
    for _ in range(5):
        canvas.update()
    QApplication.sendPostedEvents()
    assert len(painted) == before, "what changed it is answered first"
    qtbot.waitUntil(lambda: len(painted) > before)
    qtbot.wait(50)
    assert len(painted) == before + 1


def test_a_fault_while_a_picture_is_painted_is_told_and_the_canvas_lives(qtbot):
    application()
    faults = [True]
    canvas = Canvas("picture", lambda p, r: 1 / 0 if faults else None, QSize(200, 100))
    qtbot.addWidget(canvas)
    with qtbot.capture_exceptions() as raised:
        canvas.show()
        qtbot.waitUntil(lambda: bool(raised))
    assert raised[0][0] is ZeroDivisionError
    faults.clear()
    canvas.update()
    qtbot.wait(30)
    assert not canvas.grab().isNull()


def test_pictures_are_painted_one_in_a_turn_and_at_once_where_they_are_copied(qtbot):
    turn, painted = 0, []
    page = QWidget()
    box = QHBoxLayout(page)
    pictures = [
        Canvas(name, lambda p, rect, name=name: painted.append((name, turn)), QSize(60, 60))
        for name in ("one", "other")
    ]
    for picture in pictures:
        box.addWidget(picture)
    qtbot.addWidget(page)
    page.show()
    assert not Turns.of_all().through

    def turns(count):
        nonlocal turn
        for _ in range(count):
            turn += 1
            QApplication.processEvents()

    turns(12)
    assert [name for name, _ in painted] == ["one", "other"] and painted[0][1] < painted[1][1]
    assert Turns.of_all().through
    painted.clear()
    for picture in (*reversed(pictures), *pictures):
        picture.update()
    turns(12)
    assert [name for name, _ in painted] == ["other", "one"] and painted[0][1] < painted[1][1], (
        "asked twice, painted once"
    )
    painted.clear()
    page.hide()
    page.show()
    pictures[1].copy()
    assert painted == [("other", turn)], "what is copied does not wait"
    pictures[0].update()
    pictures[0].deleteLater()
    turns(12)
    assert Turns.of_all().through, "nobody waits for what is gone"


@pytest.fixture
def counted(qtbot):
    """A canvas in a page that colours itself by how often it was painted, and the list of its
    paintings."""
    page, paintings = QWidget(), []

    def paint(p, rect):
        paintings.append(rect.width())
        p.fillRect(rect, QColor(10 * len(paintings), 0, 0))

    canvas = Canvas("counted", paint, QSize(40, 30))
    box = QVBoxLayout(page)
    box.setContentsMargins(0, 0, 0, 0)
    box.addWidget(canvas)
    qtbot.addWidget(page)
    page.resize(100, 80)
    page.show()
    qtbot.waitUntil(lambda: len(paintings) == 1, timeout=5000)
    return page, canvas, paintings


def red(widget):
    """How red the middle of a widget is on the screen."""
    image = widget.grab().toImage()
    return QColor(image.pixel(image.width() // 2, image.height() // 2)).red()


def test_a_picture_is_kept_till_what_it_shows_changes(counted, qtbot):
    page, canvas, paintings = counted
    page.update()
    page.repaint()
    assert red(page) == 10 and len(paintings) == 1, "what lies over it came and went"
    canvas.update()
    canvas.update()
    qtbot.waitUntil(lambda: len(paintings) == 2, timeout=5000)
    qtbot.wait(20)
    assert len(paintings) == 2 and red(page) == 20
    canvas.grab()
    assert len(paintings) == 3, "who takes the picture takes it as it is by now"


def test_a_picture_that_gets_another_room_stands_as_it_is_till_its_turn(counted, qtbot):
    page, canvas, paintings = counted
    page.resize(300, 80)
    page.layout().activate()
    assert canvas.width() == 300
    page.repaint()
    assert paintings == [100.0]
    qtbot.waitUntil(lambda: paintings == [100.0, 300.0], timeout=5000)
    assert red(page) == 20


def test_a_picture_is_painted_anew_where_it_comes_back_or_the_look_changes(counted, qtbot):
    page, canvas, paintings = counted
    canvas.hide()
    canvas.show()
    qtbot.waitUntil(lambda: len(paintings) == 2, timeout=5000)
    colours = page.palette()
    colours.setColor(colours.ColorRole.Window, QColor("#123456"))
    page.setPalette(colours)
    qtbot.waitUntil(lambda: len(paintings) == 3, timeout=5000)
