"""The bend in three dimensions: what is drawn stands where the engine has it, what touches is red,
and it plays."""

import numpy as np
import pytest
from hands import planned
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_job
from zealous_crane.kernel.plane import turned
from zealous_crane.paint.machine_view import paint_stroke, stroke_faces, touched
from zealous_crane.paint.theme import LIGHT
from zealous_crane.planning.planner import make_plan

NAMES = ("syrup-tray", "frame-rail", "inspection-tray", "extractor-guard", "hive-roof")
PLANS = {
    name: make_plan(demo_job(name), shipped_rack()[demo_job(name).brake])
    for name in NAMES
    if name in DEMOS
}


def corners_of(faces, kinds):
    return np.unique(
        np.concatenate([face.points for face in faces if face.kind in kinds]).round(5), axis=0
    )


@pytest.mark.parametrize("name", list(PLANS))
@pytest.mark.parametrize("share", [0.0, 0.5, 1.0])
def test_the_part_stands_where_the_engine_has_it(name, share):
    """Every corner of every solid of the stroke, turned by hand about the fold."""
    for stroke in PLANS[name].strokes:
        degrees = share * stroke.verdict.reach
        engine = stroke.verdict.stroke
        setting = engine.setting
        drawn = corners_of(
            stroke_faces(stroke, degrees), ("inside", "outside", "edge", "moving", "stop")
        )
        back = -np.radians(degrees) * (1 - engine.in_front)
        for group, solids in enumerate(setting.solids):
            for solid in solids:
                section = solid.corners[:, 1:]
                section = turned(section, setting.pole, np.radians(degrees) if group else 0.0)
                section = turned(section, setting.pole, back)
                wanted = np.column_stack([solid.corners[:, 0], section]).round(5)
                far = np.abs(wanted[:, None] - drawn[None]).max(axis=2).min(axis=1)
                assert far.max() < 1e-4, (name, stroke.name, solid.name)


@pytest.mark.parametrize("name", list(PLANS))
def test_sections_stand_where_the_plan_sets_them(name):
    for stroke in PLANS[name].strokes:
        xs = np.unique(corners_of(stroke_faces(stroke, 0.0), ("section",))[:, 0])
        wanted = np.unique([end for interval in stroke.sections for end in interval])
        assert len(xs) == len(wanted) and np.allclose(xs, wanted, atol=1e-4)


def painted(stroke, degrees, view=(-28.0, 24.0)):
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    p = QPainter(image)
    count = paint_stroke(p, QRectF(0, 0, 400, 300), stroke, degrees, LIGHT, view)
    p.end()
    return image, count


def test_a_picture_turns_and_swings(qapp):
    stroke = PLANS["syrup-tray"].strokes[-1]
    first, count = painted(stroke, 30.0)
    assert count > 50
    assert painted(stroke, 30.0)[0] == first
    assert painted(stroke, 60.0)[0] != first and painted(stroke, 30.0, (40.0, 24.0))[0] != first


def test_what_touches_is_red_where_it_touches_and_not_before():
    met = [
        stroke
        for plan in PLANS.values()
        for stroke in plan.strokes
        if stroke.contact is not None and stroke.contact.angle > 1
    ]
    assert met
    for stroke in met:
        assert touched(stroke, stroke.contact.angle - 1) is None
        assert touched(stroke, stroke.contact.angle) == stroke.contact.obstacle.body
        before = {face.kind for face in stroke_faces(stroke, stroke.contact.angle - 1)}
        at = [f for f in stroke_faces(stroke, stroke.contact.angle) if f.kind == "stop"]
        solids = [s for group in stroke.verdict.stroke.setting.solids for s in group]
        hit = [s for s in solids if s.body == stroke.contact.obstacle.body]
        assert "stop" not in before and bool(at) is bool(hit)


def test_it_is_shown_turned_and_played_by_hand(qtbot, window):
    window.session.start_with(demo_job("syrup-tray"))
    planned(qtbot, window.session)
    window.show_stage("bend")
    page = window.stages["bend"]
    qtbot.waitUntil(lambda: page.isVisible() and bool(page.cards))
    qtbot.mouseClick(page.cards[0], Qt.MouseButton.LeftButton)
    wide = window.width()
    qtbot.mouseClick(page.in_round, Qt.MouseButton.LeftButton)
    assert page.round.isVisible() and not page.end.isVisible() and window.width() == wide
    turn = page.round.turn
    page.round.setFocus()
    qtbot.keyClick(page.round, Qt.Key.Key_Left)
    assert page.round.turn != turn
    reach = page.stroke.verdict.reach
    angles = []
    page.touched.connect(angles.append)
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    assert page.end.angle < reach
    qtbot.waitUntil(lambda: page.end.angle == reach, timeout=20_000)
    assert len(angles) > 20 and angles[1:] == sorted(angles[1:])
    # A second time it stops where it is; all of them go on to the last card.
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    held = page.end.angle
    qtbot.wait(150)
    assert page.end.angle == held < reach
    qtbot.mouseClick(page.cards[2], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(page.play_all, Qt.MouseButton.LeftButton)
    last = len(page.cards) - 1
    qtbot.waitUntil(lambda: page.chosen == last, timeout=20_000)
    qtbot.waitUntil(lambda: page.end.angle == page.stroke.verdict.reach, timeout=20_000)
    qtbot.mouseClick(page.in_round, Qt.MouseButton.LeftButton)
    assert page.end.isVisible() and not page.round.isVisible()
