"""Angles typed and shown as the person reads them; what is kept is the angle bent from flat."""

import pytest
from hands import planned
from PySide6.QtCore import Qt

from zealous_crane.planning.setup import set_up_facts
from zealous_crane.units.quantities import AngleReading


def choose(qtbot, choice, steps):
    """A choice changed by its keys."""
    choice.setFocus()
    for _ in range(abs(steps)):
        qtbot.keyClick(choice, Qt.Key.Key_Down if steps > 0 else Qt.Key.Key_Up)
        choice.activated.emit(choice.currentIndex())


def test_an_inside_angle_of_a_strip_is_typed_and_bent(qtbot, window):
    from zealous_crane.demo import demo_work

    session = window.session
    session.mark_saved()
    session.start_with(demo_work("extractor-guard"))
    window.show_stage("shape")
    bent = session.job.part.angles
    choose(qtbot, window.stages["shape"].reading, 1)
    assert session.job.angles is AngleReading.INSIDE and session.job.part.angles == bent
    row = window.stages["shape"].form.fields["angles"].edit
    shown = [float(a.strip().removesuffix("°")) for a in row.text().split(";")]
    assert shown == [180 - a if a > 0 else -(180 + a) for a in bent]
    row.setFocus()
    row.selectAll()
    qtbot.keyClicks(row, ", ".join(["110", *(f"{a:g}" for a in shown[1:])]))
    qtbot.keyClick(row, Qt.Key.Key_Tab)
    assert session.job.part.angles[0] == 70.0 and session.job.part.angles[1:] == bent[1:]
    # The protractor on the back reads 180° less the inside angle: common practice, no source.
    assert AngleReading.BACK.read(session.job.part.angles[0]) == 70.0
    planned(qtbot, session)
    facts = [fact for stroke in session.plan.strokes for fact in set_up_facts(session.plan, stroke)]
    assert any(
        fact.label == "Protractor reads" and fact.value.startswith("110° inside") for fact in facts
    )


def test_what_came_out_is_typed_as_it_is_read(qtbot, window):
    session = window.session
    choose(qtbot, window.stages["shape"].reading, 1)
    planned(qtbot, session)
    qtbot.keyClick(window, Qt.Key.Key_F5)
    page = window.others["work"].brake
    stroke = next(s for s in session.plan.strokes)
    while page.step is not stroke:
        qtbot.keyClick(page, Qt.Key.Key_Space)
    for width in (1280, 1100):
        window.resize(width, 760)
        qtbot.wait(50)
        assert "inside" in page.angle_got.placeholderText()
        hint = page.angle_got.fontMetrics().horizontalAdvance(page.angle_got.placeholderText())
        assert hint < page.angle_got.width()
    assert "between the faces" in page.angle_got.toolTip()
    qtbot.keyClicks(page, "8")
    qtbot.keyClicks(page.angle_got, "9.5")
    qtbot.keyClick(page.angle_got, Qt.Key.Key_Return)
    assert page.bent.turn(stroke).record.got == pytest.approx(90.5)
    assert page.answer.text().startswith("89.5°")
