"""A drawing with lines that say nothing: they are shown, and one click says what they are."""

import ezdxf
import pytest
from hands import planned
from PySide6.QtCore import QPoint, Qt, QTimer
from PySide6.QtWidgets import QApplication

from zealous_crane.io.dxf_read import Taken
from zealous_crane.ui.dialogs.drawing import DrawingDialog


@pytest.fixture
def drawn(tmp_path):
    """A plate of 12 × 9 in with a line right across on the layer of its edge, and a frame round
    it."""
    document = ezdxf.new("R2010")
    document.units = ezdxf.units.IN
    space = document.modelspace()
    space.add_lwpolyline([(0, 0), (12, 0), (12, 9), (0, 9)], close=True)
    space.add_line((0, 4.5), (12, 4.5))
    space.add_line((3, 1), (5, 1))
    document.saveas(tmp_path / "skin.dxf")
    return tmp_path / "skin.dxf"


def opened(qtbot, window, path, deed):
    """Read a drawing; what is done in the dialog that comes."""

    def do():
        dialog = QApplication.activeModalWidget()
        try:
            assert isinstance(dialog, DrawingDialog)
            qtbot.waitUntil(lambda: dialog.picture.scale is not None)
            deed(dialog)
            done.append(True)
        finally:
            # Whatever went wrong, the test comes to an end.
            dialog.close()

    done = []
    window.session.mark_saved()
    QTimer.singleShot(100, do)
    window.filing.open_drawing(path)
    assert done


def click_on(qtbot, dialog, x, y):
    at = dialog.picture.scale.point(x * 25.4, y * 25.4)
    qtbot.mouseClick(
        dialog.picture, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y()))
    )
    qtbot.wait(50)


def press(qtbot, dialog, name):
    qtbot.mouseClick(
        dialog.buttons.button(getattr(dialog.buttons.StandardButton, name)),
        Qt.MouseButton.LeftButton,
    )


def test_a_line_is_made_a_fold_by_one_click(qtbot, window, drawn):
    seen = []

    def deed(dialog):
        assert [left.taken for left in dialog.reading.left_out] == [Taken.NOTHING, Taken.NOTHING]
        assert "is open" in dialog.message.text()
        click_on(qtbot, dialog, 9, 4.5)
        seen.append(dialog.taken)
        assert len(dialog.reading.flat.folds) == 1
        # Beside every line nothing is meant.
        click_on(qtbot, dialog, 9, 7)
        seen.append(dialog.taken)
        # The short one: a fold cannot end within the metal, so it goes on to a mark.
        click_on(qtbot, dialog, 4, 1)
        click_on(qtbot, dialog, 4, 1)
        seen.append(dialog.taken)
        press(qtbot, dialog, "Ok")

    opened(qtbot, window, drawn, deed)
    assert seen == [{0: Taken.FOLD}, {0: Taken.FOLD}, {0: Taken.FOLD, 1: Taken.MARK}]
    flat = window.session.job.part.flat
    assert len(flat.folds) == 1 and len(flat.marks) == 1 and window.session.job.units.is_inch
    assert [fold.start[1] for fold in window.session.blank.folds] == [pytest.approx(4.5 * 25.4)]
    planned(qtbot, window.session)


def test_it_is_chosen_by_keys_too_and_thrown_away_unread(qtbot, window, drawn):
    before = window.session.work

    def deed(dialog):
        dialog.choices[0].setFocus()
        qtbot.keyClick(dialog.choices[0], Qt.Key.Key_End)
        assert dialog.choices[0].currentData() == Taken.MARK and dialog.reading.flat.marks
        press(qtbot, dialog, "Cancel")

    opened(qtbot, window, drawn, deed)
    assert window.session.work is before
