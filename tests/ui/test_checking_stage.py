"""Check: sizes typed one after the other, what explains them, steps ticked, the mate measured, the
note that comes up next time."""

import pytest
from hands import planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QCheckBox

from zealous_crane.demo import demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.model import Cause, Model, Off
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place
from zealous_crane.work.fit import Fit, Pairing
from zealous_crane.work.work import Work


def opened(qtbot, window):
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_6, Qt.KeyboardModifier.ControlModifier)
    page = window.stages["check"]
    assert page.isVisible()
    qtbot.waitUntil(lambda: not page.busy, timeout=60_000)
    return page


def measure(qtbot, page, off):
    """Type what a part with something off would measure, size after size, by Return."""
    session = page.session
    model = Model(session.blank, Striking.of(session.job))
    page.fields[0].setFocus()
    for i, line in enumerate(page.lines):
        field = page.fields[i]
        assert page.chosen == i, "Return went on to the next size"
        value = model.values((line.measure,), off)[0]
        qtbot.keyClicks(
            field, f"{value:.2f}" if line.measure.what == "angle" else f"{value:.2f} mm"
        )
        qtbot.keyClick(field, Qt.Key.Key_Return)


def test_a_part_is_measured_and_its_fault_is_named_and_written_down(qtbot, window):
    session = window.session
    page = opened(qtbot, window)
    wall = next(i for i, f in enumerate(session.blank.folds) if f.name == "right wall")
    measure(qtbot, page, {Cause(Off.ANGLE, wall): -4.0})
    assert page.says.text().startswith("■") and "out of tolerance" in page.says.text()
    assert (
        page.measured.found.causes[0].cause == Cause(Off.ANGLE, wall)
        and "right wall is bent" in page.says.text()
    )
    signs = page.table.signs
    assert "■" in signs and "●" in signs and "" not in signs

    # What is said to be changed is noted by a click, and finishing ticked off.
    def notes():
        return [
            b
            for b in page.findChildren(type(page.done))
            if b.text() == "Note for next time" and b.isVisible()
        ]

    qtbot.waitUntil(lambda: bool(notes()))
    qtbot.mouseClick(notes()[0], Qt.MouseButton.LeftButton)
    assert page.measured.next_text.startswith("Stop the right wall")
    ask = next(
        b
        for b in page.findChildren(type(page.done))
        if b.text() == "Can it be bent again?" and b.isVisible()
    )
    qtbot.mouseClick(ask, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "It can be bent again" in page.question.text())
    boxes = page.findChildren(QCheckBox)
    boxes = [box for box in boxes if box.isVisible()]
    qtbot.mouseClick(boxes[0], Qt.MouseButton.LeftButton)
    assert page.steps.ticked == {"deburr"}
    qtbot.mouseClick(page.done, Qt.MouseButton.LeftButton)
    session.book.settle()
    with Book(book_place(session.shop.parent)) as book:
        sizes, (done,) = book.find("size"), book.find("done")
        assert len(sizes) == len(page.lines) and {s.part for s in sizes} == {1}
        assert (
            done.next_time.startswith("Stop the right wall")
            and done.job == session.job.name
            and "1 steps" in done.note
        )
    # What was noted of this part is not there for another.
    session.parts.add(
        Job(part=OpenBox(length=90, width=80, depth=20), name="beside it", brake=session.job.brake)
    )
    assert page.measured.next_text == "" and page.next_time.edit.text() == ""
    session.mark_saved()
    # Opened again, it comes up first.
    window.show_stage("shape")
    session.start_with(
        Job(part=OpenBox(length=90, width=80, depth=20), name="another", brake=session.job.brake)
    )
    assert not window.stages["shape"].last_time.isVisible()
    session.start_with(demo_work("syrup-tray"))
    qtbot.waitUntil(window.stages["shape"].last_time.isVisible)
    assert "Stop the right wall" in window.stages["shape"].last_time.text()


def test_figures_that_cannot_be_are_refused_where_they_are_typed(qtbot, window):
    page = opened(qtbot, window)
    first = page.fields[0]
    first.setFocus()
    qtbot.keyClicks(first, "368.3")
    qtbot.keyClick(first, Qt.Key.Key_Return)
    assert "in another unit" in page.complaint.text() and not page.measured.got
    qtbot.mouseClick(page.more, Qt.MouseButton.LeftButton)
    assert len(page.fields) == 20 and page.fields[10].hasFocus()
    qtbot.keyClick(page.fields[10], Qt.Key.Key_Up)
    assert page.fields[9].hasFocus()


