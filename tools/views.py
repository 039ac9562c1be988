"""Pictures of the window and the hand-over files, for a machine with no display."""

from __future__ import annotations

from collections.abc import Callable
from importlib import resources
from pathlib import Path

from PySide6.QtCore import QElapsedTimer, QEventLoop, QTimer
from PySide6.QtWidgets import QLineEdit, QWidget

from zealous_crane.brake.library import NEW, shipped_rack
from zealous_crane.demo import SEASON, demo_job
from zealous_crane.flat.element import MadeBy
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.model import Cause, Model, Off
from zealous_crane.inspection.wording import show_reading
from zealous_crane.io.formats import Subject
from zealous_crane.job.job import Job
from zealous_crane.paint.application import application
from zealous_crane.paint.queue import Turns
from zealous_crane.paper.work_steps import Station
from zealous_crane.paper.writers import writer_of
from zealous_crane.practice.layout import LAY_OUT
from zealous_crane.shop.book.store import Book, read_records
from zealous_crane.shop.settings import book_place
from zealous_crane.ui.dialogs.shop.dialog import ShopDialog
from zealous_crane.ui.dialogs.shop.machines import ShopDoors
from zealous_crane.ui.dialogs.strip import StripDialog
from zealous_crane.ui.pages.bend import BendStage
from zealous_crane.ui.pages.checking import CheckingStage
from zealous_crane.ui.pages.practice import PracticePage
from zealous_crane.ui.pages.registry import STAGES
from zealous_crane.ui.pages.start import StartPage
from zealous_crane.ui.pages.work_mode import WorkMode
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.field import TextField
from zealous_crane.ui.window.window import Window
from zealous_crane.ui.window.window import page as page_of
from zealous_crane.work.work import Work

AT_THE_BRAKE = "at-the-brake"

PAGES = (*(stage.id for stage in STAGES), AT_THE_BRAKE)
"""What there are pictures of: the stages, and the page at the brake."""


LOOKED_EVERY = 20
"""Milliseconds after which it is looked again where nothing happens in the window."""


def wait_until(done: Callable[[], bool], milliseconds: int) -> None:
    """Let the window work until something is so, or for so long, and show it; it sleeps where there
    is nothing to do, for other processes work too."""
    clock, again = QElapsedTimer(), QTimer()
    clock.start()
    again.start(LOOKED_EVERY)
    every = QEventLoop.ProcessEventsFlag.AllEvents
    while not done() and clock.elapsed() < milliseconds:
        application().processEvents(every | QEventLoop.ProcessEventsFlag.WaitForMoreEvents)
    again.stop()
    application().processEvents(every, LOOKED_EVERY)


def settle(session: Session, milliseconds: int = 90_000) -> None:
    """Let the window work until the plan, and any cures, are there."""
    application().processEvents()
    wait_until(
        lambda: session.plan is not None and not session.bench_plan.busy and Turns.of_all().through,
        milliseconds,
    )


def ready(page: QWidget | None) -> None:
    """Let a page work out what it shows."""
    wait_until(lambda: not getattr(page, "busy", False) and Turns.of_all().through, 20_000)


def take_start_picture(path: Path) -> None:
    """The page where work begins, at 1280 × 800."""
    application()
    session = Session(demo_job(), shipped_rack())
    window = Window(session)
    window.show()
    settle(session)
    window.show_start()
    start = page_of(window.others, "start", StartPage)
    wait_until(lambda: all(card.drawn for card in start.cards if card.isVisible()), 20_000)
    window.grab().save(str(path))
    window.close()


def take_shop_pictures(folder: Path, home: Path) -> None:
    """The book of an invented season, a brake of one's own with one of its sizes lit, the shop, a
    test strip, a learnt stop.

    Args:
        folder: where the pictures go.
        home: an empty folder for the shop's book.
    """
    from zealous_crane.ui.dialogs.book import BookDialog
    from zealous_crane.ui.dialogs.brake import BrakeDialog

    application()
    with Book(book_place(home)) as book, resources.as_file(SEASON) as season:
        book.add(*read_records(season))
    session = Session(demo_job(), shipped_rack(), shop=home / "brakes")
    window = Window(session)
    window.show()
    settle(session)
    looked_into = BookDialog(session, window.front.look, window)
    brake = BrakeDialog(
        NEW[0].begin(session.rack, session.job.units), session.job.units, window.front.look, window
    )
    for dialog, name in ((looked_into, "book"), (brake, "own-brake")):
        dialog.show()
        brake.lit = "leaf_bar"
        settle(session)
        ready(dialog)
        dialog.grab().save(str(folder / f"{name}.png"))
        dialog.close()
    _take_strip(window, session, folder)
    _take_learnt(window, session, folder)
    _take_bench(window, session, folder)
    shop = ShopDialog(
        session,
        window.front.look,
        window,
        ShopDoors(
            window.dialogs.ask_new_brake, window.dialogs.ask_edit_brake, window.dialogs.bring_brake
        ),
    )
    shop.show()
    shop.tabs.setCurrentWidget(shop.machines)
    shop.machines.list.setCurrentRow(
        [brake.key for brake in session.rack.brakes].index(demo_job("frame-rail").brake)
    )
    settle(session, 200)
    shop.grab().save(str(folder / "shop-press.png"))
    shop.close()
    _take_practice(window, session, folder)
    session.mark_saved()
    window.close()


