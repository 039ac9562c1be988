"""From the start page to a ticked-off Check, by keyboard alone: a work of three parts, twelve of
each."""

import pytest
from hands import planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox

from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.model import Cause, Model, Off
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place


def press(qtbot, widget, key, *modifiers):
    if modifiers and not widget.isActiveWindow():
        widget.activateWindow()
        qtbot.waitUntil(widget.isActiveWindow)
    flags = Qt.KeyboardModifier.NoModifier
    for modifier in modifiers:
        flags |= modifier
    qtbot.keyClick(widget, key, flags)


CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def begun(qtbot, window):
    """The window at its start page, nothing unsaved."""
    window.session.mark_saved()
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    press(qtbot, window, Qt.Key.Key_N, CTRL)
    qtbot.waitUntil(window.others["start"].isVisible)
    return window


def chosen(qtbot, window, name):
    """Go to a card with Tab and open it with Return."""
    card = next(card for card in window.others["start"].cards if card.work.name == name)
    window.others["start"].cards[0].setFocus()
    for _ in range(len(window.others["start"].cards) + 5):
        if card.hasFocus():
            break
        press(qtbot, window.focusWidget(), Qt.Key.Key_Tab)
    assert card.hasFocus(), "Tab comes to every card"
    press(qtbot, card, Qt.Key.Key_Return)


def retyped(qtbot, edit, text):
    edit.setFocus()
    edit.selectAll()
    qtbot.keyClicks(edit, text)
    press(qtbot, edit, Qt.Key.Key_Tab)


def test_three_parts_twelve_of_each_from_the_sheet_to_the_rule(qtbot, begun):
    window = begun
    session = window.session
    names = [card.work.name for card in window.others["start"].cards if len(card.work.parts) == 1]
    chosen(qtbot, window, names[0])
    for name in names[1:3]:
        press(qtbot, window, Qt.Key.Key_N, CTRL, SHIFT)
        qtbot.waitUntil(window.others["start"].isVisible)
        chosen(qtbot, window, name)
    assert len(session.work.parts) == 3
    for number in range(3):
        session.parts.choose(number)
        window.header.quantity.lineEdit().setFocus()
        window.header.quantity.lineEdit().selectAll()
        qtbot.keyClicks(window.header.quantity.lineEdit(), "12")
        press(qtbot, window.header.quantity, Qt.Key.Key_Tab)
    assert [job.quantity for job in session.work.parts] == [12, 12, 12]
    # Cut: everything is on sheets.
    press(qtbot, window, Qt.Key.Key_3, CTRL)
    cut = window.stages["cut"]
    qtbot.waitUntil(lambda: bool(cut.told) and not cut.busy, timeout=60_000)
    made = sum(s.alike * len(s.placed) for told in cut.told for s in told.sheets)
    assert made == 36 and not any(told.cannot for told in cut.told)
    # Bend, then check the first part: the stop of every bend was 2.5° too early.
    session.parts.choose(0)
    press(qtbot, window, Qt.Key.Key_5, CTRL)
    planned(qtbot, session)
    assert session.plan.feasible
    press(qtbot, window, Qt.Key.Key_6, CTRL)
    page = window.stages["check"]
    qtbot.waitUntil(lambda: page.isVisible() and not page.busy, timeout=60_000)
    model = Model(session.blank, Striking.of(session.job))
    off = {Cause(Off.STOPS): -3.0}
    page.fields[0].setFocus()
    for line, field in zip(page.lines, page.fields, strict=True):
        value = float(model.values((line.measure,), off)[0])
        qtbot.keyClicks(
            field, f"{value:.2f}" if line.measure.what == "angle" else f"{value:.2f} mm"
        )
        press(qtbot, field, Qt.Key.Key_Return)
    assert page.measured.found is not None and page.measured.found.causes[0].cause == Cause(
        Off.STOPS
    ), page.says.text()
    qtbot.waitUntil(lambda: any(box.isVisible() for box in page.findChildren(QCheckBox)))
    boxes = [box for box in page.findChildren(QCheckBox) if box.isVisible()]
    for box in boxes:
        box.setFocus()
        press(qtbot, box, Qt.Key.Key_Space)
    assert len(page.steps.ticked) == len(boxes)
    retyped(qtbot, page.next_time.edit, "stop every bend 3 degrees later")
    page.done.setFocus()
    press(qtbot, page.done, Qt.Key.Key_Space)
    session.book.settle()
    with Book(book_place(session.shop.parent)) as book:
        (done,) = book.find("done")
        assert (
            done.next_time == "stop every bend 3 degrees later"
            and done.quantity == 12
            and f"{len(boxes)} steps" in done.note
        )
        assert len(book.find("size")) == len(page.lines)
