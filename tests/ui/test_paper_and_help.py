"""Printing, text in PDFs, the palette, preferences, the manual, and new work, by keys."""

from datetime import date

import pypdfium2
import pytest
from hands import choose, planned
from PySide6.QtCore import Qt, QTimer
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtWidgets import QApplication

from paper import pages, text_of
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.errors import InputError
from zealous_crane.flat.development import develop
from zealous_crane.i18n import choose_language, chosen_language, language_file, languages
from zealous_crane.io.formats import Subject
from zealous_crane.paint.application import application
from zealous_crane.paper.page import paper_layout
from zealous_crane.paper.template import write_template
from zealous_crane.paper.writers import writer_of
from zealous_crane.planning.planner import make_plan
from zealous_crane.ui.dialogs.about import ManualWindow, write_manual
from zealous_crane.ui.dialogs.preferences import PreferencesDialog
from zealous_crane.ui.dialogs.printing import Preview, keep, restore
from zealous_crane.ui.manual import PAGES, page_for, page_text
from zealous_crane.ui.state.user_settings import Remembered
from zealous_crane.ui.window.commands import Palette, score
from zealous_crane.units.length import show_length
from zealous_crane.units.quantities import Tonnage, say_forces_in, show_force

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.mark.parametrize("name", ["syrup-tray", "frame-rail"])
def test_every_word_and_figure_of_a_sheet_can_be_searched(rack, tmp_path, name):
    job = demo_job(name)
    plan = make_plan(job, rack[job.brake])
    subject = Subject(job, plan.blank, plan)
    for kind in ("sheet", "marking"):
        writer_of(kind).write(subject, tmp_path / f"{kind}.pdf")
        found = text_of(tmp_path / f"{kind}.pdf")
        for size in plan.blank.size:
            assert show_length(size, job.units).removeprefix("≈") in found, (kind, size)
        # Raised and lowered figures are found as they are typed.
        assert not set("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉⁄") & set(found)
        assert job.name in found
    said = text_of(tmp_path / "sheet.pdf")
    assert " ".join(plan.sentence.split()) in said and rack[job.brake].name in said


def test_pages_go_to_a_printer_as_they_go_to_a_file(qtbot, window, rack, tmp_path):
    plan = planned(qtbot, window.session)
    subject = Subject(plan.job, plan.blank, plan)
    writer_of("sheet").write(subject, tmp_path / "file.pdf")
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    from zealous_crane.paper.page import searchable, usual_layout

    printer.setPageLayout(usual_layout(plan.job))
    writer_of("sheet").write(subject, printer)
    one = pages(tmp_path / "file.pdf")
    (tmp_path / "printed.pdf").write_bytes(searchable((tmp_path / "printed.pdf").read_bytes()))
    other = pages(tmp_path / "printed.pdf")
    assert [page.text for page in one] == [page.text for page in other]


def test_paper_is_remembered(tmp_path):
    application()
    remembered = Remembered(tmp_path / "w.ini")
    printer = QPrinter()
    layout = printer.pageLayout()
    layout.setPageSize(type(layout.pageSize())(type(layout.pageSize()).PageSizeId.A3))
    printer.setPageLayout(layout)
    printer.setDuplex(QPrinter.DuplexMode.DuplexLongSide)
    keep(printer, remembered)
    other = QPrinter()
    restore(other, Remembered(tmp_path / "w.ini"))
    assert other.pageLayout().pageSize().id() == layout.pageSize().id()


def in_next_dialog(kind, deed):
    found = []

    def now():
        dialog = QApplication.activeModalWidget()
        assert isinstance(dialog, kind), dialog
        try:
            found.append(deed(dialog))
        finally:
            dialog.close()

    QTimer.singleShot(300, now)
    return found


def test_ctrl_p_shows_the_pages(qtbot, window):
    planned(qtbot, window.session)
    window.activateWindow()
    found = in_next_dialog(Preview, lambda d: d.device.docName())
    qtbot.keyClick(window, Qt.Key.Key_P, CTRL)
    assert found == [window.session.job.name]


