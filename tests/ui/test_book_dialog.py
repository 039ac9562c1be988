"""The book and the test strip in the window, by keys and clicks."""

import math

import pytest
from hands import choose, planned
from PySide6.QtCore import QPoint, QRectF, Qt, QTimer
from PySide6.QtWidgets import QApplication, QInputDialog

from shop_season import MACHINES, METALS, Shop
from zealous_crane.brake.library import shipped_rack
from zealous_crane.metal.shop_table import ShopTable
from zealous_crane.paint.sheets import LearntPlot
from zealous_crane.shop.book.record import BendRecord, DoneRecord, SizeRecord, StripRecord
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.hierarchical_fit import BendContext
from zealous_crane.shop.settings import book_place
from zealous_crane.shop.test_strip import care_of
from zealous_crane.ui.dialogs.book import BookDialog, Wording
from zealous_crane.ui.dialogs.strip import StripDialog
from zealous_crane.units.length import Units


def shown(qtbot, window, key, kind, shift=False):
    """The dialog a key opens."""
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow)
    more = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    qtbot.keyClick(window, key, Qt.KeyboardModifier.ControlModifier | more)
    return next(w for w in QApplication.topLevelWidgets() if isinstance(w, kind) and w.isVisible())


@pytest.fixture
def season(window):
    shop = Shop(4)
    places = [BendContext(m, t, b) for m, t in METALS for b in MACHINES]
    bends = [
        shop.bend(places[i % 6]).model_copy(update={"job": f"Roof {i % 4}"}) for i in range(60)
    ]
    with Book(book_place(window.session.shop.parent)) as book:
        book.add(*bends, DoneRecord(job="Hive roof", quantity=10, next_time="Line a hair back."))
    return bends


def test_the_book_is_searched_and_a_slip_corrected(qtbot, qtlog, window, season):
    dialog = shown(qtbot, window, Qt.Key.Key_K, BookDialog)
    assert dialog.records.rowCount() == 60
    qtbot.waitUntil(
        lambda: (
            "springs back" in dialog.message.text() and "on this metal" in dialog.message.text()
        ),
        timeout=60_000,
    )
    qtbot.keyClicks(dialog.search, "roof stainless")
    qtbot.waitUntil(lambda: dialog.records.rowCount() == 20)
    few = dialog.records.rowCount()
    assert all(r.metal == "stainless" for r in dialog.records.records)
    record = dialog.chosen()

    def type_it():
        asked = next(
            w
            for w in QApplication.topLevelWidgets()
            if isinstance(w, QInputDialog) and w.isVisible()
        )
        line = asked.focusWidget()
        line.selectAll()
        qtbot.keyClicks(line, "91.5")
        qtbot.keyClick(line, Qt.Key.Key_Return)

    QTimer.singleShot(50, type_it)
    qtbot.mouseClick(dialog.correct, Qt.MouseButton.LeftButton)
    assert dialog.records.rowCount() == few, "the old record is no longer counted"
    dialog.search.clear()
    with Book(book_place(window.session.shop.parent)) as book:
        assert book.count("bend") == 60 and len(book.find("bend", replaced=True)) == 61
        assert next(r for r in book.find("bend") if r.replaces == record.id).got == 91.5
    # Other kinds have their own columns and no picture.
    dialog.kinds.setFocus()
    for _ in range(3):
        qtbot.keyClick(dialog.kinds, Qt.Key.Key_Down)
    dialog.kinds.activated.emit(dialog.kinds.currentIndex())
    assert (
        dialog.records.rowCount() == 1
        and not dialog.plot.isVisible()
        and "next_time" in dialog.records.names
    )
    assert not [said.message for said in qtlog.records if "ResetModel" in said.message], (
        "the table is written anew in one piece"
    )
    dialog.close()


def test_a_record_is_struck_out_and_brought_back(qtbot, window, season):
    dialog = shown(qtbot, window, Qt.Key.Key_K, BookDialog)
    record = dialog.chosen()
    qtbot.mouseClick(dialog.strike, Qt.MouseButton.LeftButton)
    assert dialog.records.rowCount() == 59 and "Struck out" in dialog.told.text()
    qtbot.waitUntil(lambda: len(window.session.book.bends) == 59)
    qtbot.mouseClick(dialog.with_struck, Qt.MouseButton.LeftButton)
    row = next(i for i, r in enumerate(dialog.records.records) if r.struck)
    dialog.table.selectRow(row)
    assert (
        dialog.strike.text() == "Bring back"
        and dialog.chosen().got == record.got
        and not dialog.correct.isEnabled()
    )
    qtbot.mouseClick(dialog.strike, Qt.MouseButton.LeftButton)
    assert not any(r.struck for r in dialog.records.records) and dialog.records.rowCount() == 60
    with Book(book_place(window.session.shop.parent)) as book:
        assert (
            book.count("bend") == 60 == len(book.find("bend"))
            and len(book.find("bend", replaced=True)) == 62
        )
    dialog.close()


