"""A finished part put into the brake once more: whether a bend that came out short can be bent on
with all the others standing, and which bends must be opened for one that is flattened and marked
anew."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..bending.judge import judge
from ..bending.machines import machine_of, toolings
from ..bending.setting import Setting
from ..brake.brake import Brake
from ..flat.blank import Blank
from ..i18n import the, tr
from ..job.job import Job
from ..planning.plan import Plan
from ..planning.search import made_up
from ..planning.wording import listed
from ..units.quantities import show_angle


@dataclass(frozen=True)
class Again:
    """What comes of putting a part in again.

    Attributes:
        reach: degrees the bend gets to, at the stop; 0 where the part does not go in.
        wanted: degrees the sheet is to stand at when it is stopped.
        stop: degrees the machine is set to for that.
        held: the panel that is held, where it goes.
        why: what is in the way, where it does not go or not all the way.
    """

    reach: float
    wanted: float
    held: str
    why: str
    stop: float = 0.0

    @property
    def goes(self) -> bool:
        """True when the bend gets all the way."""
        return self.reach >= self.wanted - 1e-6

    def says(self) -> str:
        """Whether it goes, and how."""
        if self.goes:
            return tr(
                "It can be bent again on this brake as it stands, {held} held: stop at {stop}."
            ).format(held=self.held, stop=show_angle(round(self.stop, 1)))
        if self.reach > 0:
            return tr(
                "It can be bent again, {held} held, but only to {reach}: {why}. The rest by hand."
            ).format(held=self.held, reach=show_angle(round(self.reach, 1)), why=self.why)
        return tr(
            "It cannot be bent again as it stands: {why}. Bend it on by hand over a block."
        ).format(why=self.why)


def again(job: Job, blank: Blank, brake: Brake, fold: int, now: float) -> Again:
    """Whether a bend of the finished part can be bent on, either side held, with the set-ups a hand
    reaches for first.

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
            # Stopped as planned it came out short: it is stopped farther by what it lacks, which is
            # what it springs back by more.
            planned = judge(blank, tooling, setting, job.springback, tolerance=job.tolerance)
            short = abs(blank.folds[fold].angle) - now
            measured = (planned.springback.angle + short) * 90.0 / max(now, 1.0)
            verdict = judge(blank, tooling, setting, measured, tolerance=job.tolerance)
            if verdict.blocked is not None:
                reach, why = 0.0, verdict.blocked.text(job.units)
            elif verdict.demand is None or not made_up(verdict.demand.needs, tooling):
                reach, why = 0.0, tr("no pieces make up what it needs")
            else:
                reach = verdict.reach if verdict.reach > now else 0.0
                why = str(verdict.limit.obstacle.sentence()) if verdict.limit is not None else ""
            stop = verdict.stroke.set_for(verdict.wanted)
            result = Again(reach, verdict.wanted, blank.panels[setting.clamped].name, why, stop)
            if best is None or result.reach > best.reach:
                best = result
            if result.goes:
                return result
    return best or Again(0.0, abs(blank.folds[fold].angle), "", tr("other bends lie on its line"))


@dataclass(frozen=True)
class Anew:
    """What it takes to flatten a bend, mark it anew and bend it again.

    Attributes:
        fold: its name.
        opened: bends opened with it, in the order they are bent again after it.
        goes: false where nothing was found that goes.
    """

    fold: str
    opened: tuple[str, ...]
    goes: bool

    def says(self) -> str:
        """How, in a sentence or two."""
        once = tr("Soft metal takes this once; marks stay, and the fold is harder then.")
        if not self.goes:
            return tr(
                "Flattened and re-marked it cannot be bent again on this brake: make a new part."
            )
        if not self.opened:
            return tr(
                "Flatten {fold}, re-mark it and bend it again, with all the others standing. {once}"
            ).format(fold=the(self.fold), once=once)
        return tr(
            "Open {opened} too, flatten {fold}, re-mark it; then bend {fold} and, in this "
            "order, {opened}. {once}"
        ).format(fold=the(self.fold), opened=listed(self.opened), once=once)


def anew(plan: Plan, fold: int) -> Anew:
    """Which bends must be opened so that one can be flattened and bent again, judged stroke by
    stroke.

    The fewest of those that were bent last are opened: what is left standing is what the plan had
    standing, or that with the bend itself flat, so every stroke is one the engine judges in the
    state it is made in.

    Args:
        plan: how the part was bent.
        fold: index of the fold.
    """
    blank = plan.blank
    made = [stroke.verdict.stroke.setting.folds for stroke in plan.strokes]
    mine = next((i for i, folds in enumerate(made) if fold in folds), None)
    name = blank.folds[fold].name
    if mine is None:
        return Anew(name, (), False)
    later = [i for i in range(mine + 1, len(made)) if not set(made[i]) & set(made[mine])]
    whole = [f.angle for f in blank.folds]
    for count in range(len(later) + 1):
        again_ = later[len(later) - count :]
        angles = list(whole)
        for i in (mine, *again_):
            for f in made[i]:
                angles[f] = 0.0
        for i in (mine, *again_):
            if not _goes(plan, i, angles):
                break
            for f in made[i]:
                angles[f] = whole[f]
        else:
            names = tuple(dict.fromkeys(blank.folds[f].name for i in again_ for f in made[i]))
            return Anew(name, names, True)
    return Anew(name, (), False)


def _goes(plan: Plan, number: int, angles: list[float]) -> bool:
    """True when a stroke of a plan reaches its angle again, or as much of it as it did, with the
    folds at these angles; either side held, with any set-up."""
    blank, job, before = plan.blank, plan.job, plan.strokes[number].verdict
    folds = before.stroke.setting.folds
    for tooling in toolings(plan.brake, blank, job.bottomed):
        for clamps_parent in (True, False):
            setting = Setting(blank, folds[0], clamps_parent, tuple(angles))
            if set(setting.folds) != set(folds):
                continue
            verdict = judge(blank, tooling, setting, job.springback, tolerance=job.tolerance)
            made = (
                verdict.blocked is None
                and verdict.demand is not None
                and made_up(verdict.demand.needs, tooling)
            )
            if made and verdict.by_hand <= before.by_hand + 0.05:
                return True
    return False
