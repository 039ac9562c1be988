"""The shop: machines copied, renamed, retired and handed out by key and mouse, undone, and there again after a start."""

from in_dialog import in_dialog
from PySide6.QtCore import Qt
from test_window import planned, window  # noqa: F401 - a fixture

from zealous_crane.brake import read_brake, shop_rack
from zealous_crane.desk.shop_dialog import ShopDialog
from zealous_crane.shop.book.record import StockRecord


def in_shop(qtbot, window, deed):  # noqa: F811
    return in_dialog(qtbot, window, ShopDialog, Qt.Key.Key_M, deed)


def at(qtbot, dialog, name):
    """Go to a machine by the arrow keys."""
    dialog.list.setFocus()
    qtbot.keyClick(dialog.list, Qt.Key.Key_Home)
    for _ in range(dialog.list.count()):
        if dialog.brake.name == name:
            return
        qtbot.keyClick(dialog.list, Qt.Key.Key_Down)
    raise AssertionError(name)


def left(qtbot, button):
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def test_a_machine_is_copied_renamed_used_and_undone(qtbot, window, tmp_path):  # noqa: F811
    session = window.session
    before = session.rack
    first = session.brake

    def deed(dialog):
        at(qtbot, dialog, first.name)
        assert "in use for this job" in dialog.list.currentItem().text() and "shipped" in dialog.list.currentItem().text()
        left(qtbot, dialog.copy)
        assert dialog.brake.name == f"{first.name}, copy 1"
        dialog.name.setFocus()
        dialog.name.selectAll()
        qtbot.keyClicks(dialog.name, "Brake by the door")
        qtbot.keyClick(dialog.name, Qt.Key.Key_Return)
        assert "Brake by the door" in dialog.list.currentItem().text() and "your own" in dialog.list.currentItem().text()
        dialog.hand_out(tmp_path / "door.json")
        dialog.name.setFocus()
        dialog.name.selectAll()
        qtbot.keyClick(dialog.name, Qt.Key.Key_Backspace)
        qtbot.keyClick(dialog.name, Qt.Key.Key_Return)
        return dialog.complaint.text()

    assert in_shop(qtbot, window, deed) == "A machine needs a name."
    copy = session.brake
    assert copy.name == "Brake by the door" and read_brake(tmp_path / "door.json") == copy
    assert shop_rack(session.shop)[0][copy.key] == copy, "it is there after a start"
    planned(qtbot, session)
    session.undo()
    session.undo()
    assert session.rack == before and not (session.shop / f"{copy.key}.json").exists()


def test_a_retired_machine_is_offered_no_more_but_still_found(qtbot, window):  # noqa: F811
    session = window.session
    other = next(b for b in session.rack.brakes if b.key != session.job.brake)

    def retire(dialog):
        at(qtbot, dialog, other.name)
        left(qtbot, dialog.retire)
        return dialog.list.currentItem().text(), dialog.retire.text()

    words, button = in_shop(qtbot, window, retire)
    assert "retired" in words and button == "Take &back"
    offered = [window.header.brake.itemText(i) for i in range(window.header.brake.count())]
    assert other.name not in offered and session.rack[other.key] == other
    assert shop_rack(session.shop)[0].retired == {other.key}
    session.undo()
    assert shop_rack(session.shop)[0].retired == frozenset() and session.rack.retired == frozenset()


def test_the_stock_of_the_book_is_shown(qtbot, window):  # noqa: F811
    session = window.session
    session.book.note(
        StockRecord(what="off-cut", metal="brass", thickness=1.0, length=508, width=254, count=2, name="by the wall")
    )
    session.book.settle()

    def look(dialog):
        qtbot.waitUntil(lambda: dialog.pieces.rowCount() == 1)
        return [dialog.pieces.item(0, j).text() for j in range(4)]

    metal, piece, count, name = in_shop(qtbot, window, look)
    assert "rass" in metal and count == "2" and name == "by the wall" and "20" in piece
