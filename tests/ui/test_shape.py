"""Shape, Lay out and the start page, driven as a person drives them."""

from __future__ import annotations

import re

import ezdxf
import numpy as np
import pytest
from hands import choose, retype
from pydantic import BaseModel
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtWidgets import QApplication, QMenu, QMessageBox
from views import ready

from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.handles import EdgeHandle
from zealous_crane.flat.marking import mark_out
from zealous_crane.io.dxf_write import write_dxf
from zealous_crane.io.job_file import read_work
from zealous_crane.job.job import DrawnPart, FlatPart, Job
from zealous_crane.paint.application import application
from zealous_crane.paint.queue import Turns
from zealous_crane.paper.writers import writer_of
from zealous_crane.part.corner import CornerRule
from zealous_crane.part.design import Flange
from zealous_crane.part.edge import Hem
from zealous_crane.part.hole import HoleShape, MarkForm
from zealous_crane.part.kinds import KINDS
from zealous_crane.part.kinds.duct_side import DuctShape
from zealous_crane.ui.dialogs.fit import FitDialog
from zealous_crane.ui.state.bench_plan import KnownFlats
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.field import LengthField
from zealous_crane.ui.widgets.form import ModelForm, attribute_docs
from zealous_crane.ui.widgets.pick import HoleHandle, PanelHandle
from zealous_crane.ui.widgets.schools import SchoolTable
from zealous_crane.ui.window.window import Window
from zealous_crane.units.length import INCH, Units


def undo_steps(session):
    """How often a person could press undo."""
    return session.history.steps_back


@pytest.fixture
def bench(qtbot, rack):
    """The window with any demonstration on it."""
    application()
    made: list[Window] = []

    def open_(name: str, part: int = 0) -> Window:
        session = Session(demo_work(name), rack)
        session.parts.choose(part)
        window = Window(session)
        qtbot.addWidget(window, before_close_func=lambda _: session.mark_saved())
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        qtbot.waitUntil(lambda: Turns.of_all().through)
        window.grab()
        made.append(window)
        return window

    yield open_
    for window in made:
        window.session.bench_plan.planner.stop()


def click(qtbot, window, where):
    """Click the flat where something is; returns the menu it opened, if any."""
    canvas = window.stages["shape"].flat
    shown: list[QMenu] = []
    original = QMenu.popup
    QMenu.popup = lambda self, *_: shown.append(self)
    try:
        qtbot.mouseClick(
            canvas, Qt.MouseButton.LeftButton, pos=QPoint(round(where.x()), round(where.y()))
        )
    finally:
        QMenu.popup = original
    return shown[0] if shown else None


def place(window, point):
    return window.stages["shape"].flat.scale.point(*point)


def action(menu, text):
    found = [a for a in menu.actions() if text in a.text()]
    assert found, [a.text() for a in menu.actions()]
    return found[0]


@pytest.mark.parametrize("name", DEMOS)
def test_every_kind_has_a_form_and_answers_typing(bench, qtbot, name):
    window = bench(name)
    form, part = window.stages["shape"].form, window.session.job.part
    assert form is not None and window.stages["shape"].kind.text() == part.label
    lengths = [
        (n, f)
        for n, f in form.fields.items()
        if isinstance(f, LengthField) and isinstance(getattr(part, n), float)
    ]
    assert len(lengths) >= 1 or name in ("extractor-guard", "frame-rail", "drip-pan-in-rail")
    for field, widget in lengths[:2]:
        before = getattr(window.session.job.part, field)
        retype(qtbot, widget, f"{before * 1.05:.2f} mm")
        assert getattr(window.session.job.part, field) == pytest.approx(before * 1.05, abs=0.01), (
            widget.complaint.text()
        )
        retype(qtbot, widget, "minus one")
        assert widget.complaint.isVisible()
        assert getattr(window.session.job.part, field) == pytest.approx(before * 1.05, abs=0.01)


def test_what_a_docstring_says_becomes_a_hint():
    for kind in KINDS:
        explained = attribute_docs(kind)
        assert explained and set(explained) <= set(kind.model_fields), kind
        assert all(explained.values())


def every_model(kind=BaseModel):
    for model in kind.__subclasses__():
        yield model
        yield from every_model(model)


