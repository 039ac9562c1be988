"""Everything the kernel asks, as one back end: in C, a question costs microseconds instead of a
hundred. Importing it fails where no compiler was at hand."""

import numpy as np

from ..._typing import Array
from . import _exact

meets, distance, ring = _exact.meets, _exact.distance, _exact.ring
apart, touches = _exact.apart, _exact.touches
advances = _exact.advances
extent, reach, meeting = _exact.extent, _exact.reach, _exact.meeting
leg, legs = _exact.leg, _exact.legs
passed, passages = _exact.passed, _exact.passages


def hull(points: Array) -> Array:
    """See :meth:`Geometry.hull`."""
    into = np.empty((2 * len(points), 2))
    return into[: _exact.hull(points, into)]


def within(corners: Array, a: float, b: float, low: float, high: float) -> Array:
    """See :meth:`Geometry.within`."""
    into = np.empty((4 * len(corners), 2))
    return into[: _exact.within(corners, a, b, low, high, into)]


def reaches(points: Array, rows: Array, angle: float) -> Array:
    """See :meth:`Geometry.reaches`."""
    into = np.empty((len(rows), 3))
    if len(rows):
        _exact.reaches(points, rows, angle, into)
    return into