def test_a_command_is_found_by_a_few_letters(qtbot, window):
    window.activateWindow()
    qtbot.keyClick(window, Qt.Key.Key_A, CTRL | SHIFT)
    palette = window.findChild(Palette)
    qtbot.waitUntil(palette.isVisible)
    assert palette.list.count() > 40
    qtbot.keyClicks(palette.line, "layout")
    assert "Lay out" in palette.list.currentItem().text()
    qtbot.keyClick(palette.line, Qt.Key.Key_Return)
    assert window.stack.currentWidget() is window.stages["lay-out"]
    assert score("zz", "Lay out") is None


def test_preferences_change_the_look_and_are_kept(qtbot, window, tmp_path, monkeypatch):
    window.front.remembered = Remembered(tmp_path / "w.ini")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    window.activateWindow()

    def deed(dialog):
        choose(dialog.look, True)
        choose(dialog.ways.forms["ways"].fields["strike_from"], "left back")
        choose(dialog.ways.forms["ways"].fields["tonnage"], Tonnage.METRIC)
        choose(dialog.language, "en")
        assert "when this is closed" in dialog.language_says.text()
        return window.front.look.dark

    found = in_next_dialog(PreferencesDialog, deed)
    qtbot.keyClick(window, Qt.Key.Key_Comma, CTRL)
    assert found == [True] and Remembered(tmp_path / "w.ini").dark is True
    assert window.session.settings.ways.strike_from == "left back"
    assert chosen_language() == "en" and language_file().is_relative_to(tmp_path)
    choose_language("")
    assert chosen_language() == "" and languages()[0] == "en"
    assert show_force(98.0665, window.session.job.units) == "10 t (98 kN)"
    window.set_dark(False)
    say_forces_in(Tonnage.BY_UNITS)


def test_f1_opens_the_manual_where_one_is(qtbot, window, tmp_path):
    window.activateWindow()
    window.show_stage("bend")
    qtbot.keyClick(window, Qt.Key.Key_F1)
    manual = window.findChild(ManualWindow)
    assert (
        manual.isVisible() and "one card for every stroke" in manual.browser.toPlainText().lower()
    )
    manual.close()
    files = write_manual(tmp_path / "html")
    assert len([f for f in files if f.suffix == ".html"]) == len(PAGES)
    assert "kind:" not in (tmp_path / "html" / "kinds.html").read_text() and any(
        f.suffix == ".png" for f in files
    )
    assert page_for("at-the-brake") == "work" and page_for("nowhere") == "start"


def test_what_the_manual_says_is_so():
    """Keys it names are keys of the window; kinds and schools are the program's own."""
    import re

    from zealous_crane.metal import allowance as schools
    from zealous_crane.part.kinds import KINDS
    from zealous_crane.ui.window.commands import COMMANDS

    keys = {key for command in COMMANDS for key in command.keys.split("; ")}
    for name in PAGES:
        for key in re.findall(r"Ctrl\+[A-Za-z0-9+]+", page_text(name)):
            assert key in keys, (name, key)
    assert all(kind.label in page_text("kinds") for kind in KINDS)
    assert (
        "Neutral line (K)" in page_text("bend-allowance")
        and str(schools.NeutralLine.label) == "Neutral line (K)"
    )


def test_new_work_is_nobodys_and_two_parts_of_a_kind_have_two_names(qtbot, window, tmp_path):
    window.front.remembered = Remembered(tmp_path / "w.ini")
    window.front.remembered.last = {
        "metal": "stainless",
        "thickness": "24 ga",
        "brake": "bench-finger-1000",
        "units": "mm",
    }
    window.session.mark_saved()
    window.begin(demo_work("syrup-tray"))
    job = window.session.job
    assert (job.name, job.quantity, job.note) == ("Open box", 1, "") and (
        job.metal,
        job.thickness,
    ) == ("stainless", "24 ga")
    assert (
        job.brake == "bench-finger-1000"
        and job.units.value == "mm"
        and window.stages["shape"].isVisible()
    )
    window.add_part(demo_work("syrup-tray"))
    assert [p.name for p in window.session.work.parts] == ["Open box", "Open box 2"]


