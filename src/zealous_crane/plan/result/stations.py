"""Set-ups side by side on one bed: made up once, when the bed is long enough and the rack holds both."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import replace

from ...brake import Brake, Section
from .plan import PlannedStroke, Setup

APART = 20.0
"""Least room (mm) between what stands at one station and a part bent at the other. Common practice, no source."""


def side_by_side(setups: Sequence[Setup], strokes: Sequence[PlannedStroke], brake: Brake) -> tuple[Setup, ...]:
    """The set-ups, each moved to its station along the bed when all of them can stand there at once; else as they were.

    They must want the same of the machine (the leaf's angle, the place on the bed, the heights of punch and die), the rack must hold
    the pieces of all of them, and no part bent at one station may reach the tools of another.
    """
    alike = all(setups[0].tooling.stands_beside(s.tooling) and abs(s.setback - setups[0].setback) < 0.01 for s in setups[1:])
    if len(setups) < 2 or not alike or not _in_rack(setups):
        return tuple(setups)
    half = [0.0] * len(setups)
    reach: list[tuple[float, float]] = []
    for number, _ in enumerate(setups):
        at = [s for s in strokes if s.setup == number]
        middles = [(s.sections[0][0] + s.sections[-1][1]) / 2 for s in at]
        ranges = [s.verdict.stroke.setting.x_range for s in at]
        left = min(r[0] - m for r, m in zip(ranges, middles, strict=True))
        right = max(r[1] - m for r, m in zip(ranges, middles, strict=True))
        reach.append((left, right))
        # Dies may be longer than what stands over them.
        half[number] = max(
            max(middle - low, high - middle)
            for stroke, middle in zip(at, middles, strict=True)
            for low, high in (*stroke.sections, *stroke.die_sections)
        )
    places = [0.0]
    for i in range(1, len(setups)):
        right_of_part = max(reach[i - 1][1], half[i - 1]) + half[i]
        left_of_part = half[i - 1] + max(-reach[i][0], half[i])
        places.append(places[-1] + max(right_of_part, left_of_part) + APART)
    low = min(p - (h if brake.open_ends else max(h, -r[0])) for p, h, r in zip(places, half, reach, strict=True))
    high = max(p + (h if brake.open_ends else max(h, r[1])) for p, h, r in zip(places, half, reach, strict=True))
    if high - low > brake.bed_length:
        return tuple(setups)
    middle = (low + high) / 2
    return tuple(replace(s, station=p - middle) for s, p in zip(setups, places, strict=True))


def _in_rack(setups: Sequence[Setup]) -> bool:
    """True when the rack holds the pieces of all set-ups at once."""
    wanted: dict[tuple[str, tuple[Section, ...]], Counter[float]] = {}
    for setup in setups:
        for rack, blocks in zip(setup.tooling.racks, (setup.blocks, setup.die_blocks), strict=False):
            need = wanted.setdefault((rack.kind, rack.pieces), Counter())
            need.update(round(w, 3) for b in blocks for w in b.widths)
    for (_, pieces), need in wanted.items():
        have: Counter[float] = Counter()
        for piece in pieces:
            have[round(piece.width, 3)] += piece.count
        if any(have[width] < count for width, count in need.items()):
            return False
    return True
