"""Cut in the window: by keys, the sheets of the whole work."""

import ezdxf
import pytest
from hands import planned
from PySide6.QtCore import Qt

from zealous_crane.io.job_file import read_work, write_work
from zealous_crane.metal.material import MILD_TENSILE
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place
from zealous_crane.ui.pages.cutting import read_offcuts, show_offcuts
from zealous_crane.units.length import Units


def typed(qtbot, field, text):
    field.edit.setFocus()
    field.edit.selectAll()
    qtbot.keyClicks(field.edit, text)
    qtbot.keyClick(field.edit, Qt.Key.Key_Tab)


def shown(qtbot, window):
    """The stage, opened by its key, with its answer there."""
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_3, Qt.KeyboardModifier.ControlModifier)
    stage = window.stages["cut"]
    qtbot.waitUntil(
        lambda: stage.isVisible() and bool(stage.told) and "Working" not in stage.says.text(),
        timeout=60_000,
    )
    return stage


def test_the_sheets_of_the_work_follow_what_it_is_cut_from(qtbot, window, tmp_path):
    session = window.session
    session.edit("quantity", quantity=6)
    stage = shown(qtbot, window)
    assert "1 sheet" in stage.says.text() and len(stage.sheets) == 1
    assert [card.words.what for _, card in stage.cuts.cards][:2] == ["Square", "Rip"]
    placed = sum(sheet.alike * len(sheet.placed) for told in stage.told for sheet in told.sheets)
    assert placed == 6
    # A smaller sheet, typed: the answer follows.
    typed(qtbot, stage.form.fields["sheet_length"], "36")
    typed(qtbot, stage.form.fields["sheet_width"], "24")
    qtbot.waitUntil(lambda: "sheets" in stage.says.text(), timeout=60_000)
    assert session.work.cut_from.sheet_length == pytest.approx(36 * 25.4)
    typed(qtbot, stage.offcuts, "20 x 16 x 2")
    qtbot.waitUntil(lambda: "off-cut" in stage.says.text(), timeout=60_000)
    # It is kept with the work, and undone like anything else.
    write_work(session.work, tmp_path / "work.json")
    assert (
        read_work(tmp_path / "work.json").cut_from == session.work.cut_from
        and session.work.cut_from.offcuts[0].count == 2
    )
    session.undo()
    assert session.work.cut_from.offcuts == ()
    typed(qtbot, stage.form.fields["sheet_width"], "3")
    qtbot.waitUntil(lambda: "comes from none of the sheets" in stage.says.text(), timeout=60_000)
    typed(qtbot, stage.offcuts, "20 by 16")
    assert "length x width" in stage.offcuts.complaint.text()
    planned(qtbot, session)


def test_what_it_is_cut_from_goes_round_with_the_work(window, tmp_path):
    from zealous_crane.cutting.piece import CutFrom, OffCut
    from zealous_crane.demo import demo_work

    work = demo_work("wax-melter-chimney").model_copy(
        update={"cut_from": CutFrom(offcuts=(OffCut(length=300, width=200),))}
    )
    write_work(work, tmp_path / "w.json")
    assert read_work(tmp_path / "w.json").cut_from == work.cut_from


def test_the_piece_in_hand_says_how_many_and_what_would_go(qtbot, window):
    hand = shown(qtbot, window).hand
    said = lambda words: qtbot.waitUntil(lambda: words in hand.says.text(), timeout=60_000)  # noqa: E731
    typed(qtbot, hand.field, "40 x 31")
    said("this piece gives 4")
    typed(qtbot, hand.field, "19 x 15")
    said("this piece gives none")
    button = hand.ways.itemAt(0).widget()
    qtbot.waitUntil(button.isVisible)
    before = window.session.job
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.session.job != before
    said("this piece gives 1")
    window.session.undo()
    assert window.session.job == before
    # The piece stays typed, and is answered for the part as it is now.
    said("this piece gives none")
    assert hand.field.edit.text() == "19 x 15"
    typed(qtbot, hand.field, "nineteen")
    assert "length x width" in hand.field.complaint.text()
    # Too small both ways: two sizes together.
    typed(qtbot, hand.field, "12 x 8")
    said("this piece gives none")
    button = hand.ways.itemAt(hand.ways.count() - 1).widget()
    assert "; and " in button.text()
    qtbot.waitUntil(button.isVisible)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    said("this piece gives 1")


