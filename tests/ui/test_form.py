"""Forms made from models: every sort of field, what is refused, and what is shown again."""

import math

import pytest
from hands import choose, retype
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QSpinBox, QToolButton

from zealous_crane.metal.allowance import InsideGain, NeutralLine
from zealous_crane.paint.application import application
from zealous_crane.paper.template import OVERLAP
from zealous_crane.part.corner import Corner, CornerRule, ReliefRule
from zealous_crane.part.design import Flange
from zealous_crane.part.edge import End, FoldSlots, Seam
from zealous_crane.part.hole import Cutout, HoleShape
from zealous_crane.part.kinds.box import FoldedPan, LockingBox
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.ui.widgets.field import LengthField, TextField
from zealous_crane.ui.widgets.form import ModelForm
from zealous_crane.units.length import INCH, Units


@pytest.fixture
def form(qtbot):
    application()

    def make(model, units=Units.FRACTIONS, refuse=None, **more):
        held = {"model": model, "said": []}

        def change(new):
            if refuse is not None and (said := refuse(new)):
                return said
            held["model"] = new
            made.show_model(new)
            return None

        made = ModelForm(model, change, lambda: units, **more)
        made.refused.connect(held["said"].append)
        qtbot.addWidget(made)
        made.show()
        return made, held

    return make


def test_every_sort_of_field_is_made(form):
    made, _ = form(LockingBox(length=100, width=80, depth=40))
    assert "kind" not in made.fields
    assert isinstance(made.fields["length"], LengthField) and isinstance(
        made.fields["measured"], QComboBox
    )
    assert isinstance(made.fields["taper"], TextField) and not isinstance(
        made.fields["taper"], LengthField
    )
    assert isinstance(
        form(FoldedPan(length=9, width=9, depth=3))[0].fields["ears_outside"], QCheckBox
    )
    assert isinstance(form(FoldSlots(count=3, bridge=5))[0].fields["count"], QSpinBox)
    assert made.fields["depth"].toolTip() == "height of the walls once hemmed."


def test_lengths_are_read_in_the_units_in_force(form, qtbot):
    made, held = form(LockingBox(length=100, width=80, depth=40))
    retype(qtbot, made.fields["length"], "3 1/2")
    assert held["model"].length == pytest.approx(3.5 * INCH)
    made, held = form(LockingBox(length=100, width=80, depth=40), Units.MM)
    retype(qtbot, made.fields["length"], "77")
    assert held["model"].length == 77
    retype(qtbot, made.fields["length"], "0")
    assert "more than zero" in made.fields["length"].complaint.text() and held["model"].length == 77


def test_rows_of_lengths_and_angles_are_typed_with_commas(form, qtbot):
    made, held = form(Strip(legs=(20, 30), angles=(90,), length=50), Units.MM)
    retype(qtbot, made.fields["legs"], "20, 35")
    assert held["model"].legs == (20, 35)
    retype(qtbot, made.fields["legs"], "20, 35, 40")
    assert held["model"].legs == (20, 35, 40) and held["model"].angles == (90, 90), (
        "a leg more is a fold more"
    )
    retype(qtbot, made.fields["angles"], "-45")
    assert "3 legs have 2 folds" in made.fields["angles"].complaint.text() and held[
        "model"
    ].angles == (90, 90)
    more, less = (b for sign in "+−" for b in made.findChildren(QToolButton) if b.text() == sign)
    for _ in range(2):
        qtbot.mouseClick(more, Qt.MouseButton.LeftButton)
    assert held["model"].legs == (20, 35, 40, 40, 40) and len(held["model"].angles) == 4
    for _ in range(4):
        qtbot.mouseClick(less, Qt.MouseButton.LeftButton)
    assert held["model"].legs == (20, 35) and held["model"].angles == (90,), (
        "two legs are the fewest"
    )
    assert held["said"]
    retype(qtbot, made.fields["angles"], "-45")
    assert held["model"].angles == (-45,) and made.fields["angles"].edit.text() == "-45"
    retype(qtbot, made.fields["angles"], "steep")
    assert made.fields["angles"].complaint.isVisible()


def test_what_may_be_left_out_is_switched_on_and_off(form, qtbot):
    made, held = form(Flange(edge="front", height=20), Units.MM)
    left = made.fields["left"]
    assert left.form is None and not left.switch.isChecked()
    left.switch.click()
    assert held["model"].left == End() and left.form is not None
    retype(qtbot, left.form.fields["trim"], "4")
    assert held["model"].left.trim == 4
    retype(qtbot, left.form.fields["taper"], "80")
    assert "75" in left.form.fields["taper"].complaint.text()
    left.switch.click()
    assert held["model"].left is None and left.form is None
    retype(qtbot, made.fields["radius"], "1.5")
    assert held["model"].radius == 1.5
    made.fields["radius"].edit.selectAll()
    qtbot.keyClicks(made.fields["radius"].edit, "\b")
    made.fields["radius"].edit.clear()
    made.fields["radius"].edit.textEdited.emit("")
    assert held["model"].radius is None


