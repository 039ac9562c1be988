"""What is typed at the brake goes into the book at once, and what the book says comes back into the
job when it is asked for."""

import pytest
from hands import at_a_bend, planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMessageBox

from zealous_crane.demo import demo_job
from zealous_crane.metal.material import MATERIALS
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place
from zealous_crane.ui.state.autosave import SafetyCopy
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window


def typed(qtbot, page, text):
    """An angle typed with gloves on."""
    page.setFocus()
    qtbot.keyClicks(page, text[0])
    qtbot.keyClicks(page.angle_got, text[1:])
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Return)


def hits_of(window, stroke):
    """The bends of a stroke in the book, oldest first."""
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        return sorted(book.find("bend", stroke=stroke.name), key=lambda b: b.part)


def big(page) -> float:
    """The stop that is read from two metres."""
    return float(page.angle.text().rstrip("°"))


def bent_by_the_page(qtbot, page, truth: float) -> int:
    """A part bent as the page says, of metal that springs back so much at 90°; how many hits it
    took."""
    for hit in range(1, 6):
        typed(qtbot, page, f"{big(page) / (1 + truth / 90):.1f}")
        if "Bend again" not in page.answer.text():
            return hit
    raise AssertionError(page.answer.text())


@pytest.mark.parametrize("truth", [0.5, 6.1])
def test_following_the_page_teaches_the_truth(qtbot, window, truth):
    page, stroke = at_a_bend(qtbot, window)
    hits = [bent_by_the_page(qtbot, page, truth) for _ in range(5)]
    bends = hits_of(window, stroke)
    assert [b.part for b in bends] == [1, 2, 3, 4, 5], (
        "a part is one record, however often it is hit"
    )
    assert [len(b.every_hit) for b in bends] == hits and all(
        b.springback == pytest.approx(truth, abs=0.15) for b in bends
    )
    assert max(hits[2:]) == 1, "from the third part on one hit is enough"
    learnt = window.session.book.learnt(
        window.stages["shape"]._place(), window.session.rack, MATERIALS
    )
    assert abs(learnt.mean - truth) < 0.5 and "5 bends on this" in page.book_says.text()
    # The big figure is the next part's stop, also after the page was left.
    stop = big(page)
    assert stop == pytest.approx(90 * (1 + learnt.mean / 90), abs=0.06)
    qtbot.keyClick(page, Qt.Key.Key_Escape)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    while page.step is not stroke:
        qtbot.keyClick(page, Qt.Key.Key_Space)
    assert big(page) == stop and page.bent.turn(stroke).part == 5


