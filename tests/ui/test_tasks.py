"""Twelve tasks of three people, done with keys and mouse alone and counted: a chord, a key, a click
or one figure typed is one action.

Counted too on version 0.4.0, where the task could be done there: docs/tasks.md.
"""

import re
from pathlib import Path

import pytest
from hands import planned
from PySide6.QtCore import QMimeData, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QDialogButtonBox,
    QFileDialog,
    QLabel,
    QSpinBox,
    QToolButton,
)

from zealous_crane.demo import demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.model import Cause, Model, Off
from zealous_crane.io.dxf_write import write_dxf
from zealous_crane.ui.dialogs.strip import StripDialog
from zealous_crane.ui.pages.tool_choices import PiecesDialog

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
MOST = {
    int(row[0]): int(row[1])
    for row in re.findall(
        r"^\| (\d+) \|.*\| (\d+) \|$",
        (Path(__file__).parents[2] / "docs" / "tasks.md").read_text(),
        re.MULTILINE,
    )
}
"""Actions each task takes, as docs/tasks.md says."""


class Hands:
    """What a person does, each thing counted."""

    def __init__(self, qtbot, made):
        self.qtbot, self.window, self.count = qtbot, made, 0
        made.activateWindow()
        qtbot.waitUntil(made.isActiveWindow)

    @property
    def on(self):
        """Where the keys go."""
        return QApplication.focusWidget() or self.window

    def key(self, key, *modifiers, on=None):
        flags = Qt.KeyboardModifier.NoModifier
        for modifier in modifiers:
            flags |= modifier
        self.qtbot.keyClick(on or self.on, key, flags)
        self.count += 1

    def type(self, text):
        for letter in text:
            # The first letter may put the cursor somewhere.
            self.qtbot.keyClicks(self.on, letter)
        self.count += 1

    def click(self, widget, at=None):
        assert widget.isVisible() and widget.isEnabled(), widget
        self.qtbot.mouseClick(
            widget, Qt.MouseButton.LeftButton, pos=at
        ) if at else self.qtbot.mouseClick(widget, Qt.MouseButton.LeftButton)
        self.count += 1

    def choose(self, box: QComboBox, data):
        """A click opens the list, a click takes an entry."""
        self.click(box)
        view, row = box.view(), box.findData(data)
        assert row >= 0
        self.qtbot.waitUntil(view.isVisible)
        place = view.visualRect(view.model().index(row, 0)).center()
        self.qtbot.mouseMove(view.viewport(), place)
        self.qtbot.mouseClick(view.viewport(), Qt.MouseButton.LeftButton, pos=place)
        self.qtbot.waitUntil(lambda: not view.isVisible())
        self.count += 1

    def shows(self, test, timeout=60_000):
        self.qtbot.waitUntil(test, timeout=timeout)

    def in_dialog(self, kind, work):
        """Do this in the next dialog, once it is there."""

        def now():
            dialog = next(
                (
                    w
                    for w in QApplication.topLevelWidgets()
                    if isinstance(w, kind) and w.isVisible()
                ),
                None,
            )
            if dialog is None:
                QTimer.singleShot(30, now)
            elif not dialog.isActiveWindow():
                dialog.activateWindow()
                QTimer.singleShot(30, now)
            else:
                work(dialog)

        QTimer.singleShot(30, now)


@pytest.fixture
def hands(qtbot, window):
    def opened(work=None):
        if work is not None:
            window.session.mark_saved()
            window.session.start_with(work)
            window.show_stage("shape")
            planned(qtbot, window.session)
        return Hands(qtbot, window)

    return opened


def done(hands, task):
    assert hands.count == MOST[task], f"task {task} took {hands.count}"


# --- the sheet-metal hand -----------------------------------------------------------------------


