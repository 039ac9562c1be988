"""Where the pieces of a part stand for one fold.

A panel's place depends on the folds between it and the clamped panel and on nothing else, so in the many states an order is
searched through the same piece turns up again and again. Each is worked out once, and everything known of it goes with it.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ...blank import Blank, Pose, fold_pose, strip_prisms
from ...blank.folding import IDENTITY
from ..geometry.solid import Solid, plate
from ..memory import kept


class Held(NamedTuple):
    """How a part is held.

    Attributes:
        blank: the part.
        fold: index of the fold under the nose.
        clamps_parent: which side is clamped.
        folds: indices of every fold the stroke makes.
    """

    blank: Blank
    fold: int
    clamps_parent: bool
    folds: tuple[int, ...]

    @property
    def clamped(self) -> int:
        """Index of the panel under the fingers."""
        line = self.blank.folds[self.fold]
        return line.parent if self.clamps_parent else line.child


Angles = tuple[float, ...]
"""Signed degrees of the folds on the way from the clamped panel to another, one after the other."""


@kept(512)
def ways(blank: Blank, root: int) -> tuple[tuple[int, ...], ...]:
    """For every panel, the indices of the folds on the way to it from ``root``."""
    found: dict[int, tuple[int, ...]] = {root: ()}
    open_ = [root]
    while open_:
        at = open_.pop()
        for i, fold in enumerate(blank.folds):
            for here, there in ((fold.parent, fold.child), (fold.child, fold.parent)):
                if here == at and there not in found:
                    found[there] = (*found[at], i)
                    open_.append(there)
    return tuple(found[i] for i in range(len(blank.panels)))


@kept(512)
def frame(held: Held) -> Pose:
    """Motion from flat coordinates of the clamped panel into the stroke frame."""
    blank, line = held.blank, held.blank.folds[held.fold]
    up, (y0, y1) = 1.0 if line.angle > 0 else -1.0, line.outward.tolist()
    if held.clamps_parent:
        y0, y1 = -y0, -y1
    # Rows: along the line, which is y × z; to the back; upwards.
    turn = np.array([[y1 * up, -y0 * up, 0.0], [y0, y1, 0.0], [0.0, 0.0, up]])
    first, last = ends(blank, held.fold, held.folds).tolist()
    middle = np.array([(first[0] + last[0]) / 2, (first[1] + last[1]) / 2, 0.0 if up > 0 else blank.thickness])
    return Pose(turn, -turn @ middle)


@kept(512)
def ends(blank: Blank, fold: int, folds: tuple[int, ...]) -> np.ndarray:
    """(2, 2) mm on the flat: both ends of everything that is folded on one line."""
    line = blank.folds[fold]
    (x, y), (to_x, to_y) = line.start.tolist(), ((line.end - line.start) / line.length).tolist()
    points = (p.tolist() for i in folds for p in (blank.folds[i].start, blank.folds[i].end))
    at = [(p[0] - x) * to_x + (p[1] - y) * to_y for p in points]
    return np.array([(x + to_x * far, y + to_y * far) for far in (min(at), max(at))])


@kept(4096)
def _turned(blank: Blank, fold: int, angle: float, inverse: bool) -> Pose:
    pose = fold_pose(blank.folds[fold], angle, blank.thickness)
    return pose.inverse if inverse else pose


@kept(8192)
def pose(held: Held, panel: int, angles: Angles) -> Pose:
    """Pose of a panel in the stroke frame, the folds on the way to it standing at ``angles``."""
    way = ways(held.blank, held.clamped)[panel]
    if not way:
        return frame(held) @ IDENTITY
    last = held.blank.folds[way[-1]]
    before = last.parent if panel == last.child else last.child
    return pose(held, before, angles[:-1]) @ _turned(held.blank, way[-1], angles[-1], panel == last.parent)


@kept(512)
def _plates(blank: Blank, panel: int) -> tuple[np.ndarray, ...]:
    """Corners (2k, 3) of the rigid pieces of a panel that lies flat."""
    return tuple(plate(piece, blank.thickness) for piece in blank.rigid[panel])


@kept(4096)
def _prisms(blank: Blank, fold: int, angle: float) -> tuple[np.ndarray, ...]:
    """Corners (2k, 3) of the pieces of a bent strip, the panel it is folded from lying flat."""
    return tuple(strip_prisms(blank.folds[fold], angle, blank.thickness))


@kept(8192)
def panel_solids(held: Held, panel: int, angles: Angles) -> tuple[Solid, ...]:
    """The rigid pieces of a panel where it stands."""
    blank, at = held.blank, pose(held, panel, angles)
    name = blank.panels[panel].name
    return tuple(Solid(name, panel, at.apply(corners)) for corners in _plates(blank, panel))


@kept(8192)
def strip_solids(held: Held, fold: int, angle: float, angles: Angles) -> tuple[Solid, ...]:
    """The pieces of a bent strip, its fold at ``angle`` degrees (signed) and its parent panel posed by ``angles``."""
    blank, line = held.blank, held.blank.folds[fold]
    at = pose(held, line.parent, angles)
    return tuple(Solid(line.name, -1 - fold, at.apply(prism)) for prism in _prisms(blank, fold, angle))
