"""Every text of the window, its dialogs and other pages in a language in which what can be
translated stands between ⟦ and ⟧: prints what does not, and everything that was asked for in that
language, as JSON.

Run by itself, with the language set before anything is imported. Names people give (parts, brakes,
metals, folds) and figures are no words of the program.
"""

from __future__ import annotations

import contextlib
import html
import itertools
import json
import re
import sys
import tempfile
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import (
    QAbstractButton,
    QComboBox,
    QLabel,
    QLineEdit,
    QListWidget,
    QTableWidget,
    QTabWidget,
    QTreeWidget,
    QWidget,
)
from views import settle

import paper
from zealous_crane.bending.machines import machine_of
from zealous_crane.brake.library import NEW, shipped_rack
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.blank import Blank
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.i18n import Phrase, asked, within
from zealous_crane.inspection.explain import Explanation, causes_of
from zealous_crane.inspection.finishing import finishing
from zealous_crane.inspection.inspection import Inspection
from zealous_crane.inspection.wording import advice, cause_words, question_text, verdict
from zealous_crane.io.job_file import page_code, read_job
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import DrawnPart
from zealous_crane.metal.material import MATERIALS
from zealous_crane.paint.application import application
from zealous_crane.paper.sheets import write_sheet
from zealous_crane.paper.template import write_marking
from zealous_crane.part.corner import Corner, CornerAt
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Hem, Joggle, Seam, SeamForm
from zealous_crane.part.hole import Cutout, MarkForm, Stiffener
from zealous_crane.part.size import names_of
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.registry import advise
from zealous_crane.planning.setup import set_up_facts
from zealous_crane.practice.exercise import QuestionKind
from zealous_crane.practice.make import SKILLS, exercise
from zealous_crane.ui.dialogs.book import BookDialog
from zealous_crane.ui.dialogs.brake import BrakeDialog, SectionsDialog
from zealous_crane.ui.dialogs.fit import FitDialog, FitView
from zealous_crane.ui.dialogs.fitting import FittingDialog
from zealous_crane.ui.dialogs.order import OrderDialog
from zealous_crane.ui.dialogs.preferences import DeviceDialog, PreferencesDialog
from zealous_crane.ui.dialogs.rows import RowsDialog
from zealous_crane.ui.dialogs.shop.dialog import ShopDialog
from zealous_crane.ui.dialogs.shop.machines import ShopDoors
from zealous_crane.ui.dialogs.strip import StripDialog
from zealous_crane.ui.dialogs.take_over import TakeOverDialog
from zealous_crane.ui.pages.practice import PracticePage
from zealous_crane.ui.pages.tool_choices import PiecesDialog
from zealous_crane.ui.state.autosave import Found
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.designer import fill_tree, lines_of
from zealous_crane.ui.widgets.field import SumButton
from zealous_crane.ui.widgets.schools import SchoolTable
from zealous_crane.ui.window.commands import Palette
from zealous_crane.ui.window.filing import RecoveryDialog
from zealous_crane.ui.window.window import Window, page

PROGRAM = "Zealous Crane"


def bare(text: str) -> str:
    """Text without its markup."""
    return html.unescape(re.sub("<[^>]*>", " ", text))


def texts(window: QWidget):
    """Everything a person may read, as (who says it, text)."""
    for action in window.findChildren(QAction):
        yield "menu", action.text()
    for widget in (window, *window.findChildren(QWidget)):
        kind = type(widget).__name__
        yield f"{kind} tip", bare(widget.toolTip())
        yield f"{kind} name", widget.accessibleName()
        yield f"{kind} title", widget.windowTitle().replace(PROGRAM, "")
        if isinstance(widget, SumButton):
            continue  # its words are cut short where there is no room; its name has them whole
        if isinstance(widget, QLabel | QAbstractButton):
            yield kind, bare(widget.text())
        elif isinstance(widget, QLineEdit):
            yield kind, widget.placeholderText()
        elif isinstance(widget, QComboBox):
            yield from ((kind, widget.itemText(i)) for i in range(widget.count()))
        elif isinstance(widget, QListWidget):
            yield from ((kind, widget.item(i).text()) for i in range(widget.count()))
        elif isinstance(widget, QTabWidget):
            yield from ((kind, widget.tabText(i)) for i in range(widget.count()))
        elif isinstance(widget, QTableWidget):
            heads = [widget.horizontalHeaderItem(i) for i in range(widget.columnCount())]
            yield from ((kind, head.text()) for head in heads if head)
            for row in range(widget.rowCount()):
                yield from (
                    (kind, item.text())
                    for c in range(widget.columnCount())
                    if (item := widget.item(row, c))
                )
        elif isinstance(widget, QTreeWidget):
            rows = widget.findItems("", Qt.MatchFlag.MatchContains | Qt.MatchFlag.MatchRecursive)
            yield from ((kind, row.text(0)) for row in rows)


