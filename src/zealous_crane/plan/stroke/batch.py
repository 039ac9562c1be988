"""Pieces of a part one after another, so that the engine is asked once about all of them."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Self

import numpy as np
from numpy.typing import NDArray

from ...measure.dataclass import dataclass
from ...measure.once import once
from ..geometry.contact import turned
from ..geometry.native import exact
from ..geometry.solid import Beyond, Solid

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Batch:
    """Pieces with the fold flat, and how each turns.

    Attributes:
        solids: the pieces, k of them.
        points: (n, 2) mm, points on (y, z) whose hulls are their shadows, piece after piece.
        rows: (k, r) float: how many points each has, and what its machine says of how it turns.
    """

    solids: tuple[Solid, ...]
    points: Array
    rows: Array

    @once
    def lowest(self) -> float:
        """mm, how low any piece reaches with the fold flat."""
        return float(self.points[:, 1].min(initial=math.inf))

    @classmethod
    def of(cls, solids: Sequence[Solid], turns: Sequence[tuple[float, ...]]) -> Self:
        """Gather pieces; ``turns`` has as many numbers for each."""
        points = [solid.shadow if isinstance(solid, Beyond) else solid.corners[:, 1:] for solid in solids]
        rows = np.array([(len(some), *turn) for some, turn in zip(points, turns, strict=True)], dtype=float)
        return cls(tuple(solids), np.concatenate(points) if points else np.zeros((0, 2)), rows)


class NoseBatch(Batch):
    """Pieces about a resting nose. A row says besides: pole (y, z) mm, 1 where the piece swings, 1 where it lies on the nose."""

    @classmethod
    def about(cls, resting: Sequence[Solid], swinging: Sequence[tuple[Solid, tuple[float, float], bool]]) -> Self:
        """What rests, and what swings: about which pole, and whether it lies on the nose."""
        still = (0.0, 0.0, 0.0, 0.0)
        turns = [*(still for _ in resting), *((*pole, 1.0, float(folded)) for _, pole, folded in swinging)]
        return cls.of([*resting, *(solid for solid, _, _ in swinging)], turns)

    @once
    def _known(self) -> dict[float, Array]:
        return {}

    def tops(self, angle: float) -> Array:
        """(k, 3) mm: how far back and how high every piece reaches, and how low, with the fold at an angle, radians."""
        if angle not in self._known:
            self._known[angle] = self._tops(angle)
        return self._known[angle]

    def hanging(self, angle: float, below: float) -> list[int]:
        """Which pieces reach below a height, mm, with the fold at an angle, radians."""
        return [k for k, low in enumerate(self.tops(angle)[:, 2].tolist()) if low < below]

    def _tops(self, angle: float) -> Array:
        found = np.empty((len(self.rows), 3))
        if exact is not None:
            if len(self.rows):
                exact.reaches(self.points, self.rows, angle, found)
            return found
        for k, points in enumerate(self.stood(angle)):
            found[k, :2], found[k, 2] = points.max(axis=0), points[:, 1].min()
        return found

    def stood(self, angle: float) -> Iterator[Array]:
        """(n_k, 2) mm, the points of each piece with the fold at an angle, radians."""
        first = 0
        for count, y, z, swings, _ in self.rows.tolist():
            points = self.points[first : first + int(count)]
            yield turned(points, np.array([y, z]), angle) if swings and angle else points
            first += int(count)
