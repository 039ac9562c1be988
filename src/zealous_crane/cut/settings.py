"""The settings of the shear's stop, over all sheets of a lot: each is made once, for everything that is cut at it."""

from __future__ import annotations

from collections.abc import Sequence

from ..measure.dataclass import dataclass
from .layout import Cut, SheetCut

STAGES = ("square", "rip", "across", "trim")
"""Kinds of cuts as they commonly follow each other."""


@dataclass(frozen=True)
class At:
    """Cuts of one sheet, or of several cut alike, at one setting.

    Attributes:
        sheet: number of the sheet among those of the lot.
        cut: the cut.
        times: in all, over all sheets cut alike.
    """

    sheet: int
    cut: Cut
    times: int


@dataclass(frozen=True)
class Setting:
    """One setting of the stop.

    Attributes:
        what: kind of cut, one of :data:`STAGES`.
        gauge: mm from the edge against the stop to the blade.
        against: how the sheet lies.
        cuts: what is cut at it, sheet by sheet.
    """

    what: str
    gauge: float
    against: str
    cuts: tuple[At, ...]

    @property
    def times(self) -> int:
        """Cuts in all."""
        return sum(one.times for one in self.cuts)


def running_order(sheets: Sequence[SheetCut]) -> tuple[Setting, ...]:
    """Every cut of a lot in as few settings as are found: a setting waits until all that is cut at it is there.

    A cut comes after those that free its piece (:attr:`Cut.after`); among what is there, kinds follow each other as in :data:`STAGES`, and
    wide comes before narrow.
    """
    left = {(number, k): cut for number, sheet in enumerate(sheets) for k, cut in enumerate(sheet.cuts)}
    found: list[Setting] = []
    while left:
        groups: dict[tuple[str, float, bool], list[tuple[int, int]]] = {}
        for key, cut in left.items():
            groups.setdefault((cut.what, round(cut.gauge, 4), cut.marked), []).append(key)
        ready = {group: _ready(members, left) for group, members in groups.items()}

        # Those wait that cannot be made whole yet.
        ranks = {
            group: (len(ready[group]) < len(members), STAGES.index(group[0]), -group[1])
            for group, members in groups.items()
            if ready[group]
        }
        first = min(ranks, key=ranks.__getitem__)
        cuts = [(key, left.pop(key)) for key in ready[first]]
        found.append(
            Setting(
                first[0],
                cuts[0][1].gauge,
                cuts[0][1].against,
                tuple(At(number, cut, cut.times * sheets[number].alike) for (number, _), cut in cuts),
            )
        )
    return tuple(found)


def _ready(members: Sequence[tuple[int, int]], left: dict[tuple[int, int], Cut]) -> list[tuple[int, int]]:
    """Those of one setting whose pieces are there, or are freed by others of the same setting."""
    ready: list[tuple[int, int]] = []
    for number, k in sorted(members):
        if all((number, before) not in left or (number, before) in ready for before in left[number, k].after):
            ready.append((number, k))
    return ready
