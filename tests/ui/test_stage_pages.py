"""Pages of the stages are made when they are wanted, and the rest while nobody does anything."""

import subprocess
import sys
from importlib.util import find_spec

import pytest
from PySide6.QtWidgets import QLabel, QStackedWidget, QWidget

from zealous_crane.paint.queue import Turns
from zealous_crane.ui.pages import stage as ahead
from zealous_crane.ui.pages.stage import StagePages


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

    return (
        StagePages(stack, {name: maker(name) for name in ("first", "second", "third")}),
        stack,
        made,
    )


def test_a_page_is_made_once_and_when_it_is_wanted(pages):
    stages, stack, made = pages
    assert (
        list(stages) == ["first", "second", "third"]
        and len(stages) == 3
        and made == []
        and stack.count() == 0
    )
    second = stages["second"]
    assert stages["second"] is second and made == ["second"] and stack.indexOf(second) == 0
    assert stages.of(second) == "second" and stages.of(QWidget()) is None and made == ["second"]
    assert not stages.ready
    with pytest.raises(KeyError):
        stages["fourth"]


def test_the_rest_is_made_a_page_at_a_time(
    pages, qtbot, monkeypatch, pages_are_made_when_they_are_wanted
):
    monkeypatch.setattr(ahead, "BETWEEN", pages_are_made_when_they_are_wanted)
    stages, stack, made = pages
    stages["third"]
    stages.make_ahead(stack)
    assert made == ["third"]
    qtbot.waitUntil(lambda: len(made) == 2, timeout=5000)
    assert made == ["third", "first"]
    qtbot.waitUntil(lambda: stages.ready, timeout=5000)
    assert made == ["third", "first", "second"] and stack.count() == 3


def test_nothing_is_brought_in_before_what_was_asked_for_is_painted(
    pages, qtbot, monkeypatch, pages_are_made_when_they_are_wanted
):
    monkeypatch.setattr(ahead, "BETWEEN", pages_are_made_when_they_are_wanted)
    begun: list[bool] = []
    monkeypatch.setattr(ahead, "bring_in", lambda: begun.append(True))
    stages, stack, made = pages
    with monkeypatch.context() as something_waits:
        something_waits.setattr(Turns, "through", False)
        stages.make_ahead(stack)
        qtbot.wait(5 * pages_are_made_when_they_are_wanted)
        assert begun == [] and made == []
    qtbot.waitUntil(lambda: stages.ready, timeout=5000)
    assert begun == [True]


STANDING = """
import sys
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.paint.application import application
from zealous_crane.ui.pages.stage import bring_in
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window

def brought_in():
    return {name for name in sys.modules if name.startswith("zealous_crane.")}

app = application()
window = Window(Session(demo_job(), shipped_rack()))
standing = brought_in()
bring_in()
ahead = brought_in()
for stage in window.stages:
    window.stages[stage]
window.session.mark_saved()
window.close()
print(*(standing & {f"zealous_crane.{name}" for name in sys.argv[1:]}))
print(*(name for name in brought_in() - ahead if not name.startswith(("zealous_crane.ui.", "zealous_crane.paint.", "zealous_crane.paper."))))
"""  # noqa: E501


def test_no_window_waits_for_what_it_does_not_show_and_pages_made_ahead_find_theirs_there():
    later = (
        "planning.plan",
        "inspection.model",
        "bending.machines",
        "planning.search",
        "planning.planner",
        "inspection.inspection",
        "cutting.summary",
        "io.dxf_read",
        "practice.make",
        "ui.pages.bend",
        "ui.pages.at_brake",
        "ui.widgets.designer",
        "ui.dialogs.printing",
        "ui.dialogs.brake",
        "ui.pages.start",
    )
    for name in later:
        assert find_spec(f"zealous_crane.{name}") is not None, name
    told = subprocess.run(
        [sys.executable, "-c", STANDING, *later], capture_output=True, text=True, check=True
    ).stdout
    late, not_ahead, _ = told.split("\n")
    assert (late, not_ahead) == ("", "")
