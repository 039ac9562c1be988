"""How long the window keeps a person waiting: random keys, clicks and wheels while it plans,
everything painted."""

from __future__ import annotations

import random
import time
from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QLineEdit,
    QWidget,
)

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.paint.application import application
from zealous_crane.paint.queue import Turns
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.widgets.canvas import Canvas
from zealous_crane.ui.window.window import Window

KINDS = (QLineEdit, QComboBox, QAbstractButton, QAbstractSlider, QAbstractSpinBox, Canvas)


ROUNDS = 4
"""Turns of the loop given after each event at least: what it asked for is done."""

MOST = 24
"""Of such turns, while a picture waits to be painted."""


class Stall(NamedTuple):
    """How long one event kept the window, seconds.

    Attributes:
        held: the longest the loop was held in one turn: a person who types on waits so long at
            most.
        all: until everything it asked for was done and painted.
        held_itself, all_itself: the same by the thread's own reckoning, without what a machine that
            is shared took away.
    """

    held: float
    all: float
    held_itself: float
    all_itself: float


def stalls(events: int, seed: int) -> list[Stall]:
    """How long each of some random events kept the window."""
    rng = random.Random(seed)
    app = application()
    session = Session(demo_work(DEMOS[0]), shipped_rack())
    window = Window(session)
    window.show()
    while (
        not window.stages.ready
    ):  # made in the first moments, before anybody has read what is on the screen
        app.processEvents()
    found: list[Stall] = []
    for number in range(events):
        if number % 100 == 0:
            session.start_with(demo_work(rng.choice(DEMOS)))
            app.processEvents()
        if number % 20 == 0:
            window.show_stage(rng.choice(list(window.stages)))
            app.processEvents()
        widgets = [
            w
            for w in window.findChildren(QWidget)
            if isinstance(w, KINDS) and w.isVisible() and w.isEnabled()
        ]
        widget = rng.choice([w for w in widgets if not opens_a_dialog(w)])
        turns = [
            timed(lambda widget=widget: touch(widget, rng)),
            *(timed(app.processEvents) for _ in range(ROUNDS)),
        ]
        while not Turns.of_all().through and len(turns) < MOST:
            turns.append(timed(app.processEvents))
        clock, own = [turn[0] for turn in turns], [turn[1] for turn in turns]
        found.append(Stall(max(clock), sum(clock), max(own), sum(own)))
    session.mark_saved()
    window.close()
    # One window is all a person has: the next one does not share its process with what is left of
    # this.
    window.deleteLater()
    QApplication.sendPostedEvents(window, QEvent.Type.DeferredDelete)
    return found


def timed(work: Callable[[], object]) -> tuple[float, float]:
    """Seconds something takes by the clock, and by the thread's own reckoning."""
    begin, began = time.perf_counter(), time.thread_time()
    work()
    return time.perf_counter() - begin, time.thread_time() - began


def opens_a_dialog(widget: QWidget) -> bool:
    """True for buttons that would wait for an answer."""
    return isinstance(widget, QAbstractButton) and "…" in widget.text()


def touch(widget: QWidget, rng: random.Random) -> None:
    """One thing a person may do to a widget."""
    place = QPoint(rng.randrange(max(widget.width(), 1)), rng.randrange(max(widget.height(), 1)))
    if isinstance(widget, QLineEdit):
        widget.setFocus()
        QTest.keyClicks(widget, rng.choice("0123456789"))
        QTest.keyClick(widget, Qt.Key.Key_Return)
    elif isinstance(widget, QComboBox | QAbstractSlider | QAbstractSpinBox):
        widget.setFocus()
        QTest.keyClick(widget, rng.choice([Qt.Key.Key_Up, Qt.Key.Key_Down]))
    elif isinstance(widget, QAbstractButton):
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=place)
    elif rng.random() < 0.5:
        QTest.mouseMove(widget, place)
    else:
        turn = QPoint(0, rng.choice([-120, 120]))
        where = QPointF(place)
        event = QWheelEvent(
            where,
            where,
            QPoint(),
            turn,
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(widget, event)
