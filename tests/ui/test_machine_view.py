"""The bend in three dimensions: what is drawn stands where the engine has it, what touches is red,
and it plays."""

import numpy as np
import pytest
from hands import planned
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QProgressDialog, QPushButton

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_job
from zealous_crane.kernel.plane import turned
from zealous_crane.paint.machine_view import EYE, Shot, moment_faces, paint_moment, touched
from zealous_crane.paint.theme import LIGHT
from zealous_crane.paper.writers import writer_of
from zealous_crane.planning.motion import clamped
from zealous_crane.planning.planner import make_plan
from zealous_crane.units.quantities import show_angle

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
            moment_faces(clamped(stroke, degrees)), ("inside", "outside", "edge", "moving", "stop")
        )
        back = -np.radians(degrees) * (1 - engine.in_front)
        for group, solids in enumerate(setting.solids):
            for solid in solids:
                section = solid.corners[:, 1:]
                pole = setting.pole + np.array([setting.offset(solid) if group else 0.0, 0.0])
                section = turned(section, pole, np.radians(degrees) if group else 0.0)
                section = turned(section, setting.pole, back)
                wanted = np.column_stack([solid.corners[:, 0], section]).round(5)
                far = np.abs(wanted[:, None] - drawn[None]).max(axis=2).min(axis=1)
                assert far.max() < 1e-4, (name, stroke.name, solid.name)


@pytest.mark.parametrize("name", list(PLANS))
def test_sections_stand_where_the_plan_sets_them(name):
    for stroke in PLANS[name].strokes:
        xs = np.unique(corners_of(moment_faces(clamped(stroke, 0.0)), ("section",))[:, 0])
        wanted = np.unique([end for interval in stroke.sections for end in interval])
        assert len(xs) == len(wanted) and np.allclose(xs, wanted, atol=1e-4)


def painted(stroke, degrees, view=EYE):
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    p = QPainter(image)
    count = paint_moment(p, QRectF(0, 0, 400, 300), clamped(stroke, degrees), LIGHT, Shot(view))
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
        before = {face.kind for face in moment_faces(clamped(stroke, stroke.contact.angle - 1))}
        at = [f for f in moment_faces(clamped(stroke, stroke.contact.angle)) if f.kind == "stop"]
        solids = [s for group in stroke.verdict.stroke.setting.solids for s in group]
        hit = [s for s in solids if s.body == stroke.contact.obstacle.body]
        assert "stop" not in before and bool(at) is bool(hit)


@pytest.fixture
def page(qtbot, window):
    window.session.start_with(demo_job("syrup-tray"))
    planned(qtbot, window.session)
    window.show_stage("bend")
    page = window.stages["bend"]
    qtbot.waitUntil(lambda: page.isVisible() and bool(page.cards))
    qtbot.mouseClick(page.cards[0], Qt.MouseButton.LeftButton)
    return page


def test_it_is_shown_in_the_place_of_the_section_and_turned(qtbot, window, page):
    wide = window.width()
    qtbot.mouseClick(page.in_round, Qt.MouseButton.LeftButton)
    assert page.film.isVisible() and not page.end.isVisible() and window.width() == wide
    turn = page.film.canvas.turn
    page.film.canvas.setFocus()
    qtbot.keyClick(page.film.canvas, Qt.Key.Key_Left)
    assert page.film.canvas.turn != turn
    qtbot.mouseClick(page.in_round, Qt.MouseButton.LeftButton)
    assert page.end.isVisible() and not page.film.isVisible()


def test_a_bend_plays_from_the_sheet_to_the_part_taken_out(qtbot, page):
    film, seen = page.film, []
    film.speed.setCurrentIndex(film.speed.count() - 1)
    film.shown.connect(lambda number, degrees: seen.append((number, film.at, film.caption.text())))
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    assert film.isVisible() and film.playing
    qtbot.waitUntil(lambda: not film.playing, timeout=20_000)
    times = [at for _, at, _ in seen]
    assert {number for number, _, _ in seen} == {1} and times == sorted(times) and len(times) > 10
    said = list(dict.fromkeys(text for _, _, text in seen))
    stop = show_angle(page.stroke.machine_stop)
    assert any(stop in text for text in said) and len(said) >= 4
    assert film.moment.degrees == pytest.approx(page.stroke.verdict.released)
    # Played again it begins anew; a second press stops it where it is.
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    assert film.playing and film.at < times[-1] / 2
    qtbot.mouseClick(page.play, Qt.MouseButton.LeftButton)
    held = film.at
    qtbot.wait(150)
    assert film.at == held and not film.playing


def test_all_of_them_play_to_the_last_card(qtbot, page):
    qtbot.mouseClick(page.cards[2], Qt.MouseButton.LeftButton)
    page.film.speed.setCurrentIndex(page.film.speed.count() - 1)
    qtbot.mouseClick(page.play_all, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: not page.film.playing, timeout=30_000)
    last = len(page.cards) - 1
    assert page.chosen == last and page.cards[last].isChecked()
    assert page.end.angle == pytest.approx(page.stroke.verdict.released)


def test_one_steps_through_it_and_draws_it_along(qtbot, page):
    film = page.film
    qtbot.mouseClick(page.in_round, Qt.MouseButton.LeftButton)
    pills = [film._pill_row.itemAt(k).widget() for k in range(film._pill_row.count())]
    words = [pill.text() for pill in pills]
    assert words == ["bring in", "clamp", "bend", "let go", "take out"]
    qtbot.mouseClick(pills[2], Qt.MouseButton.LeftButton)
    assert film.moment.degrees == 0 and film.moment.raised == 0 and pills[2].isChecked()
    qtbot.mouseClick(film.after, Qt.MouseButton.LeftButton)
    assert pills[3].isChecked()
    assert film.moment.degrees == pytest.approx(page.stroke.verdict.reach, abs=0.1)
    qtbot.mouseClick(film.before, Qt.MouseButton.LeftButton)
    assert pills[2].isChecked()
    # From the last piece of one bend on to the first of the next.
    qtbot.mouseClick(pills[4], Qt.MouseButton.LeftButton)
    qtbot.mouseClick(film.after, Qt.MouseButton.LeftButton)
    assert page.chosen == 1 and film.moment.stroke.number == 2
    film.slider.setFocus()
    qtbot.keyClick(film.slider, Qt.Key.Key_Home)
    low = film.at
    qtbot.keyClick(film.slider, Qt.Key.Key_PageUp)
    assert film.at == pytest.approx(low + 1.0, abs=0.01)
    # Another card, or the handle, shows the bend at its stop again.
    qtbot.mouseClick(page.cards[3], Qt.MouseButton.LeftButton)
    assert film.at is None and film.moment.degrees == page.stroke.verdict.reach


def test_the_film_is_written_while_the_window_goes_on_and_can_be_stopped(
    qtbot, window, page, tmp_path
):
    path = tmp_path / "film.png"
    said = []
    window.handing.front.say = said.append
    window.handing.front.refuse = said.append
    assert window.handing.export(path, writer_of("film"))
    progress = next(d for d in window.findChildren(QProgressDialog) if d.labelText())
    qtbot.waitUntil(lambda: progress.value() > 20)
    assert not path.exists()
    progress.show()
    qtbot.mouseClick(progress.findChild(QPushButton), Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: bool(said))
    qtbot.wait(100)
    assert "Cancelled" in said[0] and not path.exists() and len(said) == 1
    assert window.handing.export(path, writer_of("film"))
    qtbot.waitUntil(path.exists, timeout=60_000)
    assert said[1:] == ["Wrote film.png."]
