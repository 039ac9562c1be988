"""Two parts together: a fit between any two faces made by keys, then looked at, drawn out and
tipped."""

import pytest
from hands import go_down_to, planned
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QDialogButtonBox, QWidget

from fitted import sleeve_and_bottom
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.ui.dialogs.fit import FitDialog, FitView
from zealous_crane.ui.state.session import Session
from zealous_crane.work.work import Work


@pytest.fixture
def rail_and_pan(qtbot, window):
    """A rail drawn as a tree, and a pan that is to go between its legs."""
    rail = DrawnPart(
        tree=Design(
            base=Base(length=300, width=90),
            flanges=tuple(Flange(edge=e, height=40, name=f"{e} leg") for e in ("front", "back")),
        )
    )
    fields = {
        "brake": window.session.job.brake,
        "units": "mm",
        "metal": "mild-steel",
        "thickness": "1 mm",
    }
    work = Work(
        parts=(
            Job(name="rail", part=rail, **fields),
            Job(name="pan", part=OpenBox(length=120, width=60, depth=25), **fields),
        )
    )
    window.session.start_with(work, unsaved=False, at=1)
    planned(qtbot, window.session)
    return window


def test_a_pan_is_fitted_between_two_faces_and_looked_at(qtbot, rail_and_pan):
    window = rail_and_pan
    session, parts = window.session, window.stages["shape"].parts
    assert not parts.together.isVisible()
    qtbot.mouseClick(parts.fit, Qt.MouseButton.LeftButton)
    dialog = QApplication.activeModalWidget()
    assert isinstance(dialog, FitDialog)
    go_down_to(qtbot, dialog.pairs["length"], "nothing") if dialog.pairs[
        "length"
    ].currentText() != "nothing" else None
    go_down_to(qtbot, dialog.changes, "Width") if dialog.changes.currentText() != "Width" else None
    go_down_to(qtbot, dialog.mine[0], "front wall")
    go_down_to(qtbot, dialog.mine[1], "back wall")
    go_down_to(qtbot, dialog.theirs[1], "front leg")
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    go_down_to(qtbot, dialog.theirs[0], "front leg")
    go_down_to(qtbot, dialog.theirs[1], "back leg")
    qtbot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    assert dialog.list.count() == 1 and "front leg – back leg" in dialog.list.item(0).text()
    qtbot.mouseClick(_ok(dialog), Qt.MouseButton.LeftButton)
    assert session.job.part.width == pytest.approx(90 - 1 - 2 * 1), (
        "the rail's inside less the clearance and its own two walls"
    )
    assert parts.together.isVisible()
    # The rail grows, and the pan with it; a change of the size that follows is refused in a
    # sentence.
    qtbot.mouseClick(parts.together, Qt.MouseButton.LeftButton)
    view = QApplication.activeModalWidget()
    assert isinstance(view, FitView) and view.message.text().startswith(
        "●  It goes in 40 mm and rests with its base on the base"
    )
    before = view.grab().toImage()
    view.slider.setFocus()
    qtbot.keyClick(view.slider, Qt.Key.Key_End)
    assert view.grab().toImage() != before
    qtbot.keyClick(view.how, Qt.Key.Key_Down)
    assert view.how.currentIndex() == 1 and view.tips[0].says() in view.moves.text()
    qtbot.keyClick(view, Qt.Key.Key_Escape)
    said = session.edit("width", part={**session.job.part.model_dump(), "width": 50.0})
    assert said is not None and "follows from rail" in said
    session.parts.choose(0)
    tree = session.job.part.tree.model_dump()
    tree["base"]["width"] = 110.0
    assert session.edit("rail", part={"kind": "design", "tree": tree}) is None
    assert session.work.parts[1].part.width == pytest.approx(107)


def _ok(dialog):
    from PySide6.QtWidgets import QDialogButtonBox

    box = dialog.findChild(QDialogButtonBox)
    return box.button(QDialogButtonBox.StandardButton.Ok)


def test_the_fit_asks_whether_a_bottom_lies_on_the_lips(qtbot, rack):
    session = Session(sleeve_and_bottom(), rack)
    session.parts.choose(1)
    holder = QWidget()
    qtbot.addWidget(holder)
    dialog = FitDialog(session, holder)
    dialog.show()
    ok = dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Ok)
    qtbot.mouseClick(ok, Qt.MouseButton.LeftButton)
    assert (
        dialog.isVisible()
        and '1 ³¹⁄₃₂"' in dialog.message.text()
        and session.work.fits[0].rests is None
    )
    dialog.lips.setFocus()
    qtbot.keyClick(dialog.lips, Qt.Key.Key_End)
    assert dialog.lips.currentData() is True
    qtbot.mouseClick(ok, Qt.MouseButton.LeftButton)
    assert session.work.fits[0].rests is True and session.parts.unsaid() == {}
    assert session.job.part.length == pytest.approx((1 + 31 / 32) * 25.4, abs=0.01)
    session.mark_saved()
    session.close()