def given(blank: Blank) -> set[str]:
    """Words that are data: names of panels, folds and cuts."""
    named = (blank.panels, blank.folds, blank.holes, blank.notches, blank.reliefs, blank.marks)
    return {each.name for each in itertools.chain(*named)}


ONE_OF_EVERYTHING = Design(
    base=Base(length=100, width=80),
    flanges=(
        Flange(edge="front", height=20),
        Hem(edge="back", length=8, name="grip"),
        Joggle(edge="left", lap=10),
        Seam(edge="right", form=SeamForm.LAP),
    ),
    corners=(CornerAt(at="front-right", corner=Corner()),),
    cutouts=(Cutout(length=5),),
    marks=(Stiffener(form=MarkForm.CROSS_BREAK),),
)
"""A part on which stands one of everything."""

NAMES = {
    *names_of(ONE_OF_EVERYTHING).values(),
    *(brake.name for brake in shipped_rack().brakes),
    *(
        tool.name
        for brake in shipped_rack().brakes
        for field in brake.tools
        for tool in getattr(brake, field)
    ),
    *(metal.name for metal in MATERIALS.values()),
    *(named.name for demo in DEMOS for named in (demo_work(demo), *demo_work(demo).parts)),
}
"""Names of brakes, tools, metals and parts."""

ITS_OWN = {
    "Thursday January",
    "book book address txt",
    "Cancel",
    "Close",
    "Save",
    "Scroll Left",
    "Scroll Right",
    "American English",
    "Brown Sharpe",
    "dev ttyUSB",
}
"""What the window library says in languages of its own, what a language calls itself, two makers of
gauges, files and devices."""


def both(words: set[str]) -> list[str]:
    """Names as they are written and as a sentence begins with them, the longest first."""
    return sorted(
        {w for word in words for w in (word, word.capitalize(), word.lower(), within(word)) if w},
        key=len,
        reverse=True,
    )


def plain(text: Phrase, words: list[str]) -> str:
    """What of a text is neither translated nor data."""
    before, text = None, str(text)
    while before != text:
        before, text = text, re.sub(r"⟦[^⟦⟧]*⟧", " ", text)
    for word in words:
        text = text.replace(word, " ")
    text = re.sub(
        r"\b(mm|in|ga|kN|kg|g|lb|oz|tons|t|x|y|z|BD|BA|K|V|DXF|SVG|PDF|JSON|Ctrl|F\d+)\b", " ", text
    )
    return " ".join(re.findall(r"[A-Za-z]{3,}", text))


def tree() -> QTreeWidget:
    """The tree of a part with one of everything."""
    found = QTreeWidget()
    fill_tree(found, lines_of(DrawnPart(tree=ONE_OF_EVERYTHING)))
    return found


