"""Buttons painted by hand: each way one stands is painted once, and what waits for its turn is
painted in it."""

import pytest
from PySide6.QtCore import QPoint, QRectF, Qt

from zealous_crane.paint.queue import Turns
from zealous_crane.paint.theme import DARK, LIGHT
from zealous_crane.ui.widgets.canvas import MOST, KeptButton


class Counted(KeptButton):
    """Its left half is black where it is chosen, and it counts how often it was painted."""

    def __init__(self, in_turn=False):
        super().__init__(LIGHT, "chrome", in_turn=in_turn)
        self.painted = 0
        self.setCheckable(True)
        self.setFixedSize(40, 20)

    def paint(self, p):
        self.painted += 1
        if self.isChecked():
            p.fillRect(QRectF(0, 0, 20, 20), Qt.GlobalColor.black)


@pytest.fixture
def button(qtbot):
    made = Counted()
    qtbot.addWidget(made)
    with qtbot.waitExposed(made):
        made.show()
    return made


def colour(button, x):
    return button.grab().toImage().pixelColor(x, 10).name()


def test_each_way_it_stands_is_painted_once(qtbot, button):
    before = button.painted
    assert before >= 1 and colour(button, 5) == LIGHT.chrome
    for _ in range(3):
        button.repaint()
    assert button.painted == before
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    assert (
        button.isChecked() and colour(button, 5) == "#000000" and colour(button, 30) == LIGHT.chrome
    )
    anew = button.painted
    assert anew > before
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    assert colour(button, 5) == LIGHT.chrome
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton, pos=QPoint(5, 5))
    assert colour(button, 5) == "#000000" and button.painted <= anew + 1, (
        "open and closed again: both are known"
    )


def test_another_size_is_painted_and_no_more_are_kept_than_said(button):
    before = button.painted
    for wide in range(41, 41 + 2 * MOST):
        button.setFixedSize(wide, 20)
        assert button.grab().width() == wide * button.devicePixelRatioF()
    assert button.painted == before + 2 * MOST and len(button._kept) <= MOST


def test_another_look_is_painted(button):
    assert colour(button, 5) == LIGHT.chrome
    button.look = DARK
    button.update()
    assert colour(button, 5) == DARK.chrome


def test_what_waits_for_its_turn_is_not_painted_before(qtbot):
    first, second = Counted(in_turn=True), Counted(in_turn=True)
    for made in (first, second):
        qtbot.addWidget(made)
        made.setChecked(True)
        made.show()
    assert not first.painted + second.painted
    qtbot.waitUntil(lambda: Turns.of_all().through and first.painted == second.painted == 1)
    qtbot.wait(20)
    assert first.painted == second.painted == 1 and colour(first, 5) == "#000000"
    third = Counted(in_turn=True)
    qtbot.addWidget(third)
    third.setChecked(True)
    assert colour(third, 5) == "#000000", "a picture asked for is there at once"
