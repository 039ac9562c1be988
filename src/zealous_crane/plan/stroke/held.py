"""How a part is held for a fold: all of it that does not depend on how the other folds stand."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...blank import Blank, Fold, Pose, pole_height
from ...blank.blank import IN_LINE
from ...measure.dataclass import dataclass
from ...measure.once import once
from ..memory import kept

Array = NDArray[np.float64]


class Turning(NamedTuple):
    """How a piece that swings turns.

    Attributes:
        pole: (y, z) mm, what it turns about.
        folded: it belongs to a panel that is folded at the line.
    """

    pole: tuple[float, float]
    folded: bool


@dataclass(frozen=True, eq=False)
class Held:
    """How a part is held: one for all settings in which the same is clamped and the same folds are made, see :func:`held_for`.

    Attributes:
        blank: the part.
        fold: index of the fold under the nose.
        clamps_parent: the panel nearer the base is clamped; otherwise the other one.
        folds: indices of every fold the stroke makes, the one under the nose first.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    folds: tuple[int, ...]

    @once
    def line(self) -> Fold:
        """The fold under the nose."""
        return self.blank.folds[self.fold]

    @once
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        return self._side(self.fold, clamped=True)

    @once
    def folding(self) -> int:
        """Index of the panel on the leaf."""
        return self._side(self.fold, clamped=False)

    def _side(self, i: int, *, clamped: bool) -> int:
        fold = self.blank.folds[i]
        return fold.parent if self.clamps_parent is clamped else fold.child

    @once
    def clamped_panels(self) -> frozenset[int]:
        """Indices of all panels under the fingers at the line."""
        return frozenset(self._side(i, clamped=True) for i in self.folds)

    @once
    def folding_panels(self) -> frozenset[int]:
        """Indices of all panels on the leaf at the line."""
        return frozenset(self._side(i, clamped=False) for i in self.folds)

    @once
    def others(self) -> tuple[int, ...]:
        """Every fold that is not made in this stroke."""
        return tuple(i for i in range(len(self.blank.folds)) if i not in self.folds)

    @once
    def swinging(self) -> frozenset[int]:
        """Indices of all panels that swing."""
        return self.blank.reached(self.folding_panels, self.others)

    def _behind(self, i: int) -> float:
        return behind(self.blank, self.fold, self.clamps_parent, i)

    @once
    def offsets(self) -> dict[int, float]:
        """For every swinging panel, how far (mm) the line it swings about lies behind the one under the nose."""
        found: dict[int, float] = {}
        for i in self.folds:
            group = self.blank.reached((self._side(i, clamped=False),), self.others)
            off = self._behind(i)
            found |= dict.fromkeys(group, 0.0 if abs(off) <= IN_LINE else off)
        return found

    @once
    def turning(self) -> dict[int, Turning]:
        """How everything turns that swings, as :attr:`Solid.panel` counts."""
        y, z = self.pole.tolist()
        found = {panel: Turning((y + off, z), panel in self.folding_panels) for panel, off in self.offsets.items()}
        strips = [(-1 - i, self.offsets[f.parent]) for i, f in enumerate(self.blank.folds) if f.parent in self.swinging]
        return found | {strip: Turning((y + off, z), False) for strip, off in strips}

    @once
    def front(self) -> float:
        """How far (mm) the foremost line of the stroke lies before the one under the nose."""
        return max(0.0, -min(self.offsets.values()))

    def own_line(self, panel: int) -> float:
        """Where (y, mm) the bend line of a clamped panel runs: the foremost where it has several, 0 for any other."""
        lines = [self._behind(i) for i in self.folds if self._side(i, clamped=True) == panel]
        return min((y for y in lines if abs(y) > IN_LINE), default=0.0)

    @once
    def pole(self) -> Array:
        """(2,) mm, the axis of the swing in (y, z)."""
        pole = np.array([0.0, pole_height(self.line.bend)])
        pole.setflags(write=False)
        return pole

    @once
    def ways(self) -> tuple[tuple[int, ...], ...]:
        """For every panel, the indices of the folds on the way to it from the clamped one."""
        found: dict[int, tuple[int, ...]] = {self.clamped: ()}
        open_ = [self.clamped]
        while open_:
            at = open_.pop()
            for i, fold in enumerate(self.blank.folds):
                for here, there in ((fold.parent, fold.child), (fold.child, fold.parent)):
                    if here == at and there not in found:
                        found[there] = (*found[at], i)
                        open_.append(there)
        return tuple(found[i] for i in range(len(self.blank.panels)))

    @once
    def strips(self) -> tuple[tuple[int, int], ...]:
        """The folds whose bent strips are pieces of the part, each with the panel it is folded from; not those that are made, which
        are meant to bend, and none that is bent by hand as it lies."""
        folds = self.blank.folds
        return tuple((i, folds[i].parent) for i in self.others if folds[i].child not in self.blank.pliable)

    @once
    def ends(self) -> Array:
        """(2, 2) mm on the flat: both ends of everything that is folded on the line."""
        line = self.line
        (x, y), (to_x, to_y) = line.start.tolist(), ((line.end - line.start) / line.length).tolist()
        points = (p.tolist() for i in self.folds for p in (self.blank.folds[i].start, self.blank.folds[i].end))
        at = [(p[0] - x) * to_x + (p[1] - y) * to_y for p in points]
        return np.array([(x + to_x * far, y + to_y * far) for far in (min(at), max(at))])

    @once
    def span(self) -> tuple[float, float]:
        """Ends of what is folded, mm along the line from its middle."""
        half = math.dist(*self.ends.tolist()) / 2
        return -half, half

    @once
    def frame(self) -> Pose:
        """Motion from flat coordinates of the clamped panel into the stroke frame."""
        line = self.line
        up, (y0, y1) = 1.0 if line.angle > 0 else -1.0, line.outward.tolist()
        if self.clamps_parent:
            y0, y1 = -y0, -y1
        # Rows: along the line, which is y × z; to the back; upwards.
        turn = np.array([[y1 * up, -y0 * up, 0.0], [y0, y1, 0.0], [0.0, 0.0, up]])
        first, last = self.ends.tolist()
        middle = np.array([(first[0] + last[0]) / 2, (first[1] + last[1]) / 2, 0.0 if up > 0 else self.blank.thickness])
        return Pose(turn, -turn @ middle)


def behind(blank: Blank, fold: int, clamps_parent: bool, i: int) -> float:
    """How far (mm) the line of fold ``i`` lies behind that of ``fold``, towards the clamped side."""
    line = blank.folds[fold]
    apart = float((blank.folds[i].start - line.start) @ line.outward)
    return -apart if clamps_parent else apart


@kept(512)
def held_for(blank: Blank, fold: int, clamps_parent: bool, folds: tuple[int, ...]) -> Held:
    """A :class:`Held`, one for all that is asked about it."""
    return Held(blank, fold, clamps_parent, folds)