def test_it_is_handed_over_and_what_is_left_comes_back_from_the_book(qtbot, window, tmp_path):
    session = window.session
    session.edit("quantity", quantity=6)
    stage = shown(qtbot, window)
    typed(qtbot, stage.form.fields["price"], "4.5")
    qtbot.waitUntil(lambda: not stage.busy and stage.told[0].cost is not None, timeout=60_000)
    assert "in metal" in stage.cuts.heads[0].text() and stage.told[0].cost == pytest.approx(
        4.5 * stage.told[0].sheet_mass
    )
    for ending, begins in (
        ("pdf", b"%PDF"),
        ("csv", b"sheet,stock"),
        ("svg", b"<svg"),
        ("dxf", b"  0"),
    ):
        stage.write(tmp_path / f"cut.{ending}")
        assert (tmp_path / f"cut.{ending}").read_bytes().startswith(begins)
    rows = (tmp_path / "cut.csv").read_text().splitlines()
    assert len(rows) == 1 + sum(len(s.cuts) + len(s.offcuts) for t in stage.told for s in t.sheets)
    drawing = ezdxf.readfile(tmp_path / "cut.dxf")
    assert len(drawing.modelspace().query('LWPOLYLINE[layer=="CUT"]')) == 6
    (left,) = [o for s in stage.told[0].sheets for o in s.offcuts]
    qtbot.mouseClick(stage.to_stock, Qt.MouseButton.LeftButton)
    assert "recorded in the book" in stage.says.text()
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        written = book.count("stock")
    # A second click, out of doubt, cuts nothing twice.
    qtbot.mouseClick(stage.to_stock, Qt.MouseButton.LeftButton)
    window.session.book.settle()
    with Book(book_place(window.session.shop.parent)) as book:
        assert book.count("stock") == written > 0 and "already in the book" in stage.says.text()
    qtbot.mouseClick(stage.from_stock, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(stage.cut_from.offcuts))
    (offcut,) = stage.cut_from.offcuts
    assert (offcut.length, offcut.width) == pytest.approx(
        (left.length, left.width)
    ) and offcut.metal == session.job.metal
    # It is used first next time, and gone from the stock once it was cut up.
    qtbot.waitUntil(
        lambda: not stage.busy and any(s.stock.offcut for s in stage.told[0].sheets), timeout=60_000
    )
    qtbot.mouseClick(stage.to_stock, Qt.MouseButton.LeftButton)
    session.book.settle()
    qtbot.mouseClick(stage.from_stock, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: stage.cut_from.offcuts != (offcut,))
    assert all((o.length, o.width) != (offcut.length, offcut.width) for o in stage.cut_from.offcuts)


def test_a_shear_that_is_not_rated_for_it_says_what_it_cuts(qtbot, window):
    session = window.session
    session.edit("metal", metal="stainless", thickness="14 ga")
    stage = shown(qtbot, window)
    typed(qtbot, stage.form.fields["rated"], "0.0598")
    qtbot.waitUntil(lambda: "more than this shear cuts" in stage.says.text(), timeout=60_000)
    # Rated 16 gauge in mild steel: force goes with strength and the thickness squared; the heaviest
    # gauge that goes is named.
    table, strength = session.job.sheet.metal.gauge, session.job.sheet.metal.tensile
    named = int(stage.says.text().split(": ")[-1].split(" ga")[0])
    at_rating = MILD_TENSILE * 0.0598**2
    assert (
        strength * (table.thickness(named) / 25.4) ** 2
        <= at_rating
        < strength * (table.thickness(named - 1) / 25.4) ** 2
    )


def test_offcuts_as_they_are_typed():
    found = read_offcuts("32 x 11, 20 1/2 × 15 x 2", Units.FRACTIONS)
    assert [(o.length / 25.4, o.width / 25.4, o.count) for o in found] == [
        (32, 11, 1),
        (pytest.approx(20.5), 15, 2),
    ]
    assert read_offcuts(show_offcuts(found, Units.FRACTIONS), Units.FRACTIONS) == found
    with pytest.raises(ValueError, match="length x width"):
        read_offcuts("32", Units.FRACTIONS)


def test_a_card_lights_its_cuts_on_the_sheet(qtbot, window):
    """Pointed at, clicked, or reached by the arrow keys: the picture shows where it is cut."""
    window.session.edit("quantity", quantity=6)
    stage = shown(qtbot, window)
    qtbot.waitUntil(lambda: not stage.busy and bool(stage.cuts.cards), timeout=60_000)
    canvas, _sheet = stage.sheets[0]
    cards = [card for _, card in stage.cuts.cards]
    assert [card.words.number for card in cards] == list(range(1, len(cards) + 1))
    assert sum(card.words.times for card in cards) == sum(
        cut.times * one.alike for one in stage.told[0].sheets for cut in one.cuts
    )
    plain = canvas.grab().toImage()
    assert stage.cuts.lit_on(0) == 0
    qtbot.mouseMove(stage.says)
    qtbot.mouseMove(cards[1])
    qtbot.waitUntil(lambda: stage.cuts.lit_on(0) == 2)
    assert canvas.grab().toImage() != plain
    qtbot.mouseMove(stage.says)
    qtbot.waitUntil(lambda: stage.cuts.lit_on(0) == 0)
    assert canvas.grab().toImage() == plain
    qtbot.mouseClick(cards[0], Qt.MouseButton.LeftButton)
    qtbot.keyClick(cards[0], Qt.Key.Key_Down)
    assert stage.cuts.lit_on(0) == 2 and cards[1].isChecked()
    assert canvas.grab().toImage() != plain


def test_a_card_says_all_of_its_setting(qtbot, window):
    """Nothing on it is cut off: the words below its title have the room they need."""
    window.session.edit("quantity", quantity=6)
    stage = shown(qtbot, window)
    qtbot.waitUntil(lambda: not stage.busy and bool(stage.cuts.cards), timeout=60_000)
    holder = stage.cuts
    qtbot.waitUntil(lambda: all(card.width() == holder.width() for _, card in holder.cards))
    for _, card in holder.cards:
        assert card.accessibleName() == card.words.line
        room = card.words_room()
        assert room.bottom() <= card.height() and room.right() < card.width()