def test_a_test_strip_is_measured_and_wins_over_the_job(qtbot, window):
    session = window.session
    dialog = shown(qtbot, window, Qt.Key.Key_K, StripDialog, shift=True)
    # No force is set on a leaf brake, and none is spoken of; a press is told that the part's would
    # crack the strip.
    texts = " ".join(
        c.text() for c in dialog.findChildren(type(dialog.found)) if c.isVisibleTo(dialog)
    )
    assert not dialog.save.isEnabled() and "cracks" not in texts and "force" not in texts
    assert "cracks" in care_of(shipped_rack()["honey-press-2000"])
    flat = dialog.record.flat

    def typed(name, text):
        edit = dialog.form.fields[name].edit
        edit.setFocus()
        edit.selectAll()
        qtbot.keyClicks(edit, text)
        qtbot.keyClick(edit, Qt.Key.Key_Tab)

    typed("leg_one", f"{flat / 2 + 0.5:.2f} mm")
    assert not dialog.save.isEnabled() or dialog.found.text()
    typed("leg_two", f"{flat / 2 + 0.4:.2f} mm")
    typed("angle", "89")
    typed("stop", "92")
    assert dialog.save.isEnabled() and "springback 3.0°" in dialog.found.text()
    # Read to the mark, the first figure is the gain, and the line is moved by all of it.
    was = dialog.record
    choose(dialog.form.fields["legs"], "to the mark")
    thick = was.thickness * math.tan(math.radians(89 / 2))
    typed("leg_one", f"{was.leg_one - thick - was.line:.2f} mm")
    typed("leg_two", f"{was.leg_two - thick:.2f} mm")
    assert (
        "farther from the end of the first leg" in dialog.found.text() and dialog.save.isEnabled()
    )
    choose(dialog.form.fields["legs"], "outside")
    typed("leg_one", f"{was.leg_one:.2f} mm")
    typed("leg_two", f"{was.leg_two:.2f} mm")
    assert dialog.record.leg_one == pytest.approx(was.leg_one, abs=0.01)
    qtbot.mouseClick(dialog.save, Qt.MouseButton.LeftButton)
    assert isinstance(session.job.school, ShopTable) and session.job.springback == 3.0
    assert session.job.springback_from.startswith("from a test strip")
    (strip,) = session.job.school.strips
    assert strip.deduction == pytest.approx(0.9, abs=0.011)
    session.book.settle()
    with Book(book_place(session.shop.parent)) as book:
        assert book.find("strip")[0].angle == 89.0
    planned(qtbot, session)
    assert session.plan.strokes[-1].verdict.springback.angle == pytest.approx(3.0)


def test_the_strip_is_put_on_the_bench_as_a_part_of_its_own(qtbot, window):
    dialog = shown(qtbot, window, Qt.Key.Key_K, StripDialog, shift=True)
    qtbot.mouseClick(dialog.on_bench, Qt.MouseButton.LeftButton)
    assert len(window.session.work.parts) == 2 and window.session.job.name.startswith("Test strip")
    planned(qtbot, window.session)
    assert window.session.plan.feasible and window.session.blank.size[0] == pytest.approx(4 * 25.4)


def test_records_are_read_in_the_shops_own_words(window):
    """Names for keys, the job's units, gauges where the shop says gauges; degrees stay degrees."""
    settings, rack = window.session.settings, window.session.rack
    machines = {brake.key: brake.name for brake in rack.brakes}
    inch = Wording(Units.FRACTIONS, machines, settings.every_metal)
    metric = Wording(Units.MM, machines, settings.every_metal)
    thickness = settings.every_metal["galvanized"].gauge.thickness(22)
    bend = BendRecord(
        machine="apiary-finger-50", metal="galvanized", thickness=thickness, angle=90, stop=92.5,
        got=90.5,
    )  # fmt: skip
    assert inch.cell(bend, "machine") == rack["apiary-finger-50"].name
    assert inch.cell(bend, "metal") == settings.every_metal["galvanized"].name
    assert inch.cell(bend, "thickness") == "22 ga" and "mm" in metric.cell(bend, "thickness")
    assert inch.cell(bend, "got") == "90.5°" and inch.cell(bend, "stop") == "92.5°"
    strip = StripRecord(
        metal="galvanized", thickness=0.77, width=50.8, flat=101.6, line=50.8, leg_one=51,
        leg_two=51, angle=90, stop=92,
    )  # fmt: skip
    assert inch.cell(strip, "flat") == '4"' and metric.cell(strip, "flat") == "101.6 mm"
    size = SizeRecord(what="angle of the left wall", wanted=90.0, got=89.0)
    wide = SizeRecord(what="left wall, outside", wanted=50.8, got=50.8)
    assert inch.cell(size, "got") == "89°" and inch.cell(wide, "got") == '2"'


def test_a_point_of_the_plot_leads_to_its_record_and_back(qtbot, window, season):
    dialog = shown(qtbot, window, Qt.Key.Key_K, BookDialog)
    qtbot.waitUntil(lambda: not dialog.busy)
    learnt, bends = dialog._learnt
    plot = LearntPlot.of(QRectF(dialog.plot.rect()), bends, learnt)
    points = plot.points(bends)
    assert [bend.made for bend, _ in points] == sorted(bend.made for bend, _ in points)
    for bend, place in (points[0], points[len(points) // 2]):
        # A record the search leaves out is found all the same.
        dialog.search.setText("no such job")
        dialog.refresh()
        assert dialog.chosen() is None
        dialog._learnt = learnt, bends
        qtbot.mouseClick(dialog.plot, Qt.MouseButton.LeftButton, pos=place.toPoint())
        assert dialog.chosen().id == bend.id and dialog.search.text() == ""
        qtbot.waitUntil(lambda: not dialog.busy)
    # And back: the row that is chosen stands out among the points.
    qtbot.waitUntil(lambda: dialog._learnt is not None)
    before = dialog.plot.grab().toImage()
    learnt, bends = dialog._learnt
    other = next(
        row
        for row, record in enumerate(dialog.records.records)
        if record.id in {b.id for b in bends} and record.id != dialog.chosen().id
    )
    dialog.table.selectRow(other)
    qtbot.waitUntil(lambda: dialog._learnt is not None)
    assert dialog.plot.grab().toImage() != before
    # A click beside every point chooses nothing.
    row = dialog.table.currentIndex().row()
    qtbot.mouseClick(dialog.plot, Qt.MouseButton.LeftButton, pos=QPoint(3, 3))
    assert dialog.table.currentIndex().row() == row
    dialog.close()
