"""Bending in another order, cures taken by a click, reading at the brake, editing a brake: in the
real window."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import ezdxf
import pytest
from hands import at_a_bend, forget, planned
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QApplication

from shared_plans import plan_of
from zealous_crane.brake.designer import Bar, propose
from zealous_crane.brake.library import shop_rack
from zealous_crane.brake.tools import Segment
from zealous_crane.demo import demo_job
from zealous_crane.io.dxf_entities import DrawingError
from zealous_crane.io.job_file import read_job
from zealous_crane.io.tool_drawing import read_outline
from zealous_crane.paint.theme import LIGHT
from zealous_crane.planning.angle_feedback import Came, answer, answer_text
from zealous_crane.planning.plan import HandStep, PlannedStroke
from zealous_crane.planning.setup import set_up_of
from zealous_crane.ui.dialogs.brake import (
    BrakeDialog,
    SectionsDialog,
    as_pieces,
    read_corners,
    read_pieces,
    show_pieces,
)
from zealous_crane.units.length import INCH, Units
from zealous_crane.units.quantities import show_angle

CASES = Path(__file__).parents[1] / "cases"


# --- order --------------------------------------------------------------------------------------


class Dropped(QDropEvent):
    """A card let go over the row of cards, as it arrives at the end of a drag."""

    def __init__(self, card, place):
        super().__init__(
            place,
            Qt.DropAction.MoveAction,
            QMimeData(),
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        self.card = card

    def source(self):
        return self.card


def test_a_card_dropped_elsewhere_is_asked_for_there(qtbot, open_window):
    window = open_window(demo_job())
    bend, session = window.stages["bend"], window.session
    window.show_stage("bend")
    before = [s.name for s in planned(qtbot, session).strokes]

    def laid_out():
        lefts = [card.geometry().left() for card in bend.cards]
        return len(lefts) == len(before) and all(b > a + 20 for a, b in pairwise(lefts))

    # Nobody drags a card before it stands in its place.
    qtbot.waitUntil(laid_out)
    first, third = bend.cards[0], bend.cards[2]
    bend.strip.dropEvent(Dropped(first, QPointF(third.geometry().center() + QPoint(20, 0))))
    plan = planned(qtbot, session)
    asked = [before[1], before[2], before[0], *before[3:]]
    assert session.job.order.sequence == tuple(asked) and [s.name for s in plan.strokes] == asked
    assert bend.chosen == 2, "the card that was moved stays the chosen one"


def test_a_card_moved_is_judged_at_once_and_can_be_given_back(qtbot, open_window):
    window = open_window(demo_job())
    bend, session = window.stages["bend"], window.session
    window.show_stage("bend")
    before = [s.name for s in planned(qtbot, session).strokes]
    assert "Drag a card" in bend.order_says.text() and not bend.free.isVisible()
    bend.choose(0)
    qtbot.mouseClick(bend.later, Qt.MouseButton.LeftButton)
    plan = planned(qtbot, session)
    asked = [before[1], before[0], *before[2:]]
    assert session.job.order.sequence == tuple(asked)
    assert plan.feasible and [s.name for s in plan.strokes] == asked
    assert (
        "takes about" in bend.order_says.text()
        or "as good as the program's" in bend.order_says.text()
    )
    qtbot.mouseClick(bend.free, Qt.MouseButton.LeftButton)
    planned(qtbot, session)
    assert not session.job.order.any and [s.name for s in session.plan.strokes] == before
    session.undo()
    assert session.job.order.sequence == tuple(asked)


def test_bends_are_pinned_up_to_the_chosen_one(qtbot, open_window):
    window = open_window(demo_job())
    window.show_stage("bend")
    bend, session = window.stages["bend"], window.session
    before = [s.name for s in session.plan.strokes]
    bend.choose(1)
    qtbot.mouseClick(bend.pin, Qt.MouseButton.LeftButton)
    plan = planned(qtbot, session)
    assert session.job.order.sequence == tuple(before[:2])
    assert [s.name for s in plan.strokes][:2] == before[:2] and len(plan.strokes) == len(before)


def test_the_other_side_is_clamped_when_asked(qtbot, open_window):
    window = open_window(demo_job())
    window.show_stage("bend")
    window.stages["bend"].choose(0)
    stroke = window.stages["bend"].stroke
    name, side = (
        stroke.verdict.stroke.setting.line.name,
        stroke.verdict.stroke.setting.clamps_parent,
    )
    qtbot.mouseClick(window.stages["bend"].other_side, Qt.MouseButton.LeftButton)
    session = window.session
    qtbot.waitUntil(
        lambda: not session.bench_plan.planning and session.plan.job == session.job, timeout=60_000
    )
    assert session.job.order.clamp == {name: "far" if side else "base"}
    if session.plan.feasible:
        again = next(s for s in session.plan.strokes if s.name == name)
        assert again.verdict.stroke.setting.clamps_parent != side


def test_a_cure_is_taken_by_its_link_and_undone(qtbot, open_window):
    job = demo_job("deep-feeder")
    part = job.part.model_copy(update={"depth": 4 * INCH})
    window = open_window(job.model_copy(update={"part": part}))
    session = window.session
    planned(qtbot, session)
    assert not session.plan.feasible and session.plan.cures
    assert '<a href="0">' in window.verdict.details.text()
    deep = session.job
    window.verdict.details.linkActivated.emit("0")
    qtbot.waitUntil(
        lambda: not session.bench_plan.planning and session.plan.job == session.job, timeout=60_000
    )
    assert session.plan.feasible and session.job != deep
    session.undo()
    assert session.job == deep


def test_planning_can_be_stopped(qtbot, open_window):
    window = open_window(demo_job())
    session, said = window.session, []
    session.complained.connect(said.append)
    before = session.plan
    session.bench_plan.again()
    assert session.plan is before, "planned again, the plan of this very job stays"
    session.edit("", quantity=7)
    assert session.plan is None and session.bench_plan.before is before
    session.advanced.emit(120, ("front wall", "back wall", "left wall"), 8)
    assert window.verdict.stop.isVisible() and "3 of 8" in window.verdict.sentence.text()
    qtbot.mouseClick(window.verdict.stop, Qt.MouseButton.LeftButton)
    assert (
        not session.bench_plan.busy
        and session.plan is None
        and session.bench_plan.before is None
        and "lanning was stopped" in said[-1]
    )
    assert not window.verdict.stop.isVisible() and window.verdict.again.isVisible()
    window.show_stage("bend")
    assert (
        window.stages["bend"].working.isVisible() and not window.stages["bend"].body.isVisible()
    ), "no stroke of another job is on show"
    qtbot.mouseClick(window.stages["bend"].working.again, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: session.plan is not None, timeout=60_000)
    assert session.plan.job.quantity == 7 and window.stages["bend"].body.isVisible()


# --- at the brake -------------------------------------------------------------------------------


def test_the_whole_window_is_read_at_the_brake(qtbot, open_window):
    window = open_window(demo_job("hive-roof"))
    window.commands["stage.at-the-brake"].trigger()
    brake = window.others["work"].brake
    assert (
        window.stack.currentWidget() is window.others["work"]
        and brake.isVisible()
        and not window.rail.isVisible()
        and not window.header.isVisible()
    )
    steps = list(window.session.plan.steps)
    assert [isinstance(s, HandStep) for s in steps] == [
        False,
        False,
        False,
        False,
        True,
        False,
        False,
    ]
    assert brake.title.text().lower() == steps[0].name and "Set up" in brake.sections.text()
    assert (
        show_angle(steps[0].machine_stop) == brake.angle.text()
        and steps[0].machine_stop > 31
        and "later" in brake.care.text()
    )
    for _ in range(4):
        qtbot.keyClick(brake, Qt.Key.Key_Space)
    assert (
        brake.title.text() == "By hand" and "45°" in brake.hold.text() and not brake.end.isVisible()
    )
    qtbot.keyClick(brake, Qt.Key.Key_Space)
    assert isinstance(brake.step, PlannedStroke) and "Turn it" in brake.hold.text()
    qtbot.keyClick(brake, Qt.Key.Key_Left)
    assert brake.title.text() == "By hand"
    for _ in range(9):
        qtbot.keyClick(brake, Qt.Key.Key_Space)
    assert "last one" in brake.answer.text()
    qtbot.keyClick(brake, Qt.Key.Key_Escape)
    assert (
        window.stack.currentWidget() is window.stages["bend"]
        and window.rail.isVisible()
        and window.header.isVisible()
    )


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        ("90", "as planned"),
        ("89.4", "as planned"),
        ("88 1/2", "1.5° short. It springs back 4°. Bend again to 94°"),
        ("87,25", "2.8° short. It springs back 5.2°. Bend again to 95.3°"),
        ("093", "3° too far"),
        ("85 left 87 right", "4° short"),
        ("400", "not between"),
        ("-", "could not be read"),
        ("-90", "bent the wrong way"),
        ("3", "far from the 90° expected"),
        ("180", "far from the 90° expected"),
    ],
)
def test_the_angle_you_got_is_answered_by_keyboard_alone(qtbot, open_window, typed, said):
    window = open_window(demo_job())
    window.show_at_brake()
    page = window.others["work"].brake
    for letter in typed:
        qtbot.keyClicks(QApplication.focusWidget() or page, letter)
    qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert said in page.answer.text(), page.answer.text()
    record = page.bent.turn(page.step).record
    if "short" in said or "planned" in said or "too far" in said:
        assert record.got == pytest.approx(
            {"88 1/2": 88.5, "87,25": 87.25, "85 left 87 right": 86}.get(typed) or float(typed)
        )
        assert page.angle.text() == (
            f"{said.split('to ')[1]}" if "again to" in said else page.angle.text()
        )
        # The keys are the page's again: Space goes on, the arrow back, and the answer is still
        # there.
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Space)
        assert page.at == 1 and page.answer.text() == ""
        qtbot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Left)
        assert page.at == 0 and said in page.answer.text()
    else:
        assert record is None and page.angle_got.text(), (
            "nothing is booked, and what was typed stays"
        )


@pytest.mark.parametrize(
    "name", ["deep-feeder", "inspection-tray", "hive-roof", "frame-rail", "observation-skin"]
)
def test_what_the_plan_expects_is_as_planned_on_every_stroke(name, rack):
    """Hems, short stops, folds left part way: the angle the plan itself expects after release is
    never answered with more."""
    job = demo_job(name)
    plan = plan_of(job, rack[job.brake])
    assert plan.feasible
    for stroke in plan.strokes:
        found = set_up_of(plan, stroke)
        assert meant(stroke, found, found.released).came is Came.PLANNED
        for short in (2.0, 5.0, 20.0):
            said = meant(stroke, found, found.released - short)
            touched = (
                min(c.angle for c in (stroke.contact, stroke.verdict.limit) if c)
                if stroke.contact
                else found.greatest
            )
            assert said.again is None or said.again <= min(found.greatest, touched) + 1e-6
            assert said.again is None or not said.ended or "no farther" in answer_text(stroke, said)
        far = meant(stroke, found, found.released + 4.0)
        if far.came is Came.FAR:
            assert far.next_stop == pytest.approx(found.stop_angle - 4.0, abs=0.06)


def test_plate_is_not_opened_by_hand_and_opened_metal_may_crack(rack):
    job = demo_job("inspection-tray")
    plan = plan_of(job, rack[job.brake])
    stroke = next(s for s in plan.strokes if not s.verdict.flattens and not s.verdict.limit)
    found = set_up_of(plan, stroke)
    thin, plate = (
        answer(stroke, found, found.stop_angle, found.target + 5, found.stop_angle - 5, hand)
        for hand in (15.0, 0.0)
    )
    assert "Open it 5° by hand; opened metal may crack" in answer_text(stroke, thin)
    assert "Too much to open by hand here" in answer_text(stroke, plate)


def meant(stroke, found, got):
    """What a reading means where the brake was stopped as planned and one degree more at the stop
    gives one more after release."""
    return answer(
        stroke, found, found.stop_angle, got, found.stop_angle + found.released - got, 90.0
    )


def test_a_short_stop_is_never_sent_past_what_it_meets(rack):
    job = read_job(CASES / "deep-box-short-stop.json")
    plan = plan_of(job, rack[job.brake])
    stroke = plan.strokes[-1]
    found = set_up_of(plan, stroke)
    assert found.limit and stroke.verdict.by_hand > 1
    assert "as planned; the last" in answer_text(stroke, meant(stroke, found, found.released))
    short = meant(stroke, found, found.released - 3)
    assert short.again is None and short.ended and "goes no farther" in answer_text(stroke, short)
    assert "right already" in answer_text(stroke, meant(stroke, found, 90.0))


def test_nothing_to_bend_is_said_at_the_brake(qtbot, open_window):
    window = open_window(demo_job("entrance-channel"))
    window.show_at_brake()
    assert (
        window.others["work"].brake.title.text() == "Nothing to bend."
        and "Nothing for the brake" in window.others["work"].brake.hold.text()
    )


# --- the brake itself ---------------------------------------------------------------------------


def test_pieces_and_corners_read_as_they_are_written():
    pieces = read_pieces('4" × 5, 3" x 2, 1 1/2', Units.FRACTIONS)
    assert [p.width / INCH for p in pieces] == pytest.approx([4, 3, 1.5]) and [
        p.count for p in pieces
    ] == [5, 2, 1]
    assert read_pieces(show_pieces(pieces, Units.FRACTIONS), Units.FRACTIONS) == pieces
    with pytest.raises(ValueError, match="how many"):
        read_pieces("4 × many", Units.FRACTIONS)
    # Eight of three inches, or three of eight? The unit tells, before or after.
    with pytest.raises(ValueError, match=r'3 of 8" or 8 of 3"'):
        read_pieces("8 x 3", Units.FRACTIONS)
    assert read_pieces('8 x 3"', Units.FRACTIONS) == read_pieces('3" x 8', Units.FRACTIONS)
    # In millimetres a piece 3 wide is none, and a rack has no 100 of a width.
    assert read_pieces("100 x 3", Units.MM) == (Segment(width=100, count=3),)
    assert read_pieces("8 1/2 x 3", Units.FRACTIONS)[0].count == 3
    assert read_pieces("4 x 4", Units.FRACTIONS)[0].count == 4
    assert read_corners("0, 0; 8, 10; -8, 10", Units.MM) == ((0, 0), (8, 10), (-8, 10))
    with pytest.raises(ValueError, match="two lengths"):
        read_corners("0; 1, 2", Units.MM)


def test_a_leaf_brake_is_edited(qtbot, rack):
    dialog = BrakeDialog(rack["bench-finger-1000"], Units.MM, LIGHT)
    qtbot.addWidget(dialog, before_close_func=forget)
    assert dialog.change(finger_height=150) is None and dialog.brake.finger_height == 150
    assert (
        "raked face" in dialog.change(throat=400)
        and dialog.brake.throat == 22
        and dialog.complaint.text()
    )
    dialog.list.setCurrentRow(1)
    dialog.pieces.edit.clear()
    qtbot.keyClicks(dialog.pieces.edit, "60 x 3, 20")
    assert dialog.brake.fingers == (Segment(width=60, count=3), Segment(width=20))
    assert "wider than the bed" in dialog.change(fingers=[{"width": 5000}])


def test_a_press_gets_another_punch_with_an_outline_from_a_drawing(qtbot, rack, tmp_path):
    dialog = BrakeDialog(rack["shed-press-31"], Units.FRACTIONS, LIGHT)
    qtbot.addWidget(dialog, before_close_func=forget)
    dialog._add(3)
    assert [p.name for p in dialog.brake.punches][-1] == "Gooseneck punch"
    field, number = dialog.chosen
    assert field == "punches" and number == 2
    drawing = ezdxf.new()
    drawing.units = 4
    drawing.modelspace().add_lwpolyline(
        [(100, 50), (112, 62), (112, 150), (88, 150), (88, 62)], close=True
    )
    drawing.saveas(tmp_path / "punch.dxf")
    assert dialog.bring_outline(field, number, tmp_path / "punch.dxf") is None
    assert set(dialog.brake.punches[2].outline) == {
        (0, 0),
        (12, 12),
        (12, 100),
        (-12, 100),
        (-12, 12),
    }
    dialog.outline.setText("0, 0; 10, 10; 0, 10; 10, 0")
    dialog.outline.editingFinished.emit()
    assert (
        "cuts across itself" in dialog.complaint.text()
        and len(dialog.brake.punches[2].outline) == 5
    )
    dialog._drop()
    assert len(dialog.brake.punches) == 2


def test_a_die_from_a_drawing_stands_with_its_v_over_the_fold(tmp_path):
    drawing = ezdxf.new()
    drawing.units = 4
    points = [(0, 0), (60, 0), (60, 40), (44, 40), (38, 33), (32, 40), (0, 40)]
    drawing.modelspace().add_lwpolyline(points, close=True)
    drawing.saveas(tmp_path / "die.dxf")
    outline = read_outline(tmp_path / "die.dxf", die=True)
    assert (0, -7) in outline and {(-6, 0), (6, 0)} <= set(outline) and (22, -40) in outline
    flat = ezdxf.new()
    flat.units = 4
    flat.modelspace().add_lwpolyline([(0, 0), (60, 0), (60, 40), (0, 40)], close=True)
    flat.saveas(tmp_path / "block.dxf")
    with pytest.raises(DrawingError, match="no V"):
        read_outline(tmp_path / "block.dxf", die=True)


def test_a_kept_brake_is_planned_on_and_stays_in_the_shop(qtbot, open_window, tmp_path):
    window = open_window(demo_job())
    session = window.session
    brake = session.rack[session.job.brake].model_copy(
        update={"finger_height": 6 * INCH, "name": "Taller fingers"}
    )
    assert window.dialogs.keep_brake(brake)
    qtbot.waitUntil(
        lambda: not session.bench_plan.planning and session.plan.brake.name == "Taller fingers",
        timeout=60_000,
    )
    kept, complaints = shop_rack(tmp_path / "data" / "zealous-crane" / "brakes")
    assert kept[brake.key].finger_height == pytest.approx(6 * INCH) and complaints == ()
    assert window.header.brake.currentText() == "Taller fingers"


def test_the_designer_proposes_and_answers_what_cannot_be(qtbot):
    dialog = SectionsDialog(Units.FRACTIONS)
    qtbot.addWidget(dialog)
    assert (
        "doubling" in dialog.list.item(0).text()
        and "every step to 31" in dialog.list.item(0).text()
    )
    dialog.list.setCurrentRow(0)
    assert [p.width / INCH for p in as_pieces(dialog.chosen)] == [16, 8, 4, 2, 1]
    dialog.fields["length"].edit.setText("a yard")
    dialog.refresh()
    assert dialog.complaint.text()
    dialog.fields["length"].edit.setText("1/2")
    dialog.refresh()
    assert "longer than the bar" in dialog.complaint.text()
    assert as_pieces(propose(Bar(100, 2, 0.5, 20, 5))[0])


def test_the_hand_over_is_a_moving_picture_and_then_the_end_view(qtbot, window):
    page, _ = at_a_bend(qtbot, window)
    qtbot.keyClick(page, Qt.Key.Key_Left) if page.at else None
    assert page.end.isVisible() and not page.film.isVisible(), "nothing moves on the way back"
    qtbot.keyClick(page, Qt.Key.Key_Space)
    assert page.film.isVisible() and page.film.playing and not page.end.isVisible()
    first = page.film.moment
    assert first.stroke is page.step and first.at.shift[1] < 0, "it comes from the front"
    qtbot.waitUntil(lambda: not page.film.playing, timeout=20_000)
    assert page.film.moment.raised < 5 and abs(page.film.moment.at.shift).max() < 1
    assert page.end.isVisible() and not page.film.isVisible()
    # Once more, and a step on does not wait for it.
    qtbot.keyClick(page, Qt.Key.Key_P)
    assert page.film.playing
    at = page.at
    qtbot.keyClick(page, Qt.Key.Key_Space)
    assert page.at == at + 1
