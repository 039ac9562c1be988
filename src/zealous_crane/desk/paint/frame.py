"""A view's scale: millimetres of the part to units of the painter."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPolygonF

from ...measure.dataclass import dataclass


@dataclass(frozen=True)
class Scale:
    """A uniform scale with y (or z) upwards.

    Attributes:
        factor: painter units per mm.
        left, bottom: painter position of the origin.
    """

    factor: float
    left: float
    bottom: float

    @classmethod
    def fitting(cls, low: tuple[float, float], high: tuple[float, float], rect: QRectF) -> Scale:
        """The largest scale that shows ``low`` to ``high`` (mm) in the middle of a rectangle."""
        wide, tall = max(high[0] - low[0], 1e-6), max(high[1] - low[1], 1e-6)
        factor = max(1e-6, min(rect.width() / wide, rect.height() / tall))
        left = rect.center().x() - factor * (low[0] + high[0]) / 2
        bottom = rect.center().y() + factor * (low[1] + high[1]) / 2
        return cls(factor, left, bottom)

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Painter position of a place of the part."""
        return self.left + self.factor * x, self.bottom - self.factor * y

    def point(self, x: float, y: float) -> QPointF:
        return QPointF(self.left + self.factor * float(x), self.bottom - self.factor * float(y))

    def polygon(self, points: np.ndarray) -> QPolygonF:
        return QPolygonF([self.point(x, y) for x, y in points.tolist()])

    def back(self, at: QPointF) -> tuple[float, float]:
        """Millimetres at a position of the painter."""
        return (at.x() - self.left) / self.factor, (self.bottom - at.y()) / self.factor


def first_free(places: Iterable[QRectF], room: QRectF, taken: Sequence[QRectF]) -> QRectF | None:
    """The first of a label's places that lies in a room and covers none of those taken; None where none does."""
    return next((at for at in places if room.contains(at) and not any(at.intersects(other) for other in taken)), None)
