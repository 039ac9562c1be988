"""One bend in every form it is quoted in."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

from ..errors import InputError
from ..i18n import Message, Phrase, tr
from ..schema.model import InputModel
from ..units.length import Units

FOLDED_BACK = 150.0
"""Degrees past which the legs' faces meet so far out, or not at all, that sizes are read to the
outermost line of the bend instead: hems and rolled edges. Common practice, no source."""


@dataclass(frozen=True)
class Bend:
    """One bend: its geometry and the flat it uses.

    Attributes:
        angle: degrees turned from flat, more than 0 and less than 360; past 180 for teardrop hems
            and rolled edges.
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
        """True for hems and rolled edges, whose sizes are read to the outermost line of the
        bend."""
        return self.angle > FOLDED_BACK

    def _setback(self, radius: float) -> float:
        if self.folded_back:
            return self.radius + self.thickness
        return radius * math.tan(math.radians(self.angle) / 2)

    @cached_property
    def inside_setback(self) -> float:
        """r·tan(θ/2), mm: tangent line to the corner where the inside faces would meet.

        Past 150°, where sizes are read to the outermost line of the bend, r + T.
        """
        return self._setback(self.radius)

    @cached_property
    def outside_setback(self) -> float:
        """(r + T)·tan(θ/2), mm: tangent line to the corner where the outside faces would meet; r +
        T past 150°."""
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
        """Bend line (middle of the allowance) to the inside corner, mm, positive when the line lies
        outside it.

        On the flat, a panel that measures L between inside corners spans L + 2 · this between bend
        lines.
        """
        return self.gain / 2


@dataclass(frozen=True)
class ToolRadius:
    """The inside radius a brake gives a fold, and how.

    Attributes:
        radius: inside radius, mm.
        press: it is pressed into a V, not folded on a leaf.
        says: where the radius comes from, a sentence.
        at: radius of single bends that are made with other tools, mm, by the fold's name.
    """

    radius: float
    press: bool
    says: Phrase
    at: tuple[tuple[str, float], ...] = ()


class BaseAllowanceMethod(InputModel):
    """A way to find the flat length a bend uses.

    Attributes:
        label: as the shop calls it.
        source: where the rule is published, or that it is common practice.
    """

    label: ClassVar[Message]
    source: ClassVar[Message]

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        """BA, mm, for a bend of ``angle`` degrees, inside ``radius`` and ``thickness`` in mm.

        Args:
            angle: degrees.
            radius: inside radius, mm.
            thickness: of the sheet, mm.
        """
        raise NotImplementedError

    def default_radius(self, thickness: float) -> float:
        """Inside radius (mm) this school takes when none is given."""
        return thickness

    def own_radius(self, thickness: float) -> float | None:
        """Inside radius (mm) this school has measured, which wins over rules; None when it has
        measured none."""
        return None

    def bend(self, angle: float, radius: float, thickness: float) -> Bend:
        """The bend with its allowance.

        Args:
            angle: degrees.
            radius: inside radius, mm.
            thickness: of the sheet, mm.

        Raises:
            InputError: angle not between 0 and 360, negative radius, thickness not above zero, or a
                rule that leaves the bend no metal.
        """
        if not 0 < angle < 360:
            raise InputError(
                tr("A bend of {angle:g}° cannot be developed; angles run from 0° to 360°.").format(
                    angle=angle
                )
            )
        if radius < 0 or thickness <= 0:
            raise InputError(
                tr("The inside radius must not be negative and the thickness must be above zero.")
            )
        allowance = self.allowance(angle, radius, thickness)
        if allowance < 0:
            raise InputError(
                tr(
                    "{label} leaves a bend of {angle:g}° with a radius of {times:.2g} thicknesses "
                    "less than no metal; check its figures."
                ).format(label=self.label, angle=angle, times=radius / thickness)
            )
        return Bend(angle, radius, thickness, allowance)

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        """A sentence when the school is used outside its range, else None.

        Args:
            angle: degrees.
            radius: inside radius, mm.
            thickness: of the sheet, mm.
            units: what lengths are shown in.
        """
        return None