def test_choices_that_need_each_other_change_together(form):
    made, held = form(Corner())
    choose(made.fields["rule"], CornerRule.TAB)
    assert held["model"].rule is CornerRule.TAB and held["model"].tab.length == 15
    made.fields["tab"].switch.click()
    assert held["model"].tab is not None and made.fields["tab"].switch.isChecked(), (
        "it is closed by that tab"
    )
    made, held = form(Cutout(length=6))
    choose(made.fields["shape"], HoleShape.SLOT)
    assert held["model"].shape is HoleShape.SLOT and held["model"].width == 3
    choose(made.fields["shape"], HoleShape.RECTANGLE)
    assert held["model"].width == 3
    choose(made.fields["shape"], HoleShape.ROUND)
    assert held["model"].width is None and not held["said"]


def test_groups_fold_away_and_say_in_short_what_is_in_them(form, qtbot):
    made, held = form(Corner(), Units.MM)
    relief = made.fields["relief"]
    assert not relief.isVisible() and relief.head.text() == "Relief:  round, by the rule"
    qtbot.mouseClick(relief.head, Qt.MouseButton.LeftButton)
    assert (
        relief.isVisible()
        and relief.form.fields["shape"].isVisible()
        and relief.head.text() == "Relief"
    )
    retype(qtbot, relief.form.fields["size"], "4")
    qtbot.keyClick(relief.head, Qt.Key.Key_Space)
    assert (
        not relief.isVisible()
        and relief.head.text() == "Relief:  round, 4 mm"
        and held["model"].relief.size == 4
    )
    made, _ = form(Corner(relief=ReliefRule(size=3)), Units.MM)
    assert made.fields["relief"].isVisible(), "what was chosen is not hidden"


def test_what_the_stage_refuses_is_shown_at_the_field(form, qtbot):
    made, held = form(
        NeutralLine(k=0.4), refuse=lambda m: "Too low for this metal." if m.k < 0.3 else None
    )
    retype(qtbot, made.fields["k"], "0.25")
    assert (
        made.fields["k"].complaint.text().startswith("Too low for this metal.")
        and held["model"].k == 0.4
    )
    retype(qtbot, made.fields["k"], "0.35")
    assert held["model"].k == 0.35 and not made.fields["k"].complaint.isVisible()
    retype(qtbot, made.fields["k"], "0.9")
    assert "0.6" in made.fields["k"].complaint.text()


def test_an_optional_length_says_what_empty_means(form, qtbot):
    made, held = form(InsideGain(), Units.MM)
    assert made.fields["gain"].edit.placeholderText() == "by the rule"
    retype(qtbot, made.fields["gain"], "0.8")
    assert held["model"].gain == 0.8
    made, held = form(Seam(edge="left", form="lap"), skip=frozenset({"edge"}))
    assert "edge" not in made.fields and isinstance(made.fields["form"], QComboBox)


@pytest.mark.parametrize(
    ("length", "width", "pages"),
    [(100, 100, 1), (180, 230, 1), (300, 100, 2), (300, 500, 6), (1000, 60, 6)],
)
def test_a_template_takes_as_many_pages_as_it_needs(length, width, pages, tmp_path, qtbot):
    from zealous_crane.flat.development import develop
    from zealous_crane.job.job import Job
    from zealous_crane.paper.template import write_template
    from zealous_crane.part.kinds.strip import Plate

    application()
    job = Job(
        part=Plate(length=length, width=width), metal="mild-steel", thickness="1 mm", units="mm"
    )
    write_template(job, develop(job), tmp_path / "t.pdf")
    # A4 with its margins shows 182 × 253 mm of the blank, 12 mm of them on two pages.
    assert (tmp_path / "t.pdf").read_bytes().count(b"/Type /Page\n") == pages
    assert OVERLAP == 12.0


def test_a_template_names_its_cuts_and_says_how_they_are_made(tmp_path, qtbot):
    from zealous_crane.demo import demo_job
    from zealous_crane.flat.development import develop
    from zealous_crane.flat.marking import mark_out
    from zealous_crane.flat.ruler import Striking
    from zealous_crane.paper.template import write_template

    application()
    job = demo_job("syrup-tray")
    blank = develop(job)
    assert mark_out(blank, job.units, Striking.of(job)).recipes
    write_template(job, blank, tmp_path / "t.pdf")
    across, up = (
        math.ceil((size - 12) / (shown - 12))
        for size, shown in zip(blank.size, (182, 253), strict=True)
    )
    assert (tmp_path / "t.pdf").read_bytes().count(b"/Type /Page\n") == across * up + 1


def test_a_hint_stays_after_a_choice_and_gives_way_to_a_complaint(form, qtbot):
    made, held = form(LockingBox(length=100, width=80, depth=40))
    field = made.fields["measured"]
    hint = field.toolTip()
    assert hint
    field.setFocus()
    qtbot.keyClick(field, Qt.Key.Key_End)
    assert (
        held["model"].measured != LockingBox(length=100, width=80, depth=40).measured
        and field.toolTip() == hint
    )
    made, held = form(LockingBox(length=100, width=80, depth=40), refuse=lambda new: "Not today.")
    field = made.fields["measured"]
    field.setFocus()
    qtbot.keyClick(field, Qt.Key.Key_End)
    assert held["said"] == ["Not today."] and field.toolTip() == "Not today."