def test_openings_of_a_dialog_leave_nothing_behind(qtbot, window):
    from pathlib import Path

    from zealous_crane.ui.dialogs.shop.dialog import ShopDialog

    def resident():
        return int(Path("/proc/self/statm").read_text().split()[1]) * 4096 / 1e6

    def once():
        QTimer.singleShot(0, lambda: QApplication.activeModalWidget().reject())
        window.dialogs.show_shop()
        qtbot.wait(1)

    for _ in range(6):
        once()
    before = resident()
    for _ in range(16):
        once()
    assert not window.findChildren(ShopDialog)
    assert resident() - before < 10.0, "megabytes; one that is kept takes six"


def test_the_sheet_stands_alone(rack, tmp_path):
    """What is to be measured with its tolerance, boxes to write into, how it is turned, the day and
    how many pages there are."""
    job = demo_job("syrup-tray")
    plan = make_plan(job, rack.find(job.brake))
    writer_of("sheet").write(Subject(plan.job, plan.blank, plan), tmp_path / "sheet.pdf")
    found = pages(tmp_path / "sheet.pdf")
    said = " ".join(page.text for page in found)
    for number, page in enumerate(found, start=1):
        assert (
            f"page {number} of {len(found)}" in page.text and date.today().isoformat() in page.text
        )
    assert said.count("angle got") == said.count("second hit") == len(plan.strokes)
    assert "Turn it end for end." in said and "Turn it a quarter." in said
    # The tray is 14 1/2 × 10 1/4 inside: the openings at the rim, and the tolerance of such a
    # length.
    wanted = said.split("Measure on the finished part")[1]
    assert (
        "opening inside at the rim 10 1/4 1/64" in wanted
        and "opening inside at the rim 14 1/2 1/64" in wanted
    )


def test_nothing_on_paper_is_smaller_than_eight_points(rack, tmp_path):
    job = demo_job("inspection-tray")
    plan = make_plan(job, rack.find(job.brake))
    subject = Subject(plan.job, plan.blank, plan)
    for kind in ("sheet", "marking"):
        writer_of(kind).write(subject, tmp_path / f"{kind}.pdf")
        small = {
            round(run.tall, 1): run.words
            for page in pages(tmp_path / f"{kind}.pdf")
            for run in page.runs
            if run.tall < 7.9
        }
        # Numerators stand small by nature.
        assert not {
            tall: words for tall, words in small.items() if any(c.isalpha() for c in words)
        }, small


@pytest.mark.parametrize(
    ("name", "wide", "tall"),
    [
        ("a4", 297, 210),
        ("a3", 420, 297),
        ("letter", 279.4, 215.9),
        ("tabloid", 431.8, 279.4),
        ("roll", 535.3, 914),
    ],
)
def test_a_template_is_at_full_size_on_any_paper(tmp_path, name, wide, tall):
    """The syrup tray's blank, 19 1/2 × 15 1/4: what is drawn of its outline is as long on paper as
    it will be in metal."""
    job = demo_job("syrup-tray")
    blank = develop(job)
    path = tmp_path / "template.pdf"
    write_template(job, blank, path, paper_layout(name, blank.size))
    found = pages(path)
    across, down = (round(side * 25.4 / 72, 1) for side in found[0].size)
    assert (across, down) == (pytest.approx(wide, abs=0.6), pytest.approx(tall, abs=0.6))
    document = pypdfium2.PdfDocument(path)
    lines = [
        o.get_bounds()
        for o in document[0].get_objects()
        if o.type == pypdfium2.raw.FPDF_PAGEOBJ_PATH
    ]
    document.close()
    # The bar for the rule is two inches long on every page.
    lengths = [(right - left) / 72 for left, _, right, _ in lines]
    assert any(abs(length - 2.0) < 0.03 for length in lengths), sorted(lengths)[-8:]
    if name == "roll":
        sides = [((right - left) / 72, (top - low) / 72) for left, low, right, top in lines]
        assert any(abs(a - 19.5) < 0.05 and abs(b - 15.25) < 0.05 for a, b in sides), (
            "the whole blank on one page"
        )


def test_a_paper_nobody_knows_is_a_sentence():
    with pytest.raises(InputError, match="Known: a4, a3, letter, tabloid, roll"):
        paper_layout("papyrus", (100.0, 100.0))
