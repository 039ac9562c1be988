"""The schools of bend allowance a job can follow.

Each is a small frozen model with one method; a further school is one more class in the union below.
"""

from __future__ import annotations

import math
from typing import Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field

from .bend import Bend


class _School(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    label: ClassVar[str]
    source: ClassVar[str]

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        """BA, mm, for a bend of ``angle`` degrees, inside ``radius`` and ``thickness`` in mm."""
        raise NotImplementedError

    def default_radius(self, thickness: float) -> float:
        """Inside radius (mm) this school takes when none is given."""
        return thickness

    def bend(self, angle: float, radius: float, thickness: float) -> Bend:
        """The bend with its allowance.

        Raises:
            ValueError: angle not between 0 and 180, negative radius, thickness not above zero.
        """
        if not 0 < angle < 180:
            raise ValueError(f"A bend of {angle:g}° cannot be developed; angles run from 0° to 180°.")
        if radius < 0 or thickness <= 0:
            raise ValueError("The inside radius must not be negative and the thickness must be above zero.")
        return Bend(angle, radius, thickness, self.allowance(angle, radius, thickness))

    def doubt(self, thickness: float, radius: float) -> str | None:
        """A sentence when the school is used outside its range, else None."""
        return None


class OnTheLine(_School):
    """Inside lengths are laid out as they are and folded on the line: the bend itself uses nothing.

    BA = 2·r·tan(θ/2): the flat between the tangents is just what the inside corner would have needed, so
    no length is gained or lost on the inside. Thin sheet folded sharp on a leaf brake. Common practice, no source.
    """

    label: ClassVar[str] = "Fold on the line"
    source: ClassVar[str] = "Common practice for thin sheet folded sharp on a leaf brake; no published source."
    school: Literal["on-the-line"] = "on-the-line"

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return 2 * radius * math.tan(math.radians(angle) / 2)

    def default_radius(self, thickness: float) -> float:
        return 0.0

    def doubt(self, thickness: float, radius: float) -> str | None:
        # 20 gauge steel is 0.91 mm; a little above it nobody minds.
        if thickness > 1.0:
            return (
                f"Fold on the line is for sheet of about 20 gauge and thinner; at {thickness:.2f} mm the part "
                "comes out larger than laid out. The neutral line is nearer."
            )
        return None


class NeutralLine(_School):
    """BA = θ·(r + K·T): the fibre at K of the thickness from the inside keeps its length."""

    label: ClassVar[str] = "Neutral line (K)"
    source: ClassVar[str] = "Definition of the K-factor; Machinery's Handbook and others."
    school: Literal["neutral-line"] = "neutral-line"
    k: Annotated[float, Field(ge=0.0, le=0.6, description="place of the neutral line, fraction of thickness")] = 0.44

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return math.radians(angle) * (radius + self.k * thickness)


class FaaHandbook(_School):
    """BA = (0.01743·R + 0.0078·T)·N for N degrees."""

    label: ClassVar[str] = "Handbook, per degree"
    source: ClassVar[str] = "FAA-H-8083-31 and AC 43.13-1B: (0.01743 R + 0.0078 T) per degree; from memory."
    school: Literal["faa-handbook"] = "faa-handbook"

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        return (0.01743 * radius + 0.0078 * thickness) * angle


School = Annotated[OnTheLine | NeutralLine | FaaHandbook, Field(discriminator="school")]
"""Any school, told apart by its ``school`` word."""

SCHOOLS: tuple[type[_School], ...] = (OnTheLine, NeutralLine, FaaHandbook)


def default_school(thickness: float) -> OnTheLine | NeutralLine:
    """Thin sheet is folded on the line; thicker metal by its neutral line."""
    return OnTheLine() if thickness <= 1.0 else NeutralLine()
