"""What every school of bend allowance can answer."""

from typing import ClassVar

from ..measure import Units
from ..measure.input_error import InputError
from ..measure.words import tr
from ..measure.written import Written
from .bend import Bend


class BaseSchool(Written):
    """A way to find the flat length a bend uses.

    Attributes:
        label: as the shop calls it.
        source: where the rule is published, or that it is common practice.
    """

    label: ClassVar[str]
    source: ClassVar[str]

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        """BA, mm, for a bend of ``angle`` degrees, inside ``radius`` and ``thickness`` in mm."""
        raise NotImplementedError

    def default_radius(self, thickness: float) -> float:
        """Inside radius (mm) this school takes when none is given."""
        return thickness

    def own_radius(self, thickness: float) -> float | None:
        """Inside radius (mm) this school has measured, which wins over rules; None when it has measured none."""
        return None

    def bend(self, angle: float, radius: float, thickness: float) -> Bend:
        """The bend with its allowance.

        Raises:
            InputError: angle not between 0 and 360, negative radius, thickness not above zero, or a rule that leaves
                the bend no metal.
        """
        if not 0 < angle < 360:
            raise InputError(tr("A bend of {angle:g}° cannot be developed; angles run from 0° to 360°.").format(angle=angle))
        if radius < 0 or thickness <= 0:
            raise InputError(tr("The inside radius must not be negative and the thickness must be above zero."))
        allowance = self.allowance(angle, radius, thickness)
        if allowance < 0:
            raise InputError(
                tr(
                    "{label} leaves a bend of {angle:g}° with a radius of {times:.2g} thicknesses less than no metal; check its figures."
                ).format(label=self.label, angle=angle, times=radius / thickness)
            )
        return Bend(angle, radius, thickness, allowance)

    def doubt(self, angle: float, radius: float, thickness: float, units: Units = Units.MM) -> str | None:
        """A sentence when the school is used outside its range, else None."""
        return None
