"""Cut in the window: by keys, the sheets of the whole work."""

import pytest
from PySide6.QtCore import Qt
from test_window import planned, window  # noqa: F401 - a fixture

from zealous_crane.desk.stages.cutting import read_offcuts, show_offcuts
from zealous_crane.files import read_work, write_work
from zealous_crane.measure import Units


def typed(qtbot, field, text):
    field.edit.setFocus()
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, text)
    qtbot.keyClick(field.edit, Qt.Key.Key_Tab)


def shown(qtbot, window):  # noqa: F811
    """The stage, opened by its key, with its answer there."""
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    stage = window.stages["cut"]
    qtbot.waitUntil(lambda: stage.isVisible() and bool(stage.told) and "Working" not in stage.says.text(), timeout=15_000)
    return stage


def test_the_sheets_of_the_work_follow_what_it_is_cut_from(qtbot, window, tmp_path):  # noqa: F811
    session = window.session
    session.edit("quantity", quantity=6)
    stage = shown(qtbot, window)
    assert "1 sheet" in stage.says.text() and "rip at" in stage.cuts.text() and len(stage.sheets) == 1
    placed = sum(sheet.alike * len(sheet.placed) for told in stage.told for sheet in told.sheets)
    assert placed == 6
    # A smaller sheet, typed: the answer follows.
    typed(qtbot, stage.form.fields["sheet_length"], "36")
    typed(qtbot, stage.form.fields["sheet_width"], "24")
    qtbot.waitUntil(lambda: "sheets" in stage.says.text(), timeout=15_000)
    assert session.work.cut_from.sheet_length == pytest.approx(36 * 25.4)
    typed(qtbot, stage.offcuts, "20 x 16 x 2")
    qtbot.waitUntil(lambda: "off-cut" in stage.says.text(), timeout=15_000)
    # It is kept with the work, and undone like anything else.
    write_work(session.work, tmp_path / "work.json")
    assert read_work(tmp_path / "work.json").cut_from == session.work.cut_from and session.work.cut_from.offcuts[0].count == 2
    session.undo()
    assert session.work.cut_from.offcuts == ()
    typed(qtbot, stage.form.fields["sheet_width"], "3")
    qtbot.waitUntil(lambda: "comes from none of the sheets" in stage.says.text(), timeout=15_000)
    typed(qtbot, stage.offcuts, "20 by 16")
    assert "length x width" in stage.offcuts.complaint.text()
    planned(qtbot, session)


def test_what_it_is_cut_from_goes_round_with_the_work(window, tmp_path):  # noqa: F811
    from zealous_crane.cut.cut_from import CutFrom, OffCut
    from zealous_crane.demo import demo_work

    work = demo_work("wax-melter-chimney").model_copy(update={"cut_from": CutFrom(offcuts=(OffCut(length=300, width=200),))})
    write_work(work, tmp_path / "w.json")
    assert read_work(tmp_path / "w.json").cut_from == work.cut_from


def test_offcuts_as_they_are_typed():
    found = read_offcuts("32 x 11, 20 1/2 × 15 x 2", Units.FRACTIONS)
    assert [(o.length / 25.4, o.width / 25.4, o.count) for o in found] == [(32, 11, 1), (pytest.approx(20.5), 15, 2)]
    assert read_offcuts(show_offcuts(found, Units.FRACTIONS), Units.FRACTIONS) == found
    with pytest.raises(ValueError, match="length x width"):
        read_offcuts("32", Units.FRACTIONS)
