"""Every demonstration's pages: nothing is cut off, nothing runs into the foot, no words lie on
words. Read back from the PDF."""

import threading
from itertools import pairwise

import pytest
from PySide6.QtCore import QRectF, Qt
from PySide6.QtWidgets import QFileDialog, QProgressDialog, QPushButton

import paper
from shared_plans import plan_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.io.job_file import page_code
from zealous_crane.paint.application import application
from zealous_crane.paper.flow import Flow, Picture, Rule, SideBySide, Space, Text
from zealous_crane.paper.page import DOTS, SMALL, TEXT, print_pages
from zealous_crane.paper.sheets import write_exercise, write_sheet
from zealous_crane.paper.template import write_marking
from zealous_crane.practice.make import SKILLS, exercise
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window
from zealous_crane.workers.messages import EventKind
from zealous_crane.workers.pool import Crew, Worker


def overlaps(found):
    """Pairs of runs that lie on each other by more than half a letter's height."""
    pairs = []
    for i, one in enumerate(found):
        for other in found[i + 1 :]:
            across = min(one.x + one.wide, other.x + other.wide) - max(one.x, other.x)
            if (
                across > 2
                and abs(one.y - other.y) < 0.5 * min(one.tall, other.tall)
                and one.words != other.words
            ):
                pairs.append((one.words, other.words))
    return pairs


def check(path, wanted):
    sheets = paper.pages(path)
    foot = SMALL * 1.4 * 72 / DOTS
    for number, sheet in enumerate(sheets, start=1):
        right, top = sheet.size
        found = [run for run in sheet.runs if run.level]
        assert found, (path, number)
        low = min(run.y for run in found)
        in_foot = [run for run in found if run.y < low + foot * 0.6]
        assert len(in_foot) <= 2 and any(f"page {number}" in run.words for run in in_foot), (
            path,
            number,
            in_foot,
        )
        for run in found:
            assert (
                run.x > 0 and run.x + run.wide < right and run.y > 0 and run.y + run.tall < top
            ), (path, number, run)
        assert not overlaps(found), (path, number)
    text = " ".join(sheet.text for sheet in sheets)
    for each in wanted:
        assert paper.typed(each) in text, each
    return len(sheets)


@pytest.mark.parametrize("name", DEMOS)
def test_no_words_of_a_demonstration_are_cut_off_or_lie_on_others(rack, tmp_path, name):
    application()
    for job in demo_work(name).parts:
        plan = plan_of(job, rack[job.brake])
        write_sheet(plan, tmp_path / "sheet.pdf")
        wanted = [plan.sentence, *plan.reasons, *(f"{s.name}: stop at" for s in plan.strokes)]
        check(tmp_path / "sheet.pdf", wanted)
        write_marking(job, plan.blank, tmp_path / "marking.pdf")
        assert check(tmp_path / "marking.pdf", [f"{job.name}: marking out"]) <= 2


def test_a_long_name_gives_way_to_page_code_and_caution(rack, tmp_path):
    application()
    job = demo_job("frame-rail").model_copy(
        update={"name": "Rail for the frames of the honey house, " * 4}
    )
    plan = plan_of(job, rack[job.brake])
    write_sheet(plan, tmp_path / "sheet.pdf")
    check(tmp_path / "sheet.pdf", ["page 1", page_code(job)])
    write_marking(job, plan.blank, tmp_path / "marking.pdf")
    check(tmp_path / "marking.pdf", [page_code(job)])


@pytest.mark.parametrize("skill", SKILLS, ids=lambda skill: skill.key)
def test_a_teachers_sheet_keeps_its_words_apart(rack, tmp_path, skill):
    application()
    asked = exercise(skill, 2, 6, rack)
    write_exercise(asked, tmp_path / "sheet.pdf", answers=True)
    check(
        tmp_path / "sheet.pdf", [*(question.says for question in asked.questions), *asked.cautions]
    )


def test_every_fact_of_a_press_is_on_its_card(rack, tmp_path):
    from zealous_crane.planning.setup import set_up_facts

    application()
    job = demo_job("frame-rail")
    plan = plan_of(job, rack[job.brake])
    write_sheet(plan, tmp_path / "sheet.pdf")
    facts = [f for stroke in plan.strokes for f in set_up_facts(plan, stroke)]
    assert {"Force", "Punch down from touching"} <= {f.label for f in facts}
    check(tmp_path / "sheet.pdf", [f.value for f in facts])


class Counted(Picture):
    """A picture that says where it was painted."""

    def __init__(self, tall, seen):
        super().__init__(tall, seen.append, after=0.0)


