"""The shop: machines copied, renamed, retired and handed out by key and mouse, undone, and there
again after a start."""

import pytest
from hands import choose, planned, retype
from in_dialog import in_dialog
from PySide6.QtCore import Qt

from zealous_crane.brake.library import MachineLibrary, read_brake, shop_rack
from zealous_crane.job.job import Job
from zealous_crane.metal.material import Material
from zealous_crane.part.kinds.strip import SingleBend
from zealous_crane.shop.book.record import StockRecord
from zealous_crane.shop.settings import read_settings
from zealous_crane.ui.dialogs.shop.dialog import ShopDialog
from zealous_crane.ui.state.session import Session
from zealous_crane.units.length import INCH
from zealous_crane.units.quantities import Tonnage, say_forces_in
from zealous_crane.workers.pool import Crew


def in_shop(qtbot, window, deed):
    return in_dialog(qtbot, window, ShopDialog, Qt.Key.Key_M, deed)


def at(qtbot, dialog, name):
    """Go to a machine by the arrow keys."""
    dialog.machines.list.setFocus()
    qtbot.keyClick(dialog.machines.list, Qt.Key.Key_Home)
    for _ in range(dialog.machines.list.count()):
        if dialog.machines.brake.name == name:
            return
        qtbot.keyClick(dialog.machines.list, Qt.Key.Key_Down)
    raise AssertionError(name)


def left(qtbot, button):
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def test_a_machine_is_copied_renamed_used_and_undone(qtbot, window, tmp_path):
    session = window.session
    before = session.rack
    first = session.brake

    def deed(dialog):
        at(qtbot, dialog, first.name)
        assert (
            "in use for this job" in dialog.machines.list.currentItem().text()
            and "an example" in dialog.machines.list.currentItem().text()
        )
        left(qtbot, dialog.machines.copy)
        assert dialog.machines.brake.name == f"{first.name}, copy 1"
        dialog.machines.name.setFocus()
        dialog.machines.name.selectAll()
        qtbot.keyClicks(dialog.machines.name, "Brake by the door")
        qtbot.keyClick(dialog.machines.name, Qt.Key.Key_Return)
        assert (
            "Brake by the door" in dialog.machines.list.currentItem().text()
            and "your own" in dialog.machines.list.currentItem().text()
        )
        dialog.machines.hand_out(tmp_path / "door.json")
        dialog.machines.name.setFocus()
        dialog.machines.name.selectAll()
        qtbot.keyClick(dialog.machines.name, Qt.Key.Key_Backspace)
        qtbot.keyClick(dialog.machines.name, Qt.Key.Key_Return)
        return dialog.machines.complaint.text()

    assert in_shop(qtbot, window, deed) == "A machine needs a name."
    copy = session.brake
    assert copy.name == "Brake by the door" and read_brake(tmp_path / "door.json") == copy
    assert shop_rack(session.shop)[0][copy.key] == copy, "it is there after a start"
    planned(qtbot, session)
    session.undo()
    session.undo()
    assert session.rack == before and not (session.shop / f"{copy.key}.json").exists()


def test_a_retired_machine_is_offered_no_more_but_still_found(qtbot, window):
    session = window.session
    other = next(b for b in session.rack.brakes if b.key != session.job.brake)

    def retire(dialog):
        at(qtbot, dialog, other.name)
        left(qtbot, dialog.machines.retire)
        return dialog.machines.list.currentItem().text(), dialog.machines.retire.text()

    words, button = in_shop(qtbot, window, retire)
    assert "retired" in words and button == "Take &back"
    offered = [window.header.brake.itemText(i) for i in range(window.header.brake.count())]
    assert other.name not in offered and session.rack[other.key] == other
    assert shop_rack(session.shop)[0].retired == {other.key}
    session.undo()
    assert shop_rack(session.shop)[0].retired == frozenset() and session.rack.retired == frozenset()


def test_the_stock_of_the_book_is_shown(qtbot, window):
    session = window.session
    session.book.note(
        StockRecord(
            what="off-cut",
            metal="brass",
            thickness=1.0,
            length=508,
            width=254,
            count=2,
            name="by the wall",
        )
    )
    session.book.settle()

    def look(dialog):
        qtbot.waitUntil(lambda: dialog.stock.pieces.rowCount() == 1)
        return [dialog.stock.pieces.item(0, j).text() for j in range(5)]

    what, metal, piece, count, name = in_shop(qtbot, window, look)
    assert (
        what == "off-cut"
        and "rass" in metal
        and count == "2"
        and name == "by the wall"
        and "20" in piece
    )


