"""What the book's test strips teach of the neutral line, and with it of every bend deduction. The
model is that of :mod:`.pooled`."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from ..errors import INPUT_ERRORS
from ..i18n import counted, tr
from ..metal.allowance import NeutralLine
from ..metal.bend import Bend
from ..metal.material import MATERIALS, Material
from ..metal.shop_table import MOST_K
from .book.record import StripRecord
from .hierarchical_fit import BendContext, Pooled, Rule, Sample, Scales, pooled
from .test_strip import found_by

STRAYS = Scales(metal=0.04, sheet=0.03, machine=0.03, both=0.02, lot=0.02, noise=0.03, least=0.008)
"""Of K: by metal, its thickness, machine, both, delivery, and from one strip to the next. A caliper
read to 0.05 mm on both legs of a sheet 1.5 mm thick is about 0.03. Common practice, no source; the
book's own strips move it."""

READ = 0.05 * math.sqrt(2)
"""mm; by how much two legs read with a caliper are commonly off. Common practice, no source."""

OWN = 0.012
"""Of K; what strips of one sheet differ by however well they are read. Common practice, no
source."""

LEAST_K = 0.05
"""The neutral line lies no nearer to the inside face; what is learnt is held between this and the
most that a strip can show."""


def weight(thickness: float, angle: float = 90.0) -> float:
    """How much a strip weighs against one of 1.5 mm at 90°: a leg is read as well on any sheet, and
    K is a share of the thickness."""

    def variance(t: float, degrees: float) -> float:
        return OWN**2 + (READ / (math.radians(degrees) * t)) ** 2

    return variance(1.5, 90.0) / variance(thickness, angle)


@dataclass(frozen=True)
class LearntK(Pooled):
    """What is known of K in one place. See :class:`Pooled`.

    Attributes:
        radius: inside, mm, the middle one of the strips bent there: K is worth what it says only
            together with it. None without any.
    """

    radius: float | None = None

    @property
    def k(self) -> float:
        """As it is told and taken into a job: within what a neutral line can be."""
        return round(min(max(self.mean, LEAST_K), MOST_K), 2)

    @property
    def school(self) -> NeutralLine:
        """The school of bend allowance a job takes."""
        return NeutralLine(k=self.k, measured_radius=self.radius)

    def deduction(self, angle: float, radius: float, thickness: float) -> float:
        """Bend deduction of a bend (mm) by this K.

        Args:
            angle: degrees from flat.
            radius, thickness: inside, mm; mm.
        """
        allowance = math.radians(angle) * (radius + self.k * thickness)
        return Bend(angle, radius, thickness, allowance).deduction

    def off(self, angle: float, thickness: float) -> float:
        """By how much (mm, one standard deviation) the next bend's allowance may be off."""
        return math.radians(angle) * thickness * self.spread

    def text(self) -> str:
        """``K 0.41 ± 0.02, 3 strips on this metal and brake, 2 on similar``."""
        if not self.here and not self.near:
            return tr("K {k:.2f} by the handbook, no strips yet").format(k=self.k)
        return tr(
            "K {k:.2f} ± {sd:.2f}, {strips} on this metal and brake, {near} on similar"
        ).format(
            k=self.k,
            sd=self.sd,
            strips=counted("{count} strip", "{count} strips", self.here),
            near=self.near,
        )


def usual_k(metals: Mapping[str, Material] = MATERIALS) -> Rule:
    """K of a metal as handbooks have it, before any strip; 0.44 for one nobody here knows."""
    return lambda place: metals[place.metal].k_factor if place.metal in metals else 0.44


def learn_k(strips: Sequence[StripRecord], place: BendContext, rule: Rule) -> LearntK:
    """What the test strips of the book say of K in a place.

    Args:
        strips: those whose measures cannot be are passed over; a radius nobody measured leaves K
            unknown, and the strip too.
        place: what is asked about.
        rule: K before there are strips.
    """
    samples = []
    for record in strips:
        if record.radius is None:
            continue
        try:
            k = found_by(record).strip.bend.k_factor
        except INPUT_ERRORS:
            continue
        samples.append(
            Sample(record.id, BendContext.of(record), k, weight(record.thickness, record.angle))
        )
    result = pooled(samples, place, rule, STRAYS, weight(place.thickness))
    behind = set(result.ids[: result.here])
    radii = [
        record.radius for record in strips if record.id in behind and record.radius is not None
    ]
    radius = round(median(radii), 3) if radii else None
    return LearntK(
        result.mean,
        result.sd,
        result.spread,
        result.rule,
        result.here,
        result.near,
        result.ids,
        radius,
    )