def test_what_a_drawing_asks_of_one_size_is_typed_beside_it(qtbot, window):
    page = opened(qtbot, window)
    key, before = page.lines[0].measure.key, page.lines[0].allowed
    page.fields[0].setFocus()
    qtbot.keyClicks(page.fields[0], "+- 1/8")
    qtbot.keyClick(page.fields[0], Qt.Key.Key_Return)
    assert window.session.job.sizes_asked == {key: pytest.approx(25.4 / 8)}
    assert page.lines[0].measure.key == key and page.lines[0].allowed == pytest.approx(25.4 / 8)
    qtbot.waitUntil(page.fields[0].isVisible)
    page.fields[0].setFocus()
    qtbot.keyClicks(page.fields[0], "+-")
    qtbot.keyClick(page.fields[0], Qt.Key.Key_Return)
    assert window.session.job.sizes_asked == {} and page.lines[0].allowed == before


def test_the_next_part_begins_empty_and_a_good_one_is_called_good(qtbot, window):
    window.session.edit("quantity", quantity=3)
    planned(qtbot, window.session)
    page = opened(qtbot, window)
    measure(qtbot, page, {})
    assert page.says.text().startswith("●") and "All within normal variation" in page.says.text()
    qtbot.mouseClick(page.next_part, Qt.MouseButton.LeftButton)
    assert (
        page.measured.part == 2
        and not page.measured.got
        and "Part 2 of 3" in page.title.text()
        and page.fields[0].hasFocus()
    )
    assert not any(field.text() for field in page.fields)


def test_a_change_is_taken_into_the_job_and_a_measured_mate_into_the_next_part(qtbot, window):
    fields = {
        "brake": window.session.job.brake,
        "units": "mm",
        "metal": "mild-steel",
        "thickness": "1 mm",
    }
    tray = Job(name="tray", part=OpenBox(length=200, width=150, depth=60), **fields)
    insert = Job(name="insert", part=OpenBox(length=100, width=100, depth=40), **fields)
    fit = Fit(
        follower=1,
        master=0,
        rule="inside",
        sizes=(Pairing(follower="length", master="length"),),
        clearance=2.0,
    )
    session = window.session
    session.start_with(Work(parts=(tray, insert), fits=(fit,)).resolved())
    assert session.work.parts[1].part.length == pytest.approx(196)
    page = opened(qtbot, window)
    (field,) = page.mates.fields
    field.edit.setFocus()
    qtbot.keyClicks(field.edit, "0")
    qtbot.keyClick(field.edit, Qt.Key.Key_Tab)
    assert (
        "more than zero" in field.complaint.text()
        and session.work.fits[0].sizes[0].measured is None
    )
    field.edit.setFocus()
    field.edit.selectAll()
    for letter in "199.2 / 198.8":
        # Where the cursor is, as a person types: the part that follows is made anew after every
        # letter.
        assert QApplication.focusWidget() is field.edit
        qtbot.keyClicks(QApplication.focusWidget(), letter)
    assert field.edit.text() == "199.2 / 198.8"
    qtbot.keyClick(field.edit, Qt.Key.Key_Tab)
    assert field.edit.text() == "198.8 mm"
    assert session.work.fits[0].sizes[0].measured == 198.8, "the less of the two"
    assert session.work.parts[1].part.length == pytest.approx(198.8 - 2 - 2 * 1)
    assert (
        "measured" in session.work.fit_sums(1)[0].text(session.job.units)
        or str(session.work.fit_sums(1)[0].terms[0].what) == "tray, measured"
    )
    session.undo()
    assert session.work.parts[1].part.length == pytest.approx(196)


def test_a_report_is_written(qtbot, window, tmp_path):
    page = opened(qtbot, window)
    measure(qtbot, page, {Cause(Off.LINE, 1): 2.0})
    page.write_report(tmp_path / "made.pdf")
    assert (tmp_path / "made.pdf").read_bytes().startswith(b"%PDF")
    assert develop(window.session.job).size == window.session.blank.size


def test_a_line_that_was_off_asks_what_must_be_opened(qtbot, window):
    """A bend marked in the wrong place: the engine says what is opened to flatten it and mark it
    anew."""
    session = window.session
    planned(qtbot, session)
    page = opened(qtbot, window)
    wall = next(i for i, f in enumerate(session.blank.folds) if f.name == "right wall")
    measure(qtbot, page, {Cause(Off.LINE, wall): 2.0})

    def asks():
        return [
            b
            for b in page.findChildren(type(page.done))
            if b.text() == "Flatten and re-mark it?" and b.isVisible()
        ]

    qtbot.waitUntil(lambda: bool(asks()))
    qtbot.mouseClick(asks()[0], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "re-mark it" in page.question.text(), timeout=60_000)
    assert "Soft metal takes this once" in page.question.text()
