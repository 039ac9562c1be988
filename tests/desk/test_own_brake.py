"""A brake of one's own, entered from a sketch with a rule's sizes, by the keyboard alone."""

import numpy as np
import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QInputDialog
from test_window import planned, window  # noqa: F401 - a fixture

from zealous_crane.brake import read_brake
from zealous_crane.brake.begin import NEW
from zealous_crane.desk.brake_dialog import BrakeDialog
from zealous_crane.plan.stroke.machines import machine_of

IN = 25.4


def entered(qtbot, window, rows, deed):  # noqa: F811
    """The dialog for a new brake of the kind so many rows down, what is done in it, and what that returned."""
    found = []

    def choose():
        asked = QApplication.activeModalWidget()
        assert isinstance(asked, QInputDialog)
        QTimer.singleShot(50, type_sizes)
        for _ in range(rows):
            qtbot.keyClick(asked.focusWidget(), Qt.Key.Key_Down)
        qtbot.keyClick(asked.focusWidget(), Qt.Key.Key_Return)

    def type_sizes():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, BrakeDialog)
        dialog.activateWindow()
        qtbot.waitUntil(dialog.isActiveWindow)
        found.append(deed(dialog))

    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    QTimer.singleShot(50, choose)
    qtbot.keyClick(window, Qt.Key.Key_E, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    return found[0]


def typed(qtbot, dialog, name, text):
    edit = dialog.fields[name].edit
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    lit = dialog.lit
    qtbot.keyClick(edit, Qt.Key.Key_Tab)
    return lit


def test_a_straight_leaf_brake_of_twelve_feet(qtbot, window):  # noqa: F811
    """Bar 5/8, set back 1/8, helper bar off: eight sizes typed, each lights its own arrow, and the arrow is as long as was typed."""
    sizes = {"name": "Old twelve-foot brake", "bed_length": "144", "rated": "0.0478", "finger_height": "1 1/4", "leaf_bar": "5/8",
             "bare_bar": "3/8", "bed_depth": "9", "extra_setback": "1/8"}  # fmt: skip

    def deed(dialog):
        lit = [typed(qtbot, dialog, name, text) for name, text in sizes.items()]
        drawn = machine_of(dialog.brake).drawn(dialog.brake)
        picture = dialog.section.grab().toImage()
        qtbot.mouseClick(dialog.buttons.button(dialog.buttons.StandardButton.Save), Qt.MouseButton.LeftButton)
        return lit, drawn, picture

    lit, drawn, picture = entered(qtbot, window, 1, deed)
    assert lit[3:] == list(sizes)[3:]
    long = {name: np.hypot(*np.subtract(*ends)) / IN for name, ends in drawn.sizes.items()}
    assert long["leaf_bar"] == pytest.approx(0.625) and long["bare_bar"] == pytest.approx(0.375)
    assert long["finger_height"] == pytest.approx(1.25) and long["bed_depth"] == pytest.approx(9)
    assert len({picture.pixelColor(x, picture.height() // 2).name() for x in range(picture.width())}) > 2, "it is drawn"
    brake = window.session.brake
    assert brake.name == "Old twelve-foot brake" and brake.bed_length == pytest.approx(144 * IN)
    # The nose stands back by the sheet and what was typed more.
    assert brake.setback(1.0, 0.0) == pytest.approx(1.0 + IN / 8)
    planned(qtbot, window.session)
    assert read_brake(window.session.shop / f"{brake.key}.json") == brake
    window.session.undo()
    assert window.session.brake.key != brake.key


@pytest.mark.parametrize("row", range(len(NEW)))
def test_every_kind_begins_ready_to_bend(qtbot, window, row):  # noqa: F811
    def deed(dialog):
        low, high = machine_of(dialog.brake).drawn(dialog.brake).box
        qtbot.mouseClick(dialog.buttons.button(dialog.buttons.StandardButton.Save), Qt.MouseButton.LeftButton)
        return low, high

    low, high = entered(qtbot, window, row, deed)
    assert high[0] > low[0] and high[1] > low[1] and window.session.brake.name.startswith(NEW[row].label)
    # A second one of the kind has a name and a key of its own.
    again = NEW[row].begin(window.session.rack)
    assert again.name == f"{NEW[row].label} 2" and again.key != window.session.brake.key


def test_sizes_are_measured_where_they_are_drawn(rack):
    """Every arrow of every shipped machine is as long as its field says."""
    checked = 0
    for brake in rack.brakes:
        drawn = machine_of(brake).drawn(brake)
        assert set(drawn.first) <= set(type(brake).model_fields)
        for name, ends in drawn.sizes.items():
            value = getattr(brake, name)
            if name == "extra_setback":
                continue  # it is drawn as what it adds to
            assert np.hypot(*np.subtract(*ends)) == pytest.approx(abs(value)), (brake.key, name)
            checked += 1
    assert checked > 40