def test_hints_speak_to_people_and_not_to_programs():
    """No hint says None, and none says mm of a field that takes the units of the job; where figures
    stand in it their unit stays."""
    seen = 0
    for model in every_model():
        if model.__module__.startswith("zealous_crane"):
            for name, said in attribute_docs(model).items():
                seen += 1
                assert not re.search(r"\bNone\b|(?<!\d )\bmm\b(?! \(common| or )", said), (
                    model,
                    name,
                    said,
                )
                assert said and said[0] not in " ,;.", (model, name, said)
    assert seen > 300
    assert (
        "empty takes 1/2 in" in attribute_docs(DuctShape)["hem"]
        and "0.8 mm" in attribute_docs(Job)["thickness"]
    )


def test_a_wall_with_no_room_between_its_ears_is_refused_where_it_is_typed(bench, qtbot):
    window = bench("hive-roof")
    before = window.session.job
    field = window.stages["shape"].field("length")
    retype(qtbot, field, "2 mm")
    said = field.complaint.text()
    assert (
        field.complaint.isVisible()
        and "Beside folded corners its two ends give way" in said
        and "longer than" in said
    )
    assert window.session.job == before


def test_an_edge_is_clicked_and_hemmed_and_undone(bench, qtbot):
    window = bench("syrup-tray")
    before = window.session.job
    edge = next(
        e
        for e in window.stages["shape"].flat.handles().edges
        if e.panel == "front wall" and e.edge == "back"
    )
    menu = click(qtbot, window, place(window, edge.start * 0.4 + edge.end * 0.6))
    action(menu, "Closed hem").trigger()
    part = window.session.job.part
    assert isinstance(part, DrawnPart) and isinstance(part.tree.flanges[0].flanges[0], Hem)
    assert window.session.blank.size[1] == pytest.approx(15.25 * INCH + INCH / 2)
    # The tree shows it, chosen, with a form for it; its length is typed there.
    assert (
        window.stages["shape"].designer.chosen == ("standing", (0, 0))
        and window.stages["shape"].designer.tree.isVisible()
    )
    retype(qtbot, window.stages["shape"].field("length"), "3/8")
    assert window.session.blank.size[1] == pytest.approx((15.25 + 0.375) * INCH)
    retype(qtbot, window.stages["shape"].field("length"), "0.01")
    assert "too short" in window.stages["shape"].field("length").complaint.text()
    while window.session.can_undo:
        window.session.undo()
    assert window.session.job == before and not window.stages["shape"].designer.isVisible()


def test_a_corner_is_clicked_and_changed(bench, qtbot):
    window = bench("syrup-tray")
    corner = window.stages["shape"].flat.handles().corners[1]
    menu = click(qtbot, window, place(window, corner.point))
    action(menu, "This corner: tab").trigger()
    tree = window.session.job.part.tree
    assert [c.at for c in tree.corners] == [corner.at] and tree.corners[
        0
    ].corner.rule is CornerRule.TAB
    assert any(p.name.endswith("tab") for p in window.session.blank.panels)
    menu = click(qtbot, window, place(window, corner.point))
    action(menu, "All corners: folded ear").trigger()
    assert len(window.session.blank.outline.points) == 4 and len(window.session.blank.creases) == 4
    # A rule that cannot be is said, and nothing is lost.
    said = []
    window.session.complained.connect(said.append)
    blank = window.session.blank
    window.stages["shape"].designer.set_corner(None, CornerRule.BUTT)
    window.stages["shape"].designer.chosen = ("corner", None)
    window.stages["shape"].designer.refresh()
    retype(qtbot, window.stages["shape"].field("gap"), "-1 mm")
    assert "less than nothing" in window.stages["shape"].field("gap").complaint.text()
    assert window.session.blank is not blank and not said


