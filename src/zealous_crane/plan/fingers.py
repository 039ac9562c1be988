"""Choosing fingers: the shop's real lengths fitted into the room there is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

from ..brake import Finger, LeafBrake
from ..measure import Units, show_length

GRAIN = 0.01
"""Sums of finger widths closer than this (mm) are one."""

SLACK_PER_FINGER = 8.0
"""Millimetres of fold left uncovered that are worth setting one finger more."""


LEAST_GAP = 0.5
"""Smallest gap (mm) that is set on purpose."""


@dataclass(frozen=True)
class Demand:
    """What one stroke asks of a block of fingers.

    Attributes:
        least, most: total width, gaps included, mm.
        wanted: width that would cover the fold as far as there is room, mm.
        room: (low, high) mm along x in which the block must stand, side clearance already taken off.
        cover: (low, high) mm that it must cover at least.
    """

    least: float
    most: float
    wanted: float
    room: tuple[float, float]
    cover: tuple[float, float]

    @property
    def width(self) -> tuple[float, float, float]:
        """Least, most and wanted width, mm."""
        return self.least, self.most, self.wanted


Width = tuple[float, float, float]
"""Least, most and wanted width of a block, mm."""


def joint(one: Width, other: Width) -> Width | None:
    """The demand of one block on two strokes, or None when no width serves both."""
    least, most = max(one[0], other[0]), min(one[1], other[1])
    return (least, most, min(most, max(one[2], other[2]))) if least <= most + 1e-9 else None


def demand(span: tuple[float, float], free: Sequence[tuple[float, float]], brake: LeafBrake) -> Demand | str:
    """What a fold over ``span`` asks of the fingers when they may stand in ``free``.

    Returns:
        the demand on one block, or a sentence saying why no block holds the fold.
    """
    low, high = span
    end = brake.unsupported_end
    best: Demand | None = None
    for a, b in free:
        # The ends of the bed need no clearance; a wall does.
        room = (
            a + (brake.side_clearance if a > -brake.bed_length + 1e-6 else 0.0),
            b - (brake.side_clearance if b < brake.bed_length - 1e-6 else 0.0),
        )
        cover = (low + end, high - end)
        if cover[0] > cover[1]:
            cover = ((low + high) / 2,) * 2
        if room[0] > cover[0] + 1e-9 or room[1] < cover[1] - 1e-9:
            continue
        most = min(room[1] - room[0], brake.bed_length)
        least = max(cover[1] - cover[0], 1e-3)
        if least > most:
            continue
        best = Demand(least, most, min(most, high - low), room, cover)
    if best is None:
        return "no finger may stand over the whole fold"
    return best


@dataclass(frozen=True)
class Block:
    """Fingers side by side.

    Attributes:
        widths: mm, left to right.
        gap: between neighbours, mm.
    """

    widths: tuple[float, ...]
    gap: float

    @property
    def total(self) -> float:
        """Width over all, mm."""
        return sum(self.widths) + self.gap * (len(self.widths) - 1)

    def placed(self, left: float) -> tuple[tuple[float, float], ...]:
        """Interval (mm) of every finger when the block begins at ``left``."""
        at, found = left, []
        for width in self.widths:
            found.append((at, at + width))
            at += width + self.gap
        return tuple(found)


@lru_cache(maxsize=64)
def reachable(fingers: tuple[Finger, ...], longest: float) -> tuple[tuple[float, tuple[int, ...]], ...]:
    """Every sum the rack reaches up to ``longest`` mm with the fewest fingers for it: (sum, count per width)."""
    none = (0,) * len(fingers)
    sums: dict[int, tuple[int, ...]] = {0: none}
    for i, finger in enumerate(fingers):
        step = round(finger.width / GRAIN)
        grown = dict(sums)
        for total, counts in sums.items():
            for n in range(1, finger.count + 1):
                reached = total + n * step
                if reached * GRAIN > longest:
                    break
                with_n = (*counts[:i], n, *counts[i + 1 :])
                known = grown.get(reached)
                if known is None or sum(with_n) < sum(known):
                    grown[reached] = with_n
        sums = grown
    return tuple((total * GRAIN, counts) for total, counts in sorted(sums.items()) if total)


def fit(width: Width, brake: LeafBrake) -> Block | None:
    """The block that serves a demand: fewest fingers, unless one more covers the fold clearly better.

    Gaps up to the brake's largest are spread evenly. None when the rack cannot make the width.
    """
    return _fit(tuple(round(w, 6) for w in width), brake.fingers, brake.largest_gap, brake.bed_length)


@lru_cache(maxsize=4096)
def _fit(width: tuple[float, ...], fingers: tuple[Finger, ...], largest_gap: float, bed: float) -> Block | None:
    least, most, wanted = width
    best: tuple[float, float, tuple[int, ...], float] | None = None
    for total, counts in reachable(fingers, bed):
        if total > most + 1e-6:
            break
        pieces = sum(counts)
        gaps = pieces - 1
        # Spread the block towards the wanted width, then no farther than its gaps allow.
        spread = min(max(wanted - total, 0.0), gaps * largest_gap, most - total)
        # A gap nobody can see is not worth setting.
        if spread < gaps * LEAST_GAP and total >= least - 1e-6:
            spread = 0.0
        if total + spread < least - 1e-6:
            continue
        cost = pieces + max(wanted - total, 0.0) / SLACK_PER_FINGER
        key = (cost, spread, counts, spread / gaps if gaps else 0.0)
        if best is None or key[:2] < best[:2]:
            best = key
    if best is None:
        return None
    widths = [fingers[i].width for i, n in enumerate(best[2]) for _ in range(n)]
    return Block(tuple(sorted(widths, reverse=True)), best[3])


def place(block: Block, need: Demand) -> tuple[tuple[float, float], ...]:
    """Where each finger of a block stands for one stroke: in the middle of the fold, moved only as far as needed."""
    middle = (need.cover[0] + need.cover[1]) / 2
    left = middle - block.total / 2
    left = min(max(left, need.room[0], need.cover[1] - block.total), need.room[1] - block.total, need.cover[0])
    return block.placed(left)


def why_no_fit(width: Width, brake: LeafBrake, units: Units) -> str:
    """A sentence for a width the rack cannot make, with the nearest it can."""
    sums = [total for total, _ in reachable(brake.fingers, brake.bed_length)]
    if not sums:
        return "there are no fingers in the rack"
    need = f"a block between {show_length(width[0], units)} and {show_length(width[1], units)}"
    below = max((s for s in sums if s <= width[1]), default=None)
    above = min((s for s in sums if s > width[1]), default=None)
    near = " or ".join(show_length(s, units) for s in (below, above) if s is not None)
    return f"no set of fingers makes {need}; the nearest are {near}"


def width_text(block: Block, units: Units, *, pretty: bool = False) -> str:
    """``4 + 4 + 3, gaps 1/8``."""
    text = " + ".join(show_length(w, units, mark=False, pretty=pretty) for w in block.widths)
    if block.gap > 0.005:
        text += f", gaps {show_length(math.floor(block.gap * 100) / 100, units, pretty=pretty)}"
    return text
