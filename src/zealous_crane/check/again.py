"""A finished part put into the brake once more: whether a bend that came out short can be bent on, with all the others standing."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..blank import Blank
from ..brake import Brake
from ..job import Job
from ..measure import show_angle
from ..measure.words import tr
from ..plan import Setting, judge, toolings
from ..plan.order.search import made_up
from ..plan.stroke.machines import machine_of


@dataclass(frozen=True)
class Again:
    """What comes of putting a part in again.

    Attributes:
        reach: degrees the bend gets to, at the stop; 0 where the part does not go in.
        wanted: degrees it is to be stopped at.
        held: the panel that is held, where it goes.
        why: what is in the way, where it does not go or not all the way.
    """

    reach: float
    wanted: float
    held: str
    why: str

    @property
    def goes(self) -> bool:
        """True when the bend gets all the way."""
        return self.reach >= self.wanted - 1e-6

    def says(self) -> str:
        """Whether it goes, and how."""
        if self.goes:
            return tr("It goes in again on this brake as it stands, {held} held: stop at {stop}.").format(
                held=self.held, stop=show_angle(round(self.wanted, 1))
            )
        if self.reach > 0:
            return tr("It goes in again, {held} held, but only to {reach}: {why}. The rest by hand.").format(
                held=self.held, reach=show_angle(round(self.reach, 1)), why=self.why
            )
        return tr("It does not go in again as it stands: {why}. Bend it on by hand over a block.").format(why=self.why)


def again(job: Job, blank: Blank, brake: Brake, fold: int, now: float) -> Again:
    """Whether a bend of the finished part can be bent on, either side held, with the set-ups a hand reaches for first.

    Args:
        job: for springback and tolerance.
        blank: the part.
        brake: the machine.
        fold: index of the fold.
        now: degrees it stands at.
    """
    angles = [f.angle for f in blank.folds]
    angles[fold] = math.copysign(now, angles[fold])
    best: Again | None = None
    for tooling in machine_of(brake).plain(toolings(brake, blank, job.bottomed)):
        for clamps_parent in (True, False):
            setting = Setting(blank, fold, clamps_parent, tuple(angles))
            if setting.folds != (fold,):
                continue
            verdict = judge(blank, tooling, setting, job.springback, tolerance=job.tolerance)
            if verdict.blocked is not None:
                reach, why = 0.0, verdict.blocked.text(job.units)
            elif verdict.demand is None or not made_up(verdict.demand.widths, tooling):
                reach, why = 0.0, tr("no pieces make up what it needs")
            else:
                reach = verdict.reach if verdict.reach > now else 0.0
                why = verdict.limit.obstacle.sentence() if verdict.limit is not None else ""
            found = Again(reach, verdict.wanted, blank.panels[setting.clamped].name, why)
            if best is None or found.reach > best.reach:
                best = found
            if found.goes:
                return found
    return best or Again(0.0, abs(blank.folds[fold].angle), "", tr("other bends lie on its line"))