def test_a_hole_is_placed_dragged_and_typed(bench, qtbot):
    window = bench("syrup-tray")
    canvas = window.stages["shape"].flat
    base = window.session.blank.panel("base").polygon
    middle = (base.min(axis=0) + base.max(axis=0)) / 2
    menu = click(qtbot, window, place(window, middle + np.array([20, 10])))
    action(menu, "Round hole").trigger()
    cutout = window.session.job.part.tree.cutouts[0]
    assert (cutout.x.value, cutout.y.value) == pytest.approx((20, 10), abs=1.5)
    window.grab()
    start = place(window, window.session.blank.holes[0].centre)
    steps = undo_steps(window.session)
    assert isinstance(canvas.at(start), HoleHandle)
    qtbot.mousePress(canvas, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for i in range(1, 6):
        qtbot.mouseMove(canvas, (start + QPointF(4 * i, -2 * i)).toPoint())
        window.grab()
    qtbot.mouseRelease(canvas, Qt.MouseButton.LeftButton)
    moved = window.session.job.part.tree.cutouts[0]
    factor = canvas.scale.factor
    assert moved.x.value - cutout.x.value == pytest.approx(20 / factor, abs=2.5 / factor)
    assert moved.y.value - cutout.y.value == pytest.approx(10 / factor, abs=2.5 / factor)
    assert undo_steps(window.session) == steps + 1, "a drag is one step of undo"
    assert window.stages["shape"].designer.chosen == ("hole", 0)
    retype(qtbot, window.stages["shape"].field("length"), "1/2")
    assert window.session.blank.holes[0].size[0] == pytest.approx(INCH / 2)
    choose(window.stages["shape"].field("x.edge"), "left")
    retype(qtbot, window.stages["shape"].field("x.value"), "1 1/2")
    assert window.session.blank.holes[0].centre[0] == pytest.approx(
        base.min(axis=0)[0] + 1.5 * INCH
    )
    window.stages["shape"].designer.take_away()
    assert not window.session.blank.holes


def test_panels_are_stiffened_and_slotted(bench):
    window = bench("syrup-tray")
    designer = window.stages["shape"].designer
    designer.add_mark("base", MarkForm.CROSS_BREAK)
    designer.add_hole("front wall", HoleShape.SLOT, 5.0, 0.0)
    tree = window.session.job.part.tree
    assert tree.marks[0].panel == "base" and tree.cutouts[0].shape is HoleShape.SLOT
    assert {m.kind for m in window.session.blank.marks} == {"cross-break"}
    designer.chosen = ("standing", (1,))
    designer.refresh()
    form = designer.form
    form.fields["slots"].switch.click()
    assert window.session.job.part.tree.flanges[1].slots.count == 4
    assert isinstance(form, ModelForm) and any(
        h.kind == "fold slot" for h in window.session.blank.holes
    )


def test_the_keyboard_reaches_every_edge(bench, qtbot):
    window = bench("syrup-tray")
    canvas = window.stages["shape"].flat
    canvas.setFocus()
    seen = set()
    for _ in range(25):
        qtbot.keyClick(canvas, Qt.Key.Key_Right)
        seen.add(getattr(canvas.over, "edge", getattr(canvas.over, "at", None)))
    assert {"front", "back", "left", "right", "front-right"} <= seen
    assert isinstance(canvas.at(place(window, (100, 100))), PanelHandle)


def test_a_follower_follows_and_cannot_be_pulled_away(bench, qtbot):
    window = bench("hive-scale", 1)
    session = window.session
    assert (
        session.job.part.width == pytest.approx(110.5)
        and "follow" in window.stages["shape"].parts.follows.text()
    )
    retype(qtbot, window.stages["shape"].field("width"), "120 mm")
    assert "follows from" in window.stages["shape"].field("width").complaint.text()
    assert any("to fit" in b.text() for b in window.stages["shape"].sums.buttons if b.isVisible())
    choose_part(window, 0)
    retype(qtbot, window.stages["shape"].field("width"), "140 mm")
    choose_part(window, 1)
    assert session.job.part.width == pytest.approx(140.5)
    dialog = FitDialog(session, window)
    dialog.clearance.edit.setText("1 mm")
    dialog.clearance.edit.textEdited.emit("1 mm")
    dialog.take()
    assert session.job.part.width == pytest.approx(141.0)
    dialog = FitDialog(session, window)
    dialog.loosen()
    assert session.work.follows(1) == ()
    session.undo()
    assert session.job.part.width == pytest.approx(141.0)


def test_a_part_that_cannot_be_worked_on_is_not_put_on_the_bench(bench, monkeypatch):
    window = bench("hive-scale", 0)
    said = []
    window.stages["shape"].parts.tell = said.append

    def refuse(job, brake):
        raise DevelopmentError("The scale plate cannot be laid flat today.")

    monkeypatch.setattr("zealous_crane.ui.state.bench_plan.flat_for", refuse)
    # Its little picture was painted of a flat that is known by now.
    window.session.flats = KnownFlats()
    choose_part(window, 1)
    assert said == ["The scale plate cannot be laid flat today."]
    assert window.session.at == 0 and window.stages["shape"].parts.parts.currentIndex() == 0


def choose_part(window, number):
    window.stages["shape"].parts.parts.setCurrentIndex(number)
    window.stages["shape"].parts.parts.activated.emit(number)


def test_parts_are_added_and_taken_out(bench, tmp_path):
    window = bench("syrup-tray")
    window.show_start(adding=True)
    assert "Add a part" in window.others["start"].title.text()
    card = next(
        c
        for c in window.others["start"].cards
        if c.work.parts[0].part.kind == "cap" or c.work.name.startswith("Chimney")
    )
    card._open(card.work)
    assert (
        len(window.session.work.parts) == 2
        and window.session.at == 1
        and window.stages["shape"].isVisible()
    )
    assert (
        window.filing.save_to(tmp_path / "work.json")
        and len(read_work(tmp_path / "work.json").parts) == 2
    )
    window.stages["shape"].parts.remove.click()
    assert len(window.session.work.parts) == 1 and window.session.at == 0
    assert window.session.parts.remove() == "This is the only part of the work."


def test_every_school_is_chosen_and_compared(bench, qtbot):
    window = bench("syrup-tray")
    panel = window.stages["shape"].schools
    for i in range(panel.school.count()):
        panel.school.setCurrentIndex(i)
        panel.school.activated.emit(i)
        chosen = panel.school.itemData(i)
        assert (window.session.job.school.school if window.session.job.school else None) == chosen
    choose(panel.school, "shop-table")
    retype(qtbot, panel.strips, "98.4 mm, 50 mm, 50 mm; 98.6 mm, 50 mm, 50 mm")
    assert (
        len(window.session.job.school.strips) == 2
        and '2 near 90°: BD 0.059"' in panel.spread.text()
    )
    retype(qtbot, panel.strips, "98.4 mm")
    assert "A strip is" in panel.strips.complaint.text()
    table = SchoolTable(window.session, window)
    qtbot.addWidget(table)
    labels = [table.table.item(i, 0).text() for i in range(table.table.rowCount())]
    assert len(labels) == 7 and sum(text.startswith("▸") for text in labels) == 1


def test_a_drawing_is_read_and_its_folds_are_set(bench, qtbot, tmp_path, monkeypatch):
    window = bench("syrup-tray")
    write_dxf(window.session.blank, tmp_path / "tray.dxf")
    assert window.filing.open_drawing(tmp_path / "tray.dxf") == ()
    part = window.session.job.part
    assert (
        isinstance(part, FlatPart)
        and len(part.flat.folds) == 4
        and window.stages["shape"].designer.isVisible()
    )
    window.show_stage("lay-out")
    assert "Scribe" in window.stages["lay-out"].steps.text()
    window.show_stage("shape")
    retype(qtbot, window.stages["shape"].field("angle"), "-75")
    assert window.session.blank.folds[0].angle in (-75, 90) and -75 in {
        f.angle for f in window.session.blank.folds
    }
    said = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: said.append(a[2]))
    (tmp_path / "bad.dxf").write_text("nothing")
    before = window.session.job
    window.filing.open_drawing(tmp_path / "bad.dxf")
    assert said and window.session.job == before


