"""What hands do at the window, for its tests."""

from __future__ import annotations

from PySide6.QtCore import Qt

from zealous_crane.paint.queue import Turns
from zealous_crane.ui.widgets.field import TextField


def planned(qtbot, session):
    """Wait until the plan on show is that of the job, cures included."""
    qtbot.waitUntil(
        lambda: session.plan is not None and not session.bench_plan.busy and Turns.of_all().through,
        timeout=60_000,
    )
    return session.plan


def retype(qtbot, field, text):
    field.edit.setFocus()
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, text)


def choose(box, value):
    """Choose an entry of a combo box as a person does."""
    index = box.findData(value)
    assert index >= 0
    box.setCurrentIndex(index)
    box.activated.emit(index)


def go_down_to(qtbot, choice, text):
    """Go down a list by its arrow key until what is wanted is chosen."""
    choice.setFocus()
    while choice.currentText() != text:
        at = choice.currentIndex()
        qtbot.keyClick(choice, Qt.Key.Key_Down)
        assert choice.currentIndex() > at, f"{text} is not in the list"


def forget(dialog):
    """Nothing is asked when a test lets go of the dialog."""
    dialog._begun = dialog.brake
    for field in dialog.findChildren(TextField):
        field.complain(None)


def at_a_bend(qtbot, window):
    planned(qtbot, window.session)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    page = window.others["work"].brake
    stroke = next(s for s in window.session.plan.strokes if not s.verdict.flattens)
    while page.step is not stroke:
        qtbot.keyClick(page, Qt.Key.Key_Space)
    return page, stroke
