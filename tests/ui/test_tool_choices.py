"""Tools chosen in Tool up by keys and mouse: judged at once, undone like anything else."""

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QDialogButtonBox
from views import settle

from zealous_crane.demo import demo_job
from zealous_crane.paint.application import application
from zealous_crane.planning.remedies.sizes import least_sizes
from zealous_crane.ui.pages.tool_choices import LeastDialog, PiecesDialog
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window
from zealous_crane.units.length import show_length


@pytest.fixture
def opened(qtbot, rack):
    application()

    def made(job):
        session = Session(job, rack)
        window = Window(session)
        qtbot.addWidget(window, before_close_func=lambda _: session.mark_saved())
        window.show()
        settle(session)
        window.show_stage("tool-up")
        window.activateWindow()
        qtbot.waitUntil(window.isActiveWindow)
        return window, window.stages["tool-up"].choices

    return made


def pick(qtbot, box, data):
    """A choice by arrow keys."""
    box.setFocus()
    steps = box.findData(data) - box.currentIndex()
    assert box.findData(data) >= 0
    for _ in range(abs(steps)):
        qtbot.keyClick(box, Qt.Key.Key_Down if steps > 0 else Qt.Key.Key_Up)


def dies(window):
    return {
        s.verdict.stroke.setting.line.name: s.verdict.tooling.chosen["die"]
        for s in window.session.plan.strokes
    }


def test_a_die_is_chosen_for_every_bend_then_for_one_and_taken_back(qtbot, opened):
    window, choices = opened(
        demo_job("frame-rail").model_copy(update={"brake": "honey-press-2000"})
    )
    usual = dies(window)
    assert choices.choices["die"].currentText() == f"{usual['leg 1']} (program)"
    pick(qtbot, choices.choices["die"], "V 10")
    settle(window.session)
    assert set(dies(window).values()) == {"V 10"}
    assert choices.choices["die"].currentText() == "V 10"
    qtbot.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    settle(window.session)
    assert dies(window) == usual
    pick(qtbot, choices.scope, "leg 1")
    assert choices.held.isVisible()
    pick(qtbot, choices.choices["die"], "V 10")
    settle(window.session)
    assert dies(window)["leg 1"] == "V 10" and window.session.job.tools.at == {
        "leg 1": {"die": "V 10"}
    }
    assert choices.fold == "leg 1", "the bend stays chosen"


def test_the_side_that_is_held_is_chosen_beside_the_tools(qtbot, opened):
    window, choices = opened(demo_job())
    pick(qtbot, choices.scope, "front wall")
    pick(qtbot, choices.held, "far")
    settle(window.session)
    assert window.session.job.order.clamp == {"front wall": "far"}
    stroke = next(s for s in window.session.plan.strokes if s.name == "front wall")
    assert not stroke.verdict.stroke.setting.clamps_parent
    pick(qtbot, choices.held, None)
    settle(window.session)
    assert window.session.job.order.clamp == {}


def test_tools_that_do_not_serve_can_be_put_right_where_they_were_chosen(qtbot, opened):
    job = demo_job("frame-rail").model_copy(update={"brake": "honey-press-2000"})
    job = job.model_copy(update={"tools": job.tools.choosing("honey-press-2000", "die", "V 999")})
    window, choices = opened(job)
    assert not window.session.plan.feasible
    assert choices.isVisible() and choices.choices["die"].currentData() == "V 999"
    pick(qtbot, choices.choices["die"], None)
    settle(window.session)
    assert window.session.plan.feasible and not window.session.job.tools.every


def test_a_finger_is_left_out_for_today(qtbot, opened):
    window, choices = opened(demo_job())
    width = window.session.plan.setups[0].blocks[0].widths[0]
    done = []

    def work():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, PiecesDialog)
        count = dialog.counts["fingers", width]
        count.setFocus()
        count.selectAll()
        qtbot.keyClicks(count, "0")
        done.append(count.accessibleName())
        qtbot.mouseClick(
            dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Ok),
            Qt.MouseButton.LeftButton,
        )

    QTimer.singleShot(100, work)
    qtbot.mouseClick(choices.pieces, Qt.MouseButton.LeftButton)
    settle(window.session)
    assert done and window.session.plan.feasible
    assert all(
        width not in block.widths for setup in window.session.plan.setups for block in setup.blocks
    )
    assert "1 short" in choices.pieces.text()
    assert window.session.brake.fingers == window.session.rack[window.session.job.brake].fingers, (
        "the brake stays as it is"
    )


def test_the_least_sizes_stand_in_tool_up_and_behind_a_command(qtbot, opened):
    """The same figures in the window, in the command's dialog."""
    window, _ = opened(demo_job())
    page = window.stages["tool-up"]
    qtbot.waitUntil(lambda: "return, between two bends" in page.gauging.text(), timeout=20_000)
    known = least_sizes(window.session.brake, window.session.job.sheet)
    for one in known:
        assert (
            show_length(one.size, window.session.job.units.fine, pretty=True) in page.gauging.text()
        )
    seen = []

    def look():
        dialog = window.findChild(LeastDialog)
        if dialog is None or dialog.table.rowCount() < len(known):
            QTimer.singleShot(50, look)
            return
        seen.extend(
            (dialog.table.item(i, 0).text(), dialog.table.item(i, 1).text())
            for i in range(dialog.table.rowCount())
        )
        qtbot.keyClick(dialog, Qt.Key.Key_Escape)

    QTimer.singleShot(0, look)
    qtbot.keyClick(
        window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier
    )
    units = window.session.job.units.fine
    assert seen == [(str(one.what), show_length(one.size, units, pretty=True)) for one in known]
