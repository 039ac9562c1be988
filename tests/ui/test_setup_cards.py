"""Set-ups as cards: the block drawn on each is the plan's, and a click shows its bends."""

import pytest
from hands import planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from shared_plans import plan_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_work
from zealous_crane.paint.theme import LIGHT
from zealous_crane.ui.widgets.setup_cards import SetupCard, bends_text


@pytest.mark.parametrize("key", ["syrup-tray", "comb-box", "wax-melter-chimney", "frame-rail"])
def test_the_block_on_a_card_is_that_of_the_plan(qapp, key):
    job = demo_work(key).parts[0]
    plan = plan_of(job, shipped_rack()[job.brake])
    for number, setup in enumerate(plan.setups, start=1):
        card = SetupCard(number, setup, plan, LIGHT)
        places = card.places()
        assert [width for _, _, width in places] == [
            width for block in setup.blocks for width in block.widths
        ]
        assert all(b - a == pytest.approx(width) for a, b, width in places)
        # They stand as the sections of every bend they serve do.
        first = plan.strokes[setup.strokes[0] - 1].sections
        assert len(first) == len(places)
        for (a, b, _), (low, high) in zip(places, first, strict=True):
            assert a - places[0][0] == pytest.approx(low - first[0][0], abs=0.01)
            assert b - places[0][0] == pytest.approx(high - first[0][0], abs=0.01)


def test_the_bends_of_a_set_up_in_words():
    class Serves:
        def __init__(self, *strokes):
            self.strokes = strokes

    assert bends_text(Serves(2)) == "bend 2"
    assert bends_text(Serves(1, 2)) == "bends 1, 2"
    assert bends_text(Serves(1, 2, 3, 4)) == "bends 1–4"
    assert bends_text(Serves(1, 2, 5)) == "bends 1, 2, 5"


def test_a_card_shows_its_first_bend_and_a_bend_its_card(qtbot, window):
    window.session.start_with(demo_work("comb-box"))
    planned(qtbot, window.session)
    window.show_stage("tool-up")
    page = window.stages["tool-up"]
    qtbot.waitUntil(lambda: bool(page.setups.cards))
    plan = window.session.plan
    cards = page.setups.cards
    assert len(cards) == len(plan.setups) > 1 and cards[0].isChecked()
    for card, setup in zip(cards[::-1], plan.setups[::-1], strict=True):
        qtbot.mouseClick(card, Qt.MouseButton.LeftButton)
        assert page.stroke.number == setup.strokes[0] and card.isChecked()
    page.which.setFocus()
    while page.which.currentIndex() < len(plan.strokes) - 1:
        qtbot.keyClick(page.which, Qt.Key.Key_Down)
    assert cards[plan.strokes[-1].setup].isChecked()


def test_alternatives_are_folded_away_until_they_are_asked_for(qtbot, window):
    planned(qtbot, window.session)
    window.show_stage("tool-up")
    page = window.stages["tool-up"]
    qtbot.waitUntil(page.others.isVisible)

    def labels():
        return [label.text() for label in page.findChildren(QLabel)]

    assert "Alternatives" not in labels()
    qtbot.mouseClick(page.others, Qt.MouseButton.LeftButton)
    assert "Alternatives" in labels()
