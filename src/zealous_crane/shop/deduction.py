"""What the book's test strips teach of the neutral line, and with it of every bend deduction. The model is that of :mod:`.pooled`."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..allowance import Bend, NeutralLine
from ..measure.dataclass import dataclass
from ..measure.input_error import INPUT_ERRORS
from ..measure.words import tr
from ..metal import MATERIALS, Material
from .book import StripRecord
from .coupon import found_by
from .pooled import Place, Pooled, Rule, Sample, Scales, pooled

STRAYS = Scales(metal=0.05, machine=0.03, both=0.02, lot=0.02, noise=0.03)
"""Of K: by metal, machine, both, delivery, and from one strip to the next. A caliper read to 0.05 mm on both legs of a sheet 1.5 mm thick
is about 0.03. Common practice, no source; the book's own strips move it."""

LEAST_K, MOST_K = 0.05, 0.5
"""K lies between the inside face and the middle of the sheet; what is learnt is held within."""


@dataclass(frozen=True)
class LearntK(Pooled):
    """What is known of K in one place. See :class:`Pooled`."""

    @property
    def k(self) -> float:
        """As it may be taken into a job: two figures, within what a neutral line can be."""
        return round(min(max(self.mean, LEAST_K), MOST_K), 3)

    @property
    def school(self) -> NeutralLine:
        """The school of bend allowance a job takes."""
        return NeutralLine(k=self.k)

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
        """``K 0.41 ± 0.02, 3 strips here, 2 nearby``."""
        if not self.here and not self.near:
            return tr("K {mean:.2f} by the handbook, no strips yet").format(mean=self.mean)
        return tr("K {mean:.2f} ± {sd:.2f}, {here} strips here, {near} nearby").format(
            mean=self.mean, sd=self.sd, here=self.here, near=self.near
        )


def usual_k(metals: Mapping[str, Material] = MATERIALS) -> Rule:
    """K of a metal as handbooks have it, before any strip; 0.44 for one nobody here knows."""
    return lambda place: metals[place.metal].k_factor if place.metal in metals else 0.44


def learn_k(strips: Sequence[StripRecord], place: Place, rule: Rule) -> LearntK:
    """What the test strips of the book say of K in a place.

    Args:
        strips: those whose measures cannot be are passed over; a radius nobody measured leaves K unknown, and the strip too.
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
        samples.append(Sample(record.id, Place.of(record), k))
    found = pooled(samples, place, rule, STRAYS)
    return LearntK(found.mean, found.sd, found.spread, found.rule, found.here, found.near, found.ids)