def test_blocks_stay_whole_and_words_go_on_over_pages(tmp_path):
    application()
    seen: list[QRectF] = []
    pages: list[int] = []

    def fill(page):
        seen.clear()
        pages.clear()
        flow = Flow(page)
        third = page.body / 3 - TEXT
        for _ in range(5):
            flow.add(Rule(), Space(4), Counted(third, seen))
            pages.append(page.number)
        assert pages in ([1, 1, 2, 2, 3], [1, 1, 1, 2, 2])
        tops = [rect.top() for rect in seen]
        assert tops[0] == 0 and tops[pages.index(2)] == 0, (
            "what parts blocks is nothing at a page's top"
        )
        begun = page.number
        flow.add(Text("a long note " * 1500))
        assert page.number - begun >= 2
        flow.every([Text("heading", strong=True), Counted(page.body * 0.9, seen)])
        flow.add(SideBySide(((1, (Text("left"),)), (1, (Text("right " * 60),)))))
        assert flow.y <= page.body

    print_pages(demo_job(), tmp_path / "flow.pdf", "careful", fill)
    text = paper.text_of(tmp_path / "flow.pdf")
    assert text.count("note") == 1500, "no word is lost at a page's end"
    assert text.index("heading") > text.rindex("note")
    numbers = [int(part.split()[0]) for part in text.split("page ")[1:]]
    assert all(b == a + 1 for a, b in pairwise(numbers))


def test_every_part_in_one_document(qtbot, tmp_path, monkeypatch):
    """The work's contents, how it is cut, each part's sheet with its own foot: planned by the crew,
    then written in one step."""
    session = Session(demo_work("hive-scale"), shipped_rack())
    window = Window(session)
    qtbot.addWidget(window)
    window.show()
    path = tmp_path / "scale.pdf"
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "scale"), "")
    )
    with qtbot.waitActive(window):
        window.activateWindow()
    qtbot.keyClick(
        window, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier
    )
    qtbot.waitUntil(path.exists, timeout=60_000)
    check(path, [part.name for part in session.work.parts])
    pages = [page.text for page in paper.pages(path)]
    assert all(part.name in pages[0] and page_code(part) in pages[0] for part in session.work.parts)
    assert "cutting" in pages[1]
    for part in session.work.parts:
        own = [text for text in pages[2:] if page_code(part) in text]
        assert own and part.name in own[0] and any("Bend 1" in text for text in own)
    # What was planned for it is not planned again at the bench, unless there are cures to look for.
    other = 1 if session.at == 0 else 0
    plan = session.plan_of(other)
    assert plan is not None and plan.complete
    session.parts.choose(other)
    assert session.plan is plan and not session.bench_plan.busy
    session.mark_saved()
    window.close()


class Idle(Worker):
    """Takes what it is asked and never answers."""

    def ask(self, number, ask):
        self.run, self.idle = number, False

    def stop(self, number):
        self.run, self.idle = number, True


def test_the_parts_are_called_off(qtbot, tmp_path, monkeypatch):
    session = Session(demo_work("wax-melter-chimney"), shipped_rack(), crew=Crew(Idle))
    window = Window(session)
    qtbot.addWidget(window)
    window.show()
    refused = []
    monkeypatch.setattr(window.front, "refuse", refused.append)
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "w.pdf"), "")
    )
    window.handing.ask_work()
    shown = lambda: next((d for d in window.findChildren(QProgressDialog) if d.isVisible()), None)  # noqa: E731
    qtbot.waitUntil(lambda: shown() is not None, timeout=5000)
    assert "Planning Chimney sleeve" in shown().labelText()
    qtbot.mouseClick(shown().findChild(QPushButton), Qt.MouseButton.LeftButton)
    assert refused == ["Cancelled; nothing was saved."] and not (tmp_path / "w.pdf").exists()
    session.mark_saved()
    window.close()


class Broken(Worker):
    """Breaks at whatever it is asked."""

    asked = 0

    def ask(self, number, ask):
        Broken.asked += 1
        self.run = number
        threading.Timer(0.02, self.hear, (number, EventKind.FAILED, "it broke")).start()

    def stop(self, number):
        self.run = number


def test_a_part_that_cannot_be_planned_ends_it_once(qtbot, tmp_path, monkeypatch):
    session = Session(demo_work("wax-melter-chimney"), shipped_rack(), crew=Crew(Broken))
    window = Window(session)
    qtbot.addWidget(window)
    window.show()
    qtbot.wait(50)
    refused, before = [], Broken.asked
    monkeypatch.setattr(window.front, "refuse", refused.append)
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_, **__: (str(tmp_path / "w.pdf"), "")
    )
    window.handing.ask_work()
    qtbot.waitUntil(lambda: bool(refused), timeout=5000)
    qtbot.wait(100)
    assert (
        len(refused) == 1
        and "the program hit an error" in refused[0]
        and Broken.asked == before + 1
    )
    assert (
        not any(d.isVisible() for d in window.findChildren(QProgressDialog))
        and not (tmp_path / "w.pdf").exists()
    )
    session.mark_saved()
    window.close()