@pytest.mark.parametrize(
    ("label", "long"), [("Millimetres", 12.0), ("Inches", 304.8), ("Cancel", None)]
)
def test_a_drawing_without_a_unit_is_asked_for_one(bench, qtbot, tmp_path, label, long):
    window = bench("syrup-tray")
    document = ezdxf.new("R2010")
    document.units = 0
    document.modelspace().add_lwpolyline([(0, 0), (12, 0), (12, 6), (0, 6)], close=True)
    document.saveas(tmp_path / "plate.dxf")
    before, asked = window.session.job, []

    def answer():
        box = window.findChild(QMessageBox)
        asked.append(box.text())
        button = next(b for b in box.buttons() if b.text().replace("&", "") == label)
        qtbot.mouseClick(button, Qt.MouseButton.LeftButton)

    QTimer.singleShot(200, answer)
    window.filing.open_drawing(tmp_path / "plate.dxf")
    assert "12 × 6 mm" in asked[0] and "12 × 6 in" in asked[0] and "304.8 × 152.4 mm" in asked[0]
    if long is None:
        assert window.session.job == before
    else:
        assert window.session.blank.size[0] == pytest.approx(long)
        assert window.session.job.units.is_inch == (label == "Inches")


def test_everything_is_handed_over(bench, tmp_path):
    window = bench("inspection-tray")
    assert window.handing.export(tmp_path / "x.svg")
    for what in ("marking", "template"):
        assert window.handing.export(tmp_path / f"{what}.pdf", writer_of(what))
        assert (tmp_path / f"{what}.pdf").read_bytes().startswith(b"%PDF")
    # 18 3/4 × 16 1/4 in takes six letter pages at full size.
    # Six at full size, and one with how the corners are cut.
    assert (tmp_path / "template.pdf").read_bytes().count(b"/Type /Page\n") == 7
    # Off the plate: register marks and page names are in the pictures; the film is asked on Lay
    # out.
    window.show_stage("lay-out")
    choose(window.stages["lay-out"].film, "outside")
    ready(window.stages["lay-out"])
    assert (
        window.session.job.film == "outside"
        and "Film or finish lies on the outside" in window.stages["lay-out"].steps.text()
    )