def test_sheets_are_written_in_counted_down_and_missed(qtbot, window):
    session = window.session
    session.edit("quantity", quantity=60)

    def write_in(dialog):
        dialog.stock.came.setFocus()
        dialog.stock.came.selectAll()
        qtbot.keyClicks(dialog.stock.came, "4")
        left(qtbot, dialog.stock.write_in)
        qtbot.waitUntil(lambda: dialog.stock.pieces.rowCount() == 1)
        return [dialog.stock.pieces.item(0, j).text() for j in range(4)]

    what, metal, piece, count = in_shop(qtbot, window, write_in)
    assert (what, count) == ("sheet", "4") and piece == '96" × 48"' and "luminium" in metal
    window.show_stage("cut")
    stage = window.stages["cut"]
    qtbot.waitUntil(lambda: not stage.busy, timeout=60_000)
    needs = stage.told[0].bought
    assert needs > 4
    qtbot.waitUntil(lambda: "The book holds 4 sheets" in stage.says.text())
    assert f"this takes {needs}" in stage.says.text()
    session.edit("quantity", quantity=6)
    qtbot.waitUntil(lambda: not stage.busy and stage.told[0].bought == 1, timeout=60_000)
    assert "The book holds" not in stage.says.text()
    left(qtbot, stage.to_stock)
    session.book.settle()
    session.book.ask_stock()
    qtbot.waitUntil(lambda: any(s.what == "sheet" and s.count == 3 for s in stage._stock))


def test_a_metal_of_our_own_in_use_changes_and_is_undone(qtbot, window, tmp_path):
    def deed(dialog):
        page = dialog.metals
        dialog.tabs.setCurrentWidget(page)
        page.list.setFocus()
        qtbot.keyClick(page.list, Qt.Key.Key_Home)
        assert "Tensile strength 380 MPa" in page.about.text() and page.form is None
        left(qtbot, page.copy)
        assert page.metal.key == "mild-steel-2" and "our own" in page.list.currentItem().text()
        field = page.form.fields["tensile"]
        retype(qtbot, field, "520")
        qtbot.keyClick(field.edit, Qt.Key.Key_Return)
        left(qtbot, page.use)
        retype(qtbot, page.form.fields["yield_strength"], "900")
        said = page.form.fields["yield_strength"].complaint.text()
        page.hand_out(tmp_path / "metal.json")
        left(qtbot, page.remove)
        return said, page.complaint.text()

    said, kept = in_shop(qtbot, window, deed)
    assert "yields before it tears" in said and "choose another metal" in kept
    job, settings = window.session.job, window.session.settings
    assert job.metal == "mild-steel-2" and job.sheet.metal.tensile == 520.0
    assert window.header.metal.currentData() == "mild-steel-2"
    home = window.session.shop.parent
    assert read_settings(home)[0] == settings
    # Another shop opens the file of the metal; here the change is taken back, on disk too.
    assert Material.model_validate_json((tmp_path / "metal.json").read_text()) == settings.metals[0]
    while window.session.job.own_metal is not None:
        window.commands["edit.undo"].trigger()
    assert read_settings(home)[0].metals[0].tensile == 520.0
    window.commands["edit.undo"].trigger()
    assert read_settings(home)[0].metals[0].tensile == 380.0


def test_what_hangs_on_the_wall_is_seen_on_the_blank_at_once(qtbot, window):
    before = {r.size for r in window.session.blank.reliefs}

    def deed(dialog):
        dialog.tabs.setCurrentWidget(dialog.tools)
        form = dialog.tools.forms["small_tools"]
        retype(qtbot, form.fields["punches"], "3/16; 1/2")
        dialog.tabs.setCurrentWidget(dialog.ways)
        choose(dialog.ways.forms["ways"].fields["strike_from"], "left back")
        dialog.tabs.setCurrentWidget(dialog.tools)
        retype(qtbot, form.fields["punches"], "3/16; nothing")
        return form.fields["punches"].complaint.text()

    assert "nothing" in in_shop(qtbot, window, deed)
    now = {round(r.size / INCH, 4) for r in window.session.blank.reliefs}
    assert now <= {0.1875, 0.5} and before != now and window.session.job.strike_from == "left back"


def test_another_unit_of_force_changes_what_is_on_show(qtbot, rack, own_crew_window):
    session = own_crew_window
    assert "kN" in session.plan.sentence and "tons" not in session.plan.sentence.split("(")[0]
    ways = session.settings.ways.model_copy(update={"tonnage": Tonnage.SHORT})
    with qtbot.waitSignal(session.rested, timeout=60_000):
        assert (
            session.shop_edits.keep_settings(session.settings.model_copy(update={"ways": ways}))
            is None
        )
    assert "tons (" in session.plan.sentence, session.plan.sentence
    # Taken back, what is on show is as it was.
    with qtbot.waitSignal(session.rested, timeout=60_000):
        session.undo()
    assert "tons" not in session.plan.sentence.split("(")[0]


@pytest.fixture
def own_crew_window(qtbot, rack):
    """A session with a crew of its own, on a press too weak for the part."""
    weak = rack["honey-press-2000"].model_copy(update={"force": 10.0, "key": "weak"})
    job = Job(
        part=SingleBend(first=60, second=50, length=400),
        metal="mild-steel",
        thickness="3 mm",
        units="mm",
        brake="weak",
    )
    crew = Crew()
    session = Session(job, MachineLibrary((weak,)), crew=crew)
    with qtbot.waitSignal(session.rested, timeout=60_000):
        pass
    yield session
    session.close()
    crew.close()
    say_forces_in(Tonnage.BY_UNITS)
