"""What is fast and how fast: medians, and ratios measured in the same run.

The machines this runs on are shared, so single figures wander; ratios hold.
"""

from __future__ import annotations

import argparse
import sys
from functools import partial

from zealous_crane.cache import collect_seldom

from .against import against
from .growth import growth
from .shape import folded, shape
from .strokes import engine, press
from .suite import suite
from .window import waiting, window
from .work import book, checking, cutting

SECTIONS = {
    "engine": engine,
    "press": press,
    "growth": growth,
    "shape": shape,
    "folded": folded,
    "cutting": cutting,
    "checking": checking,
    "book": book,
    "window": window,
    "waiting": waiting,
    "suite": suite,
}

ASKED_FOR = ("suite",)
"""Sections that take too long to be among all."""

if __name__ == "__main__":
    parser = argparse.ArgumentParser(prog="./crane bench", description=__doc__)
    parser.add_argument(
        "sections",
        nargs="*",
        metavar="SECTION",
        help=f"which figures: {', '.join(SECTIONS)}; none means all but suite",
    )
    parser.add_argument(
        "--against",
        nargs="+",
        metavar=("COMMIT", "TIMES"),
        help="plans and cures against an older commit instead",
    )
    parser.add_argument(
        "--draw", action="store_true", help="draw docs/growth.svg from what growth found"
    )
    asked = parser.parse_args()
    if asked.against:
        against(asked.against[0], *(int(times) for times in asked.against[1:2]))
        sys.exit()
    if unknown := set(asked.sections) - set(SECTIONS):
        parser.error(f"there is no {', '.join(sorted(unknown))}; there is {', '.join(SECTIONS)}")
    print("Zealous Crane, medians on this machine:\n")
    collect_seldom()  # as in the process that plans for the window
    SECTIONS["growth"] = partial(growth, draw=asked.draw)
    for name in asked.sections or [name for name in SECTIONS if name not in ASKED_FOR]:
        SECTIONS[name]()