def test_lay_out_lists_holes_points_and_cares(bench):
    window = bench("hive-scale")
    window.show_stage("lay-out")
    stage = window.stages["lay-out"]
    texts = [stage.points.item(i, 0).text() for i in range(stage.points.rowCount())]
    assert sum("screw hole" in t for t in texts) == 4
    window = bench("frame-rail")
    window.session.edit("", brake="apiary-finger-50")
    window.show_stage("lay-out")
    part = window.session.job.part.model_copy(update={"legs": (1.0, 10.0, 40.0, 10.0, 15.0)})
    assert window.session.change(window.session.job.model_copy(update={"part": part})) is None
    ready(window.stages["lay-out"])
    said = window.stages["lay-out"].care.text()
    assert "turn opposite ways" in said and "needs" in said


def test_the_tree_offers_what_is_free(bench, qtbot):
    from zealous_crane.part.design import Base, Design, Facet, PolygonBase
    from zealous_crane.part.edge import Seam
    from zealous_crane.ui.widgets.designer import free_edges, standing_choices

    window = bench("syrup-tray")
    box = window.session.job.part.design(0.8)
    assert free_edges(box, ()) == () and free_edges(box, (0,)) == ("right", "back", "left")
    hexagon = Design(
        base=PolygonBase(corners=((0, 0), (50, 0), (80, 40), (50, 80), (0, 80), (-30, 40)))
    )
    assert free_edges(hexagon, ()) == tuple(f"edge-{i}" for i in range(1, 7))
    facet = Facet(edge="right", corners=((0, 0), (40, 0), (20, 30)))
    odd = Design(base=Base(length=100, width=40), flanges=(facet, Seam(edge="left", form="lap")))
    assert (
        free_edges(odd, (0,)) == ("edge-2", "edge-3")
        and free_edges(odd, (1,)) == ()
        and free_edges(odd, ()) == ("front", "back")
    )
    words = [w for w, _ in standing_choices(window.session, "back")]
    assert len(words) == len(set(words)) >= 12
    for _, standing in standing_choices(window.session, "back"):
        window.stages["shape"].designer.put((0,), standing)
        chosen = window.stages["shape"].designer.chosen
        assert chosen == ("standing", (0, 0)), standing
        window.stages["shape"].designer.take_away()
    assert window.session.job.part.design(0.8) == box


def test_the_menu_of_the_tree_is_built(bench, qtbot, monkeypatch):
    window = bench("syrup-tray")
    designer = window.stages["shape"].designer
    designer.open_up()
    shown = []
    monkeypatch.setattr(
        QMenu, "popup", lambda self, *_: shown.append([a.text() for a in self.actions()])
    )
    designer._tree_menu(QPoint(5, 5))
    assert shown == [], "all edges of the base are taken and the base cannot be taken away"
    designer.chosen = ("standing", (1,))
    designer._tree_menu(QPoint(5, 5))
    assert (
        shown[0][:3] == ["Put on the right edge", "Put on the back edge", "Put on the left edge"]
        and shown[0][-1] == "Take away"
    )
    designer.take_away()
    assert len(window.session.job.part.tree.flanges) == 3
    designer.put((), Flange(edge="right", height=20))
    assert len(window.session.blank.panels) == 5
    said = []
    window.session.complained.connect(said.append)
    designer.put((), Flange(edge="right", height=20))
    assert "two" in said[0] and len(window.session.blank.panels) == 5