def test_1_a_box_of_ones_own_sizes(hands, qtbot, window):
    window.session.mark_saved()
    h = hands()
    h.key(Qt.Key.Key_N, CTRL)
    h.click(
        next(
            card
            for card in window.others["start"].cards
            if card.work.parts[0].part.kind == "open-box"
        )
    )
    for size in ("12 1/2", "8", "2 1/4"):
        h.type(size)
        h.key(Qt.Key.Key_Tab)
    planned(qtbot, window.session)
    part = window.session.job.part
    assert [round(x / 25.4, 3) for x in (part.length, part.width, part.depth)] == [
        12.5,
        8,
        2.25,
    ] and window.session.plan.feasible
    done(h, 1)


def test_2_without_one_finger_today(hands, qtbot, window):
    h = hands()
    width = window.session.plan.setups[0].blocks[0].widths[0]
    h.key(Qt.Key.Key_4, CTRL)

    def work(dialog):
        count: QSpinBox = dialog.counts["fingers", width]
        h.click(count)
        count.selectAll()
        h.type("0")
        h.click(dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Ok))

    h.in_dialog(PiecesDialog, work)
    h.click(window.stages["tool-up"].choices.pieces)
    planned(qtbot, window.session)
    assert window.session.plan.feasible
    assert all(
        width not in block.widths for setup in window.session.plan.setups for block in setup.blocks
    )
    done(h, 2)


def test_3_to_the_end_of_lay_out_by_tab(hands, window):
    """From the rail to the film's choice, which is the page's last but for its sums and the folded
    picture."""
    h = hands(demo_job("inspection-tray"))
    h.key(Qt.Key.Key_2, CTRL)
    while not window.stages["lay-out"].film.hasFocus():
        h.key(Qt.Key.Key_Tab)
        assert h.count < 40, "there is a trap on the way"
    done(h, 3)


def test_4_the_angle_got_says_what_it_means_for_the_stop(hands, window):
    h = hands()
    h.key(Qt.Key.Key_F5)
    while not hasattr(window.others["work"].brake.step, "verdict"):
        h.key(Qt.Key.Key_Space)
    h.type("87")
    h.key(Qt.Key.Key_Return)
    assert (
        window.others["work"].brake.answer.text()
        == "87°: 3° short. It springs back 5.5°. Bend again to 95.6°."
    )
    done(h, 4)


# --- the fabricator -----------------------------------------------------------------------------


def test_5_another_die_and_back(hands, qtbot, window):
    job = demo_job("frame-rail").model_copy(update={"brake": "honey-press-2000"})
    h = hands(job)
    h.key(Qt.Key.Key_4, CTRL)
    box = window.stages["tool-up"].choices.choices["die"]
    h.shows(box.isVisible)
    h.choose(box, "V 10")
    planned(qtbot, window.session)
    assert {s.verdict.tooling.chosen["die"] for s in window.session.plan.strokes} == {"V 10"}
    h.key(Qt.Key.Key_Z, CTRL)
    planned(qtbot, window.session)
    assert not window.session.job.tools.every
    done(h, 5)


def test_6_one_leg_more(hands, qtbot, window):
    h = hands(demo_job("extractor-guard"))
    legs = window.session.job.part.legs
    more = next(
        b
        for b in window.stages["shape"].form.findChildren(QToolButton)
        if b.text() == "+" and b.isVisible()
    )
    h.click(more)
    planned(qtbot, window.session)
    part = window.session.job.part
    assert part.legs == (*legs, legs[-1]) and len(part.angles) == len(legs)
    done(h, 6)


