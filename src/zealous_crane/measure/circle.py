"""The circle through measured points."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .dataclass import dataclass
from .input_error import InputError
from .words import tr

Array = NDArray[np.float64]

FLAT = 0.02
"""Of the points' spread; three points that bulge less than this from a line say nothing of a centre."""


@dataclass(frozen=True)
class Circle:
    """A circle and how well the points it was taken from lie on it.

    Attributes:
        centre: mm.
        radius: mm.
        off: how far every point lies outside (positive) or inside the circle, mm, in their order.
    """

    centre: tuple[float, float]
    radius: float
    off: tuple[float, ...]


def best_circle(points: Array) -> Circle:
    """The circle nearest to points on its edge: least squares of the distances to the circle itself.

    Args:
        points: (n, 2) float, mm, three or more.

    Raises:
        InputError: fewer than three, two in one place, or all on a line.
    """
    from scipy.optimize import least_squares  # loaded when a hole is measured: the window opens sooner

    points = np.asarray(points, dtype=float)
    if len(points) < 3:
        raise InputError(tr("a circle wants three points"))
    middle = points.mean(axis=0)
    spread = np.linalg.svd(points - middle, compute_uv=False)
    if spread[0] < 1e-9 or spread[1] < FLAT * spread[0]:
        raise InputError(tr("these points lie on a line; take them all round the hole"))
    # x² + y² + ax + by + c = 0 is linear in a, b, c, and near enough to begin with.
    at = points - middle
    a, b, c = np.linalg.lstsq(np.column_stack([at, np.ones(len(at))]), -(at**2).sum(axis=1), rcond=None)[0]
    start = np.array([-a / 2, -b / 2, np.sqrt(max((a * a + b * b) / 4 - c, 1e-12))])
    found = least_squares(lambda p: np.hypot(*(at - p[:2]).T) - p[2], start, xtol=1e-14, ftol=1e-14, gtol=1e-14).x
    off = np.hypot(*(at - found[:2]).T) - found[2]
    x, y = middle + found[:2]
    return Circle((float(x), float(y)), float(found[2]), tuple(off.tolist()))