def test_pointing_at_what_a_rule_added_says_so(bench):
    window = bench("inspection-tray")
    found = window.stages["shape"].flat.handles()
    tab = next(e for e in found.edges if e.name == "right front tab")
    menu = window.stages["shape"].designer.menu_for(tab, found.axes, found.paths)
    assert (
        "comes from the corner's rule" in menu.actions()[0].text()
        and not menu.actions()[0].isEnabled()
    )
    wall = next(e for e in found.edges if e.panel == "base" and e.edge == "front")
    menu = window.stages["shape"].designer.menu_for(wall, found.axes, found.paths)
    action(menu, "Take the front wall away").trigger()
    assert isinstance(window.session.job.part, DrawnPart) and not any(
        p.name == "front wall" for p in window.session.blank.panels
    )
    assert window.session.can_undo


def test_a_datum_is_chosen_and_everything_is_struck_from_it(bench, qtbot):
    window = bench("syrup-tray")
    window.show_stage("lay-out")
    stage = window.stages["lay-out"]
    assert (
        "Four corners alike: scribe" in stage.corners.text()
        and stage.strike_from.currentData() == "nearest"
    )
    stage.strike_from.setFocus()
    qtbot.keyClick(stage.strike_from, Qt.Key.Key_Down)
    assert window.session.job.strike_from == "left front"
    ready(stage)
    assert {stage.scribe.item(row, 2).text() for row in range(stage.scribe.rowCount())} <= {
        "left, front edge",
        "left edge",
        "front edge",
    }
    assert "left front corner on both faces" in stage.steps.text()
    window.session.undo()
    ready(stage)
    assert stage.strike_from.currentData() == "nearest"


def test_a_corner_is_shown_enlarged_where_there_is_a_recipe(bench):
    window = bench("syrup-tray")
    window.show_stage("lay-out")
    picture = window.stages["lay-out"].corner_pictures
    assert picture.isVisible() and picture.accessibleName() == "The corners enlarged"
    image = picture.grab().toImage()
    seen = {
        image.pixelColor(x, y).name() for x in range(image.width()) for y in range(image.height())
    }
    assert {window.front.look.layout, window.front.look.waste} <= seen, (
        "sheet and waste are both there"
    )
    # A pan with folded corners cuts none.
    window.session.start_with(demo_work("hive-roof"))
    ready(window.stages["lay-out"])
    assert not picture.isVisible() and not window.stages["lay-out"].corners.isVisible()


def test_a_hole_is_taken_over_from_three_measured_points(bench, qtbot):
    window = bench("syrup-tray")
    window.stages["shape"].designer.add_hole("base", HoleShape.ROUND, 0.0, 0.0)
    button = window.stages["shape"].designer.take_over
    assert button.isVisible()
    said = []

    def in_dialog():
        dialog = QApplication.activeModalWidget()
        # A hole of 1" across, 4" from the left and 3" from the front: its left, right and back edge
        # are touched.
        for (x, y), texts in zip(
            dialog.points, (("3 1/2", "3"), ("4 1/2", "3"), ("4", "3 1/2")), strict=False
        ):
            for line, text in ((x, texts[0]), (y, texts[1])):
                line.setFocus()
                qtbot.keyClicks(line, text)
                said.append(dialog.message.text())
        ok = dialog.buttons.button(dialog.buttons.StandardButton.Ok)
        qtbot.mouseClick(ok, Qt.MouseButton.LeftButton)

    QTimer.singleShot(50, in_dialog)
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert (
        said[-2].startswith("2 of 3")
        and said[-1] == '⌀ 1.000", 4.000" from the left, 3.000" from the front'
    )
    (hole,) = window.session.blank.holes
    base = window.session.blank.panels[0].polygon.min(axis=0)
    assert hole.size[0] == pytest.approx(INCH, abs=1e-3)
    assert hole.centre - base == pytest.approx([4 * INCH, 3 * INCH], abs=1e-2)
    window.session.undo()
    assert window.session.blank.holes[0].size[0] == pytest.approx(INCH / 4)


