"""A scribe setting lights its lines on the blank; a corner told by points has them in a table."""

import numpy as np
import pytest
from hands import planned
from PySide6.QtCore import QPoint, Qt

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_job
from zealous_crane.flat.element import MadeBy
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.paint.flat import struck_lines
from zealous_crane.units.length import Units

BOXES = ("syrup-tray", "inspection-tray", "safety-edge-tray", "hive-roof", "wax-melter-chimney")


@pytest.mark.parametrize("name", [name for name in BOXES if name in DEMOS])
def test_every_square_fold_is_struck_by_a_setting_and_every_fold_setting_strikes_one(name):
    """Held against the fold lines of the blank itself."""
    job = demo_job(name)
    blank = flat_for(job, shipped_rack()[job.brake])
    struck = [
        line
        for setting in mark_out(blank, job.units).scribe
        if setting.kind == "fold"
        for line in struck_lines(blank, setting)
    ]
    lines = [(np.array(a), np.array(b)) for a, b in struck]

    def on(fold, line):
        a, b = line
        out = np.array([-(b - a)[1], (b - a)[0]]) / np.hypot(*(b - a))
        return all(abs((np.array(p) - a) @ out) < 0.3 for p in (fold.start, fold.end))

    square = [
        fold
        for fold in blank.folds
        if fold.made_by is MadeBy.BRAKE and min(np.abs(np.subtract(fold.end, fold.start))) < 1e-6
    ]
    assert square and all(any(on(fold, line) for line in lines) for fold in square)
    for line in lines:
        assert any(on(fold, line) for fold in blank.folds), line


def opened(qtbot, window, name):
    window.session.start_with(demo_job(name))
    planned(qtbot, window.session)
    window.show_stage("lay-out")
    page = window.stages["lay-out"]
    qtbot.waitUntil(lambda: page.isVisible() and page.scribe.rowCount() > 0)
    return page


def test_a_row_pointed_at_or_walked_to_lights_its_lines(qtbot, window):
    page = opened(qtbot, window, "syrup-tray")
    window.activateWindow()
    plain = page.flat.grab().toImage()
    assert page.lit is None
    table = page.scribe
    at = table.visualItemRect(table.item(0, 0)).center()
    qtbot.mouseMove(table.viewport(), QPoint(2, table.viewport().height() - 2))
    qtbot.mouseMove(table.viewport(), at)
    qtbot.waitUntil(lambda: page.lit is not None)
    first = page.lit
    assert page.flat.grab().toImage() != plain
    qtbot.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=at)
    qtbot.keyClick(table, Qt.Key.Key_Down)
    assert page.lit is not None and page.lit != first
    page.flat.setFocus()
    assert page.lit is None and page.flat.grab().toImage() == plain


def test_a_corner_told_by_points_has_them_in_a_table(qtbot, window):
    page = opened(qtbot, window, "inspection-tray")
    (recipe,) = [r for r in mark_out(window.session.blank, Units.FRACTIONS).corners if r.pointed]
    shown = [
        tuple(page.corner_points.item(row, column).text() for column in range(3))
        for row in range(page.corner_points.rowCount())
    ]
    assert shown == list(recipe.points(window.session.job.units)) and len(shown) == len(recipe.path)
    assert "Four corners alike" in page.corners.text() and shown[1][1] not in page.corners.text()
    assert page.corner_pictures.height() >= 300
