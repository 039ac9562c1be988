"""What is typed at the brake goes into the book at once, and what the book says comes back into the job when it is asked for."""

import pytest
from PySide6.QtCore import Qt
from test_window import planned, window  # noqa: F401 - a fixture

from zealous_crane.metal import MATERIALS
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.place import book_place


def typed(qtbot, page, text):
    """An angle typed with gloves on."""
    qtbot.keyClicks(page, text[0])
    qtbot.keyClicks(page.angle_got, text[1:])
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Return)


def at_a_bend(qtbot, window):  # noqa: F811
    planned(qtbot, window.session)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    page = window.others["at-the-brake"]
    stroke = next(s for s in window.session.plan.strokes if not s.verdict.flattens)
    while page.step is not stroke:
        qtbot.keyClick(page, Qt.Key.Key_Space)
    return page, stroke


def test_every_angle_is_in_the_book_and_teaches_the_next_stop(qtbot, window):  # noqa: F811
    page, stroke = at_a_bend(qtbot, window)
    stop = stroke.verdict.reach
    for _ in range(5):
        typed(qtbot, page, f"{stop - 4:.1f}")
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        bends = book.find("bend", stroke=stroke.name)
        assert len(bends) == 5 and sorted(b.part for b in bends) == [1, 2, 3, 4, 5]
        assert {round(b.springback, 1) for b in bends} == {round((stop - float(f"{stop - 4:.1f}")) * 90 / bends[0].angle, 1)}
        assert bends[0].metal == window.session.job.metal and bends[0].machine == window.session.job.brake
    # Five bends that come back by 4°: the book expects nearly that, and says how much it knows.
    said = page.book_says.text()
    assert "5 bends here" in said and "Stop the next part at 9" in said
    learnt = window.session.book.learnt(window.stages["shape"]._place(), window.session.rack, MATERIALS)
    assert 3.3 < learnt.mean < 4.0


def test_the_job_takes_it_only_when_asked_and_says_where_it_comes_from(qtbot, window):  # noqa: F811
    page, stroke = at_a_bend(qtbot, window)
    session = window.session
    before = session.job
    for _ in range(6):
        typed(qtbot, page, f"{stroke.verdict.reach - 3.5:.1f}")
    assert session.job == before, "a plan stays what its job makes it"
    qtbot.keyClick(page, Qt.Key.Key_Escape)
    window.show_stage("shape")
    button = window.stages["shape"].from_book
    assert button.isVisible() and "6 bends here" in button.text()
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert session.job.springback == pytest.approx(3.3, abs=0.4) and "from the book" in session.job.springback_from
    assert not button.isEnabled()
    planned(qtbot, session)
    assert session.plan.strokes[-1].verdict.springback.angle == pytest.approx(session.job.springback, abs=0.01)
    # Typed over by hand it is the person's own again; undo brings the job back as it was.
    window.stages["shape"].springback.edit.setFocus()
    window.stages["shape"].springback.edit.selectAll()
    qtbot.keyClicks(window.stages["shape"].springback.edit, "2")
    qtbot.keyClick(window.stages["shape"].springback.edit, Qt.Key.Key_Tab)
    assert session.job.springback == 2.0 and session.job.springback_from == ""
    session.undo()
    session.undo()
    assert session.job == before


def test_replanning_loses_nothing(qtbot, window):  # noqa: F811
    page, _ = at_a_bend(qtbot, window)
    typed(qtbot, page, "88")
    window.session.edit("quantity", quantity=3)
    planned(qtbot, window.session)
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        assert [b.got for b in book.find("bend")] == [88.0]


def test_a_book_that_cannot_be_used_is_said_once_and_what_is_typed_waits(qtbot, window):  # noqa: F811
    place = book_place(window.session.shop.parent)
    window.session.book.settle()  # what the window reads as it opens is not overwritten under its hands
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(b"no book" * 400)
    said = []
    window.session.complained.connect(said.append)
    page, _ = at_a_bend(qtbot, window)
    typed(qtbot, page, "88")
    typed(qtbot, page, "88.5")
    qtbot.waitUntil(lambda: any("damaged or no book" in s for s in said), timeout=5000)
    window.session.book.settle()
    assert len(window.session.book.waiting) == 2 and page.answer.text()
    place.unlink()
    typed(qtbot, page, "89")
    qtbot.waitUntil(lambda: not window.session.book.waiting, timeout=5000)
    with Book(place) as book:
        assert sorted(b.got for b in book.find("bend")) == [88.0, 88.5, 89.0]


def test_the_next_parts_stop_is_said_once(qtbot, window):  # noqa: F811
    """Too far: the answer says where to stop next, by all bends so far, and the book does not say another."""
    page, stroke = at_a_bend(qtbot, window)
    for _ in range(4):
        typed(qtbot, page, f"{stroke.verdict.wanted + 3:.1f}")
    stops = [
        part.split("part at ")[1].split("°")[0] for part in (page.answer.text(), page.book_says.text()) if "part at " in part
    ]
    assert len(stops) == 1 and "4 bends here" in page.book_says.text()
    learnt = window.session.book.learnt(window.stages["shape"]._place(), window.session.rack, MATERIALS)
    assert float(stops[0]) == pytest.approx(learnt.stop(stroke.verdict.target), abs=0.06)


def test_a_first_part_is_crept_up_to_and_teaches_its_own_stop(qtbot, window):  # noqa: F811
    page, stroke = at_a_bend(qtbot, window)
    target, planned_stop = stroke.verdict.target, stroke.verdict.reach
    qtbot.keyClick(page, Qt.Key.Key_F)
    assert page.first_part.isChecked() and page.angle.text().startswith(f"{target:g}")
    assert f"Planned is {planned_stop:g}°" in page.hold.text()
    # A sheet that springs back 3.1°, whatever the rule thinks: let go at the angle wanted, it lacks just that.
    typed(qtbot, page, f"{target - 3.1:.1f}")
    assert "springs back 3.1°" in page.answer.text() and f"Go on to {target + 3.1:g}°" in page.answer.text()
    assert page.angle.text().startswith(f"{target + 3.1:g}")
    # Gone on to there it comes out right, and that is said of the angle wanted.
    typed(qtbot, page, f"{target:.1f}")
    assert "as planned. Next." in page.answer.text()
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        bends = sorted(book.find("bend"), key=lambda b: b.part)
        assert [(b.stop, b.got) for b in bends] == [(target, round(target - 3.1, 1)), (round(target + 3.1, 1), target)]
        assert [round(b.springback, 2) for b in bends] == [3.1, 3.1], "both stops teach the same"
    qtbot.keyClick(page, Qt.Key.Key_F)
    assert not page.first_part.isChecked()


def test_both_ends_of_the_leaf_are_read(qtbot, window):  # noqa: F811
    page, stroke = at_a_bend(qtbot, window)
    target = stroke.verdict.target
    typed(qtbot, page, f"{target + 1:g}/{target - 1:g}")
    assert "The left end is bent 2° more" in page.answer.text() and "Set that end back" in page.answer.text()
    typed(qtbot, page, f"{target + 0.2:g}/{target:g}")
    assert "end is bent" not in page.answer.text()
    typed(qtbot, page, "88/89/90")
    assert "left and of the right end" in page.answer.text()
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        assert sorted((b.end, b.got) for b in book.find("bend")) == [
            ("left", target + 0.2), ("left", target + 1), ("right", target - 1), ("right", target)
        ]  # fmt: skip
