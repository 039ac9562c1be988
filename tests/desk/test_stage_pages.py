"""Pages of the stages are made when they are wanted, and the rest while nobody does anything."""

import pytest
from PySide6.QtWidgets import QLabel, QStackedWidget, QWidget

from zealous_crane.desk.pages import Pages


@pytest.fixture
def pages(qtbot):
    stack = QStackedWidget()
    qtbot.addWidget(stack)
    made = []

    def maker(name):
        def make():
            made.append(name)
            return QLabel(name)

        return make

    return Pages(stack, {name: maker(name) for name in ("first", "second", "third")}), stack, made


def test_a_page_is_made_once_and_when_it_is_wanted(pages):
    stages, stack, made = pages
    assert list(stages) == ["first", "second", "third"] and len(stages) == 3 and made == [] and stack.count() == 0
    second = stages["second"]
    assert stages["second"] is second and made == ["second"] and stack.indexOf(second) == 0
    assert stages.of(second) == "second" and stages.of(QWidget()) is None and made == ["second"]
    assert not stages.ready
    with pytest.raises(KeyError):
        stages["fourth"]


def test_the_rest_is_made_a_page_at_a_time(pages, qtbot):
    stages, stack, made = pages
    stages["third"]
    stages.make_ahead(stack)
    assert made == ["third"]
    qtbot.waitUntil(lambda: len(made) == 2, timeout=5000)
    assert made == ["third", "first"]
    qtbot.waitUntil(lambda: stages.ready, timeout=5000)
    assert made == ["third", "first", "second"] and stack.count() == 3