def test_7_a_test_strip_measured_and_used(hands, qtbot, window):
    h = hands()
    found = []

    def work(dialog):
        flat = dialog.record.flat
        fields = dialog.form.fields
        for name, text in (
            ("leg_one", f"{flat / 2 + 0.5:.2f} mm"),
            ("leg_two", f"{flat / 2 + 0.4:.2f} mm"),
            ("angle", "89"),
            ("stop", "92"),
        ):
            h.click(fields[name].edit)
            fields[name].edit.selectAll()
            h.type(text)
            qtbot.keyClick(fields[name].edit, Qt.Key.Key_Return)
        h.click(dialog.save)
        found.append(dialog)

    h.in_dialog(StripDialog, work)
    h.key(Qt.Key.Key_K, CTRL, SHIFT)
    h.shows(lambda: bool(found))
    assert window.session.job.springback == 3.0 and window.session.job.springback_from.startswith(
        "from a test strip"
    )
    done(h, 7)


def test_8_a_drawn_flat_is_dropped_and_planned(hands, qtbot, window, tmp_path):
    write_dxf(develop(demo_job("syrup-tray")), tmp_path / "flat.dxf")
    window.session.mark_saved()
    h = hands()
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(tmp_path / "flat.dxf"))])
    at, none = QPointF(400, 400), Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(
        at.toPoint(), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, none
    )
    QApplication.sendEvent(window, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(
        window, QDropEvent(at, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, none)
    )
    h.count += 1
    planned(qtbot, window.session)
    assert (
        window.session.job.part.kind == "flat"
        and window.session.plan.feasible
        and len(window.session.blank.folds) == 4
    )
    done(h, 8)


# --- the maker or student -----------------------------------------------------------------------


def test_9_the_lid_follows_the_base(hands, qtbot, window):
    h = hands(demo_work("hive-scale"))
    lid = window.session.work.parts[1].part
    h.click(window.stages["shape"].field("width").edit)
    window.stages["shape"].field("width").edit.selectAll()
    h.type("120 mm")
    h.key(Qt.Key.Key_Return)
    base = window.session.work.parts[0].part
    now = window.session.work.parts[1].part
    assert base.width == 120 and (now.length, now.width) != (lid.length, lid.width)
    done(h, 9)


def test_10_too_deep_a_box_and_a_cure_taken(hands, qtbot, window):
    job = demo_job("deep-feeder")
    h = hands(job.model_copy(update={"part": job.part.model_copy(update={"depth": 4 * 25.4})}))
    h.shows(
        lambda: (
            window.session.plan is not None
            and not window.session.plan.feasible
            and bool(window.session.plan.cures)
        )
    )
    h.shows(lambda: not window.session.bench_plan.busy)
    before = window.session.job
    h.click(window.verdict.more)
    label: QLabel = window.verdict.details
    # The first cure is a link; Tab comes to it, Return takes it.
    label.setFocus()
    h.key(Qt.Key.Key_Tab, on=label)
    h.key(Qt.Key.Key_Return, on=label)
    h.shows(lambda: window.session.job != before)
    h.shows(lambda: window.session.plan is not None and not window.session.bench_plan.busy)
    assert window.session.plan.feasible
    done(h, 10)


def test_11_the_sheet_as_a_file(hands, window, tmp_path, monkeypatch):
    h = hands()
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "tray"), "")
    )
    h.key(Qt.Key.Key_B, CTRL, SHIFT)
    h.shows((tmp_path / "tray.pdf").exists)
    done(h, 11)


def test_12_a_part_is_measured_and_its_fault_named(hands, window):
    h = hands()
    h.key(Qt.Key.Key_6, CTRL)
    page = window.stages["check"]
    session = window.session
    wall = next(i for i, f in enumerate(session.blank.folds) if f.name == "right wall")
    model = Model(session.blank, Striking.of(session.job))
    h.shows(lambda: not page.busy)
    h.click(page.fields[0])
    for line in page.lines:
        value = model.values((line.measure,), {Cause(Off.ANGLE, wall): -4.0})[0]
        h.type(f"{value:.2f}" if line.measure.what == "angle" else f"{value:.2f} mm")
        h.key(Qt.Key.Key_Return)
    assert (
        page.measured.found.causes[0].cause == Cause(Off.ANGLE, wall)
        and "right wall is bent" in page.says.text()
    )
    done(h, 12)
