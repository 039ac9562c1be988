"""One bend in every form it is quoted in."""

from __future__ import annotations

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Bend:
    """One bend: its geometry and the flat it uses.

    Attributes:
        angle: degrees turned from flat, more than 0 and less than 180.
        radius: inside radius, mm.
        thickness: mm.
        allowance: BA, flat length between the two tangent lines, mm.
    """

    angle: float
    radius: float
    thickness: float
    allowance: float

    @property
    def _half_tangent(self) -> float:
        return math.tan(math.radians(self.angle) / 2)

    @property
    def inside_setback(self) -> float:
        """r·tan(θ/2), mm: tangent line to the corner where the inside faces would meet."""
        return self.radius * self._half_tangent

    @property
    def outside_setback(self) -> float:
        """(r + T)·tan(θ/2), mm: tangent line to the corner where the outside faces would meet."""
        return (self.radius + self.thickness) * self._half_tangent

    @property
    def deduction(self) -> float:
        """BD = 2·(r + T)·tan(θ/2) − BA, mm: taken off the sum of the two outside legs."""
        return 2 * self.outside_setback - self.allowance

    @property
    def gain(self) -> float:
        """BA − 2·r·tan(θ/2), mm: added to the sum of the two inside legs."""
        return self.allowance - 2 * self.inside_setback

    @property
    def k_factor(self) -> float:
        """Implied K: BA = θ·(r + K·T), with θ in radians."""
        return (self.allowance / math.radians(self.angle) - self.radius) / self.thickness

    @property
    def line_to_inside(self) -> float:
        """Bend line (middle of the allowance) to the inside corner, mm, positive when the line lies outside it.

        On the flat, a panel that measures L between inside corners spans L + 2 · this between bend lines.
        """
        return self.gain / 2
