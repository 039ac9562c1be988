"""How long a book of many years takes to look things up: 100 000 bends, every view as it stands on
the screen."""

from __future__ import annotations

import random
import time
from pathlib import Path

from PySide6.QtWidgets import QApplication

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.paint.application import application
from zealous_crane.shop.book.record import BendRecord
from zealous_crane.shop.book.store import Book
from zealous_crane.shop.settings import book_place
from zealous_crane.ui.dialogs.book import BookDialog
from zealous_crane.ui.state.session import Session
from zealous_crane.ui.window.window import Window

ASKED = ("", "job 77", "copper", "left wall", "nothing such")


def book_of_years(shop: Path, count: int) -> None:
    """Write a book of so many bends."""
    rng = random.Random(3)
    machines = [b.key for b in shipped_rack().brakes]
    with Book(book_place(shop)) as book:
        for _ in range(0, count, 5000):
            book.add(
                *(
                    BendRecord(
                        job=f"job {rng.randrange(400)}",
                        part=1 + rng.randrange(40),
                        metal=rng.choice(["mild-steel", "copper"]),
                        stroke=rng.choice(["front wall", "left wall"]),
                        thickness=rng.choice([0.55, 0.8, 1.0]),
                        machine=rng.choice(machines),
                        stop=93.0,
                        angle=90.0,
                        got=round(90 + rng.gauss(0, 1), 1),
                    )
                    for _ in range(5000)
                )
            )


def views(shop: Path, times: int) -> dict[str, list[float]]:
    """Seconds until a view stands on the screen: the book opened, then each text searched for, so
    many times each."""
    application()
    session = Session(demo_job(), shipped_rack(), shop=shop / "brakes")
    window = Window(session)
    window.show()
    taken: dict[str, list[float]] = {}
    for number in range(times + 1):
        begin = time.perf_counter()
        dialog = BookDialog(session, window.front.look, window)
        dialog.show()
        QApplication.processEvents()
        if number:  # the first one loads what all share
            taken.setdefault("opened", []).append(time.perf_counter() - begin)
        while dialog.busy:
            QApplication.processEvents()
        for text in ASKED if number else ():
            dialog.search.blockSignals(True)
            dialog.search.setText(text)
            dialog.search.blockSignals(False)
            begin = time.perf_counter()
            dialog.refresh()
            QApplication.processEvents()
            taken.setdefault(f"“{text}”", []).append(time.perf_counter() - begin)
            while dialog.busy:
                QApplication.processEvents()
        dialog.accept()
    session.mark_saved()
    window.close()
    return taken
