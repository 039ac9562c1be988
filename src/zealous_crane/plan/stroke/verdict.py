"""What one stroke comes to: how far it goes, what stops it, what it asks of the sections."""

from __future__ import annotations

from ...blank import MadeBy
from ...measure import Said
from ...measure.dataclass import dataclass
from ...measure.once import once
from ...metal import Springback
from ..geometry.interval import Slab, free_intervals
from ..geometry.obstacle import Contact
from .sections import Demand
from .stroke import Stroke
from .tooling import Tooling

READ = 0.05
"""Degrees by which an angle past its tolerance cannot be told from one within it: they are said to a tenth."""

HEM_LEAST = 105.0
"""Degrees from which a hem still goes over when it is pressed rather than buckling: an assumption."""


def released_at(angle: float, target: float, springback: float) -> float:
    """Degrees a fold stands at once let go at ``angle`` degrees, where ``springback`` degrees are lost from a stop that leaves it at
    ``target``: in proportion, as the elastic law has it."""
    return max(0.0, angle * target / (target + springback)) if target + springback > 0 else 0.0


@dataclass(frozen=True, eq=False)
class Verdict:
    """What one stroke comes to.

    Attributes:
        stroke: the stroke judged.
        springback: the estimate for it.
        target: degrees wanted after release.
        wanted: degrees at the stop: target and springback.
        reach: degrees it gets to, at most ``wanted``; 0 when it cannot be made.
        limit: what keeps it below ``wanted``.
        blocked: why it cannot be made at all.
        demand: what it asks of the sections.
        slabs: where the sections over the fold may stand.
        under: where those under it may; empty where none stand there.
        way: how the part gets in and out.
        refused: the set-up as such was refused, before anything was posed.
        tolerance: degrees by which the angle may be off and still counts as reached.
    """

    stroke: Stroke
    springback: Springback
    target: float
    wanted: float
    reach: float
    limit: Contact | None
    blocked: Said | None
    demand: Demand | None
    slabs: tuple[Slab, ...]
    under: tuple[Slab, ...] = ()
    way: str = "front"
    refused: bool = False
    tolerance: float = 0.0

    @property
    def tooling(self) -> Tooling:
        """What the brake is set up with."""
        return self.stroke.tooling

    @once
    def final(self) -> float:
        """Degrees the fold stands at when the part is done; a hem is folded over first and flattened then."""
        return self.target if self.flattens else abs(self.stroke.setting.line.angle)

    @once
    def part_way(self) -> bool:
        """True when the fold is meant to stop short for now, and is closed by a later stroke."""
        return not self.flattens and self.target < self.final - 1e-9

    @once
    def released(self) -> float:
        """Degrees the fold stands at after release."""
        return min(self.target, self.released_from(self.reach))

    def released_from(self, angle: float) -> float:
        """Degrees the fold stands at once let go at ``angle`` degrees: it springs back in proportion to how far it was bent."""
        return released_at(angle, self.target, self.springback.angle)

    @once
    def flattens(self) -> bool:
        """True for a hem: folded far over, then flattened."""
        return self.stroke.setting.line.made_by is MadeBy.HEM

    @once
    def stands(self) -> float:
        """Degrees the fold stands at when the next stroke begins: a hem is flattened at once."""
        return abs(self.stroke.setting.line.angle) if self.flattens else self.released

    @once
    def by_hand(self) -> float:
        """Degrees left to bring round by hand, closing or, where it was bent over, opening; 0 within the tolerance."""
        if self.flattens or self.part_way:
            return 0.0
        left = abs(self.final - self.released)
        return left if left > self.tolerance + READ else 0.0

    @once
    def short(self) -> float:
        """Degrees the stroke stays below what it was meant to reach; below zero where it was bent over to be opened."""
        if self.flattens:
            return 0.0
        short = self.target - self.released
        if short > self.tolerance + READ:
            return short
        return self.final - self.released if self.by_hand else 0.0

    @property
    def off(self) -> float:
        """Degrees short of the wanted angle, within the tolerance and so not put right; 0 where it reaches it."""
        if self.flattens:
            return 0.0
        short = self.target - self.released
        return short if 1e-6 < short <= self.tolerance + READ else 0.0

    @property
    def free(self) -> tuple[tuple[float, float], ...]:
        """Intervals (mm) where sections may stand over the fold at the reach."""
        return free_intervals(self.slabs, self.reach)

    @property
    def free_under(self) -> tuple[tuple[float, float], ...]:
        """The same under it."""
        return free_intervals(self.under, self.reach)
