"""One bend in every form it is quoted in."""

from __future__ import annotations

import math

from ..measure.dataclass import dataclass
from ..measure.once import once

FOLDED_BACK = 150.0
"""Degrees past which the legs' faces meet so far out, or not at all, that sizes are read to the outermost line of the bend
instead: hems and rolled edges. Common practice, no source."""


@dataclass(frozen=True)
class Bend:
    """One bend: its geometry and the flat it uses.

    Attributes:
        angle: degrees turned from flat, more than 0 and less than 360; past 180 for teardrop hems and rolled edges.
        radius: inside radius, mm.
        thickness: mm.
        allowance: BA, flat length between the two tangent lines, mm.
    """

    angle: float
    radius: float
    thickness: float
    allowance: float

    @property
    def folded_back(self) -> bool:
        """True for hems and rolled edges, whose sizes are read to the outermost line of the bend."""
        return self.angle > FOLDED_BACK

    def _setback(self, radius: float) -> float:
        if self.folded_back:
            return self.radius + self.thickness
        return radius * math.tan(math.radians(self.angle) / 2)

    @once
    def inside_setback(self) -> float:
        """r·tan(θ/2), mm: tangent line to the corner where the inside faces would meet.

        Past 150°, where sizes are read to the outermost line of the bend, r + T.
        """
        return self._setback(self.radius)

    @once
    def outside_setback(self) -> float:
        """(r + T)·tan(θ/2), mm: tangent line to the corner where the outside faces would meet; r + T past 150°."""
        return self._setback(self.radius + self.thickness)

    @property
    def deduction(self) -> float:
        """BD = 2 · outside setback − BA, mm: taken off the sum of the two outside legs."""
        return 2 * self.outside_setback - self.allowance

    @property
    def gain(self) -> float:
        """BA − 2 · inside setback, mm: added to the sum of the two inside legs."""
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
