"""Where the pieces of a part stand for one fold.

A panel's place depends on the folds between it and the clamped panel and on nothing else, so in the many states an order is
searched through the same piece turns up again and again. Each is worked out once, and everything known of it goes with it.
"""

from __future__ import annotations

import numpy as np

from ...blank import Blank, Pose, fold_pose, strip_prisms
from ...blank.folding import IDENTITY
from ..geometry.solid import Solid, plate
from ..memory import kept
from .held import Held

Angles = tuple[float, ...]
"""Signed degrees of the folds on the way from the clamped panel to another, one after the other."""


@kept(4096)
def _turned(blank: Blank, fold: int, angle: float, inverse: bool) -> Pose:
    pose = fold_pose(blank.folds[fold], angle, blank.thickness)
    return pose.inverse if inverse else pose


@kept(8192)
def pose(held: Held, panel: int, angles: Angles) -> Pose:
    """Pose of a panel in the stroke frame, the folds on the way to it standing at ``angles``."""
    way = held.ways[panel]
    if not way:
        return held.frame @ IDENTITY
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