def opened(window: Window) -> Iterator[QWidget]:
    """Every dialog of the window, one after the other."""
    session, look = window.session, window.front.look
    work, job = session.work, session.job
    yield ShopDialog(
        session, look, window, ShopDoors(lambda: None, lambda: None, lambda path: True)
    )
    for brake in (session.brake, *(new.begin(session.rack, session.job.units) for new in NEW)):
        dialog = BrakeDialog(brake, job.units, look, window)
        for row in range(dialog.list.count()):
            dialog.list.setCurrentRow(row)
            yield dialog
    yield SectionsDialog(job.units, window)
    yield RowsDialog(session, look, window)
    yield StripDialog(session, look, window, lambda: None)
    yield FittingDialog(work.fitting, job, window.session.rack, window)
    yield FitDialog(session, window)
    yield SchoolTable(session, window)
    yield OrderDialog(
        job.order, session.blank, avoidable=machine_of(session.brake).avoidable, parent=window
    )
    yield PiecesDialog(session.brake, job.tools, window)
    yield DeviceDialog(session.devices, window)
    yield BookDialog(session, look, window)
    yield Palette(window.commands, window)
    yield RecoveryDialog(Found(Path("kept"), datetime(2026, 1, 1), work, 0, None), window)
    for hole in getattr(job.part, "holes", ())[:1]:
        yield TakeOverDialog(hole, job.units, window)
    yield tree()
    yield PreferencesDialog(
        session, window, dark=None, text=100, set_dark=lambda dark: None, set_text=lambda text: None
    )


def other_pages(window: Window, words: set[str]) -> Iterator[QWidget]:
    """The pages that are no stages; names of what is practised on are added to ``words``."""
    window.show_start()
    yield window
    window.show_at_brake()
    yield window
    window.show_practice()
    practice = page(window.others, "practice", PracticePage)
    for skill in SKILLS:
        practice.set_exercise(skill, 2, 1)
        practice.settle()
        settle(window.session, 200)
        if practice.exercise is not None:
            words |= given(practice.exercise.blank)
        yield window


def shown(window: Window, words: set[str], *, first: bool) -> Iterator[QWidget]:
    """Whatever of a window can be looked at, as it is shown; what is the same for every work only
    for the ``first``."""
    session, look = window.session, window.front.look
    for stage in window.stages:
        window.show_stage(stage)
        settle(session, 200)
        yield window
    if first:
        yield from other_pages(window, words)
    for dialog in (
        opened(window)
        if first
        else [FitView(session, fit, look, window) for fit in session.work.fits[:1]]
    ):
        dialog.show()
        settle(session, 200)
        yield dialog
        dialog.hide()


def said() -> Iterator[tuple[set[str], str]]:
    """What is said of every part among the cases, on a machine of either kind: names in it, and a
    text."""
    rack = shipped_rack()
    jobs = [read_job(path) for path in sorted((Path(__file__).parent / "cases").glob("*.json"))]
    for job, brake in itertools.product(jobs, (rack["apiary-finger-50"], rack["honey-press-2000"])):
        with contextlib.suppress(DevelopmentError):
            plan = make_plan(job, brake, limit=30)
            names = NAMES | given(plan.blank)
            texts = [
                plan.sentence,
                *plan.reasons,
                *(step.says for step in plan.hand),
                *(s.sentence() for s in plan.strokes),
            ]
            texts += [
                text
                for each in plan.blank.sums
                for text in (each.what, each.rule, *(term.what for term in each.terms))
            ]
            texts += [
                fact.label + " " + fact.value
                for stroke in plan.strokes
                for fact in set_up_facts(plan, stroke)
            ]
            texts += [str(finding.says) for finding in plan.blank.findings]
            yield from ((names, text) for text in texts)
            # What is met is data in a plan's file, in whatever language it was made: its words
            # alone would be reported.
            record = plan_record(plan)
            for stroke in [*record["strokes"], *([record["stuck"]] if record["stuck"] else [])]:
                for met in filter(None, (stroke["limit"], stroke.get("contact"))):
                    yield from (
                        (names, "not data: " + met[key].strip("⟦⟧"))
                        for key in ("body", "tool", "phase")
                        if "⟦" in met[key]
                    )


def printed(home: Path) -> Iterator[tuple[set[str], str]]:
    """What stands on the pages for the bench and the brake, of a part for either kind of
    machine."""
    for job in map(demo_job, ("syrup-tray", "frame-rail")):
        plan = make_plan(job, shipped_rack()[job.brake])
        write_sheet(plan, home / "sheet.pdf")
        write_marking(job, plan.blank, home / "marking.pdf")
        for path in (home / "sheet.pdf", home / "marking.pdf"):
            yield (
                NAMES | given(plan.blank) | {job.note, page_code(job)},
                paper.text_of(path).replace("\x02 ", "-").replace("- ", "-"),
            )  # a name parted at its hyphen