def test_the_rule_chosen_for_notch_lines_moves_them_at_once(bench, qtbot):
    """What the flat depends on makes another flat, whichever field it is."""
    window = bench("syrup-tray")
    window.show_stage("lay-out")
    stage = window.stages["lay-out"]
    before = [
        s.setting for s in mark_out(window.session.blank, Units.FRACTIONS).scribe if s.kind == "cut"
    ]
    stage.ruler.setFocus()
    for _ in range(3):
        qtbot.keyClick(stage.ruler, Qt.Key.Key_Down)
    assert window.session.job.ruler == "1/16 in"
    after = [
        s.setting for s in mark_out(window.session.blank, Units.FRACTIONS).scribe if s.kind == "cut"
    ]
    assert after != before and all(abs(s / 1.5875 - round(s / 1.5875)) < 1e-6 for s in after)


def stepped_to(qtbot, flat, wanted):
    """Step through what can be pointed at, by the right arrow, until it is there."""
    flat.setFocus()
    for _ in range(200):
        qtbot.keyClick(flat, Qt.Key.Key_Right)
        if wanted(flat.over):
            return flat.over
    raise AssertionError("not to be reached by keys")


def test_holes_and_flanges_are_moved_and_taken_away_by_keys(bench, qtbot):
    window = bench("syrup-tray")
    session, shape = window.session, window.stages["shape"]
    shape.designer.add_hole("base", HoleShape.ROUND, 0.0, 0.0)
    hole = stepped_to(qtbot, shape.flat, lambda over: isinstance(over, HoleHandle))
    before = session.job.part.tree.cutouts[hole.index].x.value
    qtbot.keyClick(shape.flat, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    moved = session.job.part.tree.cutouts[hole.index].x.value
    assert abs(moved - before) == pytest.approx(
        INCH / 16 if session.job.units.is_inch else 1.0, abs=1e-6
    )
    fine = Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier
    qtbot.keyClick(shape.flat, Qt.Key.Key_Left, fine)
    assert 0 < abs(session.job.part.tree.cutouts[hole.index].x.value - moved) < 0.5
    stepped_to(qtbot, shape.flat, lambda over: isinstance(over, HoleHandle))
    qtbot.keyClick(shape.flat, Qt.Key.Key_Delete)
    assert not session.job.part.tree.cutouts
    session.undo()
    assert len(session.job.part.tree.cutouts) == 1
    wall = stepped_to(
        qtbot,
        shape.flat,
        lambda over: isinstance(over, EdgeHandle) and bool(over.name) and over.path is not None,
    )
    qtbot.keyClick(shape.flat, Qt.Key.Key_Delete)
    assert wall.name not in [panel.name for panel in session.blank.panels]
    session.undo()
    assert wall.name in [panel.name for panel in session.blank.panels]


def test_a_hole_is_never_moved_off_its_panel(bench, qtbot):
    window = bench("syrup-tray")
    session, shape, said = window.session, window.stages["shape"], []
    session.complained.connect(said.append)
    base = session.blank.panel("base").polygon
    half = np.ptp(base[:, 0]) / 2
    shape.designer.add_hole("base", HoleShape.ROUND, half - 8.0, 0.0)
    stepped_to(qtbot, shape.flat, lambda over: isinstance(over, HoleHandle))
    for _ in range(8):
        qtbot.keyClick(shape.flat, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    hole = session.blank.holes[0]
    assert said and "stays on the base" in said[-1]
    assert base[:, 0].max() - 1.6 < hole.centre[0] + hole.size[0] / 2 <= base[:, 0].max() + 1e-6, (
        "as far as it goes, and no farther"
    )


def test_delete_in_the_tree_takes_away_what_is_chosen(bench, qtbot):
    window = bench("syrup-tray")
    session, designer = window.session, window.stages["shape"].designer
    designer.add_hole("base", HoleShape.ROUND, 0.0, 0.0)
    assert designer.chosen == ("hole", 0)
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    designer.tree.setFocus()
    qtbot.keyClick(designer.tree, Qt.Key.Key_Delete)
    assert not session.job.part.tree.cutouts
