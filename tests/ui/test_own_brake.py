"""A brake of one's own, entered from a sketch with a rule's sizes, by the keyboard alone."""

import numpy as np
import pytest
from hands import forget, planned
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QInputDialog, QMessageBox

from zealous_crane.bending.machines import machine_of
from zealous_crane.brake.library import NEW, read_brake
from zealous_crane.brake.tools import Segment
from zealous_crane.paint.theme import LIGHT
from zealous_crane.ui.dialogs.brake import BrakeDialog
from zealous_crane.ui.widgets.form import ModelForm
from zealous_crane.units.length import Units, show_length

IN = 25.4


def entered(qtbot, window, rows, deed):
    """The dialog for a new brake of the kind so many rows down, what is done in it, and what that
    returned."""
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
    qtbot.keyClick(
        window,
        Qt.Key.Key_E,
        Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
    )
    return found[0]


def typed(qtbot, dialog, name, text):
    edit = dialog.fields[name].edit
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    lit = dialog.lit
    qtbot.keyClick(edit, Qt.Key.Key_Tab)
    return lit


def test_a_straight_leaf_brake_of_twelve_feet(qtbot, window):
    """Bar 5/8, set back 1/8, helper bar off: eight sizes typed, each lights its own arrow, and the
    arrow is as long as was typed."""
    sizes = {
        "name": "Old twelve-foot brake",
        "bed_length": "144",
        "rated": "0.0478",
        "finger_height": "1 1/4",
        "leaf_bar": "5/8",
        "bare_bar": "3/8",
        "bed_depth": "9",
        "extra_setback": "1/8",
    }

    def deed(dialog):
        lit = [typed(qtbot, dialog, name, text) for name, text in sizes.items()]
        drawn = machine_of(dialog.brake).drawn(dialog.brake)
        picture = dialog.section.grab().toImage()
        qtbot.mouseClick(
            dialog.buttons.button(dialog.buttons.StandardButton.Save), Qt.MouseButton.LeftButton
        )
        return lit, drawn, picture

    lit, drawn, picture = entered(qtbot, window, 1, deed)
    assert lit[3:] == list(sizes)[3:]
    long = {name: np.hypot(*np.subtract(*ends)) / IN for name, ends in drawn.sizes.items()}
    assert long["leaf_bar"] == pytest.approx(0.625) and long["bare_bar"] == pytest.approx(0.375)
    assert long["finger_height"] == pytest.approx(1.25) and long["bed_depth"] == pytest.approx(9)
    assert (
        len({picture.pixelColor(x, picture.height() // 2).name() for x in range(picture.width())})
        > 2
    ), "it is drawn"
    brake = window.session.brake
    assert brake.name == "Old twelve-foot brake" and brake.bed_length == pytest.approx(144 * IN)
    # The nose stands back by the sheet and what was typed more.
    assert brake.setback(1.0, 0.0) == pytest.approx(1.0 + IN / 8)
    planned(qtbot, window.session)
    assert read_brake(window.session.shop / f"{brake.key}.json") == brake
    window.session.undo()
    assert window.session.brake.key != brake.key


@pytest.mark.parametrize("row", range(len(NEW)))
def test_every_kind_begins_ready_to_bend(qtbot, window, row):
    def deed(dialog):
        low, high = machine_of(dialog.brake).drawn(dialog.brake).box
        qtbot.mouseClick(
            dialog.buttons.button(dialog.buttons.StandardButton.Save), Qt.MouseButton.LeftButton
        )
        return low, high

    low, high = entered(qtbot, window, row, deed)
    assert (
        high[0] > low[0]
        and high[1] > low[1]
        and window.session.brake.name.startswith(str(NEW[row].label))
    )
    # A second one of the kind has a name and a key of its own.
    again = NEW[row].begin(window.session.rack, window.session.job.units)
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


def button(dialog, which):
    return dialog.buttons.button(getattr(dialog.buttons.StandardButton, which))


def answered(monkeypatch, answer):
    """What is asked from here on, and what every question is answered with."""
    asked = []
    monkeypatch.setattr(QMessageBox, "question", lambda *a: asked.append(a[2]) or answer)
    return asked


@pytest.fixture
def brake_dialog(qtbot, rack):
    dialog = BrakeDialog(rack["apiary-finger-50"], Units.FRACTIONS, LIGHT)
    qtbot.addWidget(dialog, before_close_func=forget)
    dialog.show()
    dialog.activateWindow()
    qtbot.waitUntil(dialog.isActiveWindow)
    return dialog


def test_a_size_typed_stands_in_its_field(qtbot, brake_dialog):
    for name, text, value in (
        ("bed_depth", "9", 9 * IN),
        ("leaf_bar", "1 1/8", 1.125 * IN),
        ("bed_length", "51", 51 * IN),
    ):
        typed(qtbot, brake_dialog, name, text)
        assert getattr(brake_dialog.brake, name) == pytest.approx(value)
        assert brake_dialog.fields[name].edit.text() == show_length(value, Units.FRACTIONS)


def test_a_bed_of_four_inches_is_asked_about(qtbot, brake_dialog, monkeypatch):
    brake_dialog.change(fingers=[{"width": 3 * IN, "count": 1}])
    typed(qtbot, brake_dialog, "bed_length", "4")
    asked = answered(monkeypatch, QMessageBox.StandardButton.No)
    qtbot.mouseClick(button(brake_dialog, "Save"), Qt.MouseButton.LeftButton)
    assert len(asked) == 1 and '4"' in asked[0] and brake_dialog.isVisible()
    typed(qtbot, brake_dialog, "bed_length", "4 ft")
    qtbot.mouseClick(button(brake_dialog, "Save"), Qt.MouseButton.LeftButton)
    # One finger for a bed of four feet is as odd.
    assert len(asked) == 2 and "side by side" in asked[1] and brake_dialog.isVisible()
    answered(monkeypatch, QMessageBox.StandardButton.Yes)
    qtbot.mouseClick(button(brake_dialog, "Save"), Qt.MouseButton.LeftButton)
    assert brake_dialog.result() and not brake_dialog.isVisible()


def test_escape_asks_before_it_throws_away(qtbot, brake_dialog, monkeypatch):
    asked = answered(monkeypatch, QMessageBox.StandardButton.No)
    typed(qtbot, brake_dialog, "bed_depth", "9")
    qtbot.keyClick(brake_dialog, Qt.Key.Key_Escape)
    assert len(asked) == 1 and brake_dialog.isVisible()
    asked = answered(monkeypatch, QMessageBox.StandardButton.Yes)
    qtbot.keyClick(brake_dialog, Qt.Key.Key_Escape)
    assert len(asked) == 1 and not brake_dialog.isVisible() and not brake_dialog.result()


def test_escape_goes_at_once_where_nothing_was_changed(qtbot, brake_dialog, monkeypatch):
    asked = answered(monkeypatch, QMessageBox.StandardButton.No)
    qtbot.keyClick(brake_dialog, Qt.Key.Key_Escape)
    assert not asked and not brake_dialog.isVisible()


def test_a_brake_with_a_complaint_is_not_kept(qtbot, brake_dialog):
    typed(qtbot, brake_dialog, "bed_depth", "nine")
    assert brake_dialog.fields["bed_depth"].complaint.text()
    qtbot.mouseClick(button(brake_dialog, "Save"), Qt.MouseButton.LeftButton)
    assert brake_dialog.isVisible() and "red" in brake_dialog.complaint.text()
    assert brake_dialog.fields["bed_depth"].edit.hasFocus()
    typed(qtbot, brake_dialog, "bed_depth", "9")
    qtbot.mouseClick(button(brake_dialog, "Save"), Qt.MouseButton.LeftButton)
    assert brake_dialog.result()


def test_fingers_are_seen_as_they_are_taken(qtbot, brake_dialog):
    brake_dialog.list.setCurrentRow(1)
    before = brake_dialog.rack_picture.grab().toImage()
    edit = brake_dialog.pieces.edit
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, "8 x 3")
    assert "may be" in brake_dialog.pieces.complaint.text()
    qtbot.keyClicks(edit, '"')
    assert brake_dialog.brake.fingers[0].count == 8 and brake_dialog.brake.fingers[
        0
    ].width == pytest.approx(3 * IN)
    assert brake_dialog.rack_says.text() == '8 pieces, 24" side by side; the bed is 50".'
    qtbot.waitUntil(lambda: brake_dialog.rack_picture.grab().toImage() != before)


def test_pieces_of_a_punch_outlive_a_change_of_its_name(qtbot, rack):
    dialog = BrakeDialog(rack["shed-press-31"], Units.FRACTIONS, LIGHT)
    qtbot.addWidget(dialog, before_close_func=forget)
    dialog.show()
    row = next(
        i
        for i, (_, field, number) in enumerate(dialog._entries())
        if (field, number) == ("punches", 0)
    )
    dialog.list.setCurrentRow(row)
    form = dialog.page.widget().findChild(ModelForm)
    dialog.pieces.edit.selectAll()
    qtbot.keyClicks(dialog.pieces.edit, '2" x 4')
    assert dialog.brake.punches[0].pieces == (Segment(width=2 * IN, count=4),)
    edit = form.fields["name"].edit
    edit.selectAll()
    qtbot.keyClicks(edit, "Old punch")
    assert dialog.brake.punches[0].name == "Old punch" and dialog.brake.punches[0].pieces == (
        Segment(width=2 * IN, count=4),
    )