def explained() -> Iterator[tuple[set[str], str]]:
    """What is said of a finished part: every cause and its advice, what explains some figures, what
    is left to do."""
    for job in (demo_job("hive-scale"), demo_job("frame-rail"), demo_job("syrup-tray")):
        blank = develop(job)
        names, inspection = NAMES | given(blank), Inspection(job, blank)
        for cause, by in itertools.product(causes_of(blank), (1.5, -1.5)):
            told = advice(Explanation(cause, by, 1.0), blank, job)
            yield from (
                (names, text)
                for text in (
                    told.what,
                    told.this_part,
                    told.next_part,
                    cause_words(cause, blank, job),
                )
            )
        got: dict[str, float] = {}
        for n, line in enumerate(inspection.lines[:6]):
            got[line.measure.key] = line.wanted + (1.5 if n % 2 else -0.9)
            yield names, line.measure.says
            found = inspection.explained(got)
            if found is not None:
                yield names, verdict(found, blank, job, len(inspection.out(got)))
                yield names, question_text(found.question, blank, job) if found.question else ""
        for film in ("inside", "outside"):
            for step in finishing(job.model_copy(update={"film": film}), blank):
                yield from ((names, text) for text in (step.says, step.caution))
        yield from ((names, row.says(job.units)) for row in blank.rows)


ANSWERS = {QuestionKind.LENGTH: (0.0, 1.0, 30.0), QuestionKind.ANGLE: (1.0, 90.0)}
"""What somebody may answer, where nothing is given to choose from."""


def practised() -> Iterator[tuple[set[str], str]]:
    """What is asked in an exercise of every kind, and what is said of right and wrong answers."""
    for skill in SKILLS:
        set_ = exercise(skill, 2, 1, shipped_rack())
        names = NAMES | given(set_.blank)
        yield from ((names, text) for text in (set_.task, *set_.cautions, *set_.table, *set_.given))
        for question in set_.questions:
            yield from (
                (names, text)
                for text in (question.says, question.hint, question.answer, *question.options)
            )
            number = range(len(question.options))
            answers = ANSWERS.get(question.kind) or (
                number
                if question.kind is QuestionKind.CHOICE
                else [tuple(number), tuple(number)[::-1]]
            )
            yield from ((names, question.mark(answer).says) for answer in answers)


def cured() -> Iterator[tuple[set[str], str]]:
    """What is proposed where a part cannot be made as it is."""
    rack = shipped_rack()
    job = demo_job("deep-feeder")
    plan = advise(make_plan(job, rack[job.brake]), rack)
    assert plan.cures, "nothing is proposed for a part that is meant to need it"
    yield from ((NAMES | given(plan.blank), cure.says) for cure in plan.cures)


def main(names: list[str], home: Path) -> None:
    application()
    found: dict[str, str] = {}
    for words, text in itertools.chain(said(), printed(home), explained(), practised(), cured()):
        left = plain(text, both(words))
        if left and left not in ITS_OWN:
            found.setdefault(left, f"said: {text[:100]}")
    for name in names:
        session = Session(demo_work(name), shipped_rack(), shop=home / "brakes")
        window = Window(session)
        window.show()
        settle(session)
        words, looked_at = (
            NAMES.union(
                *(given(session.parts.blank_of(at)) for at in range(len(session.work.parts)))
            ),
            set[str](),
        )
        for widget in shown(window, words, first=name == names[0]):
            data = both(words)
            for who, text in texts(widget):
                if text not in looked_at:
                    looked_at.add(text)
                    left = plain(text.replace(str(home), ""), data)
                    if left and left not in ITS_OWN:
                        found.setdefault(left, f"{type(widget).__name__}, {who}: {text[:100]}")
        session.mark_saved()
        window.close()
    print(
        json.dumps(
            {
                "left": [f"{left!r} — {where!r}" for left, where in sorted(found.items())],
                "asked": sorted(asked()),
            }
        )
    )


if __name__ == "__main__":
    with tempfile.TemporaryDirectory() as home:
        main(sys.argv[1:], Path(home))
