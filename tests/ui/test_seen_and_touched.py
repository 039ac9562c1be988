"""What can be read and hit: contrast of both looks (WCAG 2.1, 1.4.3 and 1.4.11, from memory), sizes
of what is touched at the brake, the look of the desktop."""

import pytest
from hands import planned
from PySide6 import QtGui
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QMessageBox,
    QWidget,
)
from views import settle

from zealous_crane.demo import demo_job
from zealous_crane.io.job_file import beside, matches, page_code, read_code, write_job
from zealous_crane.paint.application import application
from zealous_crane.paint.theme import DARK, LIGHT, PAPER, font, scale_text
from zealous_crane.ui.dialogs.about import keys_dialog
from zealous_crane.ui.pages.bend import BendCard
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.state.user_settings import Remembered
from zealous_crane.ui.widgets.setup_cards import SetupCard
from zealous_crane.ui.widgets.widget import Table
from zealous_crane.ui.window import window as window_module
from zealous_crane.ui.window.commands import COMMANDS
from zealous_crane.ui.window.header import StageButton
from zealous_crane.ui.window.window import Window

TEXT, SHAPES, TOUCH = 4.5, 3.0, 44


def luminance(colour):
    channels = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    r, g, b = (c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in channels)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def contrast(one, other):
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("look", [LIGHT, DARK, PAPER], ids=["light", "dark", "paper"])
def test_words_and_borders_stand_out(look):
    assert contrast("#000000", "#ffffff") == pytest.approx(21)
    for ground in (look.bench, look.field):
        for colour in (look.ink, look.faint, look.stop, look.care, look.works, look.accent):
            assert contrast(colour, ground) >= TEXT, (colour, ground)
        assert contrast(look.edge, ground) >= SHAPES
    for colour in (look.ink, look.faint):
        assert contrast(colour, look.chrome) >= TEXT, "the verdict and the rail"
    for sign in (look.stop, look.care, look.works):
        assert contrast(sign, look.chrome) >= SHAPES
    assert (
        contrast(look.scribe, look.layout) >= TEXT
        and contrast(look.tool_edge, look.bench) >= SHAPES
    )


def test_what_is_touched_at_the_brake_is_as_large_as_a_thumb(qtbot, window):
    planned(qtbot, window.session)
    window.resize(1024, 700)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    page = window.others["work"].brake
    touched = [
        w for kind in (QAbstractButton, QLineEdit) for w in page.findChildren(kind) if w.isVisible()
    ]
    assert len(touched) >= 4
    for widget in touched:
        assert widget.height() >= TOUCH and widget.width() >= TOUCH, (
            type(widget).__name__,
            widget.size(),
        )
    assert page.width() <= 1024


def grounds(shown):
    """Colours behind the buttons of a window's rail."""
    seen = shown.grab().toImage()
    return {
        seen.pixelColor(button.mapTo(shown, QPoint(2, 2))).name()
        for button in shown.findChildren(StageButton)
    }


def test_the_desktops_look_is_followed_until_one_is_chosen(qtbot, window, tmp_path, monkeypatch):
    window.front.remembered = Remembered(tmp_path / "w.ini")
    desktop = {"dark": True}
    real = window_module.looked_for
    monkeypatch.setattr(
        window_module, "looked_for", lambda dark: real(desktop["dark"] if dark is None else dark)
    )
    window._desktop_changed()
    assert window.front.look is DARK and Remembered(tmp_path / "w.ini").dark is None
    desktop["dark"] = False
    window._desktop_changed()
    assert window.front.look is LIGHT
    assert grounds(window) == {LIGHT.chrome}
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    qtbot.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier)
    assert window.front.look is DARK and Remembered(tmp_path / "w.ini").dark is True
    assert grounds(window) == {DARK.chrome}, "nothing that is kept was painted in another look"
    window._desktop_changed()
    assert window.front.look is DARK, "a look that was chosen stays"
    window.set_dark(None)
    assert window.front.look is LIGHT and Remembered(tmp_path / "w.ini").dark is None