def test_a_second_hit_corrects_its_part_and_contradicts_nothing(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    stop = big(page)
    typed(qtbot, page, f"{stop - 6:.1f}")
    again = big(page)
    assert (
        "Bend again to" in page.answer.text()
        and f"{again:g}°" in page.answer.text()
        and again > stop + 1
    )
    typed(qtbot, page, "90")
    (bend,) = hits_of(window, stroke)
    assert (
        [hit.stop for hit in bend.every_hit] == [stop, again]
        and bend.got == 90
        and page.bent.turn(stroke).is_done
    )


def test_the_stop_that_was_made_is_typed(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    qtbot.keyClick(page, Qt.Key.Key_S)
    qtbot.keyClicks(page.stop_made, "80")
    qtbot.keyClick(page.stop_made, Qt.Key.Key_Return)
    assert big(page) == 80
    typed(qtbot, page, "78")
    (bend,) = hits_of(window, stroke)
    # What the leaf goes ahead of the sheet is no springback, and a bend left short on purpose is
    # none.
    sheet = stroke.verdict.stroke.sheet_at(80)
    assert 79 < sheet < 80 and (bend.stop, bend.got) == (pytest.approx(sheet, abs=1e-3), 78)
    assert bend.springback == pytest.approx((sheet - 78) * 90 / 78, abs=0.01)
    assert big(page) > 91
    qtbot.keyClick(page, Qt.Key.Key_S)
    qtbot.keyClicks(page.stop_made, "170")
    qtbot.keyClick(page.stop_made, Qt.Key.Key_Return)
    assert "no farther" in page.answer.text()


def test_readings_that_teach_nothing_are_marked(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    qtbot.keyClick(page, Qt.Key.Key_U)
    assert page.held.isChecked()
    typed(qtbot, page, f"{big(page):g}")
    assert "still clamped" in page.answer.text() and not page.held.isChecked()
    (bend,) = hits_of(window, stroke)
    assert bend.springback is None
    typed(qtbot, page, "85")
    qtbot.keyClick(page, Qt.Key.Key_H)
    typed(qtbot, page, "90")
    assert "finished by hand" in page.answer.text()
    (bend,) = hits_of(window, stroke)
    assert [hit.reading.value for hit in bend.every_hit] == ["~", "", "h"]
    assert bend.springback == pytest.approx((bend.every_hit[1].stop - 85) * 90 / 85)


def test_a_reading_is_taken_back_and_the_part_goes_on(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    stop = big(page)
    typed(qtbot, page, "88")
    typed(qtbot, page, "84")
    qtbot.keyClick(page, Qt.Key.Key_Z)
    (bend,) = hits_of(window, stroke)
    assert (
        [hit.got for hit in bend.every_hit] == [88]
        and "taken back" in page.answer.text()
        and "Bend again" in page.answer.text()
    )
    qtbot.keyClick(page, Qt.Key.Key_Z)
    assert hits_of(window, stroke) == [] and big(page) == stop and not window.session.book.bends
    # Left short on purpose: the next reading is of the next part.
    typed(qtbot, page, "88")
    qtbot.keyClick(page, Qt.Key.Key_N)
    typed(qtbot, page, "89.5")
    assert [(b.part, b.got) for b in hits_of(window, stroke)] == [(1, 88), (2, 89.5)]


def test_a_reading_far_from_what_was_expected_is_asked_about_once(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    typed(qtbot, page, "5")
    assert (
        "far from" in page.answer.text()
        and hits_of(window, stroke) == []
        and page.angle_got.text() == "5"
    )
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Return)
    assert [b.got for b in hits_of(window, stroke)] == [5]


def test_keys_are_commands_only_while_nothing_is_typed(qtbot, window):
    page, _ = at_a_bend(qtbot, window)
    at = page.at
    page.setFocus()
    qtbot.keyClicks(page, "8")
    qtbot.keyClicks(page.angle_got, "8 1/2")
    assert page.angle_got.text() == "88 1/2" and page.at == at
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Left)
    qtbot.keyClicks(page.angle_got, "f")
    assert page.at == at and not page.first_part.isChecked()


def test_the_job_takes_it_only_when_asked_and_says_where_it_comes_from(qtbot, window):
    page, _ = at_a_bend(qtbot, window)
    session = window.session
    before = session.job
    for _ in range(6):
        bent_by_the_page(qtbot, page, 3.5)
    assert session.job == before, "a plan stays what its job makes it"
    qtbot.keyClick(page, Qt.Key.Key_Escape)
    window.show_stage("shape")
    button = window.stages["shape"].from_book
    assert button.isVisible() and "6 bends on this" in button.text()
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert (
        session.job.springback == pytest.approx(3.4, abs=0.3)
        and "from the book" in session.job.springback_from
    )
    assert not button.isEnabled()
    planned(qtbot, session)
    assert session.plan.strokes[-1].verdict.springback.angle == pytest.approx(
        session.job.springback, abs=0.01
    )
    # Typed over by hand it is the person's own again; undo brings the job back as it was.
    window.stages["shape"].springback.edit.setFocus()
    window.stages["shape"].springback.edit.selectAll()
    qtbot.keyClicks(window.stages["shape"].springback.edit, "2")
    qtbot.keyClick(window.stages["shape"].springback.edit, Qt.Key.Key_Tab)
    assert session.job.springback == 2.0 and session.job.springback_from == ""
    session.undo()
    session.undo()
    assert session.job == before


def test_replanning_loses_nothing(qtbot, window):
    page, _ = at_a_bend(qtbot, window)
    typed(qtbot, page, "88")
    window.session.edit("quantity", quantity=3)
    planned(qtbot, window.session)
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        assert [b.got for b in book.find("bend")] == [88.0]


def test_a_book_that_cannot_be_used_is_said_once_and_what_is_typed_waits(qtbot, window):
    place = book_place(window.session.shop.parent)
    window.session.book.settle()  # what the window reads as it opens is not overwritten under its hands  # noqa: E501
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(b"no book" * 400)
    said = []
    window.session.complained.connect(said.append)
    page, _ = at_a_bend(qtbot, window)
    typed(qtbot, page, "90")
    typed(qtbot, page, "90.5")
    qtbot.waitUntil(lambda: any("damaged or no book" in s for s in said), timeout=5000)
    window.session.book.settle()
    assert len(window.session.book.waiting) == 2 and page.answer.text()
    place.unlink()
    typed(qtbot, page, "89.5")
    qtbot.waitUntil(lambda: not window.session.book.waiting, timeout=5000)
    with Book(place) as book:
        assert sorted(b.got for b in book.find("bend")) == [89.5, 90.0, 90.5]


def test_what_could_not_be_written_survives_the_window_and_is_written_by_the_next(
    qtbot, window, monkeypatch
):
    shop = window.session.shop
    place = book_place(shop.parent)
    window.session.book.settle()
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(b"no book" * 400)
    warned = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *words: warned.append(words[-1]))
    page, _ = at_a_bend(qtbot, window)
    typed(qtbot, page, "90")
    typed(qtbot, page, "90.5")
    window.session.book.settle()
    # On disk already, whatever becomes of the window now.
    (kept,) = place.parent.glob("book-waiting-*.json")
    assert kept.read_text(encoding="utf-8").count('"kind": "bend"') == 2
    window.close()
    assert (
        len(warned) == 1
        and warned[0].startswith("2 records could not be written")
        and str(kept) in warned[0]
    )
    place.unlink()
    session = Session(window.session.work, window.session.rack, shop=shop)
    session.book.load()
    qtbot.waitUntil(lambda: len(session.book.bends) == 2 and not session.book.waiting, timeout=5000)
    assert session.close() == "" and not kept.exists()
    with Book(place) as book:
        assert sorted(b.got for b in book.find("bend")) == [90.0, 90.5]


def test_the_next_parts_stop_is_one_figure(qtbot, window):
    """Too far: the answer says where to stop next, by all bends so far, and the big figure is the
    same."""
    page, stroke = at_a_bend(qtbot, window)
    for _ in range(4):
        typed(qtbot, page, f"{stroke.verdict.wanted + 3:.1f}")
    said = float(page.answer.text().split("part at ")[1].split("°")[0])
    assert said == big(page) and "4 bends on this" in page.book_says.text()
    learnt = window.session.book.learnt(
        window.stages["shape"]._place(), window.session.rack, MATERIALS
    )
    assert said == pytest.approx(
        stroke.verdict.stroke.set_for(learnt.stop(stroke.verdict.target)), abs=0.12
    )


def test_a_first_part_is_crept_up_to_and_teaches_its_own_stop(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    target, planned_stop = stroke.verdict.target, stroke.verdict.reach
    qtbot.keyClick(page, Qt.Key.Key_F)
    assert page.first_part.isChecked() and page.angle.text().startswith(f"{target:g}")
    assert f"Planned is {planned_stop:g}°" in page.hold.text()
    # A sheet that springs back 3.1° on the way to 90: let go at the angle wanted, it lacks just
    # that.
    truth = 3.2
    assert bent_by_the_page(qtbot, page, truth) == 2
    (bend,) = hits_of(window, stroke)
    assert bend.every_hit[0].stop == target and bend.every_hit[1].got == pytest.approx(
        target, abs=0.25
    )
    assert bend.springback == pytest.approx(truth, abs=0.1), "both hits teach the same"
    qtbot.keyClick(page, Qt.Key.Key_F)
    assert not page.first_part.isChecked()


def test_both_ends_of_the_leaf_are_read(qtbot, window):
    page, stroke = at_a_bend(qtbot, window)
    target = stroke.verdict.target
    typed(qtbot, page, f"{target + 1:g}/{target - 1:g}")
    assert (
        "The left end is bent 2° more" in page.answer.text()
        and "Set that end back" in page.answer.text()
    )
    typed(qtbot, page, f"{target + 0.2:g} left {target:g} right")
    assert "end is bent" not in page.answer.text()
    typed(qtbot, page, "88/89/90")
    assert "left and of the right end" in page.answer.text()
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        bends = sorted(book.find("bend"), key=lambda b: b.part)
        assert [(b.every_hit[0].left, b.every_hit[0].right) for b in bends] == [
            (target + 1, target - 1),
            (target + 0.2, target),
        ]


def test_a_fold_that_is_bent_twice_has_hits_of_its_own_each_time(qtbot, window):
    """A wall begun to 30° and closed later: two strokes of one name, and what was read of the first
    says nothing of the second."""
    window.session.start_with(demo_job("hive-roof"))
    planned(qtbot, window.session)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    page = window.others["work"].brake
    strokes = window.session.plan.strokes
    first, last = strokes[0], next(s for s in reversed(strokes) if s.name == strokes[0].name)
    assert first is not last
    while page.step is not first:
        qtbot.keyClick(page, Qt.Key.Key_Space)
    typed(qtbot, page, "30")
    assert page.bent.turn(first).record is not None and page.bent.turn(last).record is None


def test_a_lot_goes_on_after_the_program_was_closed(qtbot, window, rack, tmp_path):
    """Two parts are done and the third is short when the lights go out; another window goes on with
    the third."""
    window.session.edit("lot", quantity=24)
    page, stroke = at_a_bend(qtbot, window)
    got = stroke.verdict.target
    typed(qtbot, page, f"{got:g}")
    typed(qtbot, page, f"{got:g}")
    typed(qtbot, page, f"{got - 4:g}")
    assert "part 3 of 24" in page.count.text()
    again = big(page)
    window.session.book.settle()
    session = Session(
        window.session.job,
        rack,
        SafetyCopy(tmp_path / "benches" / "other.json"),
        window.session.shop,
    )
    other = Window(session)
    qtbot.addWidget(other, before_close_func=lambda _: session.mark_saved())
    other.show()
    page, stroke = at_a_bend(qtbot, other)
    qtbot.waitUntil(lambda: "part 3 of 24" in page.count.text())
    assert big(page) == again and "Bend again" in page.answer.text()
    typed(qtbot, page, f"{got:g}")
    assert "part 4 of 24" in page.count.text()
    session.book.settle()
    assert [(b.part, len(b.every_hit)) for b in hits_of(other, stroke)] == [(1, 1), (2, 1), (3, 2)]
    # Another thickness is another lot.
    session.edit("thickness", thickness="22 ga")
    page, stroke = at_a_bend(qtbot, other)
    assert "part 1 of 24" in page.count.text()
