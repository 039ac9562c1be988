"""The start page and the questions of the first start, by mouse and key."""

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.io.job_file import write_work
from zealous_crane.metal.material import MATERIALS
from zealous_crane.ui.dialogs.first_start import FirstStart
from zealous_crane.ui.pages.start import IN_A_ROW
from zealous_crane.ui.state.user_settings import Remembered
from zealous_crane.units.length import Units

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def remembered(window, tmp_path):
    window.front.remembered = Remembered(tmp_path / "window.ini")
    window.session.mark_saved()
    return window.front.remembered


def test_without_work_of_ones_own_the_kinds_stand_alone(qtbot, window, remembered):
    window.show_start()
    page = window.others["start"]
    assert page.recent == [] and not page.recent_heading.isVisible()
    assert not page.shelf_heading.isVisible() and page.cards[0].isVisible()


def test_what_was_worked_on_last_comes_first_and_opens(qtbot, window, remembered, tmp_path):
    names = list(DEMOS)[: IN_A_ROW + 2]
    for name in names:
        path = tmp_path / f"{name}.crane"
        write_work(demo_work(name), path)
        remembered.opened(path)
    window.show_start()
    page = window.others["start"]
    assert [card.path.stem for card in page.recent] == names[::-1][:IN_A_ROW]
    assert page.recent_heading.isVisible()
    assert (
        page.recent[0].mapTo(page, page.recent[0].rect().topLeft()).y()
        < page.cards[0].mapTo(page, page.cards[0].rect().topLeft()).y()
    )
    qtbot.waitUntil(lambda: all(card.drawn for card in page.recent))
    part = demo_work(names[-1]).parts[0]
    assert page.recent[0].kind == part.part.label
    qtbot.mouseClick(page.recent[0], LEFT)
    assert window.session.path == page.recent[0].path and window.session.job.name == part.name
    assert window.stages["shape"].isVisible()
    # Where a part is added, files of one's own are not what is chosen from.
    window.show_start(adding=True)
    assert page.recent == []


def test_a_file_that_cannot_be_read_says_so_when_it_is_opened(qtbot, window, remembered, tmp_path):
    path = tmp_path / "torn.crane"
    path.write_text("{")
    remembered.opened(path)
    window.show_start()
    page = window.others["start"]
    (card,) = page.recent
    qtbot.waitUntil(lambda: card.drawn)
    before, said = window.session.job, []
    window.front.refuse = said.append
    window.filing.front.refuse = said.append
    card.setFocus()
    qtbot.keyClick(card, Qt.Key.Key_Return)
    assert window.session.job is before and len(said) == 1


def answered(qtbot, window, do):
    """The questions of the first start, answered by hand once they stand there."""
    seen = []

    def act():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, FirstStart)
        seen.append(dialog)
        do(dialog)

    QTimer.singleShot(200, act)
    window.ask_first()
    return seen


def test_the_first_start_asks_three_things_once(qtbot, window, remembered):
    wanted = next(key for key in MATERIALS if "stainless" in key)

    def do(dialog):
        assert [card.units for card in dialog.units] == list(Units)
        assert [c.brake for c in dialog.brakes] == list(window.session.rack.in_use)
        mm = next(card for card in dialog.units if card.units is Units.MM)
        qtbot.mouseClick(mm, LEFT)
        qtbot.mouseClick(dialog.brakes[1], LEFT)
        while dialog.metal.currentData() != wanted:
            qtbot.keyClick(dialog.metal, Qt.Key.Key_Down)
        qtbot.mouseClick(dialog.go, LEFT)

    assert answered(qtbot, window, do)
    brake = list(window.session.rack.in_use)[1]
    assert window.others["start"].isVisible()
    assert window.session.settings.ways.units is Units.MM
    qtbot.mouseClick(window.others["start"].cards[0], LEFT)
    job = window.session.job
    assert (job.units, job.brake, job.metal) == (Units.MM, brake.key, wanted)
    window.ask_first()
    assert QApplication.activeModalWidget() is None, "it asks once"


def test_it_can_be_skipped_and_whoever_worked_here_is_not_asked(qtbot, window, remembered):
    before = window.session.settings
    assert answered(qtbot, window, lambda dialog: qtbot.mouseClick(dialog.skip, LEFT))
    assert window.session.settings == before and remembered.last == {}
    remembered.welcomed = False
    remembered.left = {"path": "", "stage": "bend"}
    window.ask_first()
    assert QApplication.activeModalWidget() is None
