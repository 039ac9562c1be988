"""The window: how soon it is there, and how long it keeps a person waiting."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time

from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job

from .rows import row


def window() -> None:
    """Start of the window in a fresh process, and the angle being dragged."""
    begin_script = (
        "import time; t = time.perf_counter()\n"
        "from zealous_crane.paint.application import application\n"
        "from zealous_crane.ui.state.session import Session\n"
        "from zealous_crane.paint.queue import Turns\n"
        "from zealous_crane.ui.window.window import Window\n"
        "from zealous_crane.demo import DEMOS, demo_job, demo_work\n"
        "from zealous_crane.brake.library import shipped_rack\n"
        "app = application(); w = Window(Session(demo_job(), shipped_rack())); w.show(); "
        "app.processEvents()\n"
        "while not Turns.of_all().through:\n    app.processEvents()\n"
        "w.grab()\n"
        "print(time.perf_counter() - t); w.session.close()\n"
    )

    with tempfile.TemporaryDirectory() as compiled:
        # As on the desktop of a person who starts it again: what was compiled the first time is
        # there.
        warm = {
            name: value for name, value in os.environ.items() if name != "PYTHONDONTWRITEBYTECODE"
        }
        warm["PYTHONPYCACHEPREFIX"] = compiled

        def start() -> float:
            out = subprocess.run(
                [sys.executable, "-c", begin_script],
                capture_output=True,
                text=True,
                check=True,
                env=warm,
            )
            return float(out.stdout.split()[-1])

        start()
        row(
            "window ready, fresh process, bytecode warm",
            statistics.median(start() for _ in range(5)),
            "< 1000",
        )

    from views import settle

    from zealous_crane.paint.application import application
    from zealous_crane.ui.pages.bend import BendStage
    from zealous_crane.ui.state.session import Session
    from zealous_crane.ui.window.window import Window, page

    application()
    made = Window(Session(demo_job(), shipped_rack()))
    made.show()
    settle(made.session)
    made.show_stage("bend")
    bends = page(made.stages, "bend", BendStage)
    bends.choose(3)
    frames: list[float] = []
    for degrees in range(120):
        begin = time.perf_counter()
        bends.swing(float(degrees))
        bends.end.grab()
        frames.append(time.perf_counter() - begin)
    worst = sorted(frames)[int(len(frames) * 0.98)]
    print(
        f"  {'dragging the angle: frames a second, median / slowest 2 %':<58}"
        f"{1 / statistics.median(frames):>7.0f} / {1 / worst:.0f}   wanted >= 30"
    )
    made.close()


def waiting() -> None:
    """How long single events keep the window, while it plans."""
    from .stalls import stalls

    for seed in (7, 8):
        found = stalls(2000, seed)
        row(
            f"2 000 random events while planning (seed {seed}): median",
            statistics.median(s.all for s in found),
            "",
        )
        for what, kept, itself in (
            ("the loop held at a time", [s.held for s in found], [s.held_itself for s in found]),
            (
                "until all is done and painted",
                [s.all for s in found],
                [s.all_itself for s in found],
            ),
        ):
            taken, own = sorted(kept), sorted(itself)
            for share in (0.99, 0.999, 1.0):
                at = min(int(len(taken) * share), len(taken) - 1)
                row(
                    f"  {what}, {share:.1%} at most",
                    taken[at],
                    f"< {150 if share == 1 else 50}; the window's own thread {own[at] * 1000:.0f}",
                )
            print(
                f"    over 100 ms: {sum(t > 0.1 for t in taken)}, by its own reckoning "
                f"{sum(t > 0.1 for t in own)}"
            )
