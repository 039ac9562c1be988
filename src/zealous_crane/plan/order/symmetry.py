"""Which folds of a blank are each other's mirror image, so that what is known of one is known of the other."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ...blank import Blank
from ...measure.dataclass import dataclass
from ...measure.once import once
from ..memory import kept

Array = NDArray[np.float64]

SAME = 0.01
"""mm; corners nearer than this are one."""

TURNS = tuple(
    np.array(m, float)
    for m in ([[1, 0], [0, 1]], [[-1, 0], [0, -1]], [[1, 0], [0, -1]], [[-1, 0], [0, 1]], [[0, 1], [-1, 0]],
              [[0, -1], [1, 0]], [[0, 1], [1, 0]], [[0, -1], [-1, 0]])
)  # fmt: skip
"""Turns and mirrorings of the sheet that keep the machine's own symmetry: it looks the same from either end."""


@dataclass(frozen=True)
class Symmetry:
    """A turn or mirroring of the sheet that leaves it as it is.

    Attributes:
        folds: fold i goes where fold ``folds[i]`` is.
        mirrors: left and right change places, seen from the brake: what holds at one end of the bed holds at the other.
    """

    folds: tuple[int, ...]
    mirrors: bool = False

    def moved(self, angles: Sequence[float]) -> tuple[float, ...]:
        """Angles of the folds where the symmetry carries them."""
        return tuple([angles[i] for i in self._from])

    def carried(self, folds: int) -> int:
        """Some folds, a bit each, where the symmetry carries them."""
        if folds not in self._carried:
            self._carried[folds] = sum(1 << to for i, to in enumerate(self.folds) if folds >> i & 1)
        return self._carried[folds]

    @once
    def _carried(self) -> dict[int, int]:
        return {}

    @once
    def _from(self) -> tuple[int, ...]:
        """Which fold each fold's place is taken by."""
        return tuple(sorted(range(len(self.folds)), key=self.folds.__getitem__))


@kept(16)
def symmetries(blank: Blank) -> tuple[Symmetry, ...]:
    """Turns and mirrorings that leave the sheet as it is, the one that changes nothing first.

    Panels, angles, bends and what lies on what must all agree.
    """
    points = np.concatenate([panel.polygon for panel in blank.panels])
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    found: list[Symmetry] = []
    for turn in TURNS:
        panels = _matched([(p.polygon - middle) @ turn.T for p in blank.panels], [p.polygon - middle for p in blank.panels])
        if panels is None:
            continue
        permutation = _folds(blank, turn, middle, panels)
        if permutation is not None and (symmetry := Symmetry(permutation, bool(np.linalg.det(turn) < 0))) not in found:
            found.append(symmetry)
    return tuple(found) or (unchanged(blank),)


def unchanged(blank: Blank) -> Symmetry:
    """The symmetry every sheet has."""
    return Symmetry(tuple(range(len(blank.folds))))


def _matched(moved: list[Array], still: list[Array]) -> tuple[int, ...] | None:
    """For every moved polygon, the one it falls on; None when one falls on none."""
    found: list[int] = []
    for ring in moved:
        for k, other in enumerate(still):
            if k in found or len(ring) != len(other) or np.abs(ring.mean(axis=0) - other.mean(axis=0)).max() > SAME:
                continue
            apart = np.hypot(*(ring[:, None, :] - other[None, :, :]).transpose(2, 0, 1))
            if apart.min(axis=1).max() < SAME and apart.min(axis=0).max() < SAME:
                found.append(k)
                break
        else:
            return None
    return tuple(found)


def _folds(blank: Blank, turn: Array, middle: Array, panels: tuple[int, ...]) -> tuple[int, ...] | None:
    found: list[int] = []
    names = [panel.name for panel in blank.panels]
    for k, panel in enumerate(blank.panels):
        if panel.lies_on != "" and panel.lies_on in names:
            image = blank.panels[panels[k]]
            if image.lies_on != names[panels[names.index(panel.lies_on)]]:
                return None
    for fold in blank.folds:
        ends = [(p - middle) @ turn.T + middle for p in (fold.start, fold.end)]
        for k, other in enumerate(blank.folds):
            if k in found or other.angle != fold.angle or other.bend != fold.bend or other.made_by is not fold.made_by:
                continue
            if (panels[fold.parent], panels[fold.child]) != (other.parent, other.child):
                continue
            if any(
                np.abs(a - other.start).max() < SAME and np.abs(b - other.end).max() < SAME
                for a, b in itertools.permutations(ends)
            ):
                found.append(k)
                break
        else:
            return None
    return tuple(found)
