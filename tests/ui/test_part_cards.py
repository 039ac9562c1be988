"""The parts of a work as little pictures: which is on the bench is chosen there."""

from hands import planned
from PySide6.QtCore import Qt

from zealous_crane.demo import demo_job, demo_work


def opened(qtbot, window, work):
    window.session.start_with(work)
    planned(qtbot, window.session)
    window.show_stage("shape")
    bar = window.stages["shape"].parts
    qtbot.waitUntil(bar.isVisible)
    return bar


def test_one_part_needs_no_row(qtbot, window):
    bar = opened(qtbot, window, demo_job("syrup-tray"))
    assert not bar.strip.isVisible() and not bar.cards


def test_a_click_or_a_key_brings_a_part_to_the_bench(qtbot, window):
    work = demo_work("wax-melter-chimney")
    bar = opened(qtbot, window, work)
    assert bar.strip.isVisible() and len(bar.cards) == len(work.parts)
    assert [card.name for card in bar.cards] == [part.name for part in work.parts]
    qtbot.mouseClick(bar.cards[1], Qt.MouseButton.LeftButton)
    assert window.session.at == 1 and bar.cards[1].isChecked() and bar.parts.currentIndex() == 1
    window.session.undo()
    assert len(bar.cards) == len(work.parts)
    qtbot.mouseClick(bar.cards[0], Qt.MouseButton.LeftButton)
    bar.cards[0].setFocus()
    qtbot.keyClick(bar.cards[0], Qt.Key.Key_Right)
    assert window.session.at == 1
    assert all(card.width() >= 44 and card.height() >= 44 for card in bar.cards)


def test_a_picture_follows_its_part_and_no_other_is_painted_anew(qtbot, window):
    bar = opened(qtbot, window, demo_work("wax-melter-chimney"))
    qtbot.mouseClick(bar.cards[0], Qt.MouseButton.LeftButton)
    before = list(bar.cards)
    old = before[0].grab().toImage()
    part = window.session.job.part
    assert window.session.edit("", part={**part.model_dump(), "height": part.height * 2}) is None
    changed = [a is not b for a, b in zip(before, bar.cards, strict=True)]
    assert changed[0] and bar.cards[0].grab().toImage() != old
    # What does not follow its height stays as it was.
    assert not any(changed[1:])


def test_what_is_removed_has_no_picture(qtbot, window):
    bar = opened(qtbot, window, demo_work("hive-scale"))
    count = len(bar.cards)
    qtbot.mouseClick(bar.remove, Qt.MouseButton.LeftButton)
    left = len(window.session.work.parts)
    assert left == count - 1
    assert len(bar.cards) == (left if left > 1 else 0)
    window.session.undo()
    assert len(bar.cards) == count and bar.strip.isVisible()
