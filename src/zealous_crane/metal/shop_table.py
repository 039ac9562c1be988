"""The shop's own bend deductions, from test strips."""

import math
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field, model_validator

from ..errors import InputError
from ..i18n import Message, msg, tr
from ..schema.model import InputModel, Length, PositiveLength, TextLine
from ..units.length import Units, show_length
from .bend import FOLDED_BACK, BaseAllowanceMethod, Bend

MOST_K = 0.6
"""Greatest K a test strip can show: rolled metal comes to 0.5, and measuring adds a little."""

SLIP = 0.005
"""What rounding of the measures may add to K."""


class TestStrip(InputModel):
    """One strip bent on the shop's own machine, as it was measured.

    Attributes:
        length: of the flat strip, mm.
        first, second: the two legs, measured outside, mm.
        angle: degrees turned from flat, after release.
        wanted: degrees the machine was taken to, None when not noted.
        thickness: mm.
        radius: inside radius measured, mm.
        metal: key of the metal it was cut from, empty when not noted.
        line: where the bend line stood from the end of the first leg, mm, None when not noted.
    """

    __test__ = False

    length: PositiveLength
    first: PositiveLength
    second: PositiveLength
    angle: Annotated[float, Field(gt=0, le=FOLDED_BACK)] = 90.0
    wanted: Annotated[float, Field(gt=0, le=180)] | None = None
    thickness: PositiveLength
    radius: Annotated[Length, Field(ge=0)] = 0.0
    metal: TextLine = ""
    line: PositiveLength | None = None

    @model_validator(mode="after")
    def _sensible(self) -> Self:
        if self.first + self.second < self.length:
            raise InputError(
                tr(
                    "legs of {first:g} and {second:g} mm are shorter than the strip of {length:g} "
                    "mm; measure both legs outside"
                ).format(first=self.first, second=self.second, length=self.length)
            )
        k = self.bend.k_factor
        if not -SLIP <= k <= MOST_K + SLIP:
            side = tr("inside the bend") if k < 0 else tr("outside the middle of the sheet")
            raise InputError(
                tr(
                    "this strip would put the neutral line {side} (K {k:.2f}; it lies between 0 "
                    "and {MOST_K:g}): "
                    "measure flat, both legs outside, angle and inside radius again"
                ).format(side=side, k=k, MOST_K=MOST_K)
            )
        return self

    @property
    def deduction(self) -> float:
        """BD = sum of both outside legs less the flat, mm. Definition."""
        return self.first + self.second - self.length

    @property
    def bend(self) -> Bend:
        """The bend the strip shows, with its BA and implied K."""
        outside = (self.radius + self.thickness) * math.tan(math.radians(self.angle) / 2)
        return Bend(self.angle, self.radius, self.thickness, 2 * outside - self.deduction)

    @property
    def springback(self) -> float | None:
        """Degrees it opened after release, None when the stop was not noted."""
        return None if self.wanted is None else self.wanted - self.angle

    @property
    def line_off_middle(self) -> float | None:
        """How far the bend's middle came out from the line that was set, mm, positive into the
        second leg."""
        if self.line is None:
            return None
        return (self.first - self.deduction / 2) - self.line


@dataclass(frozen=True)
class Spread:
    """Several strips of one kind.

    Attributes:
        mean: mean deduction, mm.
        half: half the spread from least to greatest, mm; the tolerance every size across such a
            bend carries.
        count: how many strips.
    """

    mean: float
    half: float
    count: int


class ShopTable(BaseAllowanceMethod):
    """Bend deductions measured on test strips of this metal on this machine.

    For a thickness and angle the strips of the nearest thickness are taken; between two angles K is
    interpolated and beyond them kept, so that other radii and angles follow from the same metal.
    Common practice, no source.
    """

    label: ClassVar[Message] = msg("The shop's test strips")
    source: ClassVar[Message] = msg(
        "Bend deduction measured on the shop's own test strips: sum of outside legs less the flat."
    )
    school: Literal["shop-table"] = "shop-table"
    strips: tuple[TestStrip, ...] = ()

    def near(self, thickness: float) -> tuple[TestStrip, ...]:
        """The strips of the thickness nearest to this one."""
        if not self.strips:
            return ()
        nearest = min(abs(s.thickness - thickness) for s in self.strips)
        return tuple(s for s in self.strips if abs(abs(s.thickness - thickness) - nearest) < 1e-9)

    def own_radius(self, thickness: float) -> float | None:
        """The inside radius the strips came out with; it wins over any rule."""
        strips = self.near(thickness)
        return sum(s.radius for s in strips) / len(strips) if strips else None

    def spread(self, thickness: float, angle: float = 90.0) -> Spread | None:
        """Mean and spread of the deductions within 5° of an angle; None without such strips."""
        result = [s.deduction for s in self.near(thickness) if abs(s.angle - angle) <= 5]
        if not result:
            return None
        return Spread(sum(result) / len(result), (max(result) - min(result)) / 2, len(result))

    def allowance(self, angle: float, radius: float, thickness: float) -> float:
        strips = sorted(self.near(thickness), key=lambda s: s.angle)
        if not strips:
            raise InputError(
                tr(
                    "The shop's table holds no test strip yet; bend one and enter it, or "
                    "choose another method."
                )
            )
        by_angle: dict[float, list[float]] = {}
        for strip in strips:
            by_angle.setdefault(strip.angle, []).append(strip.bend.k_factor)
        angles = list(by_angle)
        means = [sum(ks) / len(ks) for ks in by_angle.values()]
        k = means[0]
        if angle >= angles[-1]:
            k = means[-1]
        else:
            for (a, ka), (b, kb) in zip(
                zip(angles, means, strict=True),
                zip(angles[1:], means[1:], strict=True),
                strict=False,
            ):
                if a <= angle <= b:
                    k = ka + (kb - ka) * (angle - a) / (b - a)
        return math.radians(angle) * (radius + k * thickness)

    def doubt(
        self, angle: float, radius: float, thickness: float, units: Units = Units.MM
    ) -> str | None:
        strips = self.near(thickness)
        if not strips:
            return tr("The shop's table holds no test strip yet.")
        off = strips[0].thickness - thickness
        if abs(off) > 0.1 * thickness:
            return tr("No strip of {thickness} was bent; the nearest is {thickness_2}.").format(
                thickness=show_length(thickness, units.fine),
                thickness_2=show_length(strips[0].thickness, units.fine),
            )
        low, high = min(s.angle for s in strips), max(s.angle for s in strips)
        if not low - 5 <= angle <= high + 5:
            return tr(
                "The strips were bent to {low:g}°–{high:g}°; {angle:g}° is outside them."
            ).format(low=low, high=high, angle=angle)
        if all(abs(s.radius - radius) > max(0.3, 0.5 * thickness) for s in strips):
            return tr(
                "No strip had an inside radius near {radius}; bend one with this tooling."
            ).format(radius=show_length(radius, units.fine))
        return None