def _take_strip(window: Window, session: Session, folder: Path) -> None:
    """A test strip as it is measured: one leg longer than its mark, the angle a little open."""
    strip = StripDialog(session, window.front.look, window, lambda: None)
    strip.show()
    record = strip.record
    first, second = (
        record.line + 0.8 * record.thickness,
        record.flat - record.line + 0.7 * record.thickness,
    )
    typed = {
        "leg_one": f"{first:.2f} mm",
        "leg_two": f"{second:.2f} mm",
        "angle": "90",
        "stop": "92",
        "radius": "0.4 mm",
        "lot": "7",
    }
    for name, text in typed.items():
        field = strip.form.fields[name]
        assert isinstance(field, TextField)
        field.edit.setText(text)
        field.edit.textEdited.emit(text)
        field.edit.editingFinished.emit()
    settle(session, 200)
    strip.grab().save(str(folder / "coupon.png"))
    strip.close()


def _take_learnt(window: Window, session: Session, folder: Path) -> None:
    """At the brake after some bends: the angle just typed, and where to stop the next part."""
    window.show_at_brake()
    page = page_of(window.others, "work", WorkMode).brake
    page.next()
    # How it is brought in would be caught at some moment or other.
    page.film.stop()
    for got in ("88.5", "88", "88.5", "89"):
        page.take_angle(got)
        settle(session, 200)
    session.book.settle()
    settle(session, 400)
    window.grab().save(str(folder / f"{AT_THE_BRAKE}.png"))
    window.show_stage("bend")


def _take_bench(window: Window, session: Session, folder: Path) -> None:
    """The work mode at the bench: a setting of the scribe with its lines lit."""
    window.show_work()
    mode = page_of(window.others, "work", WorkMode)
    mode.show_station(Station.BENCH)
    mode.next()
    settle(session, 200)
    window.grab().save(str(folder / "at-the-bench.png"))
    window.show_stage("bend")


def _take_practice(window: Window, session: Session, folder: Path) -> None:
    """An exercise half done: a wall forgotten, the rest right."""
    page = page_of(window.others, "practice", PracticePage)
    window.show_practice()
    page.set_exercise(LAY_OUT, 2, 1)
    page.settle()
    settle(session, 200)
    assert page.exercise is not None
    for asked in page.asked[:3]:
        # What is read from the answer again is the figure itself.
        assert isinstance(asked.field, QLineEdit)
        asked.field.setText(
            "14 1/2" if asked is page.asked[0] else "11" if asked is page.asked[1] else "1/2"
        )
    page.check_answers()
    page.settle()
    settle(session, 200)
    window.grab().save(str(folder / "practice.png"))


def measure(page: QWidget) -> None:
    """Type what a part would measure whose second wall is bent 4° short."""
    assert isinstance(page, CheckingStage)
    model = Model(page.session.blank, Striking.of(page.session.job))
    walls = [i for i, fold in enumerate(page.session.blank.folds) if fold.made_by is MadeBy.BRAKE]
    off = {Cause(Off.ANGLE, walls[1]): -4.0}
    for line, field in zip(page.lines, page.fields, strict=True):
        value = float(model.values((line.measure,), off)[0])
        field.setText(show_reading(line.measure, value, page.session.job))
        field.editingFinished.emit()


def take_pictures(
    job: Job | Work,
    folder: Path,
    *,
    pages: tuple[str, ...] = PAGES,
    prefix: str = "",
    part: int = 0,
    in_round: bool = False,
) -> list[Path]:
    """One picture of each stage at 1280 × 800, from the real window.

    Args:
        job: what is on the bench.
        folder: where the pictures go.
        pages: which stages.
        prefix: of the names of the files.
        part: number of the part that is shown, from 0.
        in_round: the bend is shown in three dimensions, on its way.
    """
    application()
    folder.mkdir(parents=True, exist_ok=True)
    session = Session(job, shipped_rack())
    session.parts.choose(part)
    window = Window(session)
    window.show()
    settle(session)
    made: list[Path] = []
    for page in pages:
        if page == AT_THE_BRAKE:
            window.show_at_brake()
            page_of(window.others, "work", WorkMode).brake.next()
        else:
            window.show_stage(page)
        if page == "bend" and session.plan is not None and session.plan.strokes:
            bend = page_of(window.stages, "bend", BendStage)
            bend.choose(len(session.plan.strokes) - 1)
            if in_round and bend.stroke is not None:
                bend.in_round.setChecked(True)
                bend.swing(0.75 * bend.stroke.verdict.reach)
        if page == "check":
            ready(window.stages["check"])
            measure(window.stages["check"])
        # What a page made last is painted in a turn of its own.
        for _ in range(3):
            settle(session, 200)
            ready(window.stages.get(page))
        path = folder / f"{prefix}{page}.png"
        window.grab().save(str(path))
        made.append(path)
    session.mark_saved()
    window.close()
    return made


def hand_over(job: Job, folder: Path) -> list[Path]:
    """Sheet, drawing and plan of a job, through the window's own session."""
    application()
    folder.mkdir(parents=True, exist_ok=True)
    session = Session(job, shipped_rack())
    settle(session)
    plan = session.plan
    assert plan is not None
    subject, made = Subject(job, plan.blank, plan), []
    for id_, name in (("sheet", "sheet.pdf"), ("dxf", "blank.dxf"), ("plan", "plan.json")):
        writer_of(id_).write(subject, folder / name)
        made.append(folder / name)
    session.close()
    return made
