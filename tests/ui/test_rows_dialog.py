"""Rows of rivets and spots: added, placed, typed, shared with another part and taken out, by key
and mouse."""

import pytest
from hands import go_down_to, planned
from in_dialog import in_dialog
from PySide6.QtCore import Qt

from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.ui.dialogs.rows import RowsDialog


def in_rows(qtbot, window, deed):
    return in_dialog(qtbot, window, RowsDialog, Qt.Key.Key_R, deed)


def retyped(qtbot, dialog, name, text):
    edit = dialog.form.fields[name].edit
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    qtbot.keyClick(edit, Qt.Key.Key_Tab)


def test_a_row_is_added_placed_and_typed_and_undone(qtbot, window):
    session = window.session
    before = session.work

    def deed(dialog):
        assert "Nothing is joined" in dialog.steps.text()
        qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
        dialog.panel.setFocus()
        qtbot.keyClick(dialog.panel, Qt.Key.Key_Home)
        go_down_to(qtbot, dialog.panel, "front wall")
        retyped(qtbot, dialog, "size", "5/32")
        retyped(qtbot, dialog, "length", "5 ft")
        complaint = dialog.form.fields["length"].complaint.text()
        retyped(qtbot, dialog, "length", "6")
        return complaint, dialog.steps.text()

    complaint, steps = in_rows(qtbot, window, deed)
    assert 'A joint of 60" does not fit on the back edge of the front wall' in complaint
    (row,) = session.blank.rows
    assert (
        row.panel == "front wall"
        and row.size == pytest.approx(25.4 * 5 / 32)
        and row.hole == pytest.approx(0.161 * 25.4)
    )
    assert (
        len([h for h in session.blank.holes if h.name.startswith("rivet hole")])
        == len(row.places)
        >= 4
    )
    assert "Rivet the front wall to the other part" in steps
    assert any(
        step.startswith("Rivet the front wall")
        for step in mark_out(session.blank, session.job.units).steps
    )
    planned(qtbot, session)
    while session.can_undo:
        session.undo()
    assert session.work == before


def test_a_row_is_shared_with_another_part_and_taken_out(qtbot, window):
    session = window.session
    lid = Job(
        name="lid",
        part=OpenBox(length=100, width=80, depth=20),
        brake=session.job.brake,
        units=session.job.units,
    )
    assert session.parts.add(lid) is None

    def share(dialog):
        qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
        go_down_to(qtbot, dialog.behind, f"{session.work.parts[0].name}: front wall")
        return dialog.list.item(0).text()

    words = in_rows(qtbot, window, share)
    assert "lid to front wall of" in words and len(session.work.joints) == 1
    assert [len(job.rows) for job in session.work.parts] == [1, 1]
    one, two = (session.parts.blank_of(i).rows[0] for i in (0, 1))
    assert one.pitch == two.pitch and len(one.places) == len(two.places)

    def take_out(dialog):
        dialog.list.setFocus()
        qtbot.mouseClick(dialog.take_out, Qt.MouseButton.LeftButton)

    in_rows(qtbot, window, take_out)
    assert session.work.joints == () and [job.rows for job in session.work.parts] == [(), ()]
    session.undo()
    assert len(session.work.joints) == 1
