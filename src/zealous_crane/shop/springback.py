"""What the handbook says of springback in one place, before the book knows better."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from ..brake.library import MachineLibrary
from ..errors import INPUT_ERRORS
from ..i18n import counted, tr
from ..metal.material import MATERIALS, Material
from ..metal.sheet import Sheet
from .book.record import BendRecord, Hit, StripRecord, springback_at_90
from .deduction import LearntK
from .hierarchical_fit import BendContext, Pooled, Rule, Sample, Scales, pooled

PLAIN = 2.0
"""Degrees at 90° where metal or machine are not known here: the low end of common practice, no
source."""


def handbook(
    rack: MachineLibrary, metals: Mapping[str, Material] = MATERIALS
) -> Callable[[BendContext], float]:
    """The rule for any place: by the metal and its thickness, in air on a press, or as folded over
    a nose.

    Args:
        rack: the shop's machines.
        metals: what the shop bends, by key.
    """

    def rule(place: BendContext) -> float:
        # The machines stand on the engine, which nobody needs who only reads or shows.
        from ..bending.machines import machine_of

        try:
            sheet = Sheet(metals[place.metal], place.thickness, f"{place.thickness:g} mm")
            return machine_of(rack[place.machine]).handbook(sheet)
        except (*INPUT_ERRORS, KeyError):
            return PLAIN

    return rule


def from_the_book(found: Learnt | LearntK) -> str:
    """Where a figure comes from, as a job keeps it."""
    return tr("from the book, {day}: {said}").format(
        day=f"{datetime.now(UTC):%d %b %Y}".lstrip("0"), said=found.text()
    )


STRAYS = Scales(metal=1.1, sheet=1.0, machine=1.0, both=0.6, lot=0.4, noise=0.5, least=0.08)
"""Degrees at 90° by which a metal, one thickness of it, a machine with its tool, the two together,
and a delivery commonly differ from what the handbook says, and one bend from the next when nothing
is changed. Common practice, no source; the book's own bends move it."""

FAR = 45.0
"""Degrees at 90°; a record that says more was typed wrong."""


@dataclass(frozen=True)
class Learnt(Pooled):
    """What is known of the springback in one place, degrees at 90°. See :class:`Pooled`."""

    def text(self) -> str:
        """Mean, spread, count and where it comes from: ``2.8° ± 0.5, 9 bends on this metal and
        brake, 4 on similar``."""
        if not self.here and not self.near:
            return tr("{mean:.1f}° by the handbook, no bends yet").format(mean=self.mean)
        return tr(
            "{mean:.1f}° ± {sd:.1f}, {bends} on this metal and brake, {near} on similar"
        ).format(
            mean=self.mean,
            sd=self.sd,
            bends=counted("{count} bend", "{count} bends", self.here),
            near=self.near,
        )

    def stop(self, angle: float) -> float:
        """Where to stop for an angle wanted after release, degrees."""
        return angle + self.mean * angle / 90.0


def learn(records: Sequence[BendRecord | StripRecord], place: BendContext, rule: Rule) -> Learnt:
    """What the bends and the test strips of the book say of a place.

    Args:
        records: bends with an angle measured, others are passed over; strips, which are bends too.
        place: what is asked about.
        rule: the handbook, degrees at 90°.
    """
    samples = []
    for record in records:
        hits = (
            record.every_hit
            if isinstance(record, BendRecord)
            else (Hit(record.stop, record.angle, record.angle),)
        )
        shown = springback_at_90(hits)
        if shown is not None and abs(shown[0]) <= FAR:
            samples.append(Sample(record.id, BendContext.of(record), *shown))
    result = pooled(samples, place, rule, STRAYS)
    return Learnt(
        result.mean, result.sd, result.spread, result.rule, result.here, result.near, result.ids
    )


READ = 0.25
"""Degrees by which a reading off a protractor commonly is off. Common practice, no source."""

UNKNOWN = 1.6
"""Degrees at 90° by which the springback of a first bend commonly differs from the rule. Common
practice, no source."""


@dataclass(frozen=True)
class Expected:
    """What a bend is expected to come back by, degrees at 90°.

    Attributes:
        mean, sd: of the next part.
        known: bends made on this metal, this brake and with these tools stand behind it; else it is
            the plan's own estimate.
    """

    mean: float
    sd: float
    known: bool = False

    def stop(self, target: float) -> float:
        """Where to stop for an angle wanted after release, degrees."""
        return target * (1 + self.mean / 90.0)


def expected_springback(learnt: Learnt, planned: float, target: float) -> Expected:
    """What to expect of the next part.

    Args:
        learnt: what the book knows of the place.
        planned: degrees the plan goes past the target.
        target: degrees wanted after release.
    """
    if learnt.here:
        return Expected(learnt.mean, learnt.spread, True)
    return Expected(planned * 90.0 / target if target > 0 else 0.0, UNKNOWN)


def after_hits(prior: Expected, hits: Sequence[Hit]) -> Expected:
    """What this very part comes back by, from what was expected and from every hit that teaches
    something.

    Normal prior, normal readings; a reading at a smaller angle weighs less, since it is as
    uncertain and tells of less.
    """
    precision, weighted = prior.sd**-2, prior.mean * prior.sd**-2
    for hit in hits:
        if hit.teaches:
            weight = (hit.got / 90.0 / READ) ** 2
            precision += weight
            weighted += weight * (hit.stop - hit.got) * 90.0 / hit.got
    return Expected(weighted / precision, math.sqrt(1 / precision), prior.known)