def test_a_page_finds_its_job_by_the_code_at_its_foot(qtbot, window, tmp_path, monkeypatch):
    said = []
    monkeypatch.setattr(window.front, "refuse", said.append)
    window.front.remembered = Remembered(tmp_path / "w.ini")
    job, other = demo_job("deep-feeder"), demo_job("syrup-tray")
    write_job(job, tmp_path / "feeder.crane")
    write_job(other, tmp_path / "tray.crane")
    (tmp_path / "broken.json").write_text("{")
    window.front.remembered.opened(tmp_path / "tray.crane")
    window.session.mark_saved()
    code = page_code(job)
    assert read_code(code.lower().replace("-", " ")) == code and read_code("12-34") is None
    assert window.filing.open_code(code.lower()) is None and window.session.job == job
    later = job.model_copy(update={"quantity": job.quantity + 1})
    assert page_code(later).split("-")[0] == code.split("-")[0] and page_code(later) != code
    write_job(later, tmp_path / "feeder.crane")
    (match,) = matches(code, beside([tmp_path / "tray.crane"]))
    assert not match.same
    window.session.mark_saved()
    assert window.filing.open_code(code) is None and window.session.job.quantity == later.quantity
    assert page_code(later) in window.statusBar().currentMessage()
    assert "four letters" in window.filing.open_code("hello")
    assert "No job" in window.filing.open_code("2222-22222")


@pytest.mark.parametrize("text", [100, 150])
def test_a_small_screen_loses_nothing(qtbot, rack, text):
    """The window goes on a screen of 1024 × 700, and nothing is wider than its place, with letters
    half as large again too."""
    app, usual = application(), application().font()
    scale_text(text)
    app.setFont(font(10))
    try:
        session = Session(demo_job("inspection-tray"), rack)
        small = Window(session)
        qtbot.addWidget(small, before_close_func=lambda _: session.mark_saved())
        small.resize(1024, 700)
        small.show()
        settle(session)
        for id_, stage in small.stages.items():
            small.show_stage(id_)
            qtbot.wait(30)
            assert small.width() == 1024 and small.height() <= 700, (id_, small.size())
            assert stage.minimumSizeHint().width() <= stage.width()
            for widget in stage.findChildren(QAbstractButton):
                if widget.isVisible() and not widget.visibleRegion().isEmpty():
                    left = widget.mapTo(small, widget.rect().topLeft()).x()
                    assert left >= 0
            for widget in stage.findChildren(QWidget):
                # The cards of bends and set-ups scroll sideways.
                if isinstance(
                    widget, QAbstractButton | QComboBox | QLineEdit | QLabel
                ) and not isinstance(widget, BendCard | SetupCard):
                    seen = widget.visibleRegion().boundingRect()
                    assert not seen.height() or seen.width() == widget.width(), (
                        id_,
                        widget,
                        widget.accessibleName(),
                    )
        small.show_at_brake()
        qtbot.wait(30)
        assert small.width() == 1024 and small.height() <= 700
    finally:
        scale_text(100)
        app.setFont(usual)


def test_the_keys_fit_a_small_screen_and_are_all_there(window):
    dialog = keys_dialog(window)
    dialog.show()
    table = dialog.findChild(Table)
    assert table.rowCount() == len(COMMANDS) and dialog.height() < 700 and dialog.width() < 1024
    said = {table.item(i, 0).text(): table.item(i, 1).text() for i in range(table.rowCount())}
    assert "F1" in said.values() and any("Undo" in words for words in said)
    dialog.close()


def test_a_name_that_looks_like_markup_is_a_name(qtbot, window, monkeypatch):
    """`<b>` in a part's name: no label, message or tool tip takes it for markup."""
    asked = []
    monkeypatch.setattr(
        QMessageBox,
        "question",
        lambda *words: asked.append(words[2]) or QMessageBox.StandardButton.Discard,
    )
    name = "Tray <b>bold</b> <img src=x>"
    assert not window.session.edit("name", name=name)
    planned(qtbot, window.session)
    for stage in ("shape", "lay-out", "cut", "tool-up", "bend", "check"):
        window.show_stage(stage)
        QApplication.processEvents()
    for label in window.findChildren(QLabel):
        plain = label.textFormat() is Qt.TextFormat.PlainText or not QtGui.Qt.mightBeRichText(
            label.text()
        )
        assert plain or "bold</b>" not in label.text(), label.text()
    assert not [w.toolTip() for w in window.findChildren(QWidget) if "<b>bold" in w.toolTip()]
    window.close()
    assert len(asked) == 1 and "Tray" in asked[0] and not QtGui.Qt.mightBeRichText(asked[0])
