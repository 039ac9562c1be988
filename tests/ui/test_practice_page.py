"""Practising by keys: an exercise opened, answered wrong and right, hinted, and written into the
book."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit

import paper
from zealous_crane.paint.application import application
from zealous_crane.paper.sheets import write_exercise
from zealous_crane.practice.bending import ORDER
from zealous_crane.practice.layout import LAY_OUT
from zealous_crane.practice.make import SKILLS, exercise
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place


def plain(text):
    """As it is typed: pretty fractions back into figures."""
    figures = dict(zip("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉⁄", "01234567890123456789/", strict=True))
    return "".join(figures.get(c, c) for c in text)


def opened(qtbot, window, skill, grade, seed):
    window.activateWindow()
    qtbot.keyClick(
        window,
        Qt.Key.Key_L,
        Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier,
    )
    page = window.others["practice"]
    qtbot.waitUntil(lambda: page.exercise is not None, timeout=60_000)
    page.set_exercise(skill, grade, seed)
    wanted = f"{skill.key}:{grade}:{seed}"
    qtbot.waitUntil(lambda: page.exercise.id == wanted and page.check.isEnabled(), timeout=60_000)
    return page


def test_a_layout_is_answered_by_keys_and_comes_into_the_book(qtbot, window, tmp_path):
    page = opened(qtbot, window, LAY_OUT, 1, 1)
    qtbot.keyClicks(page.learner, "Ann")
    first = page.asked[0]
    assert isinstance(first.field, QLineEdit) and first.field.hasFocus()
    qtbot.keyClicks(first.field, "nonsense")
    qtbot.mouseClick(page.check, Qt.MouseButton.LeftButton)
    assert "could not be read" in first.message.text()
    first.field.clear()
    qtbot.keyClicks(first.field, "3 in")
    qtbot.mouseClick(page.check, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: first.mark is not None and page.check.isEnabled())
    assert first.message.text().startswith("■")
    qtbot.mouseClick(page.hint, Qt.MouseButton.LeftButton)
    assert "Add every flat" in first.message.text()
    qtbot.mouseClick(page.hint, Qt.MouseButton.LeftButton)
    assert first.message.text() == f"▲  It is {first.question.answer}.", (
        "asked once more, the answer"
    )
    for asked in page.asked:
        answer = plain(asked.question.answer.rsplit("= ", 1)[-1].removeprefix("≈"))
        asked.field.setFocus()
        asked.field.clear()
        qtbot.keyClicks(asked.field, answer)
    qtbot.mouseClick(page.check, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "in the book" in page.message.text(), timeout=60_000)
    page.answers.setChecked(True)
    page.write_paper(tmp_path / "sheet.pdf")
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    session = window.session
    session.book.settle()
    with Book(book_place(session.shop.parent)) as book:
        (record,) = book.find("practice")
    assert (
        record.who == "Ann"
        and record.exercise == "lay-out:1:1"
        and record.right == record.asked - 1
    )


@pytest.mark.parametrize("skill", SKILLS, ids=lambda skill: skill.key)
def test_the_teachers_sheet_says_the_answers_only_where_it_is_asked_for(rack, tmp_path, skill):
    application()
    asked = exercise(skill, 2, 6, rack)
    said = {}
    for answers in (True, False):
        write_exercise(asked, tmp_path / "sheet.pdf", answers=answers)
        said[answers] = paper.text_of(tmp_path / "sheet.pdf")
    for question in asked.questions:
        letter = (
            f"{chr(97 + question.options.index(question.answer))}) "
            if question.answer in question.options
            else ""
        )
        assert f"Answer: {letter}{paper.typed(question.answer)}" in said[True]
        assert all(paper.typed(question.says) in text for text in said.values())
    assert "Answer:" not in said[False] and "____" in said[False] and "____" not in said[True]


def test_no_stage_is_marked_while_one_practises(window):
    window.show_stage("bend")
    assert window.rail.buttons["bend"].isChecked()
    window.show_practice()
    assert not any(button.isChecked() for button in window.rail.buttons.values())
    window.show_stage("lay-out")
    assert [id_ for id_, button in window.rail.buttons.items() if button.isChecked()] == ["lay-out"]


def test_bends_are_put_in_order_with_alt_and_the_arrows(qtbot, window):
    page = opened(qtbot, window, ORDER, 1, 3)
    field = page.asked[0].field
    before = field.order
    field.setFocus()
    field.setCurrentRow(0)
    qtbot.keyClick(field, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert field.order == (before[1], before[0], *before[2:])
    qtbot.mouseClick(page.check, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: page.asked[0].mark is not None, timeout=60_000)
    assert page.asked[0].message.text()[0] in "●■" and any(
        "real machine" in str(c) for c in page.exercise.cautions
    )
