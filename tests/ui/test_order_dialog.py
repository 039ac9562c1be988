"""Asking for an order in words, bottoming, and a part made in two: in the real window."""

from __future__ import annotations

from hands import planned
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QDialogButtonBox

from zealous_crane.bending.machines import machine_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.flat.development import develop
from zealous_crane.job.job import OrderWishes
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.ui.dialogs.order import OrderDialog
from zealous_crane.units.length import INCH


def dialog_for(job, qtbot) -> OrderDialog:
    dialog = OrderDialog(
        job.order, develop(job), avoidable=machine_of(shipped_rack()[job.brake]).avoidable
    )
    qtbot.addWidget(dialog)
    dialog.show()
    return dialog


def test_one_bend_before_another_is_asked_for_and_taken_back(qtbot):
    dialog = dialog_for(demo_job("inspection-tray"), qtbot)
    dialog.first.setCurrentText("left wall")
    dialog.then.setCurrentText("front wall")
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    assert dialog.wishes.before == (("left wall", "front wall"),) and dialog.complaint.text() == ""
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    assert dialog.list.count() == 1, "asked for twice is asked for once"
    dialog.first.setCurrentText("front wall")
    dialog.then.setCurrentText("left wall")
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    ok = dialog.buttons.button(QDialogButtonBox.StandardButton.Ok)
    assert "contradict" in dialog.complaint.text() and not ok.isEnabled()
    dialog.list.setCurrentRow(0)
    qtbot.mouseClick(dialog.remove, Qt.MouseButton.LeftButton)
    assert dialog.wishes.before == (("front wall", "left wall"),) and ok.isEnabled()
    # A hem is folded while the sheet is flat.
    dialog.then.setCurrentText("left hem")
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    assert (
        "a hem is flattened while the sheet is flat" in dialog.complaint.text()
        and not ok.isEnabled()
    )


def test_everything_asked_for_is_listed_and_can_go(qtbot):
    order = OrderWishes(
        sequence=("front wall", "back wall"),
        before=(("front wall", "left wall"),),
        clamp={"left wall": "far"},
        avoid=("hand",),
    )
    dialog = dialog_for(demo_job().model_copy(update={"order": order}), qtbot)
    said = [dialog.list.item(i).text() for i in range(dialog.list.count())]
    assert said == [
        "In this order:  front wall, back wall",
        "The front wall before the left wall",
        "The left wall with its far side clamped",
    ]
    assert dialog.avoid["hand"].isChecked() and not dialog.avoid["part-way"].isChecked()
    for row, left in ((1, ("sequence", "clamp")), (1, ("sequence",)), (0, ())):
        dialog.list.setCurrentRow(row)
        qtbot.mouseClick(dialog.remove, Qt.MouseButton.LeftButton)
        assert (
            tuple(name for name in ("sequence", "before", "clamp") if getattr(dialog.wishes, name))
            == left
        )
    assert not dialog.remove.isEnabled()
    dialog.avoid["hand"].setChecked(False)
    assert not dialog.wishes.any


def test_on_a_press_only_what_a_press_has_can_be_avoided(qtbot):
    dialog = dialog_for(demo_job("frame-rail"), qtbot)
    assert not dialog.avoid["angle-off"].isVisible() and dialog.avoid["hand"].isVisible()


def test_what_is_asked_for_in_the_bend_stage_is_planned(qtbot, open_window):
    window = open_window(demo_job())
    window.show_stage("bend")
    session = window.session
    first, last = session.plan.strokes[0].name, session.plan.strokes[-1].name

    def answer():
        dialog = QApplication.activeModalWidget()
        dialog.first.setCurrentText(last)
        dialog.then.setCurrentText(first)
        dialog.add.click()
        dialog.buttons.button(QDialogButtonBox.StandardButton.Ok).click()

    QTimer.singleShot(200, answer)
    window.commands["bend.order"].trigger()
    plan = planned(qtbot, session)
    assert session.job.order.before == ((last, first),)
    names = [s.name for s in plan.strokes]
    assert plan.feasible and names.index(last) < names.index(first)
    assert (
        window.stages["bend"].free.isVisible()
        and "order" in window.stages["bend"].order_says.text()
    )


def test_a_press_is_told_to_bottom(qtbot, open_window):
    window = open_window(demo_job("hive-stand-angle"))
    window.show_stage("tool-up")
    session, box = window.session, window.stages["tool-up"].bottomed
    assert box.isVisible() and not box.isChecked()
    qtbot.mouseClick(box, Qt.MouseButton.LeftButton)
    plan = planned(qtbot, session)
    assert session.job.bottomed and plan.job.bottomed
    # Plate this thick is too much for the press when it is bottomed; the cure is to bend it in air
    # again.
    assert (
        box.isVisible()
        and not plan.feasible
        and "bottomed, it needs" in plan.sentence
        and "in air" in plan.advice[0]
    )
    window.verdict.details.linkActivated.emit("0")
    assert planned(qtbot, session).feasible and not session.job.bottomed and not box.isChecked()
    session.undo()
    assert box.isChecked()
    session.undo()
    planned(qtbot, session)
    assert not session.job.bottomed and not box.isChecked()


def test_a_part_made_in_two_stands_as_two_parts_on_the_bench(qtbot, open_window):
    job = demo_job()
    long = job.model_copy(
        update={"part": OpenBox(length=55 * INCH, width=200, depth=50), "name": "hive floor"}
    )
    window = open_window(long)
    session = window.session
    plan = planned(qtbot, session)
    number = next(i for i, cure in enumerate(plan.cures) if cure.also is not None)
    window.verdict.details.linkActivated.emit(str(number))
    plan = planned(qtbot, session)
    assert [part.name for part in session.work.parts] == [
        "hive floor, first half",
        "hive floor, second half",
    ]
    assert session.at == 0 and plan.feasible
    session.parts.choose(1)
    assert planned(qtbot, session).feasible
    session.undo()  # the part on the bench
    session.undo()  # the cut
    assert [part.name for part in session.work.parts] == ["hive floor"]
