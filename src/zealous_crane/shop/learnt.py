"""What the book teaches of springback. The model is that of :mod:`.pooled`, in degrees at 90°."""

from __future__ import annotations

from collections.abc import Sequence

from ..measure.dataclass import dataclass
from ..measure.words import counted, tr
from .book import BendRecord, StripRecord
from .book.hit import Hit, springback_at_90
from .pooled import Place, Pooled, Rule, Sample, Scales, pooled

STRAYS = Scales(metal=1.1, sheet=1.0, machine=1.0, both=0.6, lot=0.4, noise=0.5, least=0.08)
"""Degrees at 90° by which a metal, one thickness of it, a machine with its tool, the two together, and a delivery commonly differ from what
the handbook says, and one bend from the next when nothing is changed. Common practice, no source; the book's own bends move it."""

FAR = 45.0
"""Degrees at 90°; a record that says more was typed wrong."""


@dataclass(frozen=True)
class Learnt(Pooled):
    """What is known of the springback in one place, degrees at 90°. See :class:`Pooled`."""

    def text(self) -> str:
        """Mean, spread, count and where it comes from: ``2.8° ± 0.5, 9 bends here, 4 nearby``."""
        if not self.here and not self.near:
            return tr("{mean:.1f}° by the handbook, no bends yet").format(mean=self.mean)
        return tr("{mean:.1f}° ± {sd:.1f}, {bends} here, {near} nearby").format(
            mean=self.mean, sd=self.sd, bends=counted("{count} bend", "{count} bends", self.here), near=self.near
        )

    def stop(self, angle: float) -> float:
        """Where to stop for an angle wanted after release, degrees."""
        return angle + self.mean * angle / 90.0


def learn(records: Sequence[BendRecord | StripRecord], place: Place, rule: Rule) -> Learnt:
    """What the bends and the test strips of the book say of a place.

    Args:
        records: bends with an angle measured, others are passed over; strips, which are bends too.
        place: what is asked about.
        rule: the handbook, degrees at 90°.
    """
    samples = []
    for record in records:
        hits = record.every_hit if isinstance(record, BendRecord) else (Hit(record.stop, record.angle, record.angle),)
        shown = springback_at_90(hits)
        if shown is not None and abs(shown[0]) <= FAR:
            samples.append(Sample(record.id, Place.of(record), *shown))
    found = pooled(samples, place, rule, STRAYS)
    return Learnt(found.mean, found.sd, found.spread, found.rule, found.here, found.near, found.ids)


__all__ = ["FAR", "STRAYS", "Learnt", "Place", "Rule", "learn"]
