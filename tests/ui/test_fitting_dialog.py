"""A duct fitting typed in by keys alone."""

import pytest
from hands import planned
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication

from zealous_crane.ui.dialogs.fitting import FittingDialog


def typed(qtbot, window, deed):
    """Open the dialog by its key and do something in it; what was done is returned once it is
    closed."""
    found = []

    def in_dialog():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, FittingDialog)
        found.append(deed(dialog))

    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    QTimer.singleShot(50, in_dialog)
    qtbot.keyClick(
        window,
        Qt.Key.Key_F,
        Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
    )
    return found


def field(qtbot, dialog, name, text):
    edit = dialog.form.fields[name].edit
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    qtbot.keyClick(edit, Qt.Key.Key_Tab)


def press(qtbot, dialog, button):
    qtbot.mouseClick(dialog.buttons.button(button), Qt.MouseButton.LeftButton)


def test_a_fitting_is_typed_made_changed_and_undone(qtbot, window):
    session = window.session
    session.mark_saved()

    def make(dialog):
        field(qtbot, dialog, "length", "18")
        field(qtbot, dialog, "offset_length", "1 1/2")
        field(qtbot, dialog, "height", "2")
        complaint = dialog.form.fields["height"].complaint.text()
        field(qtbot, dialog, "height", "20")
        said = dialog.pieces.text()
        press(qtbot, dialog, dialog.buttons.StandardButton.Ok)
        return complaint, said

    ((complaint, said),) = typed(qtbot, window, make)
    assert "leans by" in complaint, "the last good sizes stay, and the field says why"
    assert 'drive cleat 9" long' in said and "hammer their tails over" in said
    assert len(session.work.parts) == 4 and session.work.fitting.length == 18 * 25.4
    assert session.work.parts[0].part.offset_length == pytest.approx(1.5 * 25.4)
    planned(qtbot, session)

    def widen(dialog):
        field(qtbot, dialog, "length", "20")
        press(qtbot, dialog, dialog.buttons.StandardButton.Ok)

    typed(qtbot, window, widen)
    assert {job.part.length for job in session.work.parts} == {20 * 25.4}
    session.undo()
    assert {job.part.length for job in session.work.parts} == {18 * 25.4}
    assert "Piece of a duct fitting" in window.stages["shape"].parts.follows.text()


def test_leaving_the_dialog_changes_nothing(qtbot, window):
    before = window.session.work
    window.session.mark_saved()

    def leave(dialog):
        field(qtbot, dialog, "length", "18")
        press(qtbot, dialog, dialog.buttons.StandardButton.Cancel)

    typed(qtbot, window, leave)
    assert window.session.work == before
