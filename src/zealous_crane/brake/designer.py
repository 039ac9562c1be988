"""The section-set designer: which lengths to cut from one bar of tool, so that they reach the most
widths.

What a set reaches: every sum of its lengths, each used at most once, and whatever lies above a sum
by no more than the gaps that may be left between its pieces.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..errors import InputError
from ..i18n import tr

MOST = 12
"""Sets proposed for one bar."""


@dataclass(frozen=True)
class Bar:
    """What sections are cut from. All mm.

    Attributes:
        length: of the bar.
        kerf: what the saw takes per cut.
        allowance: what is machined off each sawn end.
        step: the lengths are whole multiples of this.
        gap: largest gap left between two pieces when they are set.
    """

    length: float
    kerf: float
    allowance: float
    step: float
    gap: float

    def __post_init__(self) -> None:
        if self.length <= 0 or self.step <= 0:
            raise InputError(tr("the bar and the step must be longer than nothing"))
        if self.kerf < 0 or self.allowance < 0 or self.gap < 0:
            raise InputError(tr("kerf, allowance and gap must not be negative"))
        if self.step > self.length:
            raise InputError(tr("the step is longer than the bar"))

    def used(self, lengths: Sequence[float]) -> float:
        """What cutting these lengths takes of the bar, mm: each with a machined end on both sides,
        a kerf between two."""
        return (
            sum(lengths) + 2 * self.allowance * len(lengths) + self.kerf * max(0, len(lengths) - 1)
        )


@dataclass(frozen=True)
class SectionSet:
    """Lengths cut from one bar, and what they do.

    Attributes:
        name: how they were found.
        lengths: mm, longest first.
        left: what is left of the bar, mm.
        reached: widths reached exactly, as multiples of the step up to the whole.
        within: share of all widths from the shortest piece to the whole that are reached within the
            gaps, 0 to 1.
        widest_miss: largest width between two reached ones that is not, mm.
    """

    name: str
    lengths: tuple[float, ...]
    left: float
    reached: tuple[int, ...]
    within: float
    widest_miss: float

    @property
    def whole(self) -> float:
        """All pieces together, mm."""
        return sum(self.lengths)

    @property
    def complete(self) -> bool:
        """True when every multiple of the step up to the whole is reached exactly."""
        return len(self.reached) > 0 and self.reached == tuple(range(1, self.reached[-1] + 1))


def assess(name: str, units: Sequence[int], bar: Bar) -> SectionSet:
    """What a set of lengths, in steps, reaches.

    Args:
        name: as it is called.
        units: what lengths are shown in.
        bar: its length, mm.

    Raises:
        InputError: it does not come out of the bar.
    """
    lengths = tuple(sorted((u * bar.step for u in units), reverse=True))
    left = bar.length - bar.used(lengths)
    if left < -1e-9:
        raise InputError(
            tr("{name} needs {lengths:g} mm and the bar is {length:g} mm long").format(
                name=name, lengths=bar.used(lengths), length=bar.length
            )
        )
    # Fewest and most pieces for every sum: gaps stand between pieces, so more pieces reach farther.
    most: dict[int, int] = {0: 0}
    for unit in units:
        for total, pieces in sorted(most.items(), reverse=True):
            if most.get(total + unit, -1) < pieces + 1:
                most[total + unit] = pieces + 1
    sums = sorted(total for total in most if total)
    spans = [(s * bar.step, s * bar.step + max(most[s] - 1, 0) * bar.gap) for s in sums]
    covered, end, miss = 0.0, spans[0][0], 0.0
    for low, high in spans:
        if low > end:
            miss = max(miss, low - end)
        covered += max(0.0, min(high, spans[-1][0]) - max(low, end))
        end = max(end, high)
    whole = spans[-1][0] - spans[0][0]
    within = 1.0 if miss <= 1e-9 else covered / whole if whole > 0 else 1.0
    return SectionSet(name, lengths, left, tuple(sums), within, miss)


def propose(bar: Bar) -> tuple[SectionSet, ...]:
    """Sets worth cutting from the bar, the one that reaches most first.

    The doubling set reaches every multiple up to its whole with the fewest pieces; equal pieces are
    the plainest; the stepped sets add small pieces to equal ones. Only what comes out of the bar is
    proposed.
    """
    proposals: dict[tuple[int, ...], str] = {}

    def add(name: str, units: Sequence[int]) -> None:
        units = tuple(sorted((u for u in units if u > 0), reverse=True))
        if units and bar.used([u * bar.step for u in units]) <= bar.length + 1e-9:
            proposals.setdefault(units, name)

    doubling: list[int] = []
    for power in itertools.count():
        if bar.used([u * bar.step for u in (*doubling, 2**power)]) > bar.length + 1e-9:
            break
        doubling.append(2**power)
    add(tr("doubling"), doubling)
    rest = math.floor(
        (bar.length - bar.used([u * bar.step for u in doubling]) - 2 * bar.allowance - bar.kerf)
        / bar.step
        + 1e-9
    )
    if doubling and rest >= 1:
        add(tr("doubling, and the rest"), [*doubling, rest])
    for size in (2, 3, 4, 5, 6, 8, 10, 12, 16):
        for small in ((), (1,), (1, 2), tuple(v for v in (1, 2, 4, 8) if v < size)):
            count = 0
            while (
                bar.used([u * bar.step for u in (*small, *[size] * (count + 1))])
                <= bar.length + 1e-9
            ):
                count += 1
            if count:
                one_each = "-".join(map(str, small))
                name = (
                    tr("{pieces} and {count} of {size}").format(
                        pieces=one_each, count=count, size=size
                    )
                    if small
                    else tr("equal pieces of {size}").format(size=size)
                )
                add(name, (*small, *[size] * count))
    result = [assess(name, units, bar) for units, name in proposals.items()]
    ranked = sorted(result, key=lambda s: (-len(s.reached), len(s.lengths), s.widest_miss, s.left))
    return tuple(ranked[:MOST])
